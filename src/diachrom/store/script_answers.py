"""What scripts were answered when they wrote something, by the key that they gave with it."""

import sqlite3
from dataclasses import dataclass

ANSWERS_KEPT = 5_000


@dataclass(frozen=True)
class Answered:
    asked: str  # a digest of what was asked for
    status: int
    body: str


def of(connection: sqlite3.Connection, asker: int, key: str) -> Answered | None:
    """What an asker, a device's number or 0 for the machine itself, was answered to a key."""
    row = connection.execute(
        "SELECT asked, status, body FROM script_answer WHERE asker = :asker AND key = :key",
        {"asker": asker, "key": key},
    ).fetchone()
    return None if row is None else Answered(*row)


def keep(connection: sqlite3.Connection, asker: int, key: str, answered: Answered) -> None:
    """Together with what was written. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO script_answer (asker, key, asked, status, body) VALUES (:asker, :key, :asked, :status, :body)"
        " RETURNING id",
        {"asker": asker, "key": key, **vars(answered)},
    ).fetchone()
    connection.execute("DELETE FROM script_answer WHERE id <= :old", {"old": row[0] - ANSWERS_KEPT})
