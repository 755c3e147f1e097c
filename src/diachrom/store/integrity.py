"""Whether the file is whole, by itself: its pages, its references, its sums."""

import sqlite3
from collections.abc import Callable, Iterator
from dataclasses import dataclass


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


LARGEST = 1e9  # no amount of a bench is larger


@dataclass(frozen=True)
class Kept:
    """A value where it stands: the table, what its row begins with, the column."""

    table: str
    key: object
    column: str
    value: object

    @property
    def place(self) -> str:
        """Where it stands, for people."""
        return f"{self.table} {self.key}, {self.column}"


def columns(connection: sqlite3.Connection, kind: str) -> Iterator[tuple[str, str, str]]:
    """(table, its first column, column) of every column of a kind, TEXT or REAL."""
    yield from connection.execute(
        "SELECT made.name, (SELECT name FROM pragma_table_info(made.name) WHERE cid = 0), own.name"
        " FROM sqlite_schema AS made JOIN pragma_table_info(made.name) AS own"
        " WHERE made.type = 'table' AND own.type = :kind",
        {"kind": kind},
    ).fetchall()


def texts(connection: sqlite3.Connection, wanted: Callable[[str], bool]) -> Iterator[Kept]:
    """Every text of the columns that are wanted by their names, once a row."""
    for table, key, column in columns(connection, "TEXT"):
        if wanted(column):
            for row in connection.execute(f"SELECT {key}, {column} FROM {table} WHERE {column} IS NOT NULL"):
                yield Kept(table, row[0], column, row[1])


def absurd(connection: sqlite3.Connection) -> Iterator[Kept]:
    """Amounts that nothing of a bench can come to."""
    for table, key, column in columns(connection, "REAL"):
        query = f"SELECT {key}, {column} FROM {table} WHERE abs({column}) > :most"
        for row in connection.execute(query, {"most": LARGEST}):
            yield Kept(table, row[0], column, row[1])


def kinds(connection: sqlite3.Connection) -> Iterator[tuple[str, str, str]]:
    """(id, full name, kind as it is kept) of every paint."""
    yield from connection.execute("SELECT id, trim(line || ' ' || name), kind FROM paint")
