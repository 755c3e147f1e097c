"""Bring a data folder to the version this code knows, one recorded step at a time, with a backup before the first."""

import os
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

from diachrom.errors import Damaged, FileExists, NewerData, NotADatabase
from diachrom.store import older
from diachrom.store.connection import Connection, connected, database, open_file, plain_errors, writing
from diachrom.store.schema import APPLICATION_ID, BASELINE, LATEST, Script, baseline, first_damage, migrations, version
from diachrom.words import say


def statements(script: str) -> Iterator[str]:
    """Split a script, since `executescript` would commit the transaction it runs in."""
    statement = ""
    for piece in script.split(";"):
        statement += piece + ";"
        # A trigger's body and a comment may hold semicolons of their own.
        if sqlite3.complete_statement(statement):
            if statement.strip(" \n;"):
                yield statement
            statement = ""


def migrate(folder: Path) -> list[str]:
    """Create or upgrade the data in `folder`; returns the names of the steps taken.

    Raises NotADatabase for a foreign file, Damaged for one that is not whole (nothing is written to either), NewerData
    for data of a later code, DataFolderNotWritable.
    """
    path = database(folder)
    with plain_errors(folder, disk=True):
        folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        if not path.exists():
            if path.with_name(f"{path.name}-wal").exists():
                raise Damaged(path, say("it is gone; only what was written last is there"))
            taken = _create(path)
            if taken:
                return taken
        if path.stat().st_mode & 0o077:
            path.chmod(0o600)
        # Look before anything is written: a file of another program, or one that is not whole, is left as it is.
        if path.stat().st_size == 0:
            raise Damaged(path, say("it is empty"))
        with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as looked_at:
            try:
                stamp = looked_at.execute("PRAGMA application_id").fetchone()[0]
                tables = looked_at.execute("SELECT count(*) FROM sqlite_schema").fetchone()[0]
                found = "ok" if stamp != APPLICATION_ID else first_damage(looked_at)
            except sqlite3.DatabaseError as error:
                if getattr(error, "sqlite_errorcode", 0) == sqlite3.SQLITE_NOTADB:
                    raise NotADatabase(path) from error
                raise
        if stamp != APPLICATION_ID and tables:
            raise NotADatabase(path)
        if found != "ok":
            raise Damaged(path, found)
        with closing(open_file(path)) as connection:
            with writing(connection):
                pass  # finds out now, not at the first save, that the folder cannot be written
            has = version(connection)
            if has > LATEST:
                raise NewerData(path, has, LATEST)
            if 0 < has < LATEST:
                backup(connection, folder / "backups" / f"before-{LATEST:04d}-from-{has:04d}.sqlite3")
            return take_steps(connection)


def _create(path: Path) -> list[str]:
    """Make the file whole under another name first, so that a file cut off in the making never stands for a shelf.

    Returns the steps taken, none when another process was faster.
    """
    making = path.with_name(f"{path.name}.{os.getpid()}.new")
    making.unlink(missing_ok=True)
    try:
        with closing(open_file(making, create=True)) as connection:
            taken = take_steps(connection)
        making.chmod(0o600)
        # Raises FileExistsError when another process was faster.
        try:
            os.link(making, path)
        except FileExistsError:
            raise
        except OSError:  # a disk without hard links
            if path.exists():
                raise FileExistsError(path) from None
            making.rename(path)
    except FileExistsError:
        return []
    finally:
        for left in path.parent.glob(f"{making.name}*"):
            left.unlink()
    return taken


def steps(has: int, last: int) -> list[Script]:
    """From a version to another: a new database begins with the baseline."""
    begin = [baseline()] if has == 0 and last >= BASELINE else older.scripts()
    return [script for script in (*begin, *migrations()) if has < script.version <= last]


def take_steps(connection: Connection, last: int = LATEST) -> list[str]:
    """Bring a database up to a version; returns the names of the steps taken."""
    return [script.name for script in steps(version(connection), last) if _step(connection, script)]


def _step(connection: Connection, script: Script) -> bool:
    """Take one migration and record it, together or not at all. Another process may have taken it meanwhile."""
    with writing(connection):
        if version(connection) >= script.version:
            return False
        if script.before is not None:
            script.before(connection)
        for statement in statements(script.sql):
            connection.execute(statement)
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        connection.execute(f"PRAGMA user_version = {script.version:d}")
    return True


def copy_to(folder: Path, target: Path) -> None:
    """Back up a data folder into a new file. Raises FileExists when the file is there already, and StoreError."""
    if target.exists():
        raise FileExists(target)
    with connected(folder, any_version=True) as connection, plain_errors(target.parent, disk=True):
        backup(connection, target)


def backup(connection: sqlite3.Connection, target: Path, *, whole: bool = True) -> None:
    """Copy the live database to `target`, whole and consistent. Raises Damaged, and leaves no file, for what is not,
    unless it is wanted as it is."""
    target.parent.mkdir(parents=True, exist_ok=True)
    try:
        with closing(sqlite3.connect(target)) as copy:
            connection.backup(copy)
            found = first_damage(copy) if whole else "ok"
        if found != "ok":
            raise Damaged(target, found)
        target.chmod(0o600)
    except (sqlite3.Error, Damaged, OSError):
        target.unlink(missing_ok=True)
        raise
