"""Learning that goes on while the pages answer; it can be stopped, and nothing is kept of it before it is taken."""

import threading
from dataclasses import dataclass, field
from pathlib import Path

from diachrom.errors import DiachromError, InvalidInput, NotFound
from diachrom.store.connection import connected
from diachrom.work.cards.learning import Lesson, lesson


class _Stopped(Exception):
    """Somebody pressed stop."""


@dataclass(eq=False)
class LearnJob:
    share: float = 0.0  # that is done
    lesson: Lesson | None = None
    problem: str = ""
    stopped: bool = False

    @property
    def running(self) -> bool:
        return self.lesson is None and not self.problem and not self.stopped

    def tell(self, share: float) -> None:
        """Raises when it was stopped."""
        if self.stopped:
            raise _Stopped
        self.share = share


@dataclass
class LearnJobs:
    """The learning of this server: one at a time."""

    job: LearnJob | None = None
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def start(self, folder: Path) -> LearnJob:
        """The one that is going on, or a new one."""
        with self._lock:
            if self.job is not None and self.job.running:
                return self.job
            self.job = LearnJob()
            threading.Thread(target=_run, args=(folder, self.job), daemon=True).start()
            return self.job

    def stop(self) -> None:
        """What it has found so far is forgotten."""
        if self.job is not None and self.job.running:
            self.job.stopped = True

    def found(self) -> Lesson:
        """What may be taken. Raises NotFound, InvalidInput."""
        if self.job is None:
            raise NotFound("Nothing was learned yet on this server: let it learn first.", field="learning")
        if self.job.lesson is None:
            raise InvalidInput("The learning has not ended; nothing was taken.", field="learning")
        return self.job.lesson

    def forget(self) -> None:
        self.stop()
        self.job = None


def _run(folder: Path, job: LearnJob) -> None:
    try:
        with connected(folder) as connection:
            found = lesson(connection, progress=job.tell)
        job.tell(1.0)  # stopped just before its end it is stopped all the same
        job.lesson = found
    except _Stopped:
        return
    except DiachromError as error:
        job.problem = str(error)
    except Exception:
        job.problem = "Something is wrong in Diachrom itself."
        raise
