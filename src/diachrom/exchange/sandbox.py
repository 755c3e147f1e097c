"""Files from anywhere are read in a process of their own that is ended at its bounds: whatever a file makes reading do,
nobody else waits for it, and nothing of it stays."""

import pickle
import threading
from collections.abc import Callable
from typing import Any, TypeVar

from diachrom.errors import BadFile, ReadersBusy
from diachrom.exchange import readers
from diachrom.words import quantity, say

MOST_S = 10.0
MOST_BYTES = 300_000_000  # of memory, that of the readers themselves counted too
AT_ONCE, PATIENCE_S = 2, 30.0
Found = TypeVar("Found")

_turns = threading.BoundedSemaphore(AT_ONCE)
_readers = readers.of_this_system()


def run_sandboxed(file: str, read: Callable[..., Found], *args: Any) -> Found:
    """`read(file, *args)` in a process of its own; both ways everything is passed as pickles. Raises what it raises;
    BadFile where it comes to its bounds, Crowded where too many are read already."""
    if not _turns.acquire(timeout=PATIENCE_S):
        raise ReadersBusy
    try:
        content = _readers.ask(pickle.dumps((read, (file, *args))), MOST_S, MOST_BYTES)
    finally:
        _turns.release()
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
