"""Photos that were taken at the bench: of which side of which bait, and where grey patch, nose and tail lie in them."""

import json
import sqlite3
from dataclasses import asdict, dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter

from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.hand_factor import HEAVIEST, THINNEST
from diachrom.words import say

Point = tuple[kept.Number, kept.Number]
Hand = Annotated[kept.Number, Field(ge=THINNEST, le=HEAVIEST)]


@dataclass(frozen=True)
class Marks:
    """Pixels of the photo; and what the hand was believed to be before the photo taught, and then."""

    grey: Point
    nose: Point
    tail: Point
    taught: tuple[Hand, Hand] | None = None


MARKS = TypeAdapter(Marks | None)


@dataclass(frozen=True)
class SidePhoto:
    photo: int
    session: int
    side: str
    bait: int
    marks: Marks | None


def add(connection: sqlite3.Connection, *, photo: int, session: int, side: str, bait: int) -> None:
    """Inside `writing`."""
    connection.execute(
        "INSERT INTO session_photo (photo, session, side, bait) VALUES (:photo, :session, :side, :bait)",
        {"photo": photo, "session": session, "side": side, "bait": bait},
    )


def mark(connection: sqlite3.Connection, photo: int, marks: Marks) -> None:
    """Inside `writing`. Raises NotFound."""
    own = {"photo": photo, "marks": json.dumps(asdict(marks))}
    row = connection.execute("UPDATE session_photo SET marks = :marks WHERE photo = :photo RETURNING photo", own)
    if row.fetchone() is None:
        raise NotFound(say("That photo is not of this session."), field="photo")


def beside(connection: sqlite3.Connection, entry: int, photo: int) -> SidePhoto:
    """A photo of an entry of the log: taken in its session, or brought to it. Raises NotFound."""
    row = connection.execute(
        "SELECT session_photo.photo, session_photo.session, side, bait, marks FROM session_photo"
        " JOIN log_entry ON log_entry.session = session_photo.session"
        " WHERE log_entry.number = :entry AND session_photo.photo = :photo"
        " UNION ALL SELECT photo, 0, side, -1, marks FROM log_photo WHERE entry = :entry AND photo = :photo",
        {"entry": entry, "photo": photo},
    ).fetchone()
    if row is None:
        raise NotFound(say("That photo is not of this entry."), field="photo")
    return SidePhoto(row[0], row[1], row[2], row[3], kept.whole(MARKS, row[4], None))


def mark_beside(connection: sqlite3.Connection, photo: int, marks: Marks) -> None:
    """Inside `writing`."""
    own = {"photo": photo, "marks": json.dumps(asdict(marks))}
    connection.execute("UPDATE session_photo SET marks = :marks WHERE photo = :photo", own)
    connection.execute("UPDATE log_photo SET marks = :marks WHERE photo = :photo", own)


def of(connection: sqlite3.Connection, session: int) -> list[SidePhoto]:
    """The latest first."""
    rows = connection.execute(
        "SELECT photo, session, side, bait, marks FROM session_photo WHERE session = :session ORDER BY photo DESC",
        {"session": session},
    )
    return [SidePhoto(row[0], row[1], row[2], row[3], kept.whole(MARKS, row[4], None)) for row in rows]
