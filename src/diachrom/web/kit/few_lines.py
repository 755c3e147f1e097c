"""A log that cannot be flooded: of what strangers can make a server say, so many lines a minute."""

import logging
import threading
import time
from collections.abc import Callable

MOST_A_MINUTE = 30


class FewLines(logging.Filter):
    """Lets so many records a minute pass; of the rest it is said how many there were."""

    def __init__(self, most: int = MOST_A_MINUTE, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__()
        self._most, self._clock = most, clock
        self._lock = threading.Lock()
        self._since, self._many = clock(), 0

    def filter(self, record: logging.LogRecord) -> bool:
        with self._lock:
            now = self._clock()
            if now - self._since >= 60:
                left = self._many - self._most
                self._since, self._many = now, 0
                if left > 0:
                    record.msg = f"{record.getMessage()} ({left} lines like it were left out before it)"
                    record.args = ()
            self._many += 1
            return self._many <= self._most


def keep_few() -> None:
    """For what listens and serves, once."""
    for name in ("asyncio", "uvicorn.error"):
        logger = logging.getLogger(name)
        if not any(isinstance(one, FewLines) for one in logger.filters):
            logger.addFilter(FewLines())
