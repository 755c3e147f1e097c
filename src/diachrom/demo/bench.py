"""Fill a data folder with the demo bench: shelf, recipes with versions, and a cup that was left half mixed."""

import sqlite3
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from pathlib import Path

from diachrom import clock
from diachrom.core.mix.draft import Draft, Part
from diachrom.demo import plans, session, sprayed, year
from diachrom.demo.shelf import half_read, pour_a_year, put_up
from diachrom.errors import DataExists
from diachrom.store import cups, recipes, settings, shelf_history
from diachrom.store.connection import connected, database, writing
from diachrom.store.migrate import migrate
from diachrom.work.mix.charging import keep_in_jar
from diachrom.work.orders import orders
from diachrom.work.shelf import shopping

HALF_MIXED = "Autumn char, belly"
SATURDAY = 5


@dataclass(frozen=True)
class DemoRecipe:
    """A recipe as it grew: how it is sprayed, and its versions, oldest first, as (day, note, drops by paint)."""

    how: Draft
    versions: tuple[tuple[str, str, dict[str, int]], ...]


def _recipe(
    name: str,
    *versions: tuple[str, str, dict[str, int]],
    ground: str = "white",
    film_um: float = 8.0,
    coats: int = 2,
) -> DemoRecipe:
    return DemoRecipe(Draft(name=name, ground=ground, film_um=film_um, coats=coats), versions)


RECIPES = (
    _recipe(
        "Night saithe, back",
        (
            "2026-03-09",
            "Two coats, dried between. Blue in it keeps the black alive.",
            {"torv-sot": 8, "torv-hav": 3, "tynn-reducer": 6},
        ),
        ground="black",
        film_um=8.0,
        coats=2,
    ),
    _recipe(
        "Autumn char, back",
        ("2026-03-21", "Over the primer, before the belly.", {"torv-mose": 8, "torv-sot": 1, "tynn-reducer": 4}),
        (
            "2026-09-02",
            "A drop of tea takes the green down; nearer to the fish.",
            {"torv-mose": 8, "torv-sot": 1, "rav-te": 2, "tynn-reducer": 5},
        ),
        coats=2,
    ),
    _recipe(
        "Cuckoo wrasse, ground",
        (
            "2026-04-11",
            "Under the maze. Four mist coats, or it sags in the gill.",
            {"rav-multe": 6, "rav-gull": 3, "tynn-reducer": 5},
        ),
        film_um=4.0,
        coats=4,
    ),
    _recipe(
        "Cuckoo wrasse, maze",
        (
            "2026-04-11",
            "Through the paper stencil, pressed.",
            {"torv-hav": 6, "torv-himmel": 2, "rav-fiol": 1, "tynn-reducer": 4},
        ),
        coats=3,
    ),
    _recipe(
        "Capelin, back over foil",
        (
            "2026-05-30",
            "Dye: carrier first, rest ten minutes, seal before anything else.",
            {"lykt-blaa": 3, "lykt-royk": 1, "tynn-medium": 9},
        ),
        ground="silver-foil",
        film_um=8.0,
        coats=2,
    ),
    _recipe(
        "Shore crab, shell",
        ("2026-06-18", "", {"torv-tang": 6, "torv-leire": 3, "rav-skygge": 1, "tynn-reducer": 5}),
        (
            "2026-06-20",
            "Less shadow: the second coat was already too dark.",
            {"torv-tang": 6, "torv-leire": 4, "tynn-reducer": 5},
        ),
        coats=2,
    ),
    _recipe(
        "Butterfish, bars",
        ("2026-07-07", "Comb, straight on.", {"torv-bark": 5, "torv-rust": 2, "blekk-natt": 1, "tynn-reducer": 4}),
        film_um=14.0,
        coats=2,
    ),
    _recipe(
        "Spring prawn, body",
        ("2026-08-14", "Clear body; barely there.", {"rav-melk": 2, "rav-lyng": 1, "rav-multe": 1, "tynn-medium": 8}),
        film_um=4.0,
        coats=3,
    ),
    _recipe(
        "Lumpsucker, mottle",
        ("2026-10-03", "Netting, lifted.", {"rav-siv": 4, "rav-honning": 3, "torv-kritt": 1, "tynn-reducer": 3}),
        coats=2,
    ),
    _recipe(
        "Autumn char, belly",
        ("2026-09-02", "First try.", {"rav-gull": 6, "rav-nype": 1, "tynn-reducer": 3}),
        (
            "2026-09-03",
            "More red, and a drop of chalk so that it holds over the seam.",
            {"rav-gull": 6, "torv-kritt": 1, "rav-nype": 2, "tynn-reducer": 4},
        ),
        coats=2,
    ),
    _recipe(
        "Hornbeam, back",
        ("2026-10-12", "Black first, quite dry. Violet at the glance, turquoise away.", {"nordlys-fiol": 10}),
        ground="black",
        coats=3,
    ),
    _recipe(
        "Sand eel, side",
        (
            "2026-10-19",
            "On the clear body; more pressure, stir.",
            {"perlemor-blaa": 6, "rav-lyng": 1, "tynn-medium": 3},
        ),
        ground="clear-body",
        coats=2,
    ),
    _recipe(
        "Night saithe, flank",
        ("2026-11-02", "Over white, three coats, the big nozzle.", {"morild-gronn": 12, "tynn-medium": 3}),
        film_um=25.0,
        coats=3,
    ),
    _recipe(
        "Butterfish, spots",
        (
            "2026-11-05",
            "A little chalk buys hiding and costs glow.",
            {"glo-oransje": 7, "torv-kritt": 1, "tynn-reducer": 2},
        ),
        coats=3,
    ),
    _recipe(
        "Capelin, flank",
        ("2026-11-09", "Silver over black, then candy over all of it.", {"malm-solv": 8, "tynn-reducer": 2}),
        ground="black",
        coats=2,
    ),
)


def fill(folder: Path) -> None:
    """Create the demo bench in an empty folder. Raises DataExists when there is data in it already."""
    if database(folder).exists():
        raise DataExists(folder)
    migrate(folder)
    with connected(folder) as connection:
        with writing(connection):
            settings.put(connection, {"simulated": "yes"})
            shelf = put_up(connection)
            grown = [_save(connection, recipe, shelf) for recipe in RECIPES]
            saved = [versions[-1] for versions in grown]
            pour_a_year(connection, saved)
            # The belly was opened again today; one more drop of red has fallen since.
            belly = next(version for version in saved if version.draft.name == HALF_MIXED)
            opened = cups.new_batch(connection, recipe=belly.recipe, version=belly.version)
            at = "2026-11-20T17:40:00+00:00"
            cups.append(connection, belly.draft, did=f"opening recipe {belly.recipe}", at=at, batch=opened)
            more = belly.draft.with_drops(shelf["rav-nype"][0], 3)
            cups.append(connection, more, did="1 drop of Rav Nype", at=at, batch=opened)
        back = next(one for one in saved if one.draft.name == "Night saithe, back")
        keep_in_jar(connection, back.recipe, None, 12.0, at="2026-11-14T15:00:00+00:00")
        half_read(connection)
        shopping.put_down(connection, 10, 45.0, at="2026-11-19T08:00:00+00:00")
        shopping.put_down(connection, 5, 4.0, at="2026-11-19T08:05:00+00:00")
        sprayed.lay_out(connection, shelf, [one for versions in grown for one in versions])
        plans.draw_up(connection, saved)
        # Seven of a pattern for the Saturday of next week, whenever that is.
        now = clock.now()
        number = orders.new(connection, "Seven for the shop window", at=now)
        today = datetime.fromisoformat(now).astimezone().date()
        due = today + timedelta(days=7 + (SATURDAY - today.weekday()) % 7)
        form = {
            "customer": "Harbour shop",
            "due": f"{due.isoformat()}T18:00",
            "price": "210",
            "wish": "Bright bellies, two of them signed on the back.",
        }
        orders.set_order(connection, number, form, at=now)
        orders.add_line(connection, number, 1, 7, at=now)
        session.put_by(connection)
        session.left_half_done(connection)
        year.written(connection)
        with writing(connection):
            shelf_history.forget(connection)  # the bench begins here: what made it cannot be undone


def _save(
    connection: sqlite3.Connection, recipe: DemoRecipe, shelf: dict[str, tuple[int, float]]
) -> list[recipes.Version]:
    """Its versions, the newest last."""
    number = recipes.new_recipe(connection)
    saved: list[recipes.Version] = []
    for day, note, drops in recipe.versions:
        parts = tuple(Part(shelf[paint][0], count, shelf[paint][1]) for paint, count in drops.items())
        draft = replace(recipe.how, parts=parts, note=note)
        parent = saved[-1].version if saved else None
        at = f"{day}T16:00:00+00:00"
        saved.append(recipes.add_version(connection, draft, recipe=number, parent_version=parent, at=at))
    return saved
