"""The devices at the bench: which there are, whether they are plugged in, and what a hand does with the simulated ones.

They belong to the running server, not to the data: a device that is unplugged takes nothing with it.
"""

import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import TypeVar

from diachrom.errors import InstrumentError
from diachrom.instruments.reader import ColourReader
from diachrom.instruments.scale import DropScale
from diachrom.instruments.simulated import ReaderMake, SimulatedReader, SimulatedScale

Device = TypeVar("Device")
BENCH_READER = ReaderMake(warm_up_s=12, tile_lasts_s=600, noise=0.0012, drift=0.0008, offset=0.002)
POCKET_READER = ReaderMake(warm_up_s=4, tile_lasts_s=240, noise=0.004, drift=0.003, offset=0.006)


@dataclass(frozen=True, eq=False)
class ReaderDevice:
    key: str
    words: str
    device: SimulatedReader
    client: ColourReader


@dataclass(frozen=True, eq=False)
class ScaleDevice:
    key: str
    words: str
    device: SimulatedScale
    client: DropScale


class Devices:
    """Every device of this server; one person's hand at a time."""

    def __init__(
        self, *, clock: Callable[[], float] = time.monotonic, wait: Callable[[float], None] = time.sleep
    ) -> None:
        makes = (
            ("bench", "The bench reader", BENCH_READER, 11),
            ("pocket", "The pocket reader", POCKET_READER, 12),
        )
        self.readers = {}
        for key, words, make, seed in makes:
            reader = SimulatedReader(words, clock, make, seed=seed)
            self.readers[key] = ReaderDevice(key, words, reader, ColourReader(words, reader))
        scale = SimulatedScale("The drop scale", clock, seed=13)
        self.scales = {"scale": ScaleDevice("scale", scale.name, scale, DropScale(scale.name, scale, wait=wait))}
        self._lock = threading.Lock()

    @contextmanager
    def reader(self, key: str) -> Iterator[ReaderDevice]:
        """A reader, for oneself. Raises InstrumentError for one that there is not."""
        with self._lock:
            yield self._known(self.readers, key)

    @contextmanager
    def scale(self, key: str) -> Iterator[ScaleDevice]:
        """A scale, for oneself. Raises InstrumentError for one that there is not."""
        with self._lock:
            yield self._known(self.scales, key)

    @staticmethod
    def _known(devices: dict[str, Device], key: str) -> Device:
        if key not in devices:
            raise InstrumentError(f"There is no device called '{key}' at this bench.", field="device")
        return devices[key]

    def plug(self, key: str, *, plugged: bool) -> None:
        """Plug a device in, or pull its plug, also while it is answering."""
        found = self.readers.get(key) or self.scales.get(key)
        if found is None:
            raise InstrumentError(f"There is no device called '{key}' at this bench.", field="device")
        if plugged:
            found.device.plug()
        else:
            found.device.unplug()
