"""What was learned from test cards and taken: profiles, drops and the hand, each as it was and as it became."""

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from diachrom.errors import NotFound

Drops = Mapping[tuple[int, float], float]  # (bottle, ml as counted) -> ml as it really was


@dataclass(frozen=True)
class NewProfile:
    """A paint's profile: the version that counted, and the one that was made."""

    paint_id: str
    before: int
    after: int


@dataclass(frozen=True)
class NewDrop:
    """A bottle's drop, ml; by what was counted with it."""

    bottle: int
    before: float
    after: float


@dataclass(frozen=True)
class Learning:
    id: int
    at: str
    cards: int
    profiles: tuple[NewProfile, ...]
    drops: tuple[NewDrop, ...]
    hand: tuple[float, float]  # before and after
    delta_e: tuple[float, float]  # of cards left out, the median, before and after
    undone_at: str | None


def add(
    connection: sqlite3.Connection,
    *,
    cards: int,
    profiles: Iterable[NewProfile],
    drops: Iterable[NewDrop],
    hand: tuple[float, float],
    delta_e: tuple[float, float],
    at: str,
) -> int:
    document = {
        "cards": cards,
        "profiles": [vars(one) for one in profiles],
        "drops": [vars(one) for one in drops],
        "hand": hand,
        "delta_e": delta_e,
    }
    row = connection.execute(
        "INSERT INTO learning (at, document) VALUES (:at, :document) RETURNING id",
        {"at": at, "document": json.dumps(document)},
    ).fetchone()
    return int(row["id"])


def every(connection: sqlite3.Connection) -> list[Learning]:
    """The newest first."""
    return [_learning(row) for row in connection.execute("SELECT * FROM learning ORDER BY id DESC")]


def last(connection: sqlite3.Connection) -> Learning:
    """The newest that was not undone. Raises NotFound."""
    row = connection.execute("SELECT * FROM learning WHERE undone_at IS NULL ORDER BY id DESC LIMIT 1").fetchone()
    if row is None:
        raise NotFound("Nothing learned is left to be undone.", field="learning")
    return _learning(row)


def undone(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    connection.execute("UPDATE learning SET undone_at = :at WHERE id = :id", {"at": at, "id": number})


def drops(connection: sqlite3.Connection) -> Drops:
    """What counted drops really were, by all that was learned and not undone."""
    found: dict[tuple[int, float], float] = {}
    for row in connection.execute("SELECT document FROM learning WHERE undone_at IS NULL ORDER BY id"):
        for one in json.loads(row["document"])["drops"]:
            bottle, before, after = one["bottle"], one["before"], one["after"]
            for key, ml in found.items():
                if key[0] == bottle and ml == before:
                    found[key] = after
            found[bottle, before] = after
    return found


def _learning(row: sqlite3.Row) -> Learning:
    held = json.loads(row["document"])
    return Learning(
        row["id"],
        row["at"],
        held["cards"],
        tuple(NewProfile(**one) for one in held["profiles"]),
        tuple(NewDrop(**one) for one in held["drops"]),
        (held["hand"][0], held["hand"][1]),
        (held["delta_e"][0], held["delta_e"][1]),
        row["undone_at"],
    )
