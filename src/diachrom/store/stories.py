"""How saved versions were really poured."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict
from typing import Annotated

from pydantic import BaseModel, Field, TypeAdapter

from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS
from diachrom.core.mix.story import Told
from diachrom.store import bottles, drafts, kept
from diachrom.store.memory import cached


class KeptTold(BaseModel):
    """Drops of a bottle, or a verdict."""

    bottle: kept.RowNumber | None = None
    drops: Annotated[kept.Whole, Field(ge=-MOST_DROPS, le=MOST_DROPS)] = 0
    drop_ml: Annotated[kept.Number, Field(ge=0, le=LARGEST_DROP_ML)] = 0.0
    verdict: drafts.KeptVerdict | None = None


TOLD = TypeAdapter(list[KeptTold])


def keep(connection: sqlite3.Connection, recipe: int, version: int, told: Sequence[Told]) -> None:
    """Keep how a version was poured. Inside `writing`."""
    connection.execute(
        "INSERT INTO recipe_story (recipe, version, told) VALUES (:recipe, :version, :told)",
        {"recipe": recipe, "version": version, "told": json.dumps([asdict(one) for one in told])},
    )


def of(connection: sqlite3.Connection, recipe: int, version: int) -> list[Told]:
    """Empty for a version of which nothing was kept."""
    found = _told(_of_recipe(connection, recipe).get(version))
    known = bottles.there(connection, [one.bottle for one in found if one.bottle is not None])
    return [one for one in found if one.bottle is None or one.bottle in known]


@cached
def _of_recipe(connection: sqlite3.Connection, recipe: int) -> dict[int, str]:
    rows = connection.execute("SELECT version, told FROM recipe_story WHERE recipe = :recipe", {"recipe": recipe})
    return dict(rows.fetchall())


def _told(text: str | None) -> list[Told]:
    """What can be read, and says something."""
    return [
        Told(one.bottle, one.drops, one.drop_ml, None if one.verdict is None else one.verdict.value())
        for one in kept.read(TOLD, text, [])
        if one.verdict is not None or (one.bottle is not None and one.drops and one.drop_ml)
    ]


def unreadable(connection: sqlite3.Connection) -> list[tuple[int, int]]:
    """(recipe, version) of those of which something cannot be read."""
    rows = connection.execute("SELECT recipe, version, told FROM recipe_story").fetchall()
    return [(row["recipe"], row["version"]) for row in rows if not _is_whole(connection, row)]


def _is_whole(connection: sqlite3.Connection, row: sqlite3.Row) -> bool:
    """Nothing of it is left out where it is shown."""
    told = kept.whole(TOLD, row["told"], None)
    return told is not None and len(told) == len(of(connection, row["recipe"], row["version"]))
