"""The devices at the bench: which there are, whether they are plugged in, and one hand at a time.

They belong to the running server, not to the data: a device that is unplugged takes nothing with it. What is asked of
each kind is a protocol here; a new device is a class that answers it, named where the bench is put together.
"""

import threading
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from copy import copy
from dataclasses import dataclass
from types import MappingProxyType
from typing import Protocol, TypeVar

from diachrom.core.light.bands import Floats
from diachrom.errors import InstrumentError
from diachrom.instruments.reader import ReaderState
from diachrom.instruments.serial_scale import SerialScale, ports
from diachrom.words import say
from diachrom.work.kit.measurement_target import CardSheet, FallingDrops, MeasurementTarget, PairsSheet


class Device(Protocol):
    @property
    def simulated(self) -> bool: ...
    @property
    def words(self) -> str: ...
    @property
    def plugged(self) -> bool: ...
    def plug(self, *, plugged: bool) -> None:
        """Plug it in, or pull its plug, also while it is answering."""
        ...


class Reader(Device, Protocol):
    """A colour reader. Everything raises InstrumentError."""

    def state(self) -> ReaderState: ...
    def calibrate(self) -> None:
        """On its white tile."""
        ...

    def read(self, there: MeasurementTarget) -> Floats:
        """A spectrum (band,) of what lies under it."""
        ...


class Scale(Device, Protocol):
    """A drop scale. Everything raises InstrumentError."""

    def tare(self) -> None: ...
    def now(self) -> tuple[float, bool]:
        """Grams as it shows them, and whether they stand still."""
        ...

    def weigh(self) -> float:
        """Grams once they stand still."""
        ...

    def let_fall(self, there: FallingDrops) -> None:
        """Drops fall onto its pan."""
        ...


class Hygrometer(Device, Protocol):
    """A thermo-hygrometer. Raises InstrumentError."""

    def air(self) -> tuple[float, float]:
        """°C, and % relative humidity."""
        ...


MACRO_MM = 4.0  # as wide as a photo from near shows


class Camera(Protocol):
    @property
    def shots(self) -> Mapping[str, str]:
        """The ways in which it takes a photo, in words."""
        ...

    def photo(self, shot: str, there: CardSheet | PairsSheet) -> bytes:
        """An encoded picture. Raises NotFound for a way that there is not."""
        ...

    def macro(self, film_um: float) -> bytes:
        """An encoded picture, `MACRO_MM` wide, of one pass of a dark paint on white, so thick in the mean."""
        ...

    def foil(self, turned_deg: float) -> bytes:
        """An encoded picture of foil beside white paper, turned so far from where it flashes."""
        ...


def lines() -> list[tuple[str, str]]:
    """The serial lines of this machine: each with what it is called."""
    return ports()


class NoCamera:
    """Where no camera stands at the bench: photos are brought."""

    shots: Mapping[str, str] = MappingProxyType({})

    def _none(self, *_: object) -> bytes:
        raise InstrumentError(say("No camera is connected: bring a photo."), field="device")

    photo = macro = foil = _none


Found = TypeVar("Found")
SCALE = "scale"  # the key of the one that stands at the bench


@dataclass(frozen=True)
class DeviceReading:
    values: Floats  # (band,)
    by: str  # the reader's name


class Devices:
    """Every device of this server; one person's hand at a time."""

    def __init__(
        self,
        readers: Mapping[str, Reader],
        scales: Mapping[str, Scale],
        camera: Camera,
        hygrometers: Mapping[str, Hygrometer],
    ) -> None:
        self.readers, self.scales, self.camera, self.hygrometers = readers, scales, camera, hygrometers
        self._lock = threading.RLock()
        self._serial: SerialScale | None = None
        self._connecting = threading.Lock()  # nobody waits for it while another weighs

    def at(self, *, simulated: bool, port: str, speed: int) -> "Devices":
        """Those that stand at a bench: a scale at its line, "" for none; those that only pretend to measure where they
        were asked for."""
        with self._connecting:
            if self._serial is not None and (self._serial.port, self._serial.speed) != (port, speed):
                self._serial.close()
                self._serial = None
            if port and self._serial is None:
                self._serial = SerialScale(port, speed)
            own = copy(self)
            if not simulated:
                own.readers, own.scales, own.hygrometers, own.camera = {}, {}, {}, NoCamera()
            if self._serial is not None:
                own.scales = {SCALE: self._serial}
            return own

    @contextmanager
    def reader(self, key: str) -> Iterator[Reader]:
        """A reader, for oneself. Raises InstrumentError for one that there is not."""
        with self._lock:
            yield self._known(self.readers, key)

    @contextmanager
    def scale(self, key: str) -> Iterator[Scale]:
        """A scale, for oneself. Raises InstrumentError for one that there is not."""
        with self._lock:
            yield self._known(self.scales, key)

    def read(self, key: str, *, there: MeasurementTarget) -> DeviceReading:
        """Put a reader on something and read it. Raises InstrumentError."""
        with self.reader(key) as reader:
            return DeviceReading(reader.read(there), reader.words)

    @contextmanager
    def hygrometer(self, key: str = "air") -> Iterator[Hygrometer]:
        """A thermo-hygrometer, for oneself. Raises InstrumentError for one that there is not."""
        with self._lock:
            yield self._known(self.hygrometers, key)

    def plug(self, key: str, *, plugged: bool) -> None:
        """Plug a device in, or pull its plug, also while another request holds it."""
        device: Device = self._known({**self.readers, **self.scales, **self.hygrometers}, key)
        device.plug(plugged=plugged)

    @staticmethod
    def _known(devices: Mapping[str, Found], key: str) -> Found:
        if key not in devices:
            raise InstrumentError(
                say("There is no device called '{key}' at this bench: connect it in Settings.", key=key), field="device"
            )
        return devices[key]
