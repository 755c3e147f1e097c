"""What is going to be mixed: recipes with the millilitres wanted of each."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class PlannedMix:
    """A recipe that is going to be mixed."""

    recipe: int
    version: int
    ml: float
    at: str


def put(connection: sqlite3.Connection, *, recipe: int, version: int, ml: float, at: str) -> None:
    """Say how much of a recipe is coming. Inside `writing`."""
    connection.execute(
        "INSERT OR REPLACE INTO planned_mix (recipe, version, ml, at) VALUES (:recipe, :version, :ml, :at)",
        {"recipe": recipe, "version": version, "ml": ml, "at": at},
    )


def drop(connection: sqlite3.Connection, recipe: int) -> None:
    """Nothing of a recipe is coming any more. Inside `writing`."""
    connection.execute("DELETE FROM planned_mix WHERE recipe = :recipe", {"recipe": recipe})


def every(connection: sqlite3.Connection) -> list[PlannedMix]:
    """In the order in which they were put down."""
    rows = connection.execute(
        "SELECT recipe, version, ml, at FROM planned_mix WHERE ml BETWEEN 1e-6 AND 1e6 ORDER BY at, recipe"
    )
    return [PlannedMix(*row) for row in rows]
