"""Has the readers of files loaded, and makes a copy of itself for each file: see `apart`."""

import os
import pickle
import resource
import signal
import socket
import sys
from contextlib import suppress
from typing import Any

import cv2  # noqa: F401 - the readers ask for it

from diachrom.errors import DiachromError
from diachrom.exchange import codes, drawings, palettes, photos, sheets, spectra

READERS = (codes, drawings, palettes, photos, sheets, spectra)  # loaded once, for all copies


def main(orders: socket.socket, most_s: float, most_bytes: int) -> None:
    """Wait for files, and read each in a copy of this process."""
    signal.signal(signal.SIGCHLD, signal.SIG_IGN)  # copies that ended are not waited for
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # whoever started this says when it ends
    while True:
        told, (*lines,), _, _ = socket.recv_fds(orders, 1, 1)
        if not told:
            return
        for line in lines:
            if os.fork() == 0:
                orders.close()
                _read(socket.socket(fileno=line), most_s, most_bytes)
                os._exit(0)
            os.close(line)


def _read(line: socket.socket, most_s: float, most_bytes: int) -> None:
    """One file. What comes to its end before it has answered has closed its line by that."""
    signal.setitimer(signal.ITIMER_REAL, most_s)  # the signal ends it, whatever it does just then
    with suppress(OSError, ValueError):  # a system without /proc has the time alone
        with open("/proc/self/statm") as status:
            mapped, resident = (int(pages) * resource.getpagesize() for pages in status.read().split()[:2])
        most = mapped + max(most_bytes - resident, 0)
        resource.setrlimit(resource.RLIMIT_AS, (most, most))
    with line, line.makefile("rwb") as pipe:
        read, args = pickle.loads(pipe.read())
        pipe.write(pickle.dumps(_told(read, args)))


def _told(read: Any, args: tuple[Any, ...]) -> tuple[str, Any]:
    try:
        return "read", read(*args)
    except DiachromError as error:
        return "refused", (type(error), error.args, error.__dict__)
    except MemoryError:
        return "too large", None


if __name__ == "__main__":
    main(socket.socket(fileno=int(sys.argv[1])), float(sys.argv[2]), int(sys.argv[3]))
