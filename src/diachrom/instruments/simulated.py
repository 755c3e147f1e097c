"""Simulated devices: what a real one does, its faults included. The hand that puts things under them is simulated too.

The reader warms up, wants its white tile now and then, drifts, is noisy, and says so when it touches nothing. The scale
settles, rounds to 0.01 g and has a limit. Either can be unplugged at any moment.
"""

import random
import zlib
from collections import deque
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.instruments.line import Garbled, Unplugged
from diachrom.words import say

Clock = Callable[[], float]  # seconds


class Simulated:
    """The near end of the line and the device behind it. A device answers a command with lines."""

    def __init__(self, name: str, clock: Clock) -> None:
        self.name, self.clock = name, clock
        self.plugged_at: float | None = None
        self._waiting: Iterator[str] = iter(())

    @property
    def plugged(self) -> bool:
        """Whether its plug is in."""
        return self.plugged_at is not None

    def plug(self) -> None:
        """Plug it in."""
        self.plugged_at = self.clock()

    def unplug(self) -> None:
        """Pull its plug."""
        self.plugged_at = None
        self._waiting = iter(())

    def send(self, line: str) -> None:
        """Take a line that was sent to it."""
        if not self.plugged:
            raise Unplugged(self.name)
        self._waiting = iter(self.answer(line))

    def receive(self) -> str:
        """Give a line of its answer."""
        line = next(self._waiting, None)
        if not self.plugged:
            raise Unplugged(self.name)
        if line is None:
            raise Garbled(self.name, say("no answer"))
        return line

    def answer(self, command: str) -> Iterable[str]:
        """What it answers to a line."""
        raise NotImplementedError


@dataclass(frozen=True)
class ReaderMake:
    """How good a reader is."""

    warm_up_s: float
    tile_lasts_s: float
    noise: float  # of a reflectance, one standard deviation a band
    drift: float  # of the gain, a minute
    offset: float  # of the whole spectrum, one standard deviation from one putting down to the next


TILE = object()  # its own white tile lies under it
Under = Floats | object | None  # a spectrum, the tile, or nothing


class SimulatedReader(Simulated):
    """A colour reader with a true spectrum under it."""

    def __init__(self, name: str, clock: Clock, make: ReaderMake, *, seed: int) -> None:
        super().__init__(name, clock)
        self.make, self.under = make, None  # type: ReaderMake, Under
        self.calibrated_at: float | None = None
        self._random = np.random.default_rng(seed)

    def unplug(self) -> None:
        """Pull its plug: it is cold then."""
        super().unplug()
        self.calibrated_at = None

    def answer(self, command: str) -> Iterable[str]:
        """What a reader answers."""
        warm = (self.plugged_at or 0.0) + self.make.warm_up_s - self.clock()
        if command == "STATE":
            if warm > 0:
                state = f"STATE warming {warm:.1f}"
            else:
                left = self._left()
                state = f"STATE ready {left:.0f}" if left > 0 else "STATE uncalibrated"
            return [state]
        if command not in ("TILE", "READ"):
            return ["ERR unknown"]
        if warm > 0:
            return [f"ERR warming {warm:.0f}"]
        return self._tile() if command == "TILE" else self._read()

    def _left(self) -> float:
        """Seconds that the calibration still holds."""
        return 0.0 if self.calibrated_at is None else self.calibrated_at + self.make.tile_lasts_s - self.clock()

    def _tile(self) -> list[str]:
        if self.under is not TILE:
            return ["ERR no-tile"]
        self.calibrated_at = self.clock()
        return ["OK"]

    def _read(self) -> Iterator[str]:
        if self._left() <= 0:
            yield "ERR uncalibrated"
            return
        if self.under is None:
            yield "ERR no-contact"
            return
        true = np.full(BANDS, 0.95) if self.under is TILE else np.asarray(self.under)
        minutes = (self.clock() - (self.calibrated_at or 0.0)) / 60
        gain = 1 + self.make.drift * minutes + self.make.offset * self._random.standard_normal()
        seen = np.clip(gain * true + self.make.noise * self._random.standard_normal(BANDS), 0, 1)
        lines = [f"{nm:.0f} {value:.5f}" for nm, value in zip(WAVELENGTHS_NM, seen, strict=True)]
        yield f"SPECTRUM {BANDS}"
        yield from lines
        yield f"END {zlib.crc32(chr(10).join(lines).encode('ascii')):08x}"


STEP_G, LIMIT_G, SETTLES_S = 0.01, 100.0, 1.2


class SimulatedScale(Simulated):
    """A scale with a load on its pan, which takes a moment to settle after each change."""

    def __init__(self, name: str, clock: Clock, *, seed: int) -> None:
        super().__init__(name, clock)
        self._random = random.Random(seed)
        self._load, self._tare, self._changed = 0.0, 0.0, deque([(float("-inf"), 0.0)], maxlen=1)

    def put(self, grams: float) -> None:
        """Lay something on the pan, or take it off."""
        self._changed.append((self.clock(), self._load))
        self._load = max(0.0, self._load + grams)

    def drip(self, drops: int, *, drop_g: float, spread: float = 0.06) -> None:
        """Let drops fall onto the pan, each a little different."""
        self.put(sum(max(0.0, self._random.gauss(drop_g, spread * drop_g)) for _ in range(drops)))

    def answer(self, command: str) -> Iterable[str]:
        """What a scale answers."""
        if self._load > LIMIT_G:
            return [f"ERR overload {LIMIT_G:.0f}"]
        since, before = self._changed[0]
        rest = max(0.0, 1 - (self.clock() - since) / SETTLES_S)
        shown = self._load + (before - self._load) * rest
        if command == "TARE":
            self._tare = shown
            return ["OK"]
        if command == "WEIGH":
            grams = STEP_G * round((shown - self._tare) / STEP_G)
            return [f"G {grams:.2f} {'settling' if rest else 'stable'}"]
        return ["ERR unknown"]


SETTLING_S, FELT_C, FELT_PERCENT = 5.0, 0.15, 0.8


class SimulatedHygrometer(Simulated):
    """A thermo-hygrometer in a room whose air changes slowly; just plugged in it feels the hand."""

    def __init__(self, name: str, clock: Clock, air: Callable[[float], tuple[float, float]], *, seed: int) -> None:
        super().__init__(name, clock)
        self._air, self._random = air, random.Random(seed)

    def answer(self, command: str) -> Iterable[str]:
        """What a thermo-hygrometer answers."""
        if command != "AIR":
            return ["ERR unknown"]
        left = (self.plugged_at or 0.0) + SETTLING_S - self.clock()
        if left > 0:
            return [f"ERR settling {left:.0f}"]
        temperature, humidity = self._air(self.clock())
        felt = temperature + self._random.gauss(0, FELT_C), humidity + self._random.gauss(0, FELT_PERCENT)
        return [f"AIR {felt[0]:.1f} {min(max(felt[1], 0), 100):.0f}"]
