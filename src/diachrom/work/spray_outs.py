"""Spray-outs: test cards of a cup or a recipe, measured field by field and laid beside what was predicted."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.grounds import GROUNDS, ground
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.words import difference
from diachrom.core.mixing.beside import Beside, beside
from diachrom.core.mixing.draft import RECIPE_GROUND, Draft
from diachrom.core.mixing.mixes import special
from diachrom.core.mixing.prediction import Colour
from diachrom.core.mixing.spray_outs import Measured, Poured
from diachrom.core.mixing.spray_outs import SprayOut as CoreCard
from diachrom.core.mixing.story import by_eye
from diachrom.core.mixing.strip import Over
from diachrom.errors import EmptyCup
from diachrom.store import cups, recipes, spray_outs
from diachrom.store.connection import writing
from diachrom.store.spray_outs import Field, SprayOut
from diachrom.work.aiming import read_sprayed
from diachrom.work.carding import typed_colour
from diachrom.work.contents import Contents, contents, cup_of
from diachrom.work.cup import strip_of
from diachrom.work.devices import Devices
from diachrom.work.matching import D65

USUAL_FIELDS = ("white", "black", "grey")
LISTED = 200


@dataclass(frozen=True, eq=False)
class FieldSeen:
    """A field of a card: what was predicted, and what was read of it."""

    field: Field
    over: Over
    predicted: Colour
    measured: Floats | None  # (3,) the mean of the readings that count
    apart: float  # largest distance of a reading from the mean, in Lab
    words: str  # how the reading looks beside the prediction
    eye: str  # what the eye said last


@dataclass(frozen=True, eq=False)
class CardSeen:
    card: SprayOut
    contents: Contents
    fields: Sequence[FieldSeen]
    beside: Beside | None  # None before anything was read, or for a mix that the tables do not know


def begin(connection: sqlite3.Connection, recipe: int | None = None, version: int | None = None, *, at: str) -> int:
    """A card of the cup on the bench, or of a recipe's version. Raises EmptyCup, RecipeNotFound."""
    with writing(connection):
        if recipe is None:
            standing = cups.now(connection)
            draft, recipe, version = standing.draft.kept(), standing.recipe, standing.version
            if recipe is not None and recipes.version(connection, recipe, version).draft.kept() != draft:
                recipe = version = None  # changed since: it is the cup's own
        else:
            saved = recipes.version(connection, recipe, version)
            draft, version = saved.draft.kept(), saved.version
        if not draft.drops or cup_of(contents(connection, draft)).only_thinner:
            raise EmptyCup("spraying it on a card")
        own = () if draft.ground.startswith(RECIPE_GROUND) else (draft.ground,)
        grounds = dict.fromkeys([*USUAL_FIELDS, *own])
        return spray_outs.add(connection, draft, list(grounds), recipe=recipe, version=version, at=at)


def add_field(connection: sqlite3.Connection, number: int, key: str) -> None:
    """Another ground that was sprayed too. Raises NotFound, UnknownGround."""
    card = spray_outs.one(connection, number)
    with writing(connection):
        spray_outs.add_field(connection, card.id, ground(key).key)


def read(connection: sqlite3.Connection, devices: Devices, device: str, number: int, key: str, *, at: str) -> None:
    """A field under a colour reader. Raises NotFound, InstrumentError; a reading that failed keeps nothing."""
    card, field = spray_outs.one(connection, number), spray_outs.field_of(connection, number, key)
    values, name = read_sprayed(connection, devices, device, replace(card.draft, ground=key))
    point = lab(values, under=D65).tolist()
    with writing(connection):
        spray_outs.read(connection, field, source=name, lab=point, at=at)


def typed(connection: sqlite3.Connection, number: int, key: str, text: str, *, at: str) -> None:
    """A field's colour as typed, Lab or hex. Raises NotFound, InvalidInput."""
    field = spray_outs.field_of(connection, number, key)
    point, form = typed_colour(text)
    with writing(connection):
        spray_outs.read(connection, field, source=f"typed as {form}", lab=point.tolist(), at=at)


def judge(connection: sqlite3.Connection, number: int, key: str, said: str, *, at: str) -> None:
    """What the eye says of a field beside the prediction. Raises NotFound, InvalidInput."""
    field, verdict = spray_outs.field_of(connection, number, key), by_eye(said)
    with writing(connection):
        spray_outs.read(connection, field, source=verdict.source, lab=None, words=verdict.words, at=at)


def turn(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Set a reading aside, or let it count again. Raises NotFound."""
    with writing(connection):
        spray_outs.turn(connection, spray_outs.one(connection, number).id, reading)


def see(connection: sqlite3.Connection, number: int) -> CardSeen:
    """A card beside its prediction. Raises NotFound."""
    card = spray_outs.one(connection, number)
    held = contents(connection, card.draft)
    grounds = [Over.bare(GROUNDS[one.ground]) for one in card.fields]
    strip = strip_of(cup_of(held), card.draft, grounds)
    fields = [
        _field(one, over, column.after(card.draft.coats).diffuse)
        for one, over, column in zip(card.fields, grounds, strip.columns, strict=True)
    ]
    return CardSeen(card, held, fields, _beside(card.draft, held, fields))


def _field(one: Field, over: Over, predicted: Colour) -> FieldSeen:
    counting = [reading for reading in one.readings if reading.counts]
    labs = np.array([reading.lab for reading in counting if reading.lab is not None]).reshape(-1, 3)
    eye = next((reading.words for reading in reversed(counting) if reading.lab is None), "")
    if not len(labs):
        return FieldSeen(one, over, predicted, None, 0.0, "", eye)
    mean = labs.mean(axis=0)
    apart = float(np.linalg.norm(labs - mean, axis=1).max())
    return FieldSeen(one, over, predicted, mean, apart, difference(predicted.lab, mean), eye)


def _beside(draft: Draft, held: Contents, fields: Sequence[FieldSeen]) -> Beside | None:
    read = [Measured(one.over.ground, one.measured) for one in fields if one.measured is not None]
    pours = cup_of(held).pours
    if not read or any(special(pour.paint) for pour in pours):
        return None
    parts = [Poured(at, at, pour.drops, pour.drop_ml) for at, pour in enumerate(pours)]
    card = CoreCard(parts, draft.film_um, draft.coats, draft.clear_coat, read)
    return beside(card, [pour.paint for pour in pours])
