"""Two-part clear on this bench: what its sheet says, its scale, and what a plan asks of it. Checks, page and session
weigh by it alike."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace

from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.core.finish.powders import MOST_PERCENT, POWDERS, Stirred, share_for, stirred
from diachrom.core.finish.two_part import MOST_COATS, THINNEST_UM, Batch, Clearing, Resin, batch, least_ml, pot_life_s
from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.kit.figures import figure
from diachrom.work.plan.painting import laid

KEY = "resin"  # the setting
USUAL_SCALE_G, USUAL_C = 0.01, 20.0
WORDS = {
    "parts_a": say("Parts of A, by volume"),
    "parts_b": say("Parts of B, by volume"),
    "density_a": say("Density of A, g/ml"),
    "density_b": say("Density of B, g/ml"),
    "pot_life_min": say("Pot life at {temperature}, min", temperature=quantity(25, "g", "°C")),
    "film_um": say("A coat, µm"),
    "coats": say("Coats"),
    "stays_ml": say("Stays in cup and brush, ml"),
    "scale_g": say("The scale shows, g"),
    "temperature_c": say("Temperature, °C"),
}
OTHERS = {
    "baits": say("Baits"),
    "bait_g": say("A bait weighs, g"),
    "bait_ml": say("It takes up, ml of water"),
    "percent": say("Powder, % of the clear's weight"),
}
LEAST_PERCENT = 0.1  # of a powder that is told at all
WHOLE = ("coats", "baits")
ASKED = ("film_um", "coats", "baits", "temperature_c", "powder", "percent")  # of the work at hand, not of the sheet


@dataclass(frozen=True)
class Asked:
    """A clear, and what it is for."""

    resin: Resin = field(default_factory=Resin)
    film_um: float = 150.0
    coats: int = 1
    stays_ml: float = 1.0
    scale_g: float = USUAL_SCALE_G
    temperature_c: float = USUAL_C
    baits: int = 1
    bait_g: float | None = None  # of a finished bait, and the water that it pushes away
    bait_ml: float | None = None
    powder: str = ""  # glitter or glow that is stirred in
    percent: float | None = None  # of the clear's weight; as is usual where nobody said


def asked(connection: sqlite3.Connection, form: Mapping[str, str], plan: Plan | None = None) -> Asked:
    """As the form has it, else as the plan asks for it, else as it was kept, else as is usual. Raises InvalidInput for
    what is no number."""
    told = settings.document(connection, KEY)
    kept = {key: float(told[key]) for key in WORDS if isinstance(told.get(key), (int, float))}
    try:
        # Raises InvalidInput.
        wanted = _asked(kept)
        clearing = Clearing(1000, wanted.film_um, wanted.coats, wanted.baits, wanted.stays_ml)
        batch(wanted.resin, clearing, scale_g=wanted.scale_g)
        pot_life_s(wanted.resin, wanted.temperature_c)
    except (InvalidInput, OverflowError, ValueError):
        kept = {}
    given = {
        key: figure(form[key], WORDS.get(key, OTHERS.get(key, "")), key=key)
        for key in (*WORDS, *OTHERS)
        if form.get(key, "").strip()
    }
    powder = form.get("powder", "")
    if powder and powder not in POWDERS:
        raise InvalidInput(say("There is no powder called '{powder}'.", powder=powder[:30]), field="powder")
    own = {} if plan is None else _of_plan(plan)
    found = replace(_asked(kept | own | given), powder=powder)
    if plan is None or "powder" in form:
        return found
    powder, percent = powder_of(connection, plan, found)
    return replace(found, powder=powder, percent=found.percent or percent)


def _of_plan(plan: Plan) -> dict[str, float]:
    """What a plan says of its own two-part clear."""
    layers = [layer for layer in plan.layers if layer.on and is_two_part(layer)]
    said = {"baits": float(plan.baits), "temperature_c": plan.temperature_c}
    if layers:
        said |= {
            "film_um": max(layers[0].film_um, THINNEST_UM),
            "coats": float(min(sum(one.coats for one in layers), MOST_COATS)),
        }
    return said


def is_two_part(layer: Layer) -> bool:
    """Whether a plan's clear has two parts."""
    return layer.what == "clear" and layer.source in ("", "two-part")


def powder_of(connection: sqlite3.Connection, plan: Plan, wanted: Asked) -> tuple[str, float | None]:
    """What a plan has stirred into its clear, and how much by weight: as the name of its clear says; or as much glitter
    as its layers of glitter would lay. "" where there is none."""
    words = " ".join(one.name.casefold() for one in plan.layers if one.on and is_two_part(one))
    if "glitter" in words or "flake" in words:
        return ("glitter-fine" if "fine" in words else "glitter"), None
    if "glow" in words:
        return "glow", None
    covers = 0.0
    for one in laid(connection, [layer for layer in plan.layers if layer.on and WHATS[layer.what].paint]):
        flakes = () if one.painted.mix is None else one.painted.mix.flakes
        um = one.layer.film_um * one.layer.coats
        covers += sum(float(cover) * um for flake, cover in flakes if flake.sparkle)
    if not covers or not any(one.on and is_two_part(one) for one in plan.layers):
        return "", None
    percent = share_for(POWDERS["glitter"], covers, film_um=wanted.film_um, density=wanted.resin.density)
    return "glitter", min(max(round(percent, 1), LEAST_PERCENT), MOST_PERCENT)


def _asked(values: Mapping[str, float]) -> Asked:
    """Raises InvalidInput, OverflowError."""
    resin = Resin(**{one.name: values[one.name] for one in fields(Resin) if one.name in values})
    rest = {key: int(value) if key in WHOLE else value for key, value in values.items() if key not in vars(resin)}
    return replace(Asked(resin=resin), **rest)  # type: ignore[arg-type]


def keep(connection: sqlite3.Connection, wanted: Asked, plan: Plan) -> None:
    """What its sheet says, for the next time; what the plan itself asks for is the plan's alone."""
    own = {**vars(wanted.resin), **{key: getattr(wanted, key) for key in WORDS if key not in vars(wanted.resin)}}
    said, before = _of_plan(plan), settings.document(connection, KEY)
    for key in [key for key, value in said.items() if own.get(key) == value]:
        del own[key]
        own |= {key: before[key]} if key in before else {}
    with writing(connection):
        settings.put(connection, {KEY: json.dumps(own)})


@dataclass(frozen=True)
class Coat:
    """What a coat of two-part clear takes, weighable on this bench's scale."""

    batch: Batch
    pot_life_s: float
    temperature_c: float
    stirred: tuple[str, Stirred] | None  # a powder's words, and how much of it


def cleared_mm2(plan: Plan) -> float:
    """The skin of a bait, and both faces of what is fitted and painted."""
    blank = plan.blank
    fitted = sum(fitting.area for fitting in blank.form.fittings if fitting.painted) * blank.length_mm**2
    return blank.surface().area_mm2 + fitted


def least_to_weigh_ml(connection: sqlite3.Connection) -> float:
    """The smallest batch of the bench's clear that its scale can weigh."""
    wanted = asked(connection, {})
    return least_ml(wanted.resin, wanted.scale_g)


def coat_for(connection: sqlite3.Connection, plan: Plan, *, baits: int) -> Coat:
    """A coat of the bench's own clear on so many baits of a plan, in the plan's air."""
    wanted = asked(connection, {}, plan)
    area_mm2 = cleared_mm2(plan)
    clearing = Clearing(area_mm2, wanted.film_um, 1, baits, wanted.stays_ml)
    made = batch(wanted.resin, clearing, scale_g=wanted.scale_g)
    if not made.weighable:
        more = made.least_ml - clearing.a_coat_ml
        made = batch(wanted.resin, replace(clearing, stays_ml=clearing.stays_ml + more), scale_g=wanted.scale_g)
    powder = stirred_in(wanted, made, area_mm2)
    told = None if powder is None else (POWDERS[wanted.powder].words, powder)
    return Coat(made, pot_life_s(wanted.resin, plan.temperature_c), plan.temperature_c, told)


def stirred_in(wanted: Asked, made: Batch, area_mm2: float) -> Stirred | None:
    """Raises InvalidInput."""
    if not wanted.powder:
        return None
    powder = POWDERS[wanted.powder]
    percent = powder.usual_percent if wanted.percent is None else wanted.percent
    a_coat_g = wanted.film_um * area_mm2 * 1e-6 * wanted.resin.density
    return stirred(
        powder,
        percent,
        batch_g=made.a_g + made.b_g,
        on_bait_g=a_coat_g,
        area_mm2=area_mm2,
        film_um=wanted.film_um,
    )
