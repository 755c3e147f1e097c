"""Plans of the bench, of different schools: each made of its own recipes."""

import sqlite3
from collections.abc import Sequence
from dataclasses import replace

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.regions import Box
from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.demo.plan import DemoPlan, on, plain, way
from diachrom.demo.plans_by_hand import BY_HAND, TOOLS
from diachrom.store import plans, tools
from diachrom.store.connection import writing
from diachrom.store.recipes import Version

BIG_NOZZLE = {"perlemor": 0.5, "malm": 0.5, "nordlys": 0.5, "morild": 0.5}
FLAKED = ("Hornbeam, back", "Sand eel, side", "Night saithe, flank", "Capelin, flank")
LINE = Box(0.16, 0.94, 0.18, 0.24)
NET = way("net", size_mm=3.0, gap_mm=0.5)
PLANS = (
    DemoPlan(
        "2026-09-05",
        "Autumn char",
        "Light to dark: the belly first, the back over it. White fin edges last, by hand.",
        Blank("minnow", 110, state="primed-white"),
        (
            ("Autumn char, belly", on("belly", "below", coats=3, soft_mm=14)),
            ("Autumn char, back", on("back", "above", coats=3, soft_mm=20)),
            ("Autumn char, back", on("shoulder", "shoulder", coats=2, mask=NET)),
            ("torv-kritt", on("flank", mask=way("spots", size_mm=2.4, gap_mm=5.5, seed=3), coats=2, soft_mm=10)),
            (
                "Autumn char, belly",
                on("flank", mask=way("spots", size_mm=1.3, gap_mm=5.5, seed=3), coats=2, soft_mm=10),
            ),
            ("torv-kritt", on("fins", coats=2, soft_mm=1)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-04-13",
        "Cuckoo wrasse",
        "Candy over foil, the maze through it; candy last, so that nothing needs a seal.",
        Blank("deep", 80, state="foil-silver"),
        (
            ("Cuckoo wrasse, ground", on("all", "around")),
            (
                "Cuckoo wrasse, maze",
                on("sides", mask=way("stencil", size_mm=44, stencil="maze"), coats=3, soft_mm=6),
            ),
            ("Cuckoo wrasse, maze", on("back", "above", coats=2, soft_mm=12)),
            ("lykt-oransje", on("belly", "below", coats=2, soft_mm=16)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-06-02",
        "Capelin on foil",
        "No ground under the candy: the foil is the ground. Sealed before the dark spine.",
        Blank("long-minnow", 140, state="foil-stamped"),
        (
            ("Capelin, back over foil", on("back", "above", coats=3, soft_mm=14, sealed=True)),
            (
                "Capelin, back over foil",
                on("shoulder", "shoulder", coats=1, mask=way("net", size_mm=2.2, gap_mm=0.4), sealed=True),
            ),
            ("torv-kritt", on("belly", "below", coats=2, soft_mm=12)),
            ("Night saithe, back", on("spine", "above", coats=1, soft_mm=8)),
            (
                "blekk-natt",
                on("lateral", coats=1, film_um=4.0, mask=way("stencil", size_mm=100, stencil="lateral-line")),
            ),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-10-21",
        "Sand eel",
        "On a clear body: most of it stays clear. Pearl from above, a green line by hand.",
        Blank("needle", 180, state="clear"),
        (
            ("Sand eel, side", on("sides", coats=2, soft_mm=6)),
            ("rav-siv", on("back", "above", coats=3, soft_mm=8)),
            (
                "torv-mose",
                on("lateral", mask=way("line", size_mm=1.6), pressure_bar=0.8, box=LINE),
            ),
            ("torv-kritt", on("belly", "below", coats=2, soft_mm=6)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-11-03",
        "Night saithe",
        "Black first; white where the glow goes, or it is lost.",
        Blank("glide", 150, state="primed-black"),
        (
            ("torv-kritt", on("flank", coats=3, soft_mm=14)),
            ("Night saithe, flank", on("flank", coats=3, film_um=25.0, soft_mm=10)),
            ("Night saithe, back", on("back", "above", coats=2, soft_mm=16)),
            ("Night saithe, back", on("flank", mask=way("bars", size_mm=14, gap_mm=4, lift_mm=1.5), coats=2)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-11-06",
        "Butterfish",
        "Bars through the comb, eye spots of three sizes: white, orange, black.",
        Blank("needle", 150, state="primed-white"),
        (
            ("rav-honning", on("all", "around", coats=2)),
            ("Butterfish, bars", on("sides", mask=way("comb", size_mm=9, gap_mm=3.2, lift_mm=1.0), coats=2)),
            (
                "torv-kritt",
                on("back", "above", mask=way("dots", size_mm=5.0, gap_mm=11), coats=2, box=Box(0.2, 0.95, 0.0, 0.1)),
            ),
            (
                "Butterfish, spots",
                on("back", "above", mask=way("dots", size_mm=3.6, gap_mm=11), coats=3, box=Box(0.2, 0.95, 0.0, 0.1)),
            ),
            (
                "torv-sot",
                on("back", "above", mask=way("dots", size_mm=2.0, gap_mm=11), coats=2, box=Box(0.2, 0.95, 0.0, 0.1)),
            ),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-06-21",
        "Shore crab",
        "Squat bait: mottle upon mottle, the wash last, wiped off the heights.",
        Blank("squat", 55, state="primed-grey"),
        (
            ("Shore crab, shell", on("all", "around", coats=2)),
            ("torv-leire", on("back", "above", mask=way("mottle", size_mm=5, amount=0.4, seed=5), coats=2)),
            ("torv-tang", on("sides", mask=way("stencil", size_mm=34, stencil="mottle-fine"), coats=2)),
            ("rav-te", on("all", "around", mask=way("splatter", size_mm=0.8, amount=0.3), coats=2)),
            ("", plain("varnish")),
        ),
    ),
    DemoPlan(
        "2026-10-14",
        "Hornbeam",
        "Black ground under the colour-shift, netting before the belly: clamps would scratch it.",
        Blank("needle", 180, state="primed-black"),
        (
            ("Hornbeam, back", on("back", "above", coats=3, soft_mm=10)),
            ("Hornbeam, back", on("sides", mask=way("net", size_mm=2.4, gap_mm=0.5), coats=3)),
            ("malm-solv", on("flank", coats=2, soft_mm=6)),
            ("torv-kritt", on("belly", "below", coats=3, soft_mm=8)),
            ("", plain("clear")),
        ),
    ),
    DemoPlan(
        "2026-10-05",
        "Lumpsucker",
        "Bright over black: netting lifted, mottle on it. Cleared the same evening.",
        Blank("squat", 60, state="primed-black"),
        (
            (
                "Lumpsucker, mottle",
                on("all", "around", mask=way("net", size_mm=4, gap_mm=0.8, lift_mm=1.0), coats=4),
            ),
            ("torv-mose", on("back", "above", coats=1, soft_mm=14)),
            ("Lumpsucker, mottle", on("sides", mask=way("mottle", size_mm=6, amount=0.35, seed=8), coats=3)),
            ("rav-nype", on("belly", "below", coats=3, soft_mm=10)),
            ("", replace(plain("clear"), wait_h=2.0)),
        ),
    ),
)


def draw_up(connection: sqlite3.Connection, saved: Sequence[Version]) -> None:
    """Save every plan as its first version."""
    by_name = {version.draft.name: version for version in saved}
    with writing(connection):
        for tool in TOOLS:
            tools.add(connection, tool)
        for one in (*PLANS, *BY_HAND):
            plan = Plan(name=one.name, note=one.note, blank=one.blank)
            for source, layer in one.layers:
                if not source:
                    made_of = layer
                elif source not in by_name:
                    line = source.partition("-")[0]
                    thinned = 0.3 if line == "torv" else 0.0
                    medium = 0.2 if line == "lykt" else 0.0
                    nozzle_mm = BIG_NOZZLE.get(line, 0.3)
                    made_of = replace(
                        layer, what="paint", source=source, reducer=thinned, medium=medium, nozzle_mm=nozzle_mm
                    )
                else:
                    recipe = by_name[source]
                    key = f"{RECIPE_GROUND}{recipe.recipe}:{recipe.version}"
                    nozzle_mm = 0.5 if recipe.draft.name in FLAKED else 0.3
                    made_of = replace(layer, what="recipe", source=key, name=recipe.draft.name, nozzle_mm=nozzle_mm)
                plan = plan.with_layer(made_of)
            at = f"{one.day}T15:00:00+00:00"
            number = plans.new(connection, plan, did="beginning", at=at)
            plans.add_version(connection, number, plan.to_save(), parent_version=None, at=at)
