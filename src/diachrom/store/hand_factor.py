"""The painter's hand: how many times as thick as meant its coats come out."""

import sqlite3

THINNEST, HEAVIEST = 0.2, 5.0  # as the table takes them


def now(connection: sqlite3.Connection) -> float:
    """1 before anything was learned."""
    row = connection.execute("SELECT times FROM hand ORDER BY id DESC LIMIT 1").fetchone()
    return 1.0 if row is None else float(row["times"])


def set_to(connection: sqlite3.Connection, times: float, *, at: str) -> None:
    connection.execute("INSERT INTO hand (at, times) VALUES (:at, :times)", {"at": at, "times": times})
