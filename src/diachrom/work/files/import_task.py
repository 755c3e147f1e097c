"""Writing a file that was brought, in the background: all of it or nothing, and nothing when it is stopped."""

from pathlib import Path

from diachrom.store import uploads
from diachrom.store.connection import Connection, connected
from diachrom.store.staged import write_beside
from diachrom.words import say
from diachrom.work.files.importing import read_waiting
from diachrom.work.kit.tasks import Task, Tasks


class ImportTask(Task):
    nothing_kept = say("Nothing was imported.")

    def __init__(self, number: int, name: str, kind: str, values: str, at: str) -> None:
        super().__init__()
        self.number, self.name, self.kind, self.values, self.at = number, name, kind, values, at

    def work(self, folder: Path) -> None:
        """Write the file, all of it or nothing."""
        write_beside(folder, self._write, lambda: self.tell(self.total, self.total))

    def _write(self, connection: Connection) -> None:
        file = uploads.file(connection, self.number)
        # Read again: the shelf may have changed since it was shown.
        found = read_waiting(connection, file, kind=self.kind, values=self.values)
        found.write(connection, at=self.at, progress=self.tell)
        uploads.forget_file(connection, self.number)

    @property
    def said(self) -> str:
        """What came between."""
        return say("Stopped. Nothing of {name} was written.", name=self.name) if self.stopped else self.problem


def _key(number: int) -> tuple[str, int]:
    return ("import", number)


def start(tasks: Tasks, number: int, *, kind: str, values: str = "", at: str) -> ImportTask | None:
    """Begin to write a file that waits; one that is being written already goes on."""

    def begin(known: ImportTask | None) -> ImportTask:
        if known is not None and (known.running or known.finished):
            return known
        with connected(tasks.folder) as connection:
            name = uploads.file(connection, number).name
        return ImportTask(number, name, kind, values, at)

    return tasks.start(_key(number), begin)


def now(tasks: Tasks, number: int) -> ImportTask | None:
    """The import of a file that goes on, or went on last."""
    return tasks.of(_key(number), ImportTask)


def stop(tasks: Tasks, number: int) -> None:
    """Stop it: nothing is written."""
    tasks.stop(_key(number))
