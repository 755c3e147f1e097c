"""A visit to the demo bench: a server of its own on a folder of its own, so that nothing of it gets into this one."""

import threading
from collections.abc import Callable
from contextlib import AbstractContextManager, ExitStack
from pathlib import Path
from tempfile import TemporaryDirectory

Serve = Callable[[Path, str], AbstractContextManager[str]]  # a folder, and where a visitor goes back to -> its address


class DemoServer:
    """Begins with the first visitor and ends with the server that it was begun from; then its folder is gone."""

    def __init__(self, serve: Serve) -> None:
        self._serve = serve
        self._lock = threading.Lock()
        self._open = ExitStack()
        self._address = ""

    def begin(self, back: str) -> str:
        """The address of the demo bench."""
        from diachrom.demo.bench import fill  # only a visitor waits for it

        with self._lock:
            if not self._address:
                folder = Path(self._open.enter_context(TemporaryDirectory(prefix="diachrom-demo-")))
                fill(folder)
                self._address = self._open.enter_context(self._serve(folder, back))
            return self._address

    def end(self) -> None:
        """End the demo's server, and take its folder away."""
        with self._lock:
            self._open.close()
            self._address = ""
