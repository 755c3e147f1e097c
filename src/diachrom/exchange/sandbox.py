"""Files from anywhere are read in a process of their own that is ended at its bounds: whatever a file makes reading do,
nobody else waits for it, and nothing of it stays.

The first file starts a helper (`diachrom.exchange.helper`) that has the readers loaded; a copy of it reads each file.
The helper goes when the process that started it is gone.
"""

import atexit
import pickle
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from contextlib import suppress
from typing import Any, TypeVar

from diachrom.errors import BadFile, ReadersBusy
from diachrom.words import quantity, say

MOST_S = 10.0
MOST_BYTES = 300_000_000  # of memory, that of the readers themselves counted too
AT_ONCE, PATIENCE_S = 2, 30.0
Found = TypeVar("Found")

_turns = threading.BoundedSemaphore(AT_ONCE)


class Helper:
    """The process that makes readers."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._orders: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None
        atexit.register(self.end)

    def reader(self) -> socket.socket:
        """A new reader's end of the line."""
        with self._lock:
            ours, theirs = socket.socketpair()
            with theirs:
                try:
                    self._order(theirs)
                except OSError:  # it is gone: another one
                    self.end()
                    self._order(theirs)
            return ours

    def _order(self, theirs: socket.socket) -> None:
        orders = self._orders or self._begun()
        socket.send_fds(orders, [b"."], [theirs.fileno()])

    def _begun(self) -> socket.socket:
        ours, theirs = socket.socketpair()
        with theirs:
            fd = theirs.fileno()
            command = [sys.executable, "-m", "diachrom.exchange.helper", str(fd), str(MOST_S), str(MOST_BYTES)]
            quiet = dict.fromkeys(("stdin", "stdout", "stderr"), subprocess.DEVNULL)
            self._process = subprocess.Popen(command, pass_fds=(fd,), **quiet)  # type: ignore[call-overload]
        self._orders = ours
        return ours

    def end(self) -> None:
        """It goes when nobody holds its line."""
        if self._orders is not None:
            self._orders.close()
        if self._process is not None:
            self._process.wait()
        self._orders = self._process = None


_helper = Helper()


def run_sandboxed(file: str, read: Callable[..., Found], *args: Any) -> Found:
    """`read(file, *args)` in a process of its own; both ways everything is passed as pickles. Raises what it raises;
    BadFile where it comes to its bounds, Crowded where too many are read already."""
    if not _turns.acquire(timeout=PATIENCE_S):
        raise ReadersBusy
    try:
        with _helper.reader() as line:
            return _answer(file, line, pickle.dumps((read, (file, *args))))
    finally:
        _turns.release()


def _answer(file: str, line: socket.socket, asked: bytes) -> Any:
    line.settimeout(2 * MOST_S)  # the reader ends itself before
    content = b""
    with suppress(OSError), line.makefile("rwb") as pipe:
        pipe.write(asked)
        pipe.flush()
        line.shutdown(socket.SHUT_WR)
        content = pipe.read()
    if not content:
        raise BadFile(
            file,
            say("reading it takes more than {most_s} seconds, or breaks off: refused.", most_s=quantity(MOST_S, ".0f")),
        )
    did, found = pickle.loads(content)
    if did == "read":
        return found
    if did == "too large":
        raise BadFile(
            file,
            say("reading it takes more than {most_bytes} MB of memory: refused.", most_bytes=MOST_BYTES // 1_000_000),
        )
    kind, words, told = found
    error = kind.__new__(kind)
    error.args, error.__dict__ = words, told
    raise error
