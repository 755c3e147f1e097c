"""The painter's hand: how many times as thick as meant its coats come out."""

import sqlite3

from diachrom.store.memory import cached

THINNEST, HEAVIEST = 0.2, 5.0  # as the table takes them


@cached
def now(connection: sqlite3.Connection) -> float:
    """1 before anything was learned."""
    row = connection.execute("SELECT times FROM hand_factor ORDER BY id DESC LIMIT 1").fetchone()
    return 1.0 if row is None else float(row["times"])


def at(connection: sqlite3.Connection, when: str) -> float:
    """As it was believed then."""
    row = connection.execute(
        "SELECT times FROM hand_factor WHERE at <= :at ORDER BY id DESC LIMIT 1", {"at": when}
    ).fetchone()
    return 1.0 if row is None else float(row["times"])


def set_to(connection: sqlite3.Connection, times: float, *, at: str) -> None:
    """Believe another hand from now on. Inside `writing`."""
    connection.execute("INSERT INTO hand_factor (at, times) VALUES (:at, :times)", {"at": at, "times": times})
