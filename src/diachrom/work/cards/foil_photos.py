"""Two photos of a foiled bait, in the flash and turned away, read for how flat this hand lays foil."""

import sqlite3
from dataclasses import dataclass

from diachrom.core.cards import foil_photos
from diachrom.core.cards.foil_photos import LEAST_DEG, MOST_DEG, FoilPhoto
from diachrom.core.film.flakes import LARGEST_TILT_DEG, SMALLEST_TILT_DEG
from diachrom.errors import InvalidInput
from diachrom.exchange import photos
from diachrom.store import foil
from diachrom.store.connection import writing
from diachrom.store.foil import Foil
from diachrom.words import say
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.fields import number_field, read_fields

USUAL_TURN_DEG = 15.0
TURN = (number_field("turned_deg", say("Turned by, °"), least=LEAST_DEG, most=MOST_DEG),)
TYPED = (number_field("tilt_deg", say("The tilt, °"), least=SMALLEST_TILT_DEG, most=LARGEST_TILT_DEG),)


@dataclass(frozen=True)
class Read:
    """What two photos show, and the tilt that follows, °."""

    flash: FoilPhoto
    turned: FoilPhoto
    turned_deg: float
    tilt_deg: float


def read(flash: bytes, turned: bytes, *, turned_deg: str, cleared: bool) -> Read:
    """Raises BadFile, and InvalidInput for photos or figures that tell nothing."""
    by = read_fields(TURN, {"turned_deg": turned_deg}).get("turned_deg")
    by_deg = by if isinstance(by, float) else USUAL_TURN_DEG
    first, second = (
        foil_photos.read(photos.linear_of(photos.taken(name, content)[2]), name)
        for name, content in ((say("in the flash"), flash), (say("turned away"), turned))
    )
    return Read(first, second, by_deg, round(foil_photos.tilt(first, second, by_deg, cleared=cleared), 1))


def take_photos(devices: Devices, turned_deg: str) -> tuple[bytes, bytes]:
    """The bench's camera takes both."""
    by = read_fields(TURN, {"turned_deg": turned_deg}).get("turned_deg")
    return devices.camera.foil(0.0), devices.camera.foil(by if isinstance(by, float) else USUAL_TURN_DEG)


def curve(tilt_deg: float) -> list[tuple[float, float]]:
    """How bright it is (turned by, °; in white paper's light), to where nothing more happens."""
    return [(float(at), foil_photos.bright(tilt_deg, float(at), cleared=True)) for at in range(0, 41, 2)]


def take(connection: sqlite3.Connection, tilt_deg: str, *, photographed: bool) -> None:
    """Lay foil like that from now on. Raises InvalidInput."""
    value = read_fields(TYPED, {"tilt_deg": tilt_deg}).get("tilt_deg")
    if not isinstance(value, float):
        raise InvalidInput(say("Type how far the facets are tilted, in degrees; 14 is usual."), field="tilt_deg")
    with writing(connection):
        foil.put(connection, Foil(value, "photos" if photographed else "typed"))


def forget(connection: sqlite3.Connection) -> None:
    """The usual foil again."""
    with writing(connection):
        foil.put(connection, Foil())
