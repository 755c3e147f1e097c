"""Reading the fields of a drawdown card: by a device, by hand, from a file, from a photo of one field or of its
sheet."""

import sqlite3

from diachrom.core.cards.sheet import Sheet, sheet
from diachrom.core.light.bands import Floats
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.errors import InvalidInput
from diachrom.exchange import sheet_photos
from diachrom.exchange.photos import Spot
from diachrom.exchange.sample import Sample
from diachrom.exchange.spectra import too_light_for_black
from diachrom.store import contrast_cards, uploads
from diachrom.store.connection import writing
from diachrom.store.contrast_cards import ContrastCard
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import CardSheet, ContrastField
from diachrom.work.kit.typed import typed_colour
from diachrom.work.profiles.contrast_cards import D65, field_of, fields_of, still_open


def _add(connection: sqlite3.Connection, card: int, field: str, source: str, values: Floats, *, at: str) -> None:
    with writing(connection):
        field_of(still_open(connection, card), field)
        reflectance = [round(value, 6) for value in values.tolist()]
        contrast_cards.add_reading(connection, card, field=field, at=at, source=source, reflectance=reflectance)


def read_by_device(
    connection: sqlite3.Connection, card: int, field: str, devices: Devices, key: str, *, lifted: bool, at: str
) -> None:
    """Read a field with a colour reader; the simulated one is put on what is really there, or held in the air.

    Raises InstrumentError; what was read before stays.
    """
    field_of(still_open(connection, card), field)
    reading = devices.read(key, there=None if lifted else ContrastField(card, field))
    _add(connection, card, field, f"reader:{reading.by}", reading.values, at=at)


def type_in(connection: sqlite3.Connection, card: int, field: str, text: str, *, at: str) -> None:
    """A field's colour as typed: "#rrggbb", or L*, a* and b*. Raises InvalidInput."""
    point, source = typed_colour(text)
    _add(connection, card, field, source, smooth_reflectance(point, under=D65), at=at)


def from_sample(
    connection: sqlite3.Connection, card: int, field: str, sample: Sample, *, asked: bool = False, at: str
) -> None:
    """A field's spectrum out of a file. Raises InvalidInput for a bare black that is none, unless that was asked."""
    if field == "black" and not asked and (question := too_light_for_black(sample)):
        raise InvalidInput(question, field="values")
    _add(connection, card, field, f"file:{sample.name}"[:80], sample.reflectance, at=at)


def from_photo(connection: sqlite3.Connection, card: int, field: str, photo: int, spot: Spot, *, at: str) -> None:
    """A field's colour picked from a photo, balanced by its grey patch."""
    source = f"photo:{uploads.photo(connection, photo).name[:60]}{photo_picks.caution(spot)}"
    _add(connection, card, field, source, smooth_reflectance(spot.lab, under=D65), at=at)


def set_aside(connection: sqlite3.Connection, card: int, reading: int) -> None:
    """Leave a reading out of the mean, or take it in again."""
    with writing(connection):
        still_open(connection, card)
        contrast_cards.set_aside(connection, card, reading)


def sheet_of(card: ContrastCard) -> Sheet:
    """Its two halves and all its films, to be printed; the field that is let down is sprayed beside it."""
    return sheet([(ground, passes) for passes in card.steps for ground in ("white", "black")])


def address(card: ContrastCard) -> str:
    """Where its code leads, after the server's address."""
    return f"contrast-cards/{card.id}?contrast={card.id}&sheet={sheet_of(card).key}"


def from_sheet(connection: sqlite3.Connection, number: int, name: str, content: bytes, *, at: str) -> list[str]:
    """Take every field of a photo of the sheet, all or nothing; returns the words of those that are doubtful, and
    why; they are set aside. Raises CardNotFound, BadFile, BadPhoto, InvalidInput."""
    card = still_open(connection, number)
    taken = photo_picks.taken(name, content)
    read = sheet_photos.read(taken.png, sheet_of(card), card.id, tag="contrast")
    fields = {(one.field.ground, one.field.coats): one for one in read}
    aside: list[str] = []
    with writing(connection):
        still_open(connection, number)
        photo_picks.put(connection, taken, at=at)
        for field in fields_of(card):
            one = fields.get((field.ground, field.passes))
            if one is None or field.let_down:
                continue
            values = smooth_reflectance(one.lab, under=D65)
            reading = contrast_cards.add_reading(
                connection,
                number,
                field=field.key,
                at=at,
                source=f"photo:{name[:60]}",
                reflectance=[round(value, 6) for value in values.tolist()],
            )
            if one.doubt:
                contrast_cards.set_aside(connection, number, reading)
                aside.append(f"{field.words} ({one.doubt})")
    return aside


def take_photo(connection: sqlite3.Connection, devices: Devices, number: int, shot: str, base: str) -> bytes:
    """The bench's camera takes a photo of a card's sheet; `base` is this server's address. Raises NotFound."""
    card = contrast_cards.card(connection, number)
    return devices.camera.photo(shot, CardSheet(number, contrast=True, address=base + address(card)))
