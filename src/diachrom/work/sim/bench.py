"""The simulated bench: readers, a scale, a thermo-hygrometer and a camera; they measure the truth put under them."""

import time
from collections.abc import Callable, Mapping
from pathlib import Path

from diachrom.core.light.bands import Floats
from diachrom.errors import NotFound
from diachrom.instruments import camera, foil_photo, macro, truth
from diachrom.instruments.camera import SHOTS
from diachrom.instruments.hygrometer import Hygrometer
from diachrom.instruments.reader import ColourReader, ReaderState
from diachrom.instruments.scale import DropScale
from diachrom.instruments.simulated import (
    TILE,
    ReaderMake,
    Simulated,
    SimulatedHygrometer,
    SimulatedReader,
    SimulatedScale,
)
from diachrom.store.connection import connected
from diachrom.words import say
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import CardSheet, FallingDrops, MeasurementTarget, PairsSheet
from diachrom.work.sim import simulated_truth

BENCH_READER = ReaderMake(warm_up_s=12, tile_lasts_s=600, noise=0.0012, drift=0.0008, offset=0.002)
POCKET_READER = ReaderMake(warm_up_s=4, tile_lasts_s=240, noise=0.004, drift=0.003, offset=0.006)
MAKES = (("bench", say("The bench reader"), BENCH_READER, 11), ("pocket", say("The pocket reader"), POCKET_READER, 12))
SCALE, AIR = say("The drop scale"), say("The thermo-hygrometer")


class _Plugged:
    """What every simulated device has: a name, and a plug that a hand can pull."""

    simulated = True

    def __init__(self, folder: Path, device: Simulated) -> None:
        self._folder, self._plug = folder, device
        self.words = device.name

    @property
    def plugged(self) -> bool:
        """Whether its plug is in."""
        return self._plug.plugged

    def plug(self, *, plugged: bool) -> None:
        """Plug it in, or pull its plug."""
        if plugged:
            self._plug.plug()
        else:
            self._plug.unplug()


class BenchReader(_Plugged):
    def __init__(self, folder: Path, device: SimulatedReader) -> None:
        super().__init__(folder, device)
        self._device, self._client = device, ColourReader(device.name, device)

    def state(self) -> ReaderState:
        """Whether it is warm and calibrated."""
        return self._client.state()

    def calibrate(self) -> None:
        """Put it on its tile."""
        self._device.under = TILE
        self._client.calibrate()

    def read(self, there: MeasurementTarget) -> Floats:
        """Read what lies under it."""
        with connected(self._folder) as connection:
            self._device.under = None if there is None else simulated_truth.seen(connection, there)
        return self._client.read()


class BenchScale(_Plugged):
    def __init__(self, folder: Path, device: SimulatedScale, wait: Callable[[float], None]) -> None:
        super().__init__(folder, device)
        self._device, self._client = device, DropScale(device.name, device, wait=wait)

    def tare(self) -> None:
        """Call what lies on it nothing."""
        self._client.tare()

    def now(self) -> tuple[float, bool]:
        """Grams as it shows them, and whether they stand still."""
        return self._client.now()

    def weigh(self) -> float:
        """Grams once they stand still."""
        return self._client.weigh()

    def let_fall(self, there: FallingDrops) -> None:
        """Let drops fall onto its pan."""
        self._client.now()  # says what is wrong with it before anything falls
        with connected(self._folder) as connection:
            drop_g = simulated_truth.drop_g(connection, there.bottle)
        self._device.drip(there.drops, drop_g=drop_g)


class BenchHygrometer(_Plugged):
    def __init__(self, folder: Path, device: SimulatedHygrometer) -> None:
        super().__init__(folder, device)
        self._client = Hygrometer(device.name, device)

    def air(self) -> tuple[float, float]:
        """°C, and % relative humidity."""
        return self._client.air()


class BenchCamera:
    def __init__(self, folder: Path) -> None:
        self._folder = folder

    @property
    def shots(self) -> Mapping[str, str]:
        """How it takes a photo, in words."""
        return {key: shot.words for key, shot in SHOTS.items()}

    def photo(self, shot: str, there: CardSheet | PairsSheet) -> bytes:
        """Take a photo of what lies there."""
        if shot not in SHOTS:
            raise NotFound(say("There is no way '{shot}' to take a photo.", shot=shot[:20]), field="shot")
        with connected(self._folder) as connection:
            number = there.card if isinstance(there, CardSheet) else there.sheet
            return camera.photo(SHOTS[shot], *simulated_truth.sheet(connection, there), seed=number)

    def macro(self, film_um: float) -> bytes:
        """Take a photo of one pass, from near."""
        with connected(self._folder) as connection:
            looks, discs = simulated_truth.one_pass(connection, film_um)
        return macro.photo(looks, discs=discs, seed=round(100 * film_um))

    def foil(self, turned_deg: float) -> bytes:
        """Take a photo of foil as this bench lays it, turned so far from where it flashes."""
        return foil_photo.photo(turned_deg, seed=round(100 * turned_deg))


def devices(
    folder: Path, *, clock: Callable[[], float] = time.monotonic, wait: Callable[[float], None] = time.sleep
) -> Devices:
    """The bench of a data folder, everything unplugged."""
    readers = {
        key: BenchReader(folder, SimulatedReader(words, clock, make, seed=seed)) for key, words, make, seed in MAKES
    }
    scale = BenchScale(folder, SimulatedScale(SCALE, clock, seed=13), wait)
    air = BenchHygrometer(folder, SimulatedHygrometer(AIR, clock, truth.of_air, seed=14))
    return Devices(readers, {"scale": scale}, BenchCamera(folder), {"air": air})
