"""Presses that were counted: each carries an id of its own, and is counted once however often it is sent."""

import sqlite3

from diachrom.errors import Repeated

TAPS_KEPT = 5_000


def count_once(connection: sqlite3.Connection, tap: str | None) -> None:
    """Remember a press together with what it does. Inside `writing`. Raises Repeated for one that was counted."""
    if tap is None:
        return
    row = connection.execute(
        "INSERT INTO tap (id) VALUES (:tap) ON CONFLICT DO NOTHING RETURNING rowid", {"tap": tap}
    ).fetchone()
    if row is None:
        raise Repeated
    connection.execute("DELETE FROM tap WHERE rowid <= :old", {"old": row[0] - TAPS_KEPT})
