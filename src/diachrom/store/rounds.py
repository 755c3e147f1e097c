"""Rounds of guessing drops by eye."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.errors import NotFound


@dataclass(frozen=True)
class KeptRound:
    id: int
    at: str
    skill: str
    level: int
    shelf: str  # which bottles it was made of
    paints: tuple[str, ...]  # ids
    sizes: tuple[float, ...]  # ml of a drop of each
    drops: tuple[int, ...]  # of the target
    guess: tuple[int, ...] | None  # None while it is open
    delta_e: float | None


def add(
    connection: sqlite3.Connection,
    *,
    skill: str,
    level: int,
    shelf: str,
    paints: Sequence[str],
    sizes: Sequence[float],
    drops: Sequence[int],
    at: str,
) -> int:
    document = {"shelf": shelf, "paints": list(paints), "sizes": list(sizes), "drops": list(drops)}
    row = connection.execute(
        "INSERT INTO trainer_round (at, skill, level, document) VALUES (:at, :skill, :level, :document) RETURNING id",
        {"at": at, "skill": skill, "level": level, "document": json.dumps(document)},
    ).fetchone()
    return int(row["id"])


def guessed(connection: sqlite3.Connection, number: int, guess: Sequence[int], delta_e: float) -> None:
    """Once: a round that was guessed stays as it is."""
    connection.execute(
        "UPDATE trainer_round SET guess = :guess, delta_e = :delta_e WHERE id = :id AND guess IS NULL",
        {"id": number, "guess": json.dumps(list(guess)), "delta_e": delta_e},
    )


def one(connection: sqlite3.Connection, number: int) -> KeptRound:
    """Raises NotFound."""
    row = connection.execute("SELECT * FROM trainer_round WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(f"There is no round {number}.", field="round")
    return _kept(row)


def open_round(connection: sqlite3.Connection) -> KeptRound | None:
    """The newest, when it was not guessed yet."""
    row = connection.execute("SELECT * FROM trainer_round ORDER BY id DESC LIMIT 1").fetchone()
    return None if row is None or row["guess"] is not None else _kept(row)


def drop_open(connection: sqlite3.Connection) -> None:
    """Rounds that will not be guessed any more."""
    connection.execute("DELETE FROM trainer_round WHERE guess IS NULL")


def every_guessed(connection: sqlite3.Connection, most: int) -> list[KeptRound]:
    """The latest of them, the oldest first."""
    rows = connection.execute(
        "SELECT * FROM trainer_round WHERE guess IS NOT NULL ORDER BY id DESC LIMIT :most", {"most": most}
    ).fetchall()
    return [_kept(row) for row in reversed(rows)]


def _kept(row: sqlite3.Row) -> KeptRound:
    held = json.loads(row["document"])
    guess = None if row["guess"] is None else tuple(json.loads(row["guess"]))
    paints, sizes, drops = tuple(held["paints"]), tuple(held["sizes"]), tuple(held["drops"])
    return KeptRound(
        row["id"], row["at"], row["skill"], row["level"], held["shelf"], paints, sizes, drops, guess, row["delta_e"]
    )
