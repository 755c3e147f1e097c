"""Rounds of guessing drops by eye."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import TypeAdapter

from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.words import say


@dataclass(frozen=True, kw_only=True)
class RoundOf:
    """What a round is made of."""

    shelf: str  # which bottles
    paints: tuple[str, ...]  # ids
    sizes: tuple[kept.DropMl, ...]  # ml of a drop of each
    drops: tuple[kept.Whole, ...]  # of the target


@dataclass(frozen=True, kw_only=True)
class KeptRound(RoundOf):
    id: int
    at: str
    skill: str
    level: int
    guess: tuple[int, ...] | None  # None while it is open
    delta_e: float | None


OF = TypeAdapter(RoundOf | None)
GUESS = TypeAdapter(tuple[kept.Whole, ...] | None)


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
    trial = None if row is None else _round(row)
    if trial is None:
        raise NotFound(say("There is no round {number}.", number=number), field="round")
    return trial


def open_round(connection: sqlite3.Connection) -> KeptRound | None:
    """The newest, when it was not guessed yet."""
    row = connection.execute("SELECT * FROM trainer_round ORDER BY id DESC LIMIT 1").fetchone()
    return None if row is None or row["guess"] is not None else _round(row)


def drop_open(connection: sqlite3.Connection) -> None:
    """Rounds that will not be guessed any more."""
    connection.execute("DELETE FROM trainer_round WHERE guess IS NULL")


def every_guessed(connection: sqlite3.Connection, most: int) -> list[KeptRound]:
    """The latest of them, the oldest first."""
    rows = connection.execute(
        "SELECT * FROM trainer_round WHERE guess IS NOT NULL ORDER BY id DESC LIMIT :most", {"most": most}
    ).fetchall()
    return [trial for row in reversed(rows) if (trial := _round(row)) is not None]


def _round(row: sqlite3.Row) -> KeptRound | None:
    """None for one that cannot be read."""
    held, guess = kept.whole(OF, row["document"], None), kept.whole(GUESS, row["guess"], None)
    if held is None or (guess is None) != (row["guess"] is None):
        return None
    if not len(held.paints) == len(held.drops) == len(held.sizes) == len(held.drops if guess is None else guess):
        return None
    own = {key: row[key] for key in ("id", "at", "skill", "level", "delta_e")}
    return KeptRound(guess=guess, **own, **vars(held))


def unreadable(connection: sqlite3.Connection) -> list[int]:
    """Numbers of those that cannot be read, and so are left out everywhere."""
    rows = connection.execute("SELECT * FROM trainer_round").fetchall()
    return [row["id"] for row in rows if _round(row) is None]
