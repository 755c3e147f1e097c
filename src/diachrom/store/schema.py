"""What a data folder's file must be: whose it is, and of which version."""

import sqlite3
from importlib.resources import files
from pathlib import Path

from diachrom.errors import Damaged, NewerData, NotADatabase, OlderData

APPLICATION_ID = 0x44434852  # "DCHR" in the file's header


def scripts() -> list[tuple[int, str, str]]:
    """(version, name, SQL) of every migration, in order. One that has landed is never edited again."""
    found = [path for path in (files("diachrom.store") / "migrations").iterdir() if path.name.endswith(".sql")]
    return sorted((int(path.name[:4]), path.name, path.read_text(encoding="utf-8")) for path in found)


LATEST = max(version for version, _, _ in scripts())


def version(connection: sqlite3.Connection) -> int:
    return int(connection.execute("PRAGMA user_version").fetchone()[0])


def first_damage(connection: sqlite3.Connection) -> str:
    """What SQLite finds wrong first, "ok" when nothing is."""
    return str(connection.execute("PRAGMA quick_check(1)").fetchone()[0])


def check_version(connection: sqlite3.Connection, path: Path) -> None:
    """Raises NewerData or OlderData for a file that this code would misread, Damaged for one that holds nothing."""
    has = version(connection)
    if has > LATEST:
        raise NewerData(path, has, LATEST)
    if has == 0:
        foreign = connection.execute("SELECT count(*) FROM sqlite_schema").fetchone()[0]
        raise NotADatabase(path) if foreign else Damaged(path, "no data are in it")
    if has < LATEST:
        raise OlderData(path, has, LATEST)
