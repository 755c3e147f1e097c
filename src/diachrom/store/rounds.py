"""Rounds of guessing drops by eye."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix import sound
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
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
    """Keep a round of the trainer; returns its number. Inside `writing`."""
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
    trial = None if row is None else sound.parse_or_default(_kept, row, None)
    if trial is None:
        raise NotFound(f"There is no round {number}.", field="round")
    return trial


def open_round(connection: sqlite3.Connection) -> KeptRound | None:
    """The newest, when it was not guessed yet."""
    row = connection.execute("SELECT * FROM trainer_round ORDER BY id DESC LIMIT 1").fetchone()
    return None if row is None or row["guess"] is not None else sound.parse_or_default(_kept, row, None)


def drop_open(connection: sqlite3.Connection) -> None:
    """Rounds that will not be guessed any more."""
    connection.execute("DELETE FROM trainer_round WHERE guess IS NULL")


def every_guessed(connection: sqlite3.Connection, most: int) -> list[KeptRound]:
    """The latest of them, the oldest first."""
    rows = connection.execute(
        "SELECT * FROM trainer_round WHERE guess IS NOT NULL ORDER BY id DESC LIMIT :most", {"most": most}
    ).fetchall()
    kept = [sound.parse_or_default(_kept, row, None) for row in reversed(rows)]
    return [trial for trial in kept if trial is not None]


def _kept(row: sqlite3.Row) -> KeptRound:
    """Raises one of UNREADABLE."""
    held = json.loads(row["document"])
    guess = None if row["guess"] is None else tuple(int(one) for one in json.loads(row["guess"]))
    paints, drops = tuple(str(one) for one in held["paints"]), tuple(int(one) for one in held["drops"])
    sizes = tuple(float(one) for one in held["sizes"])
    if not len(paints) == len(drops) == len(sizes) == len(guess or drops) or not all(
        SMALLEST_DROP_ML <= size <= LARGEST_DROP_ML for size in sizes
    ):
        raise ValueError(row["id"])
    return KeptRound(
        id=row["id"],
        at=row["at"],
        skill=row["skill"],
        level=row["level"],
        shelf=held["shelf"],
        paints=paints,
        sizes=sizes,
        drops=drops,
        guess=guess,
        delta_e=row["delta_e"],
    )


def unreadable(connection: sqlite3.Connection) -> list[int]:
    """Numbers of those that cannot be read, and so are left out everywhere."""
    rows = connection.execute("SELECT * FROM trainer_round").fetchall()
    return [row["id"] for row in rows if sound.parse_or_default(_kept, row, None) is None]
