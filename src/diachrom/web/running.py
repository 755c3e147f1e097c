"""The server in a thread of this process, for tests, pictures and measurements."""

import socket
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import uvicorn

from diachrom.web.app import create_app


@contextmanager
def running(folder: Path) -> Iterator[str]:
    """Serve a data folder on a free port of loopback; yields the address."""
    listening = socket.create_server(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(create_app(folder), log_level="warning", lifespan="on", ws="none"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    finally:
        server.should_exit = True
        thread.join(timeout=10)
        listening.close()
