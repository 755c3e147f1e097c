"""How long a connection may say nothing, and how many may be half open: one that never asks keeps nobody out."""

import asyncio
from collections import OrderedDict
from typing import Any
from weakref import WeakKeyDictionary

from uvicorn.protocols.http.h11_impl import H11Protocol

ASKS_WITHIN_S = 15.0  # the head of a request, from when it was connected or answered last
SENDS_WITHIN_S = 120.0  # a body
MOST_HALF_OPEN = 200


_half_open_of: "WeakKeyDictionary[asyncio.AbstractEventLoop, OrderedDict[PatientProtocol, None]]" = WeakKeyDictionary()


class PatientProtocol(H11Protocol):
    """Closes what has not asked within its time; of too many that have not, the oldest."""

    _timer: asyncio.TimerHandle | None = None

    @property
    def _half_open(self) -> "OrderedDict[PatientProtocol, None]":
        """Of this server, the oldest first."""
        return _half_open_of.setdefault(self.loop, OrderedDict())

    def connection_made(self, transport: Any) -> None:
        super().connection_made(transport)
        self._wait(ASKS_WITHIN_S)

    def data_received(self, data: bytes) -> None:
        super().data_received(data)
        if self.cycle is None or self.cycle.response_complete:
            if self not in self._half_open and not self.transport.is_closing():
                self._wait(ASKS_WITHIN_S)  # the head of a later request, and not whole yet
            return
        self._half_open.pop(self, None)
        self._stop()
        if self.cycle.more_body:
            self._timer = self.loop.call_later(SENDS_WITHIN_S, self._give_up)

    def on_response_complete(self) -> None:
        super().on_response_complete()
        if not self.transport.is_closing():
            self._stop()  # from here uvicorn's own time for the next request runs

    def connection_lost(self, exc: Exception | None) -> None:
        self._stop()
        self._half_open.pop(self, None)
        super().connection_lost(exc)

    def _wait(self, seconds: float) -> None:
        self._half_open[self] = None
        self._timer = self.loop.call_later(seconds, self._give_up)
        while len(self._half_open) > MOST_HALF_OPEN:
            oldest, _ = self._half_open.popitem(last=False)
            oldest._give_up()

    def _stop(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _give_up(self) -> None:
        self._half_open.pop(self, None)
        self._stop()
        if self.transport is not None and not self.transport.is_closing():
            self.transport.abort()
