"""Spray-outs: spray-out cards of a cup or a recipe, begun, described, and measured patch by patch."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.cards.by_eye import said
from diachrom.core.film.surface import surface_of
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.story import THE_EYE
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.exchange.photos import Spot
from diachrom.exchange.sample import Sample
from diachrom.store import cups, recipes, spray_out_cards
from diachrom.store.connection import writing
from diachrom.store.recipes import Version
from diachrom.store.spray_out_cards import How, KeptCard, KeptPatch
from diachrom.words import say
from diachrom.work.cards import compare_prediction
from diachrom.work.cards.compare_prediction import D65, NewReading, TestCardSeen
from diachrom.work.kit import photo_picks
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.fields import PAINT_FIELDS, Value, number_field, read_fields, text_field
from diachrom.work.kit.measurement_target import SprayedPatch
from diachrom.work.kit.typed import typed_colour
from diachrom.work.mix.contents import contents, contents_of, cup_of
from diachrom.work.mix.sprayed_over import over_named

HOW = (
    *(field for field in PAINT_FIELDS if field.key in ("nozzle_mm", "pressure_bar")),
    number_field("film_um", say("One coat, µm"), least=0.5, most=THICKEST_COAT_UM),
    number_field("thinned", say("Thinned further by, %"), least=0, most=90),
    text_field("surface", say("Surface"), longest=10),
    text_field("note", say("Note"), longest=400),
)
USUAL_GROUNDS = ("white", "black", "grey")
MOST_PATCHES = 40


def begin(
    connection: sqlite3.Connection,
    recipe: int | None = None,
    version: int | None = None,
    *,
    number: int | None = None,
    at: str,
) -> int:
    """A card of the cup on the bench, or of a recipe's version; returns its number.

    Raises EmptyCup, RecipeNotFound, and InvalidInput for a number that another card has.
    """
    with writing(connection):
        nozzle_mm = cups.now(connection).draft.nozzle_mm
        if recipe is None:
            standing = cups.now(connection)
            draft, recipe, version = standing.draft.kept(), standing.recipe, standing.version
            if recipe is not None and recipes.version(connection, recipe, version).draft.kept() != draft:
                recipe = version = None  # changed since: it is the cup's own
        else:
            saved = recipes.version(connection, recipe, version)
            draft, version = saved.draft.kept(), saved.version
        if not draft.drops or cup_of(contents(connection, draft)).only_thinner:
            raise EmptyCup(say("spraying it on a card"))
        patches = [(ground, draft.coats) for ground in dict.fromkeys([*USUAL_GROUNDS, draft.ground])]
        card = spray_out_cards.add(connection, draft, patches, recipe=recipe, version=version, at=at, number=number)
        spray_out_cards.describe(connection, card, draft, How(nozzle_mm), "")
        _check(connection, card)
    return card


def _check(connection: sqlite3.Connection, number: int) -> None:
    """A card that cannot be predicted is not kept. Inside `writing`. Raises InvalidInput."""
    compare_prediction.predicted(connection, spray_out_cards.one(connection, number))


def describe(connection: sqlite3.Connection, number: int, given: Mapping[str, str]) -> None:
    """Say how it really was sprayed, in the fields of HOW as they were typed; what is not given stays.

    Raises NotFound, and InvalidInput naming the field.
    """
    card = spray_out_cards.one(connection, number)
    values = read_fields(HOW, given)
    clear_coat, satin = surface_of(str(values.get("surface") or card.draft.surface))
    draft = card.draft.sprayed(
        film_um=float(values.get("film_um") or card.draft.film_um),
        coats=card.draft.coats,
        clear_coat=clear_coat,
        sealed=card.draft.sealed,
        satin=satin,
    )
    how = How(
        _or_none(values.get("nozzle_mm", card.how.nozzle_mm)),
        _or_none(values.get("pressure_bar", card.how.pressure_bar)),
        float(values.get("thinned") or 0.0) / 100 if "thinned" in values else card.how.reduction,
    )
    with writing(connection):
        spray_out_cards.describe(connection, card.id, draft, how, str(values.get("note", card.note)))
        _check(connection, card.id)


def _or_none(value: Value) -> float | None:
    return None if value is None else float(value)


def add_patch(connection: sqlite3.Connection, number: int, ground: str, coats: int) -> None:
    """Another patch that was sprayed too, or with no coats a ground left bare.

    Raises NotFound, UnknownGround, RecipeNotFound, InvalidInput.
    """
    card = spray_out_cards.one(connection, number)
    if not 0 <= coats <= MOST_COATS:
        raise InvalidInput(
            say("A patch has 0 to {most_coats} coats, not {coats}.", most_coats=MOST_COATS, coats=coats), field="coats"
        )
    if len(card.patches) >= MOST_PATCHES:
        raise InvalidInput(
            say("A card holds {most_patches} patches: begin another.", most_patches=MOST_PATCHES), field="ground"
        )
    key = over_named(connection, ground).key
    with writing(connection):
        spray_out_cards.add_patch(connection, card.id, key, coats)
        _check(connection, card.id)


def take_patch_away(connection: sqlite3.Connection, number: int, ground: str, coats: int) -> None:
    """A patch that was not sprayed after all. Raises NotFound, and InvalidInput for one that was read."""
    with writing(connection):
        spray_out_cards.take_patch_away(connection, spray_out_cards.patch_of(connection, number, ground, coats))


def take_away(connection: sqlite3.Connection, number: int) -> None:
    """A card that was begun by mistake. Raises NotFound, and InvalidInput for one that was read."""
    with writing(connection):
        spray_out_cards.take_away(connection, spray_out_cards.one(connection, number).id)


def read(
    connection: sqlite3.Connection, devices: Devices, device: str, number: int, ground: str, coats: int, *, at: str
) -> None:
    """A patch under a colour reader. Raises NotFound, InstrumentError; a reading that failed keeps nothing."""
    card = spray_out_cards.one(connection, number)
    spray_out_cards.patch_of(connection, number, ground, coats)
    reading = devices.read(device, there=SprayedPatch(card.draft, ground, coats, card.id, card.how.reduction))
    _keep(connection, number, NewReading(ground, coats, lab(reading.values, under=D65).tolist(), reading.by), at=at)


def typed(connection: sqlite3.Connection, number: int, ground: str, coats: int, text: str, *, at: str) -> None:
    """A patch's colour as typed, Lab or hex. Raises NotFound, InvalidInput."""
    spray_out_cards.patch_of(connection, number, ground, coats)
    point, form = typed_colour(text)
    _keep(connection, number, NewReading(ground, coats, point.tolist(), say("typed as {form}", form=form)), at=at)


def from_sample(
    connection: sqlite3.Connection, number: int, ground: str, coats: int, name: str, sample: Sample, *, at: str
) -> None:
    """A patch's colour of a reading that came in a file of that name. Raises NotFound."""
    spray_out_cards.patch_of(connection, number, ground, coats)
    point = lab(sample.reflectance, under=D65).tolist()
    _keep(connection, number, NewReading(ground, coats, point, say("the file {name}", name=name[:60])), at=at)


def from_photo(
    connection: sqlite3.Connection, number: int, ground: str, coats: int, photo: int, spot: Spot, *, at: str
) -> None:
    """A spot of a photo, balanced by its grey patch. Raises NotFound."""
    spray_out_cards.patch_of(connection, number, ground, coats)
    source = say(
        "the photo {name}{caution}", name=photo_picks.photo(connection, photo).name, caution=photo_picks.caution(spot)
    )
    with writing(connection):
        compare_prediction.keep(connection, number, [NewReading(ground, coats, spot.lab.tolist(), source)], at=at)
        spray_out_cards.show_photo(connection, number, photo)


def _keep(connection: sqlite3.Connection, number: int, reading: NewReading, *, at: str) -> None:
    with writing(connection):
        compare_prediction.keep(connection, number, [reading], at=at)


def judge(
    connection: sqlite3.Connection,
    number: int,
    ground: str,
    coats: int,
    directions: Sequence[str],
    degree: str,
    *,
    at: str,
) -> None:
    """What the eye says of a patch beside the prediction. Raises NotFound, InvalidInput."""
    patch, words = spray_out_cards.patch_of(connection, number, ground, coats), said(directions, degree)
    with writing(connection):
        spray_out_cards.read(connection, patch, source=THE_EYE, lab=None, words=words, at=at)


def turn(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Set a reading aside, or let it count again. Raises NotFound."""
    with writing(connection):
        spray_out_cards.turn(connection, spray_out_cards.one(connection, number).id, reading)


def turn_card(connection: sqlite3.Connection, number: int) -> None:
    """Do not learn from a card, or learn from it again. Raises NotFound."""
    with writing(connection):
        spray_out_cards.turn_card(connection, spray_out_cards.one(connection, number).id)


@dataclass(frozen=True)
class AsRead:
    """A patch as it was predicted when it was read, and as it was read: the newest reading that counts."""

    patch: KeptPatch
    predicted: Sequence[float]
    measured: Sequence[float]
    delta_e: float


def as_read(card: KeptCard) -> list[AsRead]:
    """Every patch of paint that was read."""
    as_reads = []
    for patch in card.patches:
        readings = [
            reading
            for reading in patch.readings
            if reading.counts and reading.lab is not None and reading.predicted is not None
        ]
        if patch.coats and readings and (lab_ := readings[-1].lab) and (predicted := readings[-1].predicted):
            far = float(delta_e(np.array(predicted), np.array(lab_)))
            as_reads.append(AsRead(patch, predicted, lab_, far))
    return as_reads


def missed_by(pairs: Sequence[AsRead]) -> float | None:
    """dE of a card as it was predicted when it was read, the mean over its patches; None before it was read."""
    return sum(pair.delta_e for pair in pairs) / len(pairs) if pairs else None


def see(connection: sqlite3.Connection, number: int) -> TestCardSeen:
    """A card beside its prediction. Raises NotFound."""
    return compare_prediction.see(connection, spray_out_cards.one(connection, number))


def find(connection: sqlite3.Connection, query: str, *, start: int, most: int) -> list[KeptCard]:
    """The newest first, of those that have every word of the query in number, name, note or paints."""
    found = spray_out_cards.find(connection, query, start=start, most=most)
    contents_of(connection, [card.draft for card in found])  # read at once
    return found


def next_number(connection: sqlite3.Connection) -> int:
    """The number that the next card gets."""
    return spray_out_cards.next_number(connection)


def check_patch(connection: sqlite3.Connection, number: int, ground: str, coats: int) -> None:
    """Raises NotFound for a patch that the card has not."""
    spray_out_cards.patch_of(connection, number, ground, coats)


def of_version(connection: sqlite3.Connection, saved: Version) -> list[int]:
    """Numbers of the cards that were sprayed of it."""
    return [card.id for card in spray_out_cards.of_recipe(connection, saved.recipe) if card.version == saved.version]
