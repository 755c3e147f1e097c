"""A test card beside its prediction: patch by patch, and what one cause by itself would explain of the difference."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.cards.test_cards import PER_PAINT, ParameterIndex, Predictor, TestCard
from diachrom.core.film.paint import Paint
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.spread import COAT_SIGMA, DROP_SIGMA, GUESSED, HIDING_SIGMA, HUE_SIGMA, SIDES

THINNEST, THICKEST = 0.33, 3.0  # as many times the film, or the strength, as is looked for
MOST_TILT = 0.4
TRIED = 61
EXPLAINS = 0.25  # of the difference, below which a cause is not worth naming


@dataclass(frozen=True, eq=False)
class PatchBeside:
    predicted: Floats  # (3,)
    measured: Floats  # (3,)
    delta_e: float
    spread: float  # dE that nine of ten such patches stay within
    words: str  # how the reading looks beside the prediction


@dataclass(frozen=True)
class Cause:
    """One thing that may have been otherwise, as it would fit best."""

    key: str  # "film", "strength", "hiding", "hue"
    value: float  # times as much; for the hue, how far absorption leans to long waves
    explains: float  # share of the difference, 0 to 1


@dataclass(frozen=True, eq=False)
class Beside:
    patches: Sequence[PatchBeside]
    delta_e: float  # the mean over the patches
    causes: Sequence[Cause]  # what explains most first; those that explain little are left out
    film: float  # how many times as thick as it was meant, by the film alone


def beside(card: TestCard, paints: Sequence[Paint]) -> Beside:
    """A card with at least one patch, beside what its paints' profiles predict."""
    bottles = 1 + max((part.bottle for part in card.parts), default=0)
    places = ParameterIndex(len(paints), bottles, 1)
    predictor = Predictor(paints, [card], places)
    measured = np.array([patch.lab for patch in card.patches])
    times, tilts = np.geomspace(THINNEST, THICKEST, TRIED), np.linspace(-MOST_TILT, MOST_TILT, TRIED)
    own = sorted({part.paint for part in card.parts})
    ways = {
        "film": (np.log(times), [places.hand]),
        "strength": (np.log(times), [PER_PAINT * at for at in own]),
        "hiding": (np.log(times), [PER_PAINT * at + 1 for at in own]),
        "hue": (tilts, [PER_PAINT * at + 2 for at in own]),
    }
    usual = _usual(card, paints, places)
    rows = [np.zeros(places.size), *usual]
    for values, moved in ways.values():
        for value in values:
            changed = np.zeros(places.size)
            changed[moved] = value
            rows.append(changed)
    seen = predictor.labs([(0, np.stack(rows))])[0]  # (row, patch, 3)
    predicted, shaken, tried = seen[0], seen[1 : 1 + len(usual)], seen[1 + len(usual) :]
    far = delta_e(predicted, measured)
    spread = np.sqrt((delta_e(shaken, predicted) ** 2).sum(axis=0) / len(SIDES))  # (patch,)
    whole = float(far.mean())
    left = delta_e(tried, measured).mean(axis=-1).reshape(len(ways), TRIED)
    causes, film = [], 1.0
    for (key, (values, _)), one in zip(ways.items(), left, strict=True):
        best = int(np.argmin(one))
        explains = 1 - float(one[best]) / whole if whole > 0 else 0.0
        value = float(values[best] if key == "hue" else np.exp(values[best]))
        if key == "film":
            film = value
        if explains >= EXPLAINS:
            causes.append(Cause(key, value, explains))
    patches = [
        PatchBeside(one, two, float(step), float(around), words.difference(one, two))
        for one, two, step, around in zip(predicted, measured, far, spread, strict=True)
    ]
    return Beside(patches, whole, sorted(causes, key=lambda cause: -cause.explains), film)


def _usual(card: TestCard, paints: Sequence[Paint], places: ParameterIndex) -> list[Floats]:
    """Corrections to both sides, as far as nine in ten stay: an uneven hand, a fat drop, a vague profile."""
    moves = [(places.hand, COAT_SIGMA)]
    moves += [(places.bottle(at), DROP_SIGMA) for at in sorted({part.bottle for part in card.parts})]
    own = {part.paint for part in card.parts}
    moves += [(PER_PAINT * at, paints[at].uncertainty) for at in sorted(own) if paints[at].uncertainty > 0]
    for at in sorted(own):
        if paints[at].uncertainty >= GUESSED:
            moves += [(PER_PAINT * at + 1, HIDING_SIGMA), (PER_PAINT * at + 2, HUE_SIGMA)]
    rows = []
    for place, sigma in moves:
        for side in SIDES:
            row = np.zeros(places.size)
            row[place] = side * sigma
            rows.append(row)
    return rows
