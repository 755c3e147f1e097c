"""Counted drops that were weighed or measured, a row each time."""

import sqlite3
from dataclasses import dataclass

POSSIBLE = "drops BETWEEN 1 AND 500 AND ml BETWEEN 1e-6 AND 1000"  # anything else is no weighing


@dataclass(frozen=True)
class Weighing:
    """Some counted drops and what they came to."""

    id: int
    at: str
    drops: int
    ml: float
    source: str
    counts: bool


def add(connection: sqlite3.Connection, bottle: int, *, at: str, drops: int, ml: float, source: str) -> None:
    connection.execute(
        "INSERT INTO drop_weighing (bottle_id, at, drops, ml, source) VALUES (:bottle, :at, :drops, :ml, :source)",
        {"bottle": bottle, "at": at, "drops": drops, "ml": ml, "source": source},
    )


def of_bottle(connection: sqlite3.Connection, bottle: int) -> list[Weighing]:
    """Every weighing of a bottle's drops, the oldest first."""
    rows = connection.execute(
        "SELECT id, at, drops, ml, source, counts FROM drop_weighing WHERE bottle_id = :bottle"
        f" AND {POSSIBLE} ORDER BY id",
        {"bottle": bottle},
    )
    return [Weighing(**{**dict(row), "counts": bool(row["counts"])}) for row in rows]


def set_aside(connection: sqlite3.Connection, bottle: int, weighing: int) -> None:
    """Leave a weighing out, or take it in again."""
    connection.execute(
        "UPDATE drop_weighing SET counts = 1 - counts WHERE id = :id AND bottle_id = :bottle",
        {"id": weighing, "bottle": bottle},
    )


def bottles(connection: sqlite3.Connection) -> list[int]:
    """The bottles of which drops were weighed."""
    return [
        row[0]
        for row in connection.execute(f"SELECT DISTINCT bottle_id FROM drop_weighing WHERE counts = 1 AND {POSSIBLE}")
    ]
