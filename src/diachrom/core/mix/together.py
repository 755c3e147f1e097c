"""Parts of a computation that do not wait for each other, on all processors: linear algebra leaves the interpreter
free for the next."""

import os
import threading
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from typing import TypeVar

Part = TypeVar("Part")
Found = TypeVar("Found")
_within = threading.local()


@lru_cache(maxsize=1)
def _pool() -> ThreadPoolExecutor:
    return ThreadPoolExecutor(os.cpu_count(), thread_name_prefix="solving", initializer=_mark)


if hasattr(os, "register_at_fork"):
    os.register_at_fork(after_in_child=_pool.cache_clear)  # threads do not come along into a new process


def _mark() -> None:
    _within.pool = True


def together(work: Callable[[Part], Found], parts: Iterable[Part]) -> list[Found]:
    """`work` of each part, in their order. A part of a part is done where it stands: it would wait for itself."""
    several = list(parts)
    if len(several) < 2 or getattr(_within, "pool", False):
        return [work(one) for one in several]
    try:
        begun = _pool().map(work, several)
    except RuntimeError:  # the interpreter is about to end, and whoever asked with it
        return [work(one) for one in several]
    return list(begun)
