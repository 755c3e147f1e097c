"""The server: on a socket that is bound before it starts, in this process or in a thread of it."""

import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from functools import partial
from pathlib import Path
from typing import Any

import uvicorn
from fastapi import FastAPI

from diachrom.errors import InvalidInput
from diachrom.web.app import create_app
from diachrom.web.kit import logs
from diachrom.web.kit.memory import give_back
from diachrom.web.kit.ports import MOST, RESERVE, StrangersPort, more_files
from diachrom.web.kit.sharing import Sharing
from diachrom.web.kit.timeouts import TimeoutProtocol, TimeoutServer
from diachrom.web.kit.visits import Visits
from diachrom.words import say

CONFIG: dict[str, Any] = {"log_level": "warning", "ws": "none", "http": TimeoutProtocol}


def listen(port: int, host: str = "127.0.0.1") -> socket.socket:
    """A socket listening at an address of this machine; port 0 picks a free one. What others reach takes so many
    connections and no more. Raises InvalidInput when it cannot be had."""
    # Named as TCP, or asyncio does not know that it may switch off the wait for fuller packets: 40 ms an answer.
    kind = (socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    files = more_files()
    listening = (
        socket.socket(*kind) if host == "127.0.0.1" else StrangersPort(*kind, most=min(MOST, max(files - RESERVE, 64)))
    )
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind((host, port))
    except OSError as error:
        listening.close()
        raise InvalidInput(
            say(
                "Port {port} of {host} cannot be used ({strerror}). Choose another, or 0 for a free one.",
                port=port,
                host=host,
                strerror=error.strerror,
            ),
            field="port",
        ) from error
    listening.listen(128)
    return listening


def address_of(listening: socket.socket) -> str:
    """Where a socket is reached from this machine."""
    return f"http://127.0.0.1:{listening.getsockname()[1]}"


def server_for(folder: Path, *, visited_from: str = "", is_demo: bool = False, verbose: bool = False) -> uvicorn.Server:
    """On a data folder; on another bench, a visitor's way back."""
    app = create_app(folder)
    app.state.visited_from, app.state.is_demo = visited_from, is_demo
    app.state.visit = None if visited_from else Visits(_visited)
    app.state.sharing = None if visited_from else Sharing(listen, partial(_shared, app))
    logs.install(verbose=verbose)
    give_back()
    return TimeoutServer(uvicorn.Config(app, lifespan="on", **CONFIG))


def _shared(app: FastAPI, tls: tuple[Path, Path] | None) -> uvicorn.Server:
    """The same application, at another address."""
    files: dict[str, Any] = {"ssl_certfile": str(tls[0]), "ssl_keyfile": str(tls[1])} if tls else {}
    return TimeoutServer(uvicorn.Config(app, lifespan="off", **CONFIG, **files))


def _visited(folder: Path, back: str, is_demo: bool) -> AbstractContextManager[str]:
    return running(folder, partial(server_for, visited_from=back, is_demo=is_demo))


@contextmanager
def running(folder: Path, make: Callable[[Path], uvicorn.Server] = server_for) -> Iterator[str]:
    """Serve a data folder from a thread, for visits, tests, pictures and measurements; yields the address."""
    listening = listen(0)
    server = make(folder)
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    try:
        yield address_of(listening)
    finally:
        server.should_exit = True
        thread.join(timeout=10)
        listening.close()
