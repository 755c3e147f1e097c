"""Where the latest server of a folder listens: noted in the folder, for commands beside it."""

import os
import socket
from contextlib import suppress
from pathlib import Path

from diachrom.errors import InvalidInput
from diachrom.words import say

NOTE = "served-at"


def note(folder: Path, address: str) -> None:
    """Where the disk is full it is not noted: the port can be said to the command."""
    with suppress(OSError), open(folder / NOTE, "w", opener=_private) as file:
        file.write(address)


def _private(path: str, flags: int) -> int:
    return os.open(path, flags, 0o600)


def served_at(folder: Path, port: int = 0) -> str:
    """The address at this machine. Raises InvalidInput where nobody listens there."""
    noted = ""
    with suppress(OSError, UnicodeDecodeError):
        noted = (folder / NOTE).read_text()[:40].rpartition(":")[2]
    own = port or (int(noted) if noted.isdecimal() and int(noted) < 65_536 else 8765)
    try:
        socket.create_connection(("127.0.0.1", own), timeout=2).close()
    except OSError:
        raise InvalidInput(
            say(
                "No server answers at port {own} of this machine: start one with 'diachrom serve', or give its --port.",
                own=own,
            ),
            field="port",
        ) from None
    return f"http://127.0.0.1:{own}"
