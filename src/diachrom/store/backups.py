"""Copies of the whole database in a folder: made each day at the first change and before each migration, thinned out
with their age, looked into and put back."""

import hashlib
import os
import re
import shutil
import socket
import sqlite3
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import date
from pathlib import Path

from diachrom.errors import Damaged, DataFolderNotWritable, NewerData, NotFound, StoreError
from diachrom.store.connection import Connection, connected, database, plain_errors
from diachrom.store.in_place import aside, put_in_place
from diachrom.store.migrate import backup, migrate
from diachrom.store.schema import APPLICATION_ID, LATEST, first_damage, version
from diachrom.words import say

DAYS, WEEKS, MONTHS = 7, 8, 12
FOLDER = "backups"
SHARED = re.compile(r"diachrom-(.+-[0-9a-f]{4})")  # the folder of each bench where several keep their copies
NAME = re.compile(
    r"(?P<kind>day|before-restore|before-mending|before-\d{4}-from-\d{4})(?:-(?P<at>[\dT-]{10,19}))?\.sqlite3"
)


@dataclass(frozen=True)
class Backup:
    """A copy, and where it lies."""

    path: Path
    kind: str  # day, before-restore, before-mending, before-NNNN-from-NNNN
    at: str  # by its name, else by the file's own time: year-month-day
    bytes: int

    @property
    def name(self) -> str:
        """Its file's name; with its bench's, where several keep their copies."""
        return f"{self.bench}~{self.path.name}" if self.bench else self.path.name

    @property
    def bench(self) -> str:
        """Whose it is, where several keep their copies; "" elsewhere."""
        shared = SHARED.fullmatch(self.path.parent.name)
        return shared[1] if shared else ""


@dataclass(frozen=True)
class Content:
    """How much is in a copy: rows by table; and its version."""

    version: int
    rows: dict[str, int]
    last: str  # when something was last entered in it


def folder_of(folder: Path) -> Path:
    """Where a folder's backups lie."""
    return folder / FOLDER


def shared_by(folder: Path) -> str:
    """What a bench is called among several: its machine's name, and which of its folders."""
    host = re.sub(r"[^A-Za-z0-9]+", "-", socket.gethostname()).strip("-")[:30] or "bench"
    return f"{host}-{hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:4]}"


def shared_folders(folder: Path) -> list[Path]:
    """Those of the benches that keep their copies in a folder, and itself."""
    with suppress(OSError, ValueError):
        inside = sorted(one for one in folder.iterdir() if SHARED.fullmatch(one.name) and not one.is_symlink())
        return [folder, *inside]
    return [folder]


def every(folders: Iterable[Path]) -> list[Backup]:
    """The latest first."""
    backups = []
    for folder in folders:
        with suppress(OSError, ValueError):  # a stick that is out, a path that is none
            for path in folder.glob("*.sqlite3"):
                named = NAME.fullmatch(path.name)
                if named is not None and path.is_file() and not path.is_symlink():
                    told = path.stat()
                    at = named["at"] or date.fromtimestamp(told.st_mtime).isoformat()
                    backups.append(Backup(path, named["kind"], at, told.st_size))
    return sorted(backups, key=lambda one: (one.at, one.name), reverse=True)


def take(folder: Path, target: Path, *, whole: bool = True) -> bool:
    """Copy a folder's database to a file, whole or not at all; False where that file is there already. What is not
    whole itself is copied only where that is wanted. Raises StoreError."""
    if target.exists():
        return False
    making = target.with_name(f"{target.name}.{os.getpid()}.part")
    with plain_errors(target.parent, disk=True):
        target.parent.mkdir(mode=0o700, parents=True, exist_ok=True)
        try:
            with connected(folder, any_version=True) as connection:
                backup(connection, making, whole=whole)
            os.chmod(making, 0o600)
            making.replace(target)
        except sqlite3.Error as error:
            raise DataFolderNotWritable(target.parent, str(error)) from error
        finally:
            for left in target.parent.glob(f"{making.name}*"):
                left.unlink()
    return True


def thinned(days: Iterable[str], today: str) -> set[str]:
    """Of days with a copy those whose copy is kept: each of the last seven, the first of each of the last eight weeks,
    and of each of the last twelve months that have one."""
    known = sorted(day for day in days if day <= today)
    now = date.fromisoformat(today)
    kept = {day for day in known if (now - date.fromisoformat(day)).days < DAYS}
    weeks: dict[tuple[int, int], str] = {}
    months: dict[str, str] = {}
    for day in known:
        year, week, _ = date.fromisoformat(day).isocalendar()
        weeks.setdefault((year, week), day)
        months.setdefault(day[:7], day)
    kept |= {weeks[one] for one in sorted(weeks)[-WEEKS:]} | {months[one] for one in sorted(months)[-MONTHS:]}
    return kept | {day for day in days if day > today}  # of a clock that was wrong: not ours to throw away


def thin_out(folder: Path, today: str) -> list[str]:
    """Throw away what is not kept; the names."""
    backups = [one for one in every([folder]) if one.kind == "day"]
    kept = thinned([one.at for one in backups], today)
    gone = [one for one in backups if one.at not in kept]
    for one in gone:
        with suppress(OSError):
            one.path.unlink()
    return [one.name for one in gone]


def copy_on(source: Path, folder: Path, bench: str) -> Path:
    """A copy to a bench's own folder within another folder, such as a stick or one that is synced; where. Raises
    DataFolderNotWritable."""
    with plain_errors(folder, disk=True):
        if not folder.is_dir():
            raise DataFolderNotWritable(folder, say("it is not there: is the stick in?"))
        own_folder = folder / f"diachrom-{bench}"
        own_folder.mkdir(mode=0o700, exist_ok=True)
        making = own_folder / f"{source.name}.part"
        try:
            making.unlink(missing_ok=True)
            with open(making, "wb", opener=_private) as copy, source.open("rb") as own:
                shutil.copyfileobj(own, copy)
            making.replace(own_folder / source.name)
        finally:
            making.unlink(missing_ok=True)
    return own_folder


def _private(path: str, flags: int) -> int:
    """Opens a file that nobody else can read, from its first byte on."""
    return os.open(path, flags, 0o600)


@contextmanager
def opened(one: Backup) -> Iterator[Connection]:
    """A copy, to be looked at. Raises StoreError for what is no data of ours."""
    read_only = sqlite3.connect(
        f"{one.path.absolute().as_uri()}?mode=ro&immutable=1", uri=True, isolation_level=None, factory=Connection
    )
    read_only.row_factory = sqlite3.Row
    with plain_errors(one.path.parent), closing(read_only) as connection:
        if connection.execute("PRAGMA application_id").fetchone()[0] != APPLICATION_ID:
            raise StoreError(say("{name} is no data of Diachrom.", name=one.name))
        yield connection


def content(connection: sqlite3.Connection) -> Content:
    """What a backup holds, in figures."""
    names = [row[0] for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
    plain = [name for name in names if not name.startswith("sqlite_")]
    rows = {name: int(connection.execute(f'SELECT count(*) FROM "{name}"').fetchone()[0]) for name in plain}
    last = connection.execute("SELECT max(at) FROM stock_entry").fetchone()[0] if "stock_entry" in rows else None
    return Content(version(connection), rows, str(last or ""))


def find(folders: Iterable[Path], name: str) -> Backup:
    """Raises NotFound."""
    found = next((one for one in every(folders) if one.name == name), None)
    if found is None:
        raise NotFound(say("There is no backup '{name}'.", name=name[:80]), field="backup")
    return found


def put_beside(folder: Path, one: Backup) -> None:
    """A copy as a bench of its own, in an empty folder. Raises StoreError."""
    _check(one)
    shutil.copyfile(one.path, database(folder))
    migrate(folder)


def _check(one: Backup) -> None:
    with opened(one) as copy:
        if version(copy) > LATEST:
            raise NewerData(one.path, version(copy), LATEST)
        found = first_damage(copy)
        if found != "ok":
            raise Damaged(one.path, found)


def restore(folder: Path, one: Backup, *, now: str) -> Path:
    """Put a copy in the place of what is there, in one step, also while others read and write; what was there is kept
    as a copy, whose path this answers. Raises StoreError; then all is as it was."""
    _check(one)
    before = folder_of(folder) / f"before-restore-{now}.sqlite3"
    take(folder, before)
    with aside(folder) as place:
        shutil.copyfile(one.path, database(place))
        migrate(place)
        put_in_place(folder, place)
    return before
