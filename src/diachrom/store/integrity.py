"""Whether the file is whole, by itself: its pages, its references, its sums."""

import sqlite3
from collections.abc import Iterator


def damage(connection: sqlite3.Connection) -> Iterator[str]:
    """What SQLite finds wrong with its pages."""
    for row in connection.execute("PRAGMA integrity_check"):
        if row[0] != "ok":
            yield row[0]


def dangling(connection: sqlite3.Connection) -> Iterator[tuple[str, str]]:
    """(table, table named by it) of every row that names one that is not there."""
    for row in connection.execute("PRAGMA foreign_key_check"):
        yield row[0], row[2]


def ledger_sums(connection: sqlite3.Connection) -> Iterator[tuple[int, float, float]]:
    """(bottle, ml it is said to hold, ml its ledger comes to) of every bottle."""
    yield from connection.execute(
        "SELECT bottle.id, bottle.left_ml, coalesce(sum(ml), 0.0) FROM bottle"
        " LEFT JOIN stock_entry ON bottle_id = bottle.id GROUP BY bottle.id"
    )
