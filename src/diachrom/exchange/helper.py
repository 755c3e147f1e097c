"""Has the readers of files loaded, and reads: see `readers`. With a line to take orders from it makes a copy of itself
for each file, else it reads the one that comes in."""

import os
import pickle
import signal
import socket
import sys
from collections.abc import Sequence
from contextlib import suppress
from typing import Any

import cv2  # noqa: F401 - the readers ask for it

from diachrom.errors import DiachromError
from diachrom.exchange import codes, drawings, palettes, photos, sheets, spectra

READERS = (codes, drawings, palettes, photos, sheets, spectra)  # loaded once, for all copies


def answer(asked: bytes) -> bytes:
    """What a reader finds, or what it raises, as it is told to who asked; both are pickles."""
    read, args = pickle.loads(asked)
    told: tuple[str, Any]
    try:
        told = "read", read(*args)
    except DiachromError as error:
        told = "refused", (type(error), error.args, error.__dict__)
    except MemoryError:
        told = "too large", None
    return pickle.dumps(told)


def copies(orders: socket.socket, most_s: float, most_bytes: int) -> None:
    """Wait for files, and read each in a copy of this process."""
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # copies that ended are not waited for
    while True:
        told, (*lines,), _, _ = socket.recv_fds(orders, 1, 1)
        if not told:
            return
        for line in lines:
            if os.fork() == 0:
                orders.close()
                _bounded(socket.socket(fileno=line), most_s, most_bytes)
                os._exit(0)
            os.close(line)


def _bounded(line: socket.socket, most_s: float, most_bytes: int) -> None:
    """One file. What comes to its end before it has answered has closed its line by that."""
    import resource

    signal.setitimer(signal.ITIMER_REAL, most_s)  # the signal ends it, whatever it does just then
    with suppress(OSError, ValueError), open("/proc/self/statm", encoding="ascii") as status:
        mapped, resident = (int(pages) * resource.getpagesize() for pages in status.read().split()[:2])
        most = mapped + max(most_bytes - resident, 0)
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
    with line, line.makefile("rwb") as pipe:
        pipe.write(answer(pipe.read()))


def main(arguments: Sequence[str]) -> None:
    """For one file, or by orders for many."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # whoever started this says when it ends
    if arguments:
        copies(socket.socket(fileno=int(arguments[0])), float(arguments[1]), int(arguments[2]))
        return
    sys.stdout.buffer.write(b".")  # ready
    sys.stdout.buffer.flush()
    asked = sys.stdin.buffer.read()
    if asked:
        sys.stdout.buffer.write(answer(asked))


if __name__ == "__main__":
    main(sys.argv[1:])
