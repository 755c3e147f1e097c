"""One database in the place of another, in one step, while others read and write: a backup, or a whole bench."""

import shutil
import sqlite3
import time
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from diachrom.errors import Busy
from diachrom.store.connection import BUSY_MS, Connection, database, open_file, plain_errors
from diachrom.store.settings import OF_MACHINE

PAGES = 16  # a step: less than the smallest database has
LEFT_S = 86_400.0  # what lies aside for so long was left by a power cut
DOOR = ("device", "passphrase", "pairing_code")  # who is let in, which no older state may bring back
Allowed = Callable[[sqlite3.Connection], None]


@contextmanager
def aside(folder: Path) -> Iterator[Path]:
    """A folder on the same disk, in which something is prepared; gone afterwards. Raises DataFolderNotWritable."""
    with plain_errors(folder, disk=True):
        for left in folder.glob("aside-*"):
            if time.time() - left.stat().st_mtime > LEFT_S:
                shutil.rmtree(left, ignore_errors=True)
        with TemporaryDirectory(dir=folder, prefix="aside-") as place:
            yield Path(place)


def put_in_place(folder: Path, prepared: Path, *, allowed: Allowed = lambda connection: None) -> None:
    """Fill the database of `folder` with that of the folder `prepared`, of the same version: all of it or nothing.

    Who is let in, and what belongs to this machine, stays; counters of changes go on from where they are, so that what
    anybody has reckoned is known to be of before. Nobody writes between the look at these and the end of it.
    `allowed` is shown what is there, and raises what forbids it. Raises StoreError.
    """
    kept = False
    until = time.monotonic() + BUSY_MS / 1000

    def keep(status: int, remaining: int, total: int) -> None:
        nonlocal kept
        if status in (sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED) and time.monotonic() > until:
            raise Busy
        # The first pages are written: from here on nobody else writes, and who reads sees what was there.
        if status == sqlite3.SQLITE_OK and not kept:
            kept = True
            with closing(open_file(database(folder))) as before:
                allowed(before)
                _keep(before, source)

    # Without a log of its own: a copy from it is of one piece.
    source = sqlite3.connect(database(prepared), isolation_level=None)
    source.execute("PRAGMA journal_mode = DELETE")
    with plain_errors(folder), closing(source), closing(open_file(database(folder))) as live:
        # What the connection that is copied from changes meanwhile goes along with the copy.
        source.backup(live, pages=PAGES, progress=keep, sleep=0.02)


def _keep(before: Connection, source: sqlite3.Connection) -> None:
    source.execute("BEGIN")
    for table in DOOR:
        source.execute(f"DELETE FROM {table}")
        _copy_rows(before, source, table)
    source.execute(f"DELETE FROM setting WHERE key IN ({', '.join('?' * len(OF_MACHINE))})", OF_MACHINE)
    _copy_rows(before, source, f"setting WHERE key IN ({', '.join('?' * len(OF_MACHINE))})", OF_MACHINE)
    with suppress(sqlite3.DatabaseError):
        counters = before.execute("SELECT name, n FROM revision").fetchall()
        source.executemany(
            "UPDATE revision SET n = max(n, :n) + 1 WHERE name = :name",
            [{"name": name, "n": n} for name, n in counters],
        )
    source.execute("COMMIT")


def _copy_rows(before: Connection, source: sqlite3.Connection, which: str, values: tuple[Any, ...] = ()) -> None:
    """What cannot be read of a damaged file lets nobody in."""
    with suppress(sqlite3.DatabaseError):
        rows = before.execute(f"SELECT * FROM {which}", values).fetchall()
        if rows:
            table, marks = which.partition(" ")[0], ", ".join("?" * len(rows[0]))
            source.executemany(f"INSERT INTO {table} VALUES ({marks})", [tuple(row) for row in rows])
