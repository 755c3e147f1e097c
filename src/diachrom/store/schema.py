"""What a data folder's file must be: whose it is, and of which version."""

import sqlite3
from collections.abc import Callable
from dataclasses import dataclass
from importlib.resources import files
from importlib.resources.abc import Traversable
from pathlib import Path

from diachrom.errors import Damaged, NewerData, NotADatabase, OlderData
from diachrom.words import say

APPLICATION_ID = 0x44434852  # "DCHR" in the file's header


BASELINE = 22  # the version that a new folder begins with


@dataclass(frozen=True)
class Script:
    """A step from one version to the next."""

    version: int
    name: str
    sql: str
    before: Callable[[sqlite3.Connection], None] | None = None  # what is put right first


def read_scripts(folder: Traversable) -> list[Script]:
    """Those of a folder, in order: 0023_what_it_does.sql."""
    paths = [path for path in folder.iterdir() if path.name.endswith(".sql")] if folder.is_dir() else []
    return sorted(
        (Script(int(path.name[:4]), path.name, path.read_text(encoding="utf-8")) for path in paths),
        key=lambda script: script.version,
    )


def baseline() -> Script:
    """All of a new folder's tables at once. Never edited again, as no migration is that has landed."""
    return Script(BASELINE, "baseline.sql", (files("diachrom.store") / "baseline.sql").read_text(encoding="utf-8"))


def migrations() -> list[Script]:
    """What came after the baseline, in order."""
    return read_scripts(files("diachrom.store") / "migrations")


LATEST = max([BASELINE, *(script.version for script in migrations())])


def version(connection: sqlite3.Connection) -> int:
    """The data version of a database."""
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
        raise NotADatabase(path) if foreign else Damaged(path, say("no data are in it"))
    if has < LATEST:
        raise OlderData(path, has, LATEST)
