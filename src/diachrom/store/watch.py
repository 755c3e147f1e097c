"""What a running server keeps in mind of its folder, and reads again whenever anybody wrote: another process too."""

import os
import sqlite3
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any, TypeVar

from diachrom.errors import DiachromError, StoreError
from diachrom.store.connection import Connection, database, open_file, plain_errors
from diachrom.words import say

Value = TypeVar("Value")


class Watch:
    """A connection that is held as long as the server runs.

    SQLite tells it by a counter that others have written. And while it is held the index of what was written last
    (-shm) stays, which a full disk would not let anybody make again.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._lock = threading.Lock()
        self._connection: Connection | None = None
        self._file = (0, 0)
        self._opened = 0  # times: a counter of another opening says nothing
        self._kept: dict[str, tuple[tuple[int, int], Any]] = {}  # by what it is: when it was read, and what it was

    def now(self, what: str, read: Callable[[sqlite3.Connection], Value], otherwise: Value) -> Value:
        """What `read` answers of the folder as it is now. Where it cannot be read, what it answered last, or
        `otherwise`."""
        with self._lock:
            try:
                with plain_errors(self.folder, disk=True):
                    path = database(self.folder)
                    status = os.stat(path)
                    if self._connection is None or self._file != (status.st_dev, status.st_ino):
                        self._close()
                        if not status.st_size:
                            raise StoreError(say("{path} is empty.", path=path))
                        self._connection, self._file = open_file(path), (status.st_dev, status.st_ino)
                        self._opened += 1
                    version = self._connection.execute("PRAGMA data_version").fetchone()[0]
                    if what not in self._kept or self._kept[what][0] != (self._opened, version):
                        self._kept[what] = (self._opened, version), read(self._connection)
                    if self._connection.sealed:  # it is told nothing of what others write
                        self._close()
            except DiachromError:
                self._close()
            value: Value = self._kept.get(what, (None, otherwise))[1]
            return value

    def close(self) -> None:
        """Let go of the connection."""
        with self._lock:
            self._close()

    def _close(self) -> None:
        if self._connection is not None:
            self._connection.close()
        self._connection = None
