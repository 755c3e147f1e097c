"""Processes that read one file each and are ended at their bounds: copies of one that has the readers loaded where the
system makes such copies, else fresh ones, of which one is always kept ready."""

import atexit
import os
import pickle
import socket
import subprocess
import sys
import threading
from contextlib import suppress
from pathlib import Path
from typing import Protocol

HELPER = [sys.executable, "-m", "diachrom.exchange.helper"]
LOOKS_S = 0.02  # between two looks at the memory of a fresh one
TOO_LARGE = pickle.dumps(("too large", None))


class Readers(Protocol):
    """Where files are read."""

    def ask(self, asked: bytes, most_s: float, most_bytes: int) -> bytes:
        """What a reader answers, as helper.answer says it; nothing where it came to its bounds or broke off."""

    def end(self) -> None:
        """None is left."""


def of_this_system() -> Readers:
    """Copies ask for fork, for sockets that carry files, and for the memory that a process has."""
    able = hasattr(os, "fork") and hasattr(socket, "send_fds") and Path("/proc/self/statm").exists()
    return Copies() if able else Fresh()


class Copies:
    """A process that copies itself for each file. It goes when this one is gone."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._orders: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None
        atexit.register(self.end)

    def ask(self, asked: bytes, most_s: float, most_bytes: int) -> bytes:
        """See Readers."""
        content = b""
        with self._line(most_s, most_bytes) as line:
            line.settimeout(2 * most_s)  # the reader ends itself before
            with suppress(OSError), line.makefile("rwb") as pipe:
                pipe.write(asked)
                pipe.flush()
                line.shutdown(socket.SHUT_WR)
                content = pipe.read()
        return content

    def _line(self, most_s: float, most_bytes: int) -> socket.socket:
        """Our end of the line of a new copy."""
        with self._lock:
            ours, theirs = socket.socketpair()
            with theirs:
                try:
                    self._order(theirs, most_s, most_bytes)
                except OSError:  # it is gone: another one
                    self.end()
                    self._order(theirs, most_s, most_bytes)
            return ours

    def _order(self, theirs: socket.socket, most_s: float, most_bytes: int) -> None:
        orders = self._orders or self._begun(most_s, most_bytes)
        socket.send_fds(orders, [b"."], [theirs.fileno()])

    def _begun(self, most_s: float, most_bytes: int) -> socket.socket:
        ours, theirs = socket.socketpair()
        with theirs:
            command = [*HELPER, str(theirs.fileno()), str(most_s), str(most_bytes)]
            quiet = dict.fromkeys(("stdin", "stdout", "stderr"), subprocess.DEVNULL)
            self._process = subprocess.Popen(command, pass_fds=(theirs.fileno(),), **quiet)  # type: ignore[call-overload]
        self._orders = ours
        return ours

    def end(self) -> None:
        """It goes when nobody holds its line."""
        if self._orders is not None:
            self._orders.close()
        if self._process is not None:
            self._process.wait()
        self._orders = self._process = None


class Fresh:
    """A process for each file, ended by this one: by its time, and by its memory, which is looked at."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._spare: subprocess.Popen[bytes] | None = None
        atexit.register(self.end)

    def ask(self, asked: bytes, most_s: float, most_bytes: int) -> bytes:
        """See Readers."""
        with self._lock:
            if self._spare is not None and self._spare.poll() is not None:
                self._end_spare()  # somebody ended it while it waited
            process, self._spare = self._spare or _started(), _started()
        with process:
            assert process.stdout is not None
            process.stdout.read(1)  # its readers are loaded, which is no part of its time
            too_large = threading.Event()
            threading.Thread(target=_watch, args=(process, most_bytes, too_large), daemon=True).start()
            try:
                content, _ = process.communicate(asked, timeout=most_s)
            except subprocess.TimeoutExpired:
                content = b""
            finally:
                process.kill()
        return TOO_LARGE if too_large.is_set() else content

    def end(self) -> None:
        """It goes when its line is closed."""
        with self._lock:
            self._end_spare()

    def _end_spare(self) -> None:
        if self._spare is not None:
            self._spare.kill()
            self._spare.communicate()
        self._spare = None


def _started() -> "subprocess.Popen[bytes]":
    return subprocess.Popen(HELPER, stdin=subprocess.PIPE, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL)


def _watch(process: "subprocess.Popen[bytes]", most_bytes: int, too_large: threading.Event) -> None:
    import psutil  # needed nowhere else

    with suppress(psutil.Error):
        seen = psutil.Process(process.pid)
        while process.poll() is None and not too_large.wait(LOOKS_S):
            if seen.memory_info().rss > most_bytes:
                too_large.set()
                process.kill()
