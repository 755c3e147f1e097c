"""How long a connection may say nothing, or take nothing, and how many may be half open: one that never asks or never
reads keeps nobody out."""

import asyncio
import socket
from collections import OrderedDict
from functools import partial
from typing import Any
from weakref import WeakKeyDictionary

import uvicorn
from uvicorn.protocols.http.h11_impl import H11Protocol

ASKS_WITHIN_S = 15.0  # the head of a request, from when it was connected or answered last
SENDS_WITHIN_S = 120.0  # a body
TAKES_WITHIN_S = 20.0  # something more of an answer
SHAKES_HANDS_WITHIN_S, PARTS_WITHIN_S = 5.0, 5.0  # by TLS
MOST_HALF_OPEN = 200


_half_open_of: "WeakKeyDictionary[asyncio.AbstractEventLoop, OrderedDict[TimeoutProtocol, None]]" = WeakKeyDictionary()


class TimeoutProtocol(H11Protocol):
    """Closes what has not asked within its time; of too many that have not, the oldest."""

    _timer: asyncio.TimerHandle | None = None
    _taking: asyncio.TimerHandle | None = None

    @property
    def _half_open(self) -> "OrderedDict[TimeoutProtocol, None]":
        """Of this server, the oldest first."""
        return _half_open_of.setdefault(self.loop, OrderedDict())

    def connection_made(self, transport: Any) -> None:
        """Begin to wait for the first request."""
        super().connection_made(transport)
        self._wait(ASKS_WITHIN_S)

    def data_received(self, data: bytes) -> None:
        """Something was asked: it is waited for no longer."""
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
        """Wait for the next request."""
        super().on_response_complete()
        if not self.transport.is_closing():
            self._stop()  # from here uvicorn's own time for the next request runs
        self._watch_taking()

    def pause_writing(self) -> None:
        """Whoever asked takes nothing just now: begin to wait."""
        super().pause_writing()
        self._watch_taking()

    def resume_writing(self) -> None:
        """It is taken again."""
        super().resume_writing()
        self._stop_taking()

    def _watch_taking(self) -> None:
        """Of an answer something more is taken within its time, until all of it is."""
        self._stop_taking()
        left = self.transport.get_write_buffer_size()
        if left:
            self._taking = self.loop.call_later(TAKES_WITHIN_S, self._look_at_taking, left)

    def _look_at_taking(self, before: int) -> None:
        if 0 < self.transport.get_write_buffer_size() < before:
            self._watch_taking()
        elif self.transport.get_write_buffer_size():
            self.transport.abort()

    def _stop_taking(self) -> None:
        if self._taking is not None:
            self._taking.cancel()
            self._taking = None

    def connection_lost(self, exc: Exception | None) -> None:
        """Nothing is waited for any more."""
        self._stop()
        self._stop_taking()
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


class TimeoutServer(uvicorn.Server):
    """Gives up on who does not shake hands in time; uvicorn has no setting for it."""

    async def startup(self, sockets: list[socket.socket] | None = None) -> None:
        """Begin to serve, with sockets that wait for nobody."""
        if self.config.ssl is not None:
            loop: Any = asyncio.get_running_loop()
            loop.create_server = partial(
                loop.create_server,
                ssl_handshake_timeout=SHAKES_HANDS_WITHIN_S,
                ssl_shutdown_timeout=PARTS_WITHIN_S,
            )
        await super().startup(sockets)
