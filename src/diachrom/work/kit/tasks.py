"""What goes on in the background while the pages answer: with its progress, a stop, and one of a kind at a time."""

import logging
import threading
import time
from collections.abc import Callable, Hashable
from pathlib import Path
from typing import Any, TypeVar

from diachrom.errors import DiachromError
from diachrom.words import say

LOG = logging.getLogger("diachrom.tasks")


class Stopped(Exception):
    """Somebody pressed stop."""


class Task:
    """One piece of work, on a thread and with a connection of its own. A kind of work is a subclass, which also keeps
    what it has found so far."""

    nothing_kept = ""  # said after a problem

    def __init__(self) -> None:
        self.done, self.total = 0, 1
        self.finished = self.stopped = False
        self.stopping = False  # stop was pressed; what comes of it is not known before it is over
        self.problem = ""
        self._over = threading.Event()

    def work(self, folder: Path) -> None:
        """Do it, and `tell` how far it is, last when nothing can be stopped any more. Raises DiachromError, Stopped."""
        raise NotImplementedError

    @property
    def running(self) -> bool:
        """Whether it is not over."""
        return not (self.finished or self.stopped or self.problem)

    @property
    def going_on(self) -> bool:
        """It runs, and nobody pressed stop."""
        return self.running and not self.stopping

    def tell(self, done: int, total: int) -> None:
        """Raises Stopped when it was stopped."""
        self.done, self.total = done, total
        if self.stopping:
            raise Stopped

    def stop(self) -> None:
        """Ask it to stop."""
        if self.running:
            self.stopping = True

    def wait(self, seconds: float) -> bool:
        """Whether it is over by then."""
        return self._over.wait(seconds)

    def _run(self, folder: Path) -> None:
        begun, level, ended = time.monotonic(), logging.INFO, "finished"
        try:
            self.work(folder)
            self.finished = True  # whatever was pressed since its last `tell`
        except Stopped:
            self.stopped, ended = True, "stopped"
        except DiachromError as error:
            self.problem = f"{error} {self.nothing_kept}".strip()
            ended = say("refused by {name}", name=type(error).__name__)
        except Exception:
            self.problem = f"Something went wrong in Diachrom itself. {self.nothing_kept}".strip()
            level, ended = logging.WARNING, "failed"
            raise
        finally:
            self._over.set()
            LOG.log(level, "%s %s after %.2f s", type(self).__name__, ended, time.monotonic() - begun)


Kind = TypeVar("Kind", bound=Task)


class Tasks:
    """The tasks of this server, at most one of each kind."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._tasks: dict[Hashable, Task] = {}
        self._lock = threading.Lock()

    def start(self, kind: Hashable, begin: Callable[[Any], Kind | None]) -> Kind | None:
        """What is to go on now. `begin` answers the task that there was of this kind, or None, with that same one or
        with a new one, which is started in its place; it decides under the lock, so that of two that ask at once
        neither starts it twice."""
        with self._lock:
            known = self._tasks.get(kind)
            wanted = begin(known)
            if wanted is None or wanted is known:
                return wanted
            if known is not None:
                known.stop()
            self._tasks[kind] = wanted
            threading.Thread(target=wanted._run, args=(self.folder,), daemon=True).start()
            return wanted

    def of(self, kind: Hashable, of: type[Kind]) -> Kind | None:
        """The task of a kind that goes on, or went on last."""
        with self._lock:
            task = self._tasks.get(kind)
        return task if isinstance(task, of) else None

    def stop(self, kind: Hashable) -> None:
        """Ask the task of a kind to stop."""
        with self._lock:
            task = self._tasks.get(kind)
        if task is not None:
            task.stop()

    def stop_all(self) -> None:
        """The server goes: nobody will ask any more."""
        with self._lock:
            tasks = list(self._tasks.values())
        for task in tasks:
            task.stop()

    def forget(self, kind: Hashable) -> None:
        """Stop it, and nothing is known of it any more."""
        self.stop(kind)
        with self._lock:
            self._tasks.pop(kind, None)
