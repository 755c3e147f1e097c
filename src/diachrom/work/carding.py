"""A contrast card from the bare card to a profile: readings from any source, what they come to, and saying yes."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mixing.contrast_card import USUAL_SCATTERING, contrast_ratio, from_card, strength
from diachrom.core.mixing.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import InvalidInput
from diachrom.exchange.photos import Spot
from diachrom.exchange.spectra import Sample, too_light_for_black
from diachrom.instruments import truth
from diachrom.instruments.simulated import TILE
from diachrom.store import cards, paints, waiting
from diachrom.store.cards import FIELDS, Card, Reading
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.work import picking
from diachrom.work.devices import Devices
from diachrom.work.shelf_keeping import guess, keep_profile
from diachrom.work.typed import typed_colour

FIELD_WORDS = {
    "white": "bare white",
    "black": "bare black",
    "over_white": "paint over white",
    "over_black": "paint over black",
}
GROUND_OF = {"white": "white", "over_white": "white", "black": "black", "over_black": "black"}
# How uncertain a profile's strength is, by the least sure source among its readings.
UNCERTAINTY = {"reader": 0.04, "file": 0.04, "Lab": 0.06, "hex": 0.08, "photo": 0.12}
FILM_UM, COATS = 8.0, 3
D65 = light("D65")


@dataclass(frozen=True, eq=False)
class FieldSeen:
    """One field of a card: its readings, their mean, and how far they lie apart."""

    key: str
    words: str
    readings: Sequence[Reading]
    mean: Floats | None  # (band,)
    apart: float  # largest dE from the mean


@dataclass(frozen=True, eq=False)
class Derived:
    """What the readings come to."""

    paint: Paint
    uncertain_nm: tuple[float, ...]
    fit_delta_e: float
    contrast_ratio: float  # as measured, of the card's own film
    stronger: float  # than the profile before, as a factor of absorption where it absorbs


@dataclass(frozen=True, eq=False)
class CardSeen:
    """A card as it stands."""

    card: Card
    record: PaintRecord
    fields: Sequence[FieldSeen]
    before: Paint
    derived: Derived | None
    problem: str  # why nothing was derived though all fields were read

    @property
    def missing(self) -> list[str]:
        return [field.words for field in self.fields if field.mean is None]


def can_be_carded(kind: str) -> bool:
    """Flakes and light of its own cannot be told from two diffuse readings."""
    return kind in USUAL_SCATTERING


def begin(connection: sqlite3.Connection, paint_id: str, *, at: str) -> int:
    """The paint's card that is under way, or a new one. Raises PaintNotFound, InvalidInput."""
    record = paints.record(connection, paint_id)
    if not can_be_carded(record.kind):
        raise InvalidInput(
            f"{record.full_name} is a {record.kind} paint: flakes and light of its own cannot be read off a contrast "
            "card. Its profile stays as it was described.",
            field="kind",
        )
    with writing(connection):
        known = cards.under_way(connection, paint_id)
        if known is not None:
            return known
        return cards.new(connection, paint_id=paint_id, at=at, film_um=FILM_UM, coats=COATS, clear_coat=True)


def see(connection: sqlite3.Connection, number: int) -> CardSeen:
    """Raises CardNotFound."""
    card = cards.card(connection, number)
    record = paints.record(connection, card.paint_id)
    versions = paints.profile_versions(connection, card.paint_id)
    before = next(
        (one.paint for one in versions if card.version is None or one.version < card.version), versions[0].paint
    )
    fields = [_field(key, card.readings) for key in FIELDS]
    derived, problem = None, ""
    if all(field.mean is not None for field in fields):
        try:
            derived = _derive(card, fields, before)
        except InvalidInput as error:
            problem = str(error)
    return CardSeen(card, record, fields, before, derived, problem)


def _field(key: str, readings: Sequence[Reading]) -> FieldSeen:
    own = [one for one in readings if one.field == key]
    spectra = np.array([one.reflectance for one in own if one.counts])
    if not len(spectra):
        return FieldSeen(key, FIELD_WORDS[key], own, None, 0.0)
    mean = spectra.mean(axis=0)
    apart = delta_e(lab(spectra, under=D65), lab(mean, under=D65)).max()
    return FieldSeen(key, FIELD_WORDS[key], own, mean, float(apart))


def spectrum_of(reading: Reading) -> Floats:
    """(band,)"""
    return np.array(reading.reflectance)


def _derive(card: Card, fields: Sequence[FieldSeen], before: Paint) -> Derived:
    means = {field.key: field.mean for field in fields if field.mean is not None}
    if means["white"].mean() <= means["black"].mean():
        raise InvalidInput("The bare white field is not lighter than the black one: are they swapped?", field="white")
    found = from_card(**means, film_um=card.film_um * card.coats, clear_coat=card.clear_coat, kind=before.kind)
    sources = {one.source.split(":")[0] for one in card.readings if one.counts}
    uncertainty = max(UNCERTAINTY[source] for source in sources)
    paint = replace(before, absorption=found.absorption, scattering=found.scattering, uncertainty=uncertainty)
    hiding = contrast_ratio(means["over_black"], means["over_white"])
    stronger = strength(found.absorption, before.absorption)
    return Derived(paint, found.uncertain_nm, found.fit_delta_e, hiding, stronger)


def describe(connection: sqlite3.Connection, card: int, *, film_um: float, coats: int, clear_coat: bool) -> None:
    """Say how it was sprayed. Raises CardNotFound, InvalidInput."""
    if not 0 < film_um <= THICKEST_COAT_UM:
        raise InvalidInput(f"A coat is 0 to {THICKEST_COAT_UM:.0f} µm, not {film_um:g}.", field="film_um")
    if not 1 <= coats <= MOST_COATS:
        raise InvalidInput(f"Coats must be 1 to {MOST_COATS}, not {coats}.", field="coats")
    with writing(connection):
        _open(connection, card)
        cards.describe(connection, card, film_um=film_um, coats=coats, clear_coat=clear_coat)


def _open(connection: sqlite3.Connection, card: int) -> Card:
    """A card that still takes readings."""
    found = cards.card(connection, card)
    if found.version is not None:
        raise InvalidInput("A profile has come of this card already: spray a new one.", field="card")
    return found


def _add(connection: sqlite3.Connection, card: int, field: str, source: str, values: Floats, *, at: str) -> None:
    if field not in FIELDS:
        raise InvalidInput(f"A card has no field '{field[:20]}'.", field="field")
    with writing(connection):
        _open(connection, card)
        reflectance = [round(value, 6) for value in values.tolist()]
        cards.add_reading(connection, card, field=field, at=at, source=source, reflectance=reflectance)


def read_by_device(
    connection: sqlite3.Connection, card: int, field: str, devices: Devices, key: str, *, lifted: bool, at: str
) -> None:
    """Read a field with a colour reader; the simulated one is put on what is really there, or held in the air.

    Raises InstrumentError; what was read before stays.
    """
    found = _open(connection, card)
    with devices.reader(key) as reader:
        reader.device.under = None if lifted else _really_there(connection, found, field)
        values = reader.client.read()
        source = f"reader:{reader.words}"
    _add(connection, card, field, source, values, at=at)


def _really_there(connection: sqlite3.Connection, card: Card, field: str) -> Floats:
    film_um = card.film_um * card.coats if field.startswith("over_") else 0.0
    # The truth lies behind the first profile, whatever was believed since.
    paint = paints.profile_versions(connection, card.paint_id)[-1].paint
    ground = GROUND_OF.get(field, "white")
    return truth.of_field(
        card.paint_id, paint, ground=ground, film_um=film_um, clear_coat=card.clear_coat, card=card.id
    )


def calibrate(devices: Devices, key: str) -> None:
    """Put the reader on its tile and calibrate it. Raises InstrumentError."""
    with devices.reader(key) as reader:
        reader.device.under = TILE
        reader.client.calibrate()


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
    name = waiting.photo(connection, photo).name
    _add(
        connection,
        card,
        field,
        f"photo:{name[:60]}{picking.caution(spot)}",
        smooth_reflectance(spot.lab, under=D65),
        at=at,
    )


def set_aside(connection: sqlite3.Connection, card: int, reading: int) -> None:
    """Leave a reading out of the mean, or take it in again."""
    with writing(connection):
        _open(connection, card)
        cards.set_aside(connection, card, reading)


def accept(connection: sqlite3.Connection, card: int, *, at: str) -> int:
    """Make the derived profile the paint's next version; returns its number. Raises InvalidInput."""
    seen = see(connection, card)
    if seen.derived is None:
        missing = f"still to be read: {', '.join(seen.missing)}" if seen.missing else seen.problem
        raise InvalidInput(f"No profile can be taken from this card yet; {missing}.", field="card")
    with writing(connection):
        _open(connection, card)
        version = keep_profile(
            connection,
            seen.derived.paint,
            paint_id=seen.card.paint_id,
            source=f"contrast card {card}, {seen.card.coats} coats of {seen.card.film_um:g} µm",
            at=at,
            uncertain_nm=seen.derived.uncertain_nm,
        )
        cards.accepted(connection, card, version)
    return version


def go_back_to(connection: sqlite3.Connection, paint_id: str, version: int, *, at: str) -> int:
    """Let an earlier profile count again, as the paint's next version; returns its number."""
    with writing(connection):
        versions = paints.profile_versions(connection, paint_id)
        old = next((one for one in versions if one.version == version), None)
        if old is None:
            raise InvalidInput(f"There is no version {version} of that profile.", field="version")
        source = f"version {version} again"
        return keep_profile(
            connection, old.paint, paint_id=paint_id, source=source, at=at, uncertain_nm=old.uncertain_nm
        )


def guess_again(connection: sqlite3.Connection, paint_id: str, colour: str, *, at: str) -> int:
    """Another guess from one colour and the kind, as the paint's next version. Raises PaintNotFound, InvalidInput."""
    record = paints.record(connection, paint_id)
    if not colour.strip():
        raise InvalidInput(f"{record.full_name}: say its colour as #rrggbb.", field="colour")
    profile = guess(record.full_name, record.kind, colour)
    with writing(connection):
        return keep_profile(connection, profile, paint_id=paint_id, source=f"guessed from {colour.strip()}", at=at)
