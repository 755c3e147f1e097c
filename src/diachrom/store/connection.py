"""One connection a request or command, and the one way to write."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from diachrom.errors import Busy, DataFolderNotWritable, NotADatabase, StoreError

DATABASE = "diachrom.sqlite3"
BUSY_MS = 15_000


def database(folder: Path) -> Path:
    return folder / DATABASE


@contextmanager
def plain_errors(folder: Path) -> Iterator[None]:
    """Turn what SQLite and the disk say into sentences."""
    try:
        yield
    except sqlite3.Error as error:
        raise _plain(error, folder) from error
    except OSError as error:
        raise DataFolderNotWritable(folder, error.strerror or str(error)) from error


def _plain(error: sqlite3.Error, folder: Path) -> Exception:
    code = getattr(error, "sqlite_errorcode", None)
    match code & 0xFF if isinstance(code, int) else None:  # the primary code in an extended one
        case sqlite3.SQLITE_BUSY | sqlite3.SQLITE_LOCKED:
            return Busy()
        case sqlite3.SQLITE_FULL:
            return DataFolderNotWritable(folder, "the disk is full")
        case sqlite3.SQLITE_READONLY | sqlite3.SQLITE_IOERR | sqlite3.SQLITE_CANTOPEN:
            return DataFolderNotWritable(folder, str(error))
        case sqlite3.SQLITE_CORRUPT | sqlite3.SQLITE_NOTADB:
            return NotADatabase(database(folder))
    return error


@contextmanager
def connected(folder: Path) -> Iterator[sqlite3.Connection]:
    """A connection to the database in `folder`, closed at the end. Raises StoreError."""
    path = database(folder)
    if not path.is_file():
        raise StoreError(f"There is no Diachrom data in {folder} yet: run 'diachrom migrate --data {folder}' first.")
    with plain_errors(folder), closing(open_file(path)) as connection:
        yield connection


def open_file(path: Path, *, create: bool = False) -> sqlite3.Connection:
    """Open a database file with this project's settings. A file that is gone is not made anew unless asked."""
    address = f"{path.absolute().as_uri()}?mode={'rwc' if create else 'rw'}"
    connection = sqlite3.connect(
        address, uri=True, isolation_level=None, check_same_thread=False, timeout=BUSY_MS / 1000
    )
    connection.row_factory = sqlite3.Row
    connection.create_function("casefold", 1, str.casefold, deterministic=True)
    try:
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
        connection.execute("PRAGMA journal_mode = WAL")
        connection.execute("PRAGMA synchronous = FULL")  # what was said to be saved survives a power cut
    except sqlite3.Error:
        connection.close()
        raise
    return connection


def file_of(connection: sqlite3.Connection) -> str:
    """The path of the database that a connection is open on."""
    path: str = connection.execute("PRAGMA database_list").fetchone()["file"]
    return path


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[None]:
    """A transaction that has the database for itself from the start: what it reads stays true until it writes."""
    connection.execute("BEGIN IMMEDIATE")
    try:
        yield
    except BaseException:
        if connection.in_transaction:
            connection.execute("ROLLBACK")
        raise
    connection.execute("COMMIT")
