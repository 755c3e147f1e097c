"""All rows of a folder, table by table, as they are; and an empty folder filled with them again."""

import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from diachrom.errors import InvalidInput
from diachrom.store.connection import database, open_file, writing
from diachrom.store.migrate import take_steps

FIRST = 17  # the version from which on whole benches were written
SERVERS = (
    "tap",
    "upload",
    "device",
    "passphrase",
    "pairing_code",
)  # of a server, its pages and its door, not of the bench


@dataclass(frozen=True)
class Table:
    name: str
    columns: Sequence[str]
    rows: Sequence[Sequence[Any]]  # numbers, texts, bytes, None


def names(connection: sqlite3.Connection) -> list[str]:
    rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY rowid")
    return [row[0] for row in rows if row[0] not in SERVERS and not row[0].startswith("sqlite_")]


def columns(connection: sqlite3.Connection, table: str) -> list[str]:
    return [row[1] for row in connection.execute(f"PRAGMA table_info({table})")]


def every(connection: sqlite3.Connection) -> Iterator[Table]:
    """In one moment: for a connection that reads."""
    for name in names(connection):
        own = columns(connection, name)
        rows = connection.execute(f"SELECT {', '.join(own)} FROM {name} ORDER BY {', '.join(own)}")
        yield Table(name, own, [tuple(row) for row in rows])


def has_rows(connection: sqlite3.Connection, table: str) -> bool:
    return connection.execute(f"SELECT 1 FROM {table} LIMIT 1").fetchone() is not None


def ledger(connection: sqlite3.Connection) -> list[Sequence[Any]]:
    """(when, bottle, paint, kind, ml, note) of every entry, the oldest first."""
    rows = connection.execute(
        "SELECT stock_entry.at, bottle_id, trim(line || ' ' || name), stock_entry.kind, ml, stock_entry.note"
        " FROM stock_entry JOIN bottle ON bottle.id = bottle_id JOIN paint ON paint.id = paint_id"
        " ORDER BY stock_entry.at, stock_entry.id"
    )
    return [tuple(row) for row in rows]


def brought_up(tables: Mapping[str, Table], version: int) -> dict[str, Table]:
    """Tables of an older version as they are now: an empty folder of that version is filled, and taken through the
    migrations since. Raises InvalidInput for what does not fit."""
    with TemporaryDirectory() as place, closing(open_file(database(Path(place)), create=True)) as connection:
        take_steps(connection, version)
        with writing(connection):
            fill(connection, tables)
        take_steps(connection)
        return {one.name: one for one in every(connection)}


def fill(connection: sqlite3.Connection, tables: Mapping[str, Table]) -> None:
    """An empty folder with these rows: all of them, or nothing. Inside `writing`. Raises InvalidInput for what does
    not fit."""
    known = names(connection)
    if set(tables) != set(known):
        odd = sorted(set(tables) ^ set(known))
        raise InvalidInput(f"It holds other tables than this version has: {', '.join(odd)[:80]}.", field="file")
    connection.execute("PRAGMA defer_foreign_keys = ON")
    triggers = connection.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
    for name, _ in triggers:  # what follows from rows comes with them
        connection.execute(f"DROP TRIGGER {name}")
    try:
        for name in reversed(known):
            connection.execute(f"DELETE FROM {name}")
        for name in known:
            _put(connection, tables[name])
    except sqlite3.Error as error:
        raise InvalidInput(f"Rows of it cannot be: {error}.", field="file") from error
    for _, sql in triggers:
        connection.execute(sql)
    if connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
        raise InvalidInput("Rows of it belong to rows that it has not.", field="file")


def _put(connection: sqlite3.Connection, table: Table) -> None:
    own = columns(connection, table.name)
    if list(table.columns) != own or any(len(row) != len(own) for row in table.rows):
        raise InvalidInput(f"Its table {table.name} has other columns than this version's.", field="file")
    marks = ", ".join("?" * len(own))
    connection.executemany(f"INSERT INTO {table.name} ({', '.join(own)}) VALUES ({marks})", table.rows)
