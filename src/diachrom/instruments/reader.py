"""A colour reader: a spectrum of what lies under it."""

import zlib
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.instruments.line import Garbled, Line, Refusals, refusal
from diachrom.words import say

REFUSALS: Refusals = {
    "warming": lambda **at: say("{device} is still warming up: {detail} s to go.", **at),
    "uncalibrated": lambda **at: say("{device} needs its white tile first: put it on the tile and calibrate.", **at),
    "no-contact": lambda **at: say(
        "{device} has no contact: it stands on nothing, or not flat. Put it on the field and read again.", **at
    ),
    "no-tile": lambda **at: say("{device} is not on its white tile: put it there and calibrate again.", **at),
}


@dataclass(frozen=True)
class ReaderState:
    """ "warming", "uncalibrated" or "ready", and the seconds until that changes (0 when only a hand changes it)."""

    state: str
    seconds: float


class ColourReader:
    """Speaks to a reader over its line."""

    def __init__(self, name: str, line: Line) -> None:
        self.name, self._line = name, line

    def state(self) -> ReaderState:
        """Whether it is warm and calibrated."""
        _, state, *seconds = self._ask("STATE", "STATE", 2).split()
        try:
            return ReaderState(state, float(seconds[0]) if seconds else 0.0)
        except ValueError:
            raise Garbled(self.name, seconds[0]) from None

    def calibrate(self) -> None:
        """On the white tile. Raises InstrumentError."""
        self._ask("TILE", "OK", 1)

    def read(self) -> Floats:
        """A spectrum (band,) of the field under it, measured in air, mirror part left out. Raises InstrumentError."""
        answer = self._ask("READ", "SPECTRUM", 2)
        count = answer.split()[1]
        if count != str(BANDS):
            raise Garbled(self.name, say("{count} bands in place of {bands}", count=count, bands=BANDS))
        lines = [self._line.receive() for _ in range(BANDS)]
        end = self._line.receive()
        if end != f"END {zlib.crc32(chr(10).join(lines).encode('ascii')):08x}":
            raise Garbled(self.name, say("its check sum is wrong"))
        try:
            rows = np.array([[float(value) for value in line.split()] for line in lines])
        except ValueError as error:
            raise Garbled(self.name, str(error)) from None
        if rows.shape != (BANDS, 2) or not np.array_equal(rows[:, 0], WAVELENGTHS_NM):
            raise Garbled(self.name, say("its bands are others"))
        return np.clip(rows[:, 1], 0.0, 1.0)

    def _ask(self, command: str, expected: str, words: int) -> str:
        self._line.send(command)
        answer = self._line.receive()
        error = refusal(self.name, answer, REFUSALS)
        if error is not None:
            raise error
        if not answer.startswith(expected) or len(answer.split()) < words:
            raise Garbled(self.name, answer[:40])
        return answer
