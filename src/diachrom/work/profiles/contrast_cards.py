"""A drawdown card from the bare card to a profile: its fields, what was read of them comes to, and saying yes."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.mix.hand import Hand
from diachrom.core.profiles.card_fit import NOISE, USUAL_SCATTERING, Bare, CardFilm, reader
from diachrom.core.profiles.contrast_card import HAND, PASS_UM, STEPS, UNSURE, contrast_ratio, from_card, strength
from diachrom.core.profiles.dot_size import Card as Measured
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import contrast_cards, mist, paints
from diachrom.store.connection import writing
from diachrom.store.contrast_cards import ContrastCard, FieldReading
from diachrom.store.paints import PaintRecord
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.shelf.keeping import keep_profile

LET_DOWN_PASSES = 4
MISFIT = 3.0  # dE of the worst field, above which a card is doubted
# How far a reading may be off, one standard deviation of reflectance, by its source; the least sure one counts.
NOISE_OF = {"reader": NOISE, "file": NOISE, "Lab": 0.006, "hex": 0.008, "photo": 0.015}
D65 = light("D65")


@dataclass(frozen=True)
class CardField:
    """A field of a card: what it is called, which half it lies on, and how many passes lie there."""

    key: str
    words: str
    ground: str
    passes: int
    let_down: bool = False


@dataclass(frozen=True, eq=False)
class FieldSeen:
    """One field of a card: its readings, their mean, and how far they lie apart."""

    field: CardField
    readings: Sequence[FieldReading]
    mean: Floats | None  # (band,)
    apart: float  # largest dE from the mean


@dataclass(frozen=True, eq=False)
class Derived:
    """What the readings come to."""

    paint: Paint
    uncertain_nm: tuple[float, ...]
    saturated_nm: tuple[float, ...]
    fit_delta_e: float
    sheen: float
    contrast_ratio: float  # as measured, of the thickest film that was read
    thickest_um: float
    stronger: float  # than the profile before, as a factor of absorption where it absorbs

    @property
    def sure(self) -> bool:
        """Whether the card tells the profile well."""
        return self.paint.uncertainty <= UNSURE

    @property
    def doubtful(self) -> bool:
        """Its fields do not fit each other: they were sprayed in other dots, or not as thick as said."""
        return self.fit_delta_e > MISFIT


@dataclass(frozen=True, eq=False)
class ContrastCardSeen:
    """A card as it stands."""

    card: ContrastCard
    record: PaintRecord
    fields: Sequence[FieldSeen]
    before: Paint
    derived: Derived | None
    problem: str  # why nothing was derived though enough fields were read

    @property
    def missing(self) -> list[str]:
        """The fields that were not read yet."""
        return [field.field.words for field in self.fields if field.mean is None]


def fields_of(card: ContrastCard) -> list[CardField]:
    """The bare card first, then film by film, then the one that is let down."""
    fields = [CardField("white", say("bare white"), "white", 0), CardField("black", say("bare black"), "black", 0)]
    for passes in card.steps:
        thick = say_count(
            passes, "{count} pass, {film}", "{count} passes, {film}", film=quantity(passes * card.film_um, "g", "µm")
        )
        fields += [
            CardField(f"over_{key}:{passes}", over, key, passes)
            for key, over in (
                ("white", say("over white, {thick}", thick=thick)),
                ("black", say("over black, {thick}", thick=thick)),
            )
        ]
    if card.white_paint is not None:
        drops = card.white_drops
        fields += [
            CardField(f"let_down_{key}", words, key, LET_DOWN_PASSES, True)
            for key, words in (
                ("white", say("let down 1 to {drops}, over white", drops=drops)),
                ("black", say("let down 1 to {drops}, over black", drops=drops)),
            )
        ]
    return fields


def field_of(card: ContrastCard, key: str) -> CardField:
    """Raises InvalidInput."""
    field = next((one for one in fields_of(card) if one.key == key), None)
    if field is None:
        raise InvalidInput(say("This card has no field '{key}'.", key=key[:20]), field="field")
    return field


def can_be_carded(kind: str) -> bool:
    """Flakes and light of its own cannot be told from two diffuse readings."""
    return kind in USUAL_SCATTERING


def begin(connection: sqlite3.Connection, paint_id: str, *, at: str) -> int:
    """The paint's card that is under way, or a new one. Raises PaintNotFound, InvalidInput."""
    record = paints.record(connection, paint_id)
    if not can_be_carded(record.kind):
        raise InvalidInput(
            say(
                "{full_name} is a {kind} paint: a drawdown card cannot measure flakes or glow. Its "
                "profile stays as described.",
                full_name=record.full_name,
                kind=record.kind,
            ),
            field="kind",
        )
    with writing(connection):
        known = contrast_cards.under_way(connection, paint_id)
        if known is not None:
            return known
        return contrast_cards.new(connection, paint_id=paint_id, at=at, film_um=PASS_UM, steps=STEPS)


def see(connection: sqlite3.Connection, number: int, *, hand: Hand | None = None) -> ContrastCardSeen:
    """A card and the profile that comes of it, in the dots of this bench or of another hand. Raises CardNotFound."""
    card = contrast_cards.card(connection, number)
    record = paints.record(connection, card.paint_id)
    versions = paints.profile_versions(connection, card.paint_id)
    before = next(
        (version.paint for version in versions if card.version is None or version.version < card.version),
        versions[0].paint,
    )
    fields = []
    for field in fields_of(card):
        own = [reading for reading in card.readings if reading.field == field.key]
        spectra = np.array([one.reflectance for one in own if one.counts])
        if not len(spectra):
            fields.append(FieldSeen(field, own, None, 0.0))
        else:
            mean = spectra.mean(axis=0)
            apart = delta_e(lab(spectra, under=D65), lab(mean, under=D65)).max()
            fields.append(FieldSeen(field, own, mean, float(apart)))
    derived, problem = None, ""
    try:
        sprayed = _sprayed(connection, card, fields, before.kind)
        dots = (hand or mist.hand(connection)).dots_um(card.film_um)
        derived = None if sprayed is None else _derived(sprayed, before, dots)
    except DiachromError as error:
        problem = str(error)
    return ContrastCardSeen(card=card, record=record, fields=fields, before=before, derived=derived, problem=problem)


def as_measured(connection: sqlite3.Connection, seen: ContrastCardSeen) -> Measured | None:
    """What a card is fitted from; None while the bare card or every film still wants a reading."""
    return _sprayed(connection, seen.card, seen.fields, seen.before.kind)


def _sprayed(
    connection: sqlite3.Connection, card: ContrastCard, fields: Sequence[FieldSeen], kind: str
) -> Measured | None:
    means = {field.field.key: field.mean for field in fields if field.mean is not None}
    # What its paint is let down with.
    white = None if card.white_paint is None else paints.profile(connection, card.white_paint)
    films = []
    for passes in card.steps:
        pair = means.get(f"over_white:{passes}"), means.get(f"over_black:{passes}")
        if pair[0] is not None and pair[1] is not None:
            films.append(CardFilm(passes * card.film_um, pair[0], pair[1]))
    let_down = means.get("let_down_white"), means.get("let_down_black")
    if white is not None and let_down[0] is not None and let_down[1] is not None:
        film_um = LET_DOWN_PASSES * card.film_um
        films.append(CardFilm(film_um, let_down[0], let_down[1], card.let_down_share, white))
    if not films or "white" not in means or "black" not in means:
        return None
    noise = max(NOISE_OF.get(reading.source.split(":")[0], NOISE) for reading in card.readings if reading.counts)
    bare = Bare(means["white"], means["black"], card.sheen if card.clear_coat else None)
    return Measured(films, bare, kind, reader(noise))


def _derived(card: Measured, before: Paint, dots_um: float) -> Derived:
    # What a photo leaves open leans on the profile so far.
    known = before if card.eye.noise >= NOISE_OF["photo"] else None
    found = from_card(card.films, card.bare, kind=card.kind, eye=card.eye, before=known, droplet_um=dots_um)
    uncertainty = min(float(np.hypot(found.uncertainty, HAND)), 1.0)
    own = replace(before, absorption=found.absorption, scattering=found.scattering)
    alone = [one for one in card.films if one.let_down is None] or card.films
    thickest = max(alone, key=lambda one: one.film_um)
    return Derived(
        paint=replace(own, uncertainty=uncertainty, even=False),
        uncertain_nm=found.uncertain_nm,
        saturated_nm=found.saturated_nm,
        fit_delta_e=found.fit_delta_e,
        sheen=found.sheen,
        contrast_ratio=contrast_ratio(thickest.over_black, thickest.over_white),
        thickest_um=thickest.film_um,
        stronger=strength(found.absorption, before.absorption),
    )


def spectrum_of(reading: FieldReading) -> Floats:
    """(band,)"""
    return np.array(reading.reflectance)


def still_open(connection: sqlite3.Connection, card: int) -> ContrastCard:
    """A card that still takes readings. Raises InvalidInput for one that a profile has come of."""
    found = contrast_cards.card(connection, card)
    if found.version is not None:
        raise InvalidInput(say("This card has already given a profile: spray a new one."), field="card")
    return found


def accept(connection: sqlite3.Connection, card: int, *, at: str) -> int:
    """Make the derived profile the paint's next version; returns its number. Raises InvalidInput."""
    seen = see(connection, card)
    if seen.derived is None:
        missing = seen.problem or say("still to be read: {missing}", missing=listed(seen.missing))
        raise InvalidInput(say("This card gives no profile yet; {missing}.", missing=missing), field="card")
    if not seen.derived.sure:
        raise InvalidInput(how_to_be_sure(seen.derived), field="card")
    with writing(connection):
        still_open(connection, card)
        passes = listed(str(step) for step in seen.card.steps)
        version = keep_profile(
            connection,
            seen.derived.paint,
            paint_id=seen.card.paint_id,
            source=say(
                "drawdown card {card}, {passes} passes of {film}",
                card=card,
                passes=passes,
                film=quantity(seen.card.film_um, "g", "µm"),
            ),
            at=at,
            uncertain_nm=seen.derived.uncertain_nm,
        )
        contrast_cards.accepted(connection, card, version)
    return version


def how_to_be_sure(found: Derived) -> str:
    """Why a card is not accepted, and what helps."""
    within, wanted = (quantity(100 * share, ".0f", "%") for share in (found.paint.uncertainty, UNSURE))
    return say(
        "This card tells how strong the paint is within {within} only, and a profile wants "
        "{wanted}. Add a second, thinner film, or a field that is let down with white, and read "
        "that too.",
        within=within,
        wanted=wanted,
    )


def card_of(connection: sqlite3.Connection, number: int) -> ContrastCard:
    """Raises CardNotFound."""
    return contrast_cards.card(connection, number)


def sprayed(connection: sqlite3.Connection, number: int) -> tuple[ContrastCard, PaintRecord]:
    """A card, and the paint on it. Raises CardNotFound."""
    card = contrast_cards.card(connection, number)
    return card, paints.record(connection, card.paint_id)
