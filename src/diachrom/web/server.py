"""The server: on a socket that is bound before it starts, in this process or in a thread of it."""

import socket
import threading
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from functools import partial
from pathlib import Path

import uvicorn

from diachrom.errors import InvalidInput
from diachrom.web.app import create_app
from diachrom.web.kit.visit import Visit


def listen(port: int) -> socket.socket:
    """A socket listening on loopback; port 0 picks a free one. Raises InvalidInput when the port cannot be had."""
    # Named as TCP, or asyncio does not know that it may switch off the wait for fuller packets: 40 ms an answer.
    listening = socket.socket(socket.AF_INET, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    listening.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        listening.bind(("127.0.0.1", port))
    except OSError as error:
        listening.close()
        raise InvalidInput(
            f"Port {port} cannot be used ({error.strerror}). Choose another with --port, or 0 for a free one.",
            field="port",
        ) from error
    listening.listen(128)
    return listening


def address_of(listening: socket.socket) -> str:
    return f"http://127.0.0.1:{listening.getsockname()[1]}"


def server_for(folder: Path, *, visited_from: str = "") -> uvicorn.Server:
    """On a data folder; on the demo bench, a visitor's way back."""
    app = create_app(folder)
    app.state.visited_from = visited_from
    app.state.visit = None if visited_from else Visit(_demo)
    return uvicorn.Server(uvicorn.Config(app, log_level="warning", lifespan="on", ws="none"))


def _demo(folder: Path, back: str) -> AbstractContextManager[str]:
    return running(folder, partial(server_for, visited_from=back))


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
