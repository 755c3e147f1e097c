"""A port for strangers: so many connections in all and from each address, and no more. Counted where they are taken, so
that those count too which never come as far as asking."""

import socket
import threading
from collections import OrderedDict
from contextlib import suppress
from typing import Any

MOST, MOST_OF_ONE = 512, 64  # connections in all, and from one address: a browser has six
RESERVE = 400  # files that the rest of the process may have open


def more_files() -> int:
    """Let this process have as many files open as the system lets it; how many."""
    try:
        import resource
    except ImportError:  # a system without such limits
        return 1 << 16
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    most = 1 << 16 if hard == resource.RLIM_INFINITY else min(hard, 1 << 16)
    with suppress(OSError, ValueError):
        resource.setrlimit(resource.RLIMIT_NOFILE, (most, hard))
    return resource.getrlimit(resource.RLIMIT_NOFILE)[0]


class _Taken(socket.socket):
    """A connection that says when it is over."""

    port: "StrangersPort | None" = None
    address = ""
    leaving = False

    def close(self) -> None:
        """Close the connection, and count it no more."""
        if self.port is not None:
            self.port.over(self)
        super().close()


class StrangersPort(socket.socket):
    """A listening socket. Of too many from one address the newest is closed at once; of too many in all, the oldest of
    the address that has the most goes before another is taken."""

    def __init__(self, *args: Any, most: int = MOST, most_of_one: int = MOST_OF_ONE, **named: Any) -> None:
        super().__init__(*args, **named)
        self._most, self._most_of_one = most, most_of_one
        self._open: dict[str, OrderedDict[_Taken, None]] = {}  # by address, the oldest first
        self._counting = threading.RLock()

    def accept(self) -> tuple[socket.socket, Any]:
        """Raises BlockingIOError while there is no room, ConnectionAbortedError where the new one is closed: whoever
        listens comes back."""
        with self._counting:
            if sum(map(len, self._open.values())) >= self._most:
                # It hears of it, and whoever has it closes it.
                most = max(self._open, key=lambda address: len(self._open[address]))
                first = next((one for one in self._open[most] if not one.leaving), None)
                if first is not None:
                    first.leaving = True
                    with suppress(OSError):
                        first.shutdown(socket.SHUT_RDWR)
                raise BlockingIOError
            descriptor, peer = self._accept()  # type: ignore[attr-defined]
            taken = _Taken(self.family, self.type, self.proto, fileno=descriptor)
            taken.address = str(peer[0])
            own = self._open.setdefault(taken.address, OrderedDict())
            if len(own) >= self._most_of_one:
                taken.close()
                raise ConnectionAbortedError
            taken.port = self
            own[taken] = None
            return taken, peer

    def over(self, taken: _Taken) -> None:
        """A connection is over: its place is free."""
        with self._counting:
            own = self._open.get(taken.address)
            if own is not None:
                own.pop(taken, None)
                if not own:
                    del self._open[taken.address]
