"""Bring a data folder to the version this code knows, one recorded step at a time, with a backup before the first."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing
from importlib.resources import files
from pathlib import Path

from diachrom.errors import FileExists, NewerData, NotADatabase
from diachrom.store.connection import connected, database, open_file, plain_errors, writing

APPLICATION_ID = 0x44434852  # "DCHR" in the file's header


def _scripts() -> list[tuple[int, str, str]]:
    """(version, name, SQL) of every migration, in order."""
    found = [path for path in (files("diachrom.store") / "migrations").iterdir() if path.name.endswith(".sql")]
    return sorted((int(path.name[:4]), path.name, path.read_text(encoding="utf-8")) for path in found)


LATEST = max(version for version, _, _ in _scripts())


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

    Raises NotADatabase for a foreign file, NewerData for data of a later code, DataFolderNotWritable.
    """
    path = database(folder)
    with plain_errors(folder):
        folder.mkdir(parents=True, exist_ok=True)
        existed = path.exists() and path.stat().st_size > 0
        if existed:
            _check_identity(path)
        taken = []
        with closing(open_file(path, create=True)) as connection:
            with writing(connection):
                pass  # finds out now, not at the first save, that the folder cannot be written
            has = version(connection)
            if has > LATEST:
                raise NewerData(path, has, LATEST)
            if existed and 0 < has < LATEST:
                backup(connection, folder / "backups" / f"before-{LATEST:04d}-from-{has:04d}.sqlite3")
            for number, name, script in _scripts():
                if _step(connection, number, script):
                    taken.append(name)
        return taken


def _check_identity(path: Path) -> None:
    """Look before anything is written: a file of another program is left as it is."""
    with closing(sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)) as connection:
        try:
            stamp = connection.execute("PRAGMA application_id").fetchone()[0]
            tables = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()[0]
        except sqlite3.DatabaseError as error:
            if getattr(error, "sqlite_errorcode", 0) in (sqlite3.SQLITE_NOTADB, sqlite3.SQLITE_CORRUPT):
                raise NotADatabase(path) from error
            raise
    if stamp != APPLICATION_ID and tables:
        raise NotADatabase(path)


def _step(connection: sqlite3.Connection, number: int, script: str) -> bool:
    """Take one migration and record it, together or not at all. Another process may have taken it meanwhile."""
    with writing(connection):
        if version(connection) >= number:
            return False
        for statement in statements(script):
            connection.execute(statement)
        connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
        connection.execute(f"PRAGMA user_version = {number:d}")
    return True


def version(connection: sqlite3.Connection) -> int:
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def copy_to(folder: Path, target: Path) -> None:
    """Back up a data folder into a new file. Raises FileExists when the file is there already, and StoreError."""
    if target.exists():
        raise FileExists(target)
    with connected(folder) as connection, plain_errors(target.parent):
        backup(connection, target)


def backup(connection: sqlite3.Connection, target: Path) -> None:
    """Copy the live database to `target`, whole and consistent."""
    target.parent.mkdir(parents=True, exist_ok=True)
    with closing(sqlite3.connect(target)) as copy:
        connection.backup(copy)
