"""A visit to another bench, the demo's or a backup's: a server of its own on a folder of its own, so that nothing of it
gets into this one."""

import threading
from collections.abc import Callable
from contextlib import AbstractContextManager, ExitStack
from pathlib import Path
from tempfile import TemporaryDirectory

# A folder, where a visitor goes back to, and whether it is the demo bench -> its address.
Serve = Callable[[Path, str, bool], AbstractContextManager[str]]
DEMO = ""
MOST = 4  # at once; then the oldest of them ends


def _demo(folder: Path) -> None:
    from diachrom.demo.bench import fill  # only a visitor waits for it

    fill(folder)


class Visits:
    """Each begins with its first visitor and ends with the server that it was begun from; then its folder is gone."""

    def __init__(self, serve: Serve) -> None:
        self._serve = serve
        self._lock = threading.Lock()
        self._open: dict[str, tuple[ExitStack, str]] = {}

    def begin(self, back: str, which: str = DEMO, put: Callable[[Path], None] = _demo) -> str:
        """The address of a bench, which `put` fills an empty folder with. Raises what `put` raises."""
        with self._lock:
            if which not in self._open:
                while len(self._open) >= MOST:
                    self._open.pop(next(iter(self._open)))[0].close()
                with ExitStack() as begun:
                    folder = Path(begun.enter_context(TemporaryDirectory(prefix="diachrom-visit-")))
                    put(folder)
                    address = begun.enter_context(self._serve(folder, back, which == DEMO))
                    self._open[which] = begun.pop_all(), address
            return self._open[which][1]

    def end(self) -> None:
        """End every visit, and take the folders away."""
        with self._lock:
            for begun, _ in self._open.values():
                begun.close()
            self._open = {}
