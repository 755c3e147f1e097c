"""What was learned from spray-out cards and taken: profiles, drops and the hand, each as it was and as it became."""

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass

from pydantic import TypeAdapter

from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.memory import cached
from diachrom.store.mist import Mist
from diachrom.words import say

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
    before: kept.DropMl
    after: kept.DropMl


@dataclass(frozen=True, kw_only=True)
class Learned:
    """What a lesson came to."""

    cards: int
    profiles: tuple[NewProfile, ...]
    drops: tuple[NewDrop, ...]
    hand: tuple[kept.Number, kept.Number]  # before and after
    delta_e: tuple[kept.Number, kept.Number]  # of cards left out, the median, before and after
    mist: tuple[Mist, Mist] | None = None  # before and after, where its dots changed


@dataclass(frozen=True, kw_only=True)
class Learning(Learned):
    id: int
    at: str
    undone_at: str | None


LEARNED = TypeAdapter(Learned | None)


def add(
    connection: sqlite3.Connection,
    *,
    cards: int,
    profiles: Iterable[NewProfile],
    drops: Iterable[NewDrop],
    hand: tuple[float, float],
    delta_e: tuple[float, float],
    at: str,
    mist: tuple[Mist, Mist] | None = None,
) -> int:
    """Keep what was taken of a lesson. Inside `writing`."""
    document = {
        "cards": cards,
        "profiles": [vars(profile) for profile in profiles],
        "drops": [vars(drop) for drop in drops],
        "hand": hand,
        "delta_e": delta_e,
        "mist": None if mist is None else [asdict(one) for one in mist],
    }
    row = connection.execute(
        "INSERT INTO learning (at, document) VALUES (:at, :document) RETURNING id",
        {"at": at, "document": json.dumps(document)},
    ).fetchone()
    return int(row["id"])


def every(connection: sqlite3.Connection) -> list[Learning]:
    """The newest first."""
    rows = connection.execute("SELECT * FROM learning ORDER BY id DESC")
    return [learning for row in rows if (learning := _learning(row)) is not None]


def last(connection: sqlite3.Connection) -> Learning:
    """The newest that was not undone. Raises NotFound."""
    row = connection.execute("SELECT * FROM learning WHERE undone_at IS NULL ORDER BY id DESC LIMIT 1").fetchone()
    if row is None:
        raise NotFound(say("There is nothing learned to undo."), field="learning")
    learning = _learning(row)
    if learning is None:
        raise NotFound(say("What was learned last cannot be read, so it cannot be undone."), field="learning")
    return learning


def undone(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """Keep that it was taken back. Inside `writing`."""
    connection.execute("UPDATE learning SET undone_at = :at WHERE id = :id", {"at": at, "id": number})


@cached
def drops(connection: sqlite3.Connection) -> Drops:
    """What counted drops really were, by all that was learned and not undone."""
    found: dict[tuple[int, float], float] = {}
    for row in connection.execute("SELECT document FROM learning WHERE undone_at IS NULL ORDER BY id"):
        held = kept.read(LEARNED, row["document"], None)
        for drop in () if held is None else held.drops:
            bottle, before, after = drop.bottle, drop.before, drop.after
            for key, ml in found.items():
                if key[0] == bottle and ml == before:
                    found[key] = after
            found[bottle, before] = after
    return found


def _learning(row: sqlite3.Row) -> Learning | None:
    """None for one that cannot be read; without drops that cannot be."""
    held = kept.read(LEARNED, row["document"], None)
    return None if held is None else Learning(id=row["id"], at=row["at"], undone_at=row["undone_at"], **vars(held))


def unreadable(connection: sqlite3.Connection) -> list[int]:
    """Numbers of those that cannot be read as a whole: what cannot be is left out everywhere."""
    rows = connection.execute("SELECT id, document FROM learning").fetchall()
    return [row["id"] for row in rows if kept.whole(LEARNED, row["document"], None) is None]
