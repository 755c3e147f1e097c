"""Things that were brought and wait: files to be imported after a yes, photos to pick colours from."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.errors import InvalidInput, NotFound
from diachrom.words import say

FILES_KEPT, PHOTOS_KEPT = 5, 20
MOST_BYTES = 400_000_000  # of all photos


@dataclass(frozen=True)
class WaitingFile:
    id: int
    name: str
    content: bytes
    mended: str = ""  # by hand, as JSON


def keep_file(connection: sqlite3.Connection, *, name: str, content: bytes, at: str) -> int:
    """Keep a file until it is said yes or no to; only the last few are kept."""
    number = connection.execute(
        "INSERT INTO upload (at, name, content) VALUES (:at, :name, :content) RETURNING id",
        {"at": at, "name": name, "content": content},
    ).fetchone()[0]
    connection.execute("DELETE FROM upload WHERE id <= :old", {"old": number - FILES_KEPT})
    return int(number)


def file(connection: sqlite3.Connection, number: int) -> WaitingFile:
    """Raises NotFound."""
    row = connection.execute("SELECT id, name, content, mended FROM upload WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(say("That file is no longer waiting: add it again."), field="file")
    return WaitingFile(*row)


def mend(connection: sqlite3.Connection, number: int, mended: str) -> None:
    """What is mended in a file that waits. Inside `writing`."""
    connection.execute("UPDATE upload SET mended = :mended WHERE id = :id", {"mended": mended, "id": number})


def forget_file(connection: sqlite3.Connection, number: int) -> None:
    """Forget a file that waited. Inside `writing`."""
    connection.execute("DELETE FROM upload WHERE id = :id", {"id": number})


@dataclass(frozen=True)
class Photo:
    id: int
    name: str
    width: int
    height: int
    picture: bytes  # JPEG; PNG of those of before


def room(connection: sqlite3.Connection) -> int:
    """Bytes that all photos take."""
    return int(connection.execute("SELECT coalesce(sum(length(picture)), 0) FROM photo").fetchone()[0])


def keep_photo(connection: sqlite3.Connection, *, name: str, width: int, height: int, picture: bytes, at: str) -> int:
    """Raises InvalidInput where photos take all the room that they have."""
    if room(connection) + len(picture) > MOST_BYTES:
        raise InvalidInput(
            say(
                "Together the photos would take more than {most_bytes} MB. Nothing was kept.",
                most_bytes=MOST_BYTES // 1_000_000,
            ),
            field="photo",
        )
    number = connection.execute(
        "INSERT INTO photo (at, name, width, height, picture)"
        " VALUES (:at, :name, :width, :height, :picture) RETURNING id",
        {"at": at, "name": name, "width": width, "height": height, "picture": picture},
    ).fetchone()[0]
    connection.execute(
        "DELETE FROM photo WHERE id <= :old AND id NOT IN (SELECT photo FROM test_card WHERE photo IS NOT NULL)"
        " AND id NOT IN (SELECT photo FROM reference) AND id NOT IN (SELECT photo FROM session_photo)"
        " AND id NOT IN (SELECT photo FROM log_photo)",
        {"old": number - PHOTOS_KEPT},
    )
    return int(number)


def photo(connection: sqlite3.Connection, number: int) -> Photo:
    """Raises NotFound."""
    row = connection.execute(
        "SELECT id, name, width, height, picture FROM photo WHERE id = :id", {"id": number}
    ).fetchone()
    if row is None:
        raise NotFound(say("There is no photo {number}: add it again.", number=number), field="photo")
    return Photo(*row)


def sizes(connection: sqlite3.Connection, numbers: Sequence[int]) -> dict[int, tuple[int, int]]:
    """Width and height of these photos, of those that are still kept."""
    rows = connection.execute(
        "SELECT id, width, height FROM photo WHERE id IN (SELECT value FROM json_each(:ids))",
        {"ids": json.dumps(list(numbers))},
    )
    return {int(number): (int(width), int(height)) for number, width, height in rows}


def replace_photo(connection: sqlite3.Connection, number: int, *, width: int, height: int, picture: bytes) -> None:
    """Keep a photo in another form. Inside `writing`."""
    connection.execute(
        "UPDATE photo SET width = :width, height = :height, picture = :picture WHERE id = :id",
        {"id": number, "width": width, "height": height, "picture": picture},
    )
