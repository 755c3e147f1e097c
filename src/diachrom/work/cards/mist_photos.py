"""A macro photo of one pass on white, read for the dots of this bench's mist."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, replace

from diachrom.core.cards import mist_photo
from diachrom.core.cards.mist_photo import MistPhoto
from diachrom.core.mix.hand import FLOWS_UM
from diachrom.core.mix.layers import THICKEST_COAT_UM
from diachrom.exchange import photos
from diachrom.store import mist
from diachrom.store.mist import Mist
from diachrom.units import MM
from diachrom.words import say
from diachrom.work.kit.devices import MACRO_MM, Devices
from diachrom.work.kit.fields import number_field, read_fields

USUAL_PASS_UM = 4.0
NARROWEST_MM, WIDEST_MM = 0.5, 200.0
ACROSS_UM = (5.0, 1000.0)  # of a dot, as it is kept
PASS = (
    number_field("film_um", say("The coat, µm"), least=0.5, most=THICKEST_COAT_UM),
    number_field("wide_mm", say("The photo's width, mm"), least=NARROWEST_MM, most=WIDEST_MM, units=MM),
)


@dataclass(frozen=True)
class Read:
    """What a photo shows, and the mist that follows from it."""

    photo: MistPhoto
    film_um: float
    mist: Mist


def read(connection: sqlite3.Connection, name: str, content: bytes, *, film_um: str, wide_mm: str) -> Read:
    """Raises BadFile, and InvalidInput for a photo without dots, or figures that cannot be."""
    given = read_fields(PASS, {"film_um": film_um, "wide_mm": wide_mm})
    pass_um, wide = _pass_um(given), given.get("wide_mm")
    _, _, png = photos.taken(name, content)
    picture = photos.linear_of(png)
    found = mist_photo.read(mist_photo.strongest(picture))
    known = mist.now(connection)
    across = known.across_um
    if isinstance(wide, float) and not found.even:
        across = min(max(1000 * wide * found.across_px / picture.shape[1], ACROSS_UM[0]), ACROSS_UM[1])
    droplet = 0.0 if pass_um >= FLOWS_UM else found.droplet_um(pass_um)
    after = replace(known, droplet_um=droplet, off=found.off, source="photo", across_um=across)
    return Read(found, pass_um, after)


def take_photo(devices: Devices, film_um: str) -> tuple[bytes, str]:
    """The bench's camera takes one from near, and how wide it is, mm. Raises InvalidInput."""
    return devices.camera.macro(_pass_um(read_fields(PASS, {"film_um": film_um}))), f"{MACRO_MM:g}"


def _pass_um(given: Mapping[str, object]) -> float:
    film_um = given.get("film_um")
    return film_um if isinstance(film_um, float) else USUAL_PASS_UM
