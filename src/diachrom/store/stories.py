"""How saved versions were really poured."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict

from diachrom.core.mix import sound
from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS
from diachrom.core.mix.story import Told
from diachrom.store import bottles, drafts
from diachrom.store.memory import cached


def keep(connection: sqlite3.Connection, recipe: int, version: int, told: Sequence[Told]) -> None:
    """Keep how a version was poured. Inside `writing`."""
    connection.execute(
        "INSERT INTO recipe_story (recipe, version, told) VALUES (:recipe, :version, :told)",
        {"recipe": recipe, "version": version, "told": json.dumps([asdict(one) for one in told])},
    )


def of(connection: sqlite3.Connection, recipe: int, version: int) -> list[Told]:
    """Empty for a version of which nothing was kept."""
    every = _of_recipe(connection, recipe)
    kept = sound.parse_or_default(json.loads, every[version], ()) if version in every else ()
    found = [one for one in map(_told, kept if isinstance(kept, list) else ()) if one is not None]
    known = bottles.there(connection, [one.bottle for one in found if one.bottle is not None])
    return [one for one in found if one.bottle is None or one.bottle in known]


@cached
def _of_recipe(connection: sqlite3.Connection, recipe: int) -> dict[int, str]:
    rows = connection.execute("SELECT version, told FROM recipe_story WHERE recipe = :recipe", {"recipe": recipe})
    return dict(rows.fetchall())


def _told(values: object) -> Told | None:
    """None for what cannot be read."""
    if not isinstance(values, dict):
        return None
    verdict, bottle = drafts.verdict(values.get("verdict")), sound.whole(values.get("bottle"), 0, sound.LARGEST_NUMBER)
    drops = sound.whole(values.get("drops"), -MOST_DROPS, MOST_DROPS)
    size = sound.number(values.get("drop_ml"), 0, LARGEST_DROP_ML)
    if verdict is None and (bottle is None or not drops or not size):
        return None
    return Told(bottle, drops or 0, size or 0.0, verdict)


def unreadable(connection: sqlite3.Connection) -> list[tuple[int, int]]:
    """(recipe, version) of those of which something cannot be read."""
    rows = connection.execute("SELECT recipe, version, told FROM recipe_story").fetchall()
    return [(row["recipe"], row["version"]) for row in rows if not _is_whole(connection, row)]


def _is_whole(connection: sqlite3.Connection, row: sqlite3.Row) -> bool:
    """Nothing of it is left out where it is shown."""
    kept, read = sound.parse_or_default(json.loads, row["told"], None), of(connection, row["recipe"], row["version"])
    return isinstance(kept, list) and [_has_lab(one.get("verdict")) for one in kept if isinstance(one, dict)] == [
        one.verdict is not None and one.verdict.lab is not None for one in read
    ]


def _has_lab(verdict: object) -> bool:
    return isinstance(verdict, dict) and verdict.get("lab") is not None
