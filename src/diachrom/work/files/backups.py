"""Backups as a painter meets them: made by themselves, copied to a stick, looked into, put back with what it costs."""

import sqlite3
import threading
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

from diachrom import clock
from diachrom.errors import InvalidInput, StoreError
from diachrom.store import backups, settings, uploads
from diachrom.store.backups import Backup
from diachrom.store.connection import connected, writing
from diachrom.words import say

SECOND = "second_folder"
KINDS = {
    "day": say("before the first change of that day"),
    "before-restore": say("before a backup was put back"),
    "before-mending": say("before it was mended"),
}
# What a painter would miss, by its table: one, and several.
WORDS = {
    "paint": ("paint", "paints"),
    "paint_profile": (say("version of a profile"), say("versions of profiles")),
    "bottle": ("bottle", "bottles"),
    "stock_entry": (say("entry of the ledger"), say("entries of the ledger")),
    "recipe_version": (say("version of a recipe"), say("versions of recipes")),
    "test_card": (say("spray-out card"), say("spray-out cards")),
    "reading": ("reading", "readings"),
    "plan": ("plan", "plans"),
    "bait_order": ("order", "orders"),
    "session": (say("session at the bench"), say("sessions at the bench")),
    "session_event": (say("press at the bench"), say("presses at the bench")),
    "log_entry": (say("entry of the log"), say("entries of the log")),
    "photo": ("photo", "photos"),
    "setting": ("setting", "settings"),
    "eye_stock": (say("kind of eyes"), "eyes"),
    "opened_tin": (say("opened tin"), say("opened tins")),
    "bait_stock": (say("bait in the drawer"), say("baits in the drawer")),
    "target": ("target", "targets"),
}


@dataclass(frozen=True)
class Listed:
    backup: Backup
    words: str
    elsewhere: bool  # in the second folder
    of: str  # the bench whose it is, "" for this one


@dataclass(frozen=True)
class Difference:
    """Rows of a sort: how many are there now and how many in a backup."""

    words: tuple[str, str]  # one, and several
    now: int
    then: int

    @property
    def lost(self) -> str:
        """What would be missed, "" if nothing would."""
        many = max(0, self.now - self.then)
        return f"{many} {self.words[many != 1]}" if many else ""


@dataclass
class Daily:
    """The backup before a day's first change, for all requests of a server."""

    folder: Path
    day: str = ""  # of which it is made
    problem: str = ""
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def before_change(self) -> None:
        """Once a day; a disk that is full keeps nobody from working, and is told on the page."""
        today = clock.today(clock.now())
        if self.day == today:
            return
        with self._lock:
            if self.day == today:
                return
            self.day = today
            self.problem = _made(self.folder, today)


def _made(folder: Path, today: str) -> str:
    """Make today's backup, copy it on, thin out; what went wrong, in words."""
    path = backups.folder_of(folder)
    target = path / f"day-{today}.sqlite3"
    try:
        if not backups.take(folder, target):
            return ""
        backups.thin_out(path, today)
        other = second(folder)
        if other is not None:
            backups.thin_out(backups.copy_on(target, other, backups.shared_by(folder)), today)
    except (StoreError, OSError, sqlite3.Error) as error:
        return str(error)
    return ""


def second(folder: Path) -> Path | None:
    """The second folder, if one is set."""
    with connected(folder) as connection:
        found = settings.every(connection).get(SECOND, "")
    return Path(found) if found else None


def set_second(folder: Path, text: str) -> None:
    """Raises InvalidInput for what is no folder that can be written."""
    wanted = text.strip()
    if wanted:
        path = Path(wanted).expanduser()
        if not path.is_absolute() or not path.is_dir():
            raise InvalidInput(
                say("'{wanted}' is no folder: write it whole, from /.", wanted=wanted[:120]), field="second"
            )
        if path.resolve() == backups.folder_of(folder).resolve():
            raise InvalidInput(say("Backups are already there: choose another disk."), field="second")
        try:
            probe = path / ".diachrom-probe"
            probe.touch()
            probe.unlink()
        except OSError as error:
            raise InvalidInput(
                say("{path} cannot be written: {strerror}.", path=path, strerror=error.strerror), field="second"
            ) from error
        wanted = str(path)
    with connected(folder) as connection, writing(connection):
        settings.put(connection, {SECOND: wanted})


def photos(connection: sqlite3.Connection) -> tuple[int, int]:
    """Bytes that photos take, and may."""
    return uploads.room(connection), uploads.MOST_BYTES


def listed(folder: Path) -> list[Listed]:
    """The latest first."""
    path, own = backups.folder_of(folder), backups.shared_by(folder)
    return [
        Listed(
            backup,
            KINDS.get(backup.kind, "before this version's tables"),
            backup.path.parent != path,
            backup.bench if backup.bench != own else "",
        )
        for backup in backups.every(_folders(folder))
    ]


def _folders(folder: Path) -> Sequence[Path]:
    other = None
    with suppress(StoreError):
        other = second(folder)
    return [backups.folder_of(folder), *([] if other is None else backups.shared_folders(other))]


def differences(folder: Path, name: str) -> tuple[Backup, list[Difference], str]:
    """A backup, what differs of it and what is there now, and when something was last entered in it. Raises NotFound,
    StoreError."""
    backup = backups.find(_folders(folder), name)
    with backups.opened(backup) as copy:
        then = backups.content(copy)
    with connected(folder) as connection:
        now = backups.content(connection)
    both = [Difference(words, now.rows.get(table, 0), then.rows.get(table, 0)) for table, words in WORDS.items()]
    return backup, [row for row in both if row.now or row.then], then.last


def put_beside(folder: Path, name: str, empty: Path) -> None:
    """A backup, of this bench or of another, as a bench of its own in an empty folder. Raises NotFound, StoreError."""
    backups.put_beside(empty, backups.find(_folders(folder), name))


def restore(folder: Path, name: str) -> Path:
    """Put it back; what was there is kept, and this is where. Raises NotFound, StoreError."""
    backup = backups.find(_folders(folder), name)
    return backups.restore(folder, backup, now=clock.now()[:19].replace(":", "-"))
