"""All rows of a folder, table by table, as they are; and an empty folder filled with them again."""

import sqlite3
from collections.abc import Iterable, Iterator, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from diachrom.errors import InvalidInput
from diachrom.store import older
from diachrom.store.connection import database, open_file
from diachrom.store.migrate import take_steps
from diachrom.store.said import read_said
from diachrom.store.settings import OF_MACHINE
from diachrom.words import say

FIRST = 17  # the version from which on whole benches were written
SERVERS = (
    "tap",
    "upload",
    "device",
    "passphrase",
    "pairing_code",
    "script_answer",
)  # of a server, its pages and its door, not of the bench
COUNTERS = ("revision",)  # they move with whatever is done, and taken back
BUT = {"setting": f"WHERE key NOT IN ({', '.join(map(repr, OF_MACHINE))})"}  # rows that are not looked at


@dataclass(frozen=True)
class Table:
    name: str
    columns: Sequence[str]
    rows: Sequence[Sequence[Any]]  # numbers, texts, bytes, None


def names(connection: sqlite3.Connection) -> list[str]:
    """The tables that go out."""
    rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY rowid")
    return [row[0] for row in rows if row[0] not in SERVERS and not row[0].startswith("sqlite_")]


def columns(connection: sqlite3.Connection, table: str) -> list[str]:
    """Of a table, in order."""
    return [row[1] for row in connection.execute(f"PRAGMA table_info({table})")]


def every(connection: sqlite3.Connection) -> Iterator[Table]:
    """In one moment, for a connection that reads; what is of a machine alone stays there."""
    for name in names(connection):
        own = columns(connection, name)
        rows = connection.execute(f"SELECT {', '.join(own)} FROM {name} {BUT.get(name, '')} ORDER BY {', '.join(own)}")
        yield Table(name, own, [tuple(row) for row in rows])


def ledger(connection: sqlite3.Connection) -> list[Sequence[Any]]:
    """(when, bottle, paint, kind, ml, note) of every entry, the oldest first."""
    rows = connection.execute(
        "SELECT stock_entry.at, bottle_id, trim(line || ' ' || name), stock_entry.kind, ml, stock_entry.note"
        " FROM stock_entry JOIN bottle ON bottle.id = bottle_id JOIN paint ON paint.id = paint_id"
        " ORDER BY stock_entry.at, stock_entry.id"
    )
    return [(*row[:5], read_said(row[5])) for row in rows]


def fill(connection: sqlite3.Connection, tables: Iterable[tuple[str, Sequence[str], Iterable[Sequence[Any]]]]) -> int:
    """An empty folder with these tables by (name, columns, rows): all of them, or nothing; how many rows. Inside
    `writing`. Raises InvalidInput for what does not fit."""
    known = names(connection)
    connection.execute("PRAGMA defer_foreign_keys = ON")
    triggers = connection.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
    for name, _ in triggers:  # what follows from rows comes with them
        connection.execute(f"DROP TRIGGER {name}")
    for name in reversed(known):
        connection.execute(f"DELETE FROM {name}")
    given, count = set(), 0
    for name, own, rows in tables:
        if name not in known:
            raise InvalidInput(
                say("It holds other tables than this version has: {name}.", name=name[:80]), field="file"
            )
        given.add(name)
        count += _put(connection, name, own, rows)
    if given != set(known):
        odd = sorted(set(known) - given)
        raise InvalidInput(
            say("It holds other tables than this version has: without {odd}.", odd=", ".join(odd)[:80]), field="file"
        )
    for _, sql in triggers:
        connection.execute(sql)
    if connection.execute("PRAGMA foreign_key_check").fetchone() is not None:
        raise InvalidInput(say("Rows of it belong to rows that it has not."), field="file")
    return count


def _put(connection: sqlite3.Connection, table: str, given: Sequence[str], rows: Iterable[Sequence[Any]]) -> int:
    own = columns(connection, table)
    given = [name if name in own else older.RENAMED.get((table, name), name) for name in given]
    other = InvalidInput(f"Its table {table} has other columns than this version's.", field="file")
    if list(given) != own:
        raise other
    count = 0

    def fitting() -> Iterator[Sequence[Any]]:
        nonlocal count
        for row in rows:
            if len(row) != len(own):
                raise other
            count += 1
            yield row

    try:
        connection.executemany(
            f"INSERT INTO {table} ({', '.join(own)}) VALUES ({', '.join('?' * len(own))})", fitting()
        )
    except (sqlite3.Error, OverflowError, UnicodeError) as error:
        raise InvalidInput(say("Rows of it cannot be: {error}.", error=error), field="file") from error
    return count


def in_a_hurry(connection: sqlite3.Connection) -> None:
    """For a file that is thrown away after a power cut anyway."""
    connection.execute("PRAGMA synchronous = OFF")


@cache
def _of_new() -> Mapping[str, Sequence[Sequence[Any]]]:
    """Rows of a folder that was made just now."""
    with TemporaryDirectory() as place, closing(open_file(database(Path(place)), create=True)) as connection:
        in_a_hurry(connection)
        take_steps(connection)
        return {table.name: table.rows for table in every(connection)}


def held(connection: sqlite3.Connection) -> list[str]:
    """Tables that hold anything a new folder has not, but for what is of the machine. In one moment."""
    new = _of_new()
    bare = [name for name in new if not new[name]]
    any_row = " UNION ALL ".join(
        f"SELECT '{name}' WHERE EXISTS (SELECT 1 FROM {name} {BUT.get(name, '')})" for name in bare
    )
    found = [str(name) for (name,) in connection.execute(any_row)]
    for name in new:
        if new[name] and name not in COUNTERS:
            rows = connection.execute(f"SELECT * FROM {name} LIMIT {len(new[name]) + 1}")
            if sorted(map(tuple, rows), key=repr) != sorted(new[name], key=repr):
                found.append(name)
    return found
