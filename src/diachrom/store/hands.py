"""The painter's hand: how many times as thick as meant its coats come out."""

import sqlite3


def now(connection: sqlite3.Connection) -> float:
    """1 before anything was learned."""
    row = connection.execute("SELECT times FROM hand ORDER BY id DESC LIMIT 1").fetchone()
    return 1.0 if row is None else float(row["times"])


def set_to(connection: sqlite3.Connection, times: float, *, at: str) -> None:
    connection.execute("INSERT INTO hand (at, times) VALUES (:at, :times)", {"at": at, "times": times})


def over_time(connection: sqlite3.Connection) -> list[tuple[str, float]]:
    """(when, times) of every change, the oldest first."""
    return [(row["at"], row["times"]) for row in connection.execute("SELECT at, times FROM hand ORDER BY id")]
