"""The log: a line a request that failed or took long, a line a task; and so few a minute that nobody can flood it."""

import logging
import threading
import time
from collections.abc import Callable

from starlette.types import ASGIApp, Message, Receive, Scope, Send

MOST_A_MINUTE = 30
SLOW_S = 1.0
REQUESTS = logging.getLogger("diachrom.requests")


class FewLines(logging.Filter):
    """Lets so many records a minute pass; of the rest it is said how many there were."""

    def __init__(self, most: int = MOST_A_MINUTE, clock: Callable[[], float] = time.monotonic) -> None:
        super().__init__()
        self._most, self._clock = most, clock
        self._lock = threading.Lock()
        self._since, self._many = clock(), 0

    def filter(self, record: logging.LogRecord) -> bool:
        """Whether a record is shown."""
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


def install(*, verbose: bool = False) -> None:
    """For what listens and serves, once: on standard error, what failed or took long; with `verbose` every request and
    task. Nothing that a person typed is in it."""
    few = FewLines()
    ours = logging.getLogger("diachrom")
    if not any(type(one) is logging.StreamHandler for one in ours.handlers):
        handler = logging.StreamHandler()
        handler.setFormatter(logging.Formatter("%(asctime)s %(levelname)s %(name)s: %(message)s"))
        ours.addHandler(handler)
        ours.propagate = False
    ours.setLevel(logging.INFO if verbose else logging.WARNING)
    for logger in (ours, logging.getLogger("asyncio"), logging.getLogger("uvicorn.error")):
        if not (verbose and logger is ours) and not any(isinstance(one, FewLines) for one in logger.filters):
            logger.addFilter(few if logger is ours else FewLines())


class Requests:
    """Plain ASGI: a line a request that failed or took over a second, by its route and not by what was asked."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        status, begun = 500, time.monotonic()

        async def noted(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self.app(scope, receive, noted)
        finally:
            took_s = time.monotonic() - begun
            level = logging.WARNING if status >= 500 or took_s > SLOW_S else logging.INFO
            route = getattr(scope.get("route"), "path", "another address")
            REQUESTS.log(level, f"{scope['method']} {route}: {status} in {took_s:.2f} s")
