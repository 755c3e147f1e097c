"""Counted drops that were weighed or measured, a row each time."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.store.memory import cached_many
from diachrom.store.said import keep_said, read_said

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


def add(connection: sqlite3.Connection, bottle: int, *, at: str, drops: int, ml: float, source: str) -> int:
    """Returns its number."""
    row = connection.execute(
        "INSERT INTO drop_weighing (bottle_id, at, drops, ml, source) VALUES (:bottle, :at, :drops, :ml, :source)"
        " RETURNING id",
        {"bottle": bottle, "at": at, "drops": drops, "ml": ml, "source": keep_said(source)},
    ).fetchone()
    return int(row[0])


def of_bottle(connection: sqlite3.Connection, bottle: int) -> list[Weighing]:
    """Every weighing of a bottle's drops, the oldest first."""
    return of_bottles(connection, [bottle])[bottle]


def of_bottles(connection: sqlite3.Connection, numbers: Sequence[int]) -> dict[int, list[Weighing]]:
    """Of several bottles."""
    return cached_many(connection, "weighings", numbers, lambda missing: _read(connection, missing))


def _read(connection: sqlite3.Connection, numbers: list[int]) -> dict[int, list[Weighing]]:
    weighings: dict[int, list[Weighing]] = {number: [] for number in numbers}
    rows = connection.execute(
        "SELECT bottle_id, id, at, drops, ml, source, counts FROM drop_weighing"
        f" WHERE bottle_id IN (SELECT value FROM json_each(:numbers)) AND {POSSIBLE} ORDER BY id",
        {"numbers": json.dumps(numbers)},
    )
    for bottle, number, at, drops, ml, source, counts in rows:
        weighings[bottle].append(
            Weighing(id=number, at=at, drops=drops, ml=ml, source=read_said(source), counts=bool(counts))
        )
    return weighings


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
