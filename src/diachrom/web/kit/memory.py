"""Memory that is not used any more goes back to the system."""

import ctypes
from contextlib import suppress

M_TRIM_THRESHOLD, M_MMAP_THRESHOLD, M_ARENA_MAX = -1, -3, -8  # of malloc.h
ARENAS, LARGE = 2, 1 << 20  # bytes


def give_back() -> None:
    """Of what many threads have used in turn, glibc would keep the most that each of them ever had: few pools for all
    of them, and what is large by itself. Called before there are threads; elsewhere nothing is to be done."""
    with suppress(OSError, AttributeError):
        own = ctypes.CDLL(None)
        own.mallopt(M_ARENA_MAX, ARENAS)
        own.mallopt(M_MMAP_THRESHOLD, LARGE)
        own.mallopt(M_TRIM_THRESHOLD, LARGE)
