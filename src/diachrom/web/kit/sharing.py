"""The same application at a second address: that of this machine on its network."""

import socket
import threading
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

import uvicorn

from diachrom.errors import InvalidInput
from diachrom.words import say

Serve = Callable[[tuple[Path, Path] | None], uvicorn.Server]  # with a certificate and its key, or without
Listen = Callable[[int, str], socket.socket]


@dataclass(frozen=True)
class Shared:
    address: str
    fingerprint: str  # of the certificate, "" without one


def network_address() -> str:
    """The address by which this machine reaches others, "" where there is none. Nothing is sent."""
    with suppress(OSError), socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as asking:
        asking.connect(("192.0.2.1", 9))  # a net that is kept for documentation
        found = str(asking.getsockname()[0])
        return "" if found.startswith("127.") else found
    return ""


class Sharing:
    """On or off, while the server runs."""

    def __init__(self, listen: Listen, serve: Serve, on: str = "") -> None:
        self._listen, self._serve, self.on = listen, serve, on
        self._lock = threading.Lock()
        self._server: uvicorn.Server | None = None
        self._thread: threading.Thread | None = None
        self.now: Shared | None = None

    def host(self) -> str:
        """The address that it is shared at. Raises InvalidInput where this machine has no network."""
        found = self.on or network_address()
        if not found:
            raise InvalidInput(say("This machine is not on a network right now."), field="share")
        return found

    def begin(self, port: int, certificate: tuple[Path, Path] | None = None, fingerprint: str = "") -> Shared:
        """Raises InvalidInput where this machine has no network, or the port cannot be had."""
        with self._lock:
            if self.now is not None:
                return self.now
            host = self.host()
            listening = self._listen(port, host)
            self._server = self._serve(certificate)
            self._thread = threading.Thread(target=self._server.run, kwargs={"sockets": [listening]}, daemon=True)
            self._thread.start()
            scheme = "https" if certificate else "http"
            self.now = Shared(f"{scheme}://{host}:{listening.getsockname()[1]}", fingerprint)
            return self.now

    def end(self) -> None:
        """End the sharing; the server at this machine goes on."""
        with self._lock:
            if self._server is not None and self._thread is not None:
                self._server.should_exit = True
                self._thread.join(timeout=5)
            self._server = self._thread = self.now = None
