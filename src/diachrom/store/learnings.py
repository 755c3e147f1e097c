"""What was learned from test cards and taken: profiles, drops and the hand, each as it was and as it became."""

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from diachrom.core.mix import sound
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
from diachrom.errors import NotFound
from diachrom.store.memory import cached

POSSIBLE_DROP_ML = (SMALLEST_DROP_ML, LARGEST_DROP_ML)  # what counted drops may really have been
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
    """Keep what was taken of a lesson. Inside `writing`."""
    document = {
        "cards": cards,
        "profiles": [vars(profile) for profile in profiles],
        "drops": [vars(drop) for drop in drops],
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
    rows = connection.execute("SELECT * FROM learning ORDER BY id DESC")
    kept = [sound.parse_or_default(_learning, row, None) for row in rows]
    return [learning for learning in kept if learning is not None]


def last(connection: sqlite3.Connection) -> Learning:
    """The newest that was not undone. Raises NotFound."""
    row = connection.execute("SELECT * FROM learning WHERE undone_at IS NULL ORDER BY id DESC LIMIT 1").fetchone()
    if row is None:
        raise NotFound("Nothing learned is left to be undone.", field="learning")
    learning = sound.parse_or_default(_learning, row, None)
    if learning is None:
        raise NotFound("What was learned last cannot be read, and so not be undone.", field="learning")
    return learning


def undone(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """Keep that it was taken back. Inside `writing`."""
    connection.execute("UPDATE learning SET undone_at = :at WHERE id = :id", {"at": at, "id": number})


@cached
def drops(connection: sqlite3.Connection) -> Drops:
    """What counted drops really were, by all that was learned and not undone."""
    found: dict[tuple[int, float], float] = {}
    for row in connection.execute("SELECT document FROM learning WHERE undone_at IS NULL ORDER BY id"):
        for drop in sound.parse_or_default(_drops, row, ()):
            bottle, before, after = drop.bottle, drop.before, drop.after
            for key, ml in found.items():
                if key[0] == bottle and ml == before:
                    found[key] = after
            found[bottle, before] = after
    return found


def _drops(row: sqlite3.Row) -> list[NewDrop]:
    """Those that can be."""
    drops = [NewDrop(**one) for one in json.loads(row["document"])["drops"]]
    return [
        drop
        for drop in drops
        if all(sound.number(ml, *POSSIBLE_DROP_ML) is not None for ml in (drop.before, drop.after))
    ]


def _learning(row: sqlite3.Row) -> Learning:
    """Raises one of UNREADABLE."""
    held = json.loads(row["document"])
    return Learning(
        id=row["id"],
        at=row["at"],
        cards=int(held["cards"]),
        profiles=tuple(NewProfile(**one) for one in held["profiles"]),
        drops=tuple(_drops(row)),
        hand=(float(held["hand"][0]), float(held["hand"][1])),
        delta_e=(float(held["delta_e"][0]), float(held["delta_e"][1])),
        undone_at=row["undone_at"],
    )


def unreadable(connection: sqlite3.Connection) -> list[int]:
    """Numbers of those that cannot be read as a whole: what cannot be is left out everywhere."""
    rows = connection.execute("SELECT * FROM learning").fetchall()
    return [row["id"] for row in rows if not sound.parse_or_default(_is_whole, row, False)]


def _is_whole(row: sqlite3.Row) -> bool:
    """Raises one of UNREADABLE."""
    return len(_learning(row).drops) == len(json.loads(row["document"])["drops"])
