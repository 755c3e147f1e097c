"""One connection a request or command, what it reads one snapshot, and the one way to write."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from diachrom.errors import Busy, Damaged, DataFolderNotWritable, NotADatabase, StoreError
from diachrom.store import taps
from diachrom.store.schema import check_version, first_damage
from diachrom.words import say

DATABASE = "diachrom.sqlite3"
BUSY_MS = 15_000
FULL = "the disk is full"
PRIMARY = 0xFF  # the primary code in an extended one
NO_ROOM = (sqlite3.SQLITE_FULL, sqlite3.SQLITE_IOERR, sqlite3.SQLITE_CANTOPEN)

_damaged: set[str] = set()  # files that SQLite found damaged while they were in use


class Connection(sqlite3.Connection):
    """A connection that knows whether it is reading a snapshot or writing, and whether it has saved anything."""

    snapshot = False  # what is read between two writes is of one moment
    writing = False
    saved = False  # something was committed through it
    memory: dict[object, object] | None = None  # what was read in this moment
    tap: str | None = None  # the press that this request carries, counted once
    sealed = ""  # why it can only read: it is told nothing of what others write meanwhile


def database(folder: Path) -> Path:
    """The file of a data folder."""
    return folder / DATABASE


@contextmanager
def plain_errors(folder: Path, *, disk: bool = False) -> Iterator[None]:
    """Turn what SQLite says into sentences; with `disk` what the disk says too, only around what makes, opens or copies
    a database."""
    try:
        yield
    except OSError as error:
        if not disk:
            raise
        raise DataFolderNotWritable(folder, error.strerror or str(error)) from error
    except sqlite3.Error as error:
        path, code = database(folder), getattr(error, "sqlite_errorcode", None) or 0
        match code & PRIMARY:
            case sqlite3.SQLITE_BUSY | sqlite3.SQLITE_LOCKED:
                raise Busy() from error
            case sqlite3.SQLITE_FULL:
                raise DataFolderNotWritable(folder, FULL) from error
            case sqlite3.SQLITE_IOERR if code == sqlite3.SQLITE_IOERR_SHMSIZE:
                raise DataFolderNotWritable(folder, FULL) from error
            case sqlite3.SQLITE_READONLY | sqlite3.SQLITE_IOERR | sqlite3.SQLITE_CANTOPEN:
                raise DataFolderNotWritable(folder, str(error)) from error
            case sqlite3.SQLITE_NOTADB:
                raise NotADatabase(path) from error
            case sqlite3.SQLITE_CORRUPT:
                _damaged.add(str(path.resolve()))
                raise Damaged(path, str(error)) from error
        raise


@contextmanager
def connected(folder: Path, *, any_version: bool = False) -> Iterator[Connection]:
    """A connection to the database in `folder`, closed at the end; what it reads is of one moment.

    Raises StoreError: also for data of another version than this code's, unless any will do.
    """
    path = database(folder)
    if not path.is_file():
        raise StoreError(
            say(
                "There is no Diachrom data in {folder} yet: run 'diachrom migrate --data {folder}' first.",
                folder=folder,
            )
        )
    with plain_errors(folder):
        if path.stat().st_size == 0:
            raise Damaged(path, say("it is empty"))
        with plain_errors(folder, disk=True):
            opened = open_file(path)
        with closing(opened) as connection:
            if not any_version:
                check_version(connection, path)
            connection.snapshot = True
            _read_one_moment(connection)
            yield connection


@contextmanager
def foreign_keys_later(connection: sqlite3.Connection) -> Iterator[None]:
    """Around a transaction that takes rows out whose references are wrong already."""
    own = _own(connection)
    if own.in_transaction:
        own.execute("COMMIT")
    own.execute("PRAGMA foreign_keys = OFF")
    try:
        yield
    finally:
        if own.in_transaction:
            own.execute("COMMIT")
        own.execute("PRAGMA foreign_keys = ON")
        if own.snapshot:
            _read_one_moment(own)


def open_file(path: Path, *, create: bool = False, sealed: str = "") -> Connection:
    """Open a database file with this project's settings. A file that is gone is not made anew unless asked; one that
    cannot be written, or whose disk is full, is opened to be read: it is sealed, and says why."""
    if not create and not (os.access(path, os.W_OK) and os.access(path.parent, os.W_OK)):
        sealed = sealed or "it may only be read"
    mode = "rwc" if create else "ro&immutable=1" if sealed else "rw"
    connection: Connection | None = None
    try:
        connection = sqlite3.connect(
            f"{path.absolute().as_uri()}?mode={mode}",
            uri=True,
            isolation_level=None,
            check_same_thread=False,
            timeout=BUSY_MS / 1000,
            factory=Connection,
        )
        connection.row_factory = sqlite3.Row
        connection.text_factory = _text
        connection.sealed = sealed
        connection.create_function("casefold", 1, _casefold, deterministic=True)
        connection.execute("PRAGMA foreign_keys = ON")
        connection.execute(f"PRAGMA busy_timeout = {BUSY_MS}")
        if not sealed:
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = FULL")  # what was said to be saved survives a power cut
    except sqlite3.Error as error:
        if connection is not None:
            connection.close()
        # The first connection makes an index (-shm) of what was written last; a full disk has no room for it. Where
        # nothing is waiting to be written into the file (-wal), it can be read without.
        waiting = path.with_name(f"{path.name}-wal")
        has_room = (getattr(error, "sqlite_errorcode", None) or 0) & PRIMARY not in NO_ROOM
        if create or sealed or has_room or (waiting.exists() and waiting.stat().st_size):
            raise
        return open_file(path, sealed=FULL)
    return connection


def _casefold(value: object) -> str | None:
    return None if value is None else str(value).casefold()


def _text(content: bytes) -> str:
    """What cannot be read as text is marked in it."""
    return content.decode("utf-8", "replace")


def file_of(connection: sqlite3.Connection) -> str:
    """The path of the database that a connection is open on, without links in it."""
    return str(Path(connection.execute("PRAGMA database_list").fetchone()["file"]).resolve())


def _read_one_moment(connection: Connection) -> None:
    """Until the next write everything read is as it was at the first look; a write outside `writing` is refused."""
    connection.execute("PRAGMA query_only = ON")
    connection.execute("BEGIN")
    connection.memory = {}


@contextmanager
def writing(connection: sqlite3.Connection) -> Iterator[None]:
    """A transaction that has the database for itself from the start: what it reads stays true until it writes.

    Inside another one it is a part of that: all of it is kept, or nothing. A press that was counted already is not
    counted again: raises Repeated. Raises Damaged for a file that was found damaged, and writes nothing to it.
    """
    own = _own(connection)
    if own.writing:
        yield
        return
    if own.sealed:
        raise DataFolderNotWritable(Path(file_of(own)).parent, own.sealed)
    if own.in_transaction:
        own.execute("COMMIT")  # the reading ends
    own.execute("PRAGMA query_only = OFF")
    own.memory = None
    try:
        # Look again at a file that was found damaged: it may have been put right meanwhile.
        path = file_of(own) if _damaged else ""
        if path in _damaged:
            found = first_damage(own)
            if found != "ok":
                raise Damaged(path, found)
            _damaged.discard(path)
        own.execute("BEGIN IMMEDIATE")
        own.writing = True
        taps.count_once(own, own.tap)
        before = own.total_changes
        yield
        changed = own.total_changes > before
        own.execute("COMMIT")
        own.saved |= changed
        own.tap = None
    except BaseException:
        if own.in_transaction:
            own.execute("ROLLBACK")
        raise
    finally:
        own.writing = False
        if own.snapshot:
            _read_one_moment(own)


def _own(connection: sqlite3.Connection) -> Connection:
    if not isinstance(connection, Connection):
        raise TypeError("open the database by open_file or connected")
    return connection
