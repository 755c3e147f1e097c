"""A spray-out card beside its prediction: patch by patch, and what one cause by itself would explain of the
difference."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.cards.spray_out_cards import PER_PAINT, ParameterIndex, Predictor, TestCard
from diachrom.core.film.paint import GUESSED, Paint
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.spread import COAT_SIGMA, DROP_SIGMA, HIDING_SIGMA, HUE_SIGMA, SIDES

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
class Comparison:
    patches: Sequence[PatchBeside]
    delta_e: float  # the mean over the patches
    causes: Sequence[Cause]  # what explains most first; those that explain little are left out
    film: float  # how many times as thick as it was meant, by the film alone


def beside(card: TestCard, paints: Sequence[Paint]) -> Comparison:
    """A card with at least one patch, beside what its paints' profiles predict."""
    places = ParameterIndex(len(paints), 1 + max((part.bottle for part in card.parts), default=0), 1)
    times, tilts = np.log(np.geomspace(THINNEST, THICKEST, TRIED)), np.linspace(-MOST_TILT, MOST_TILT, TRIED)
    own = [places.of_paint(index) for index in sorted({part.paint for part in card.parts})]
    ways = [
        _Way("film", times, [places.hand], factor=True),
        _Way("strength", times, [strength for strength, _, _ in own], factor=True),
        _Way("hiding", times, [scattering for _, scattering, _ in own], factor=True),
        _Way("hue", tilts, [tilt for _, _, tilt in own], factor=False),
    ]
    # Corrections to both sides, as far as nine in ten stay: an uneven hand, a fat drop, a vague profile.
    moves = [(places.hand, COAT_SIGMA)]
    moves += [(places.bottle(at), DROP_SIGMA) for at in sorted({part.bottle for part in card.parts})]
    poured = {part.paint for part in card.parts}
    moves += [(PER_PAINT * at, paints[at].uncertainty) for at in sorted(poured) if paints[at].uncertainty > 0]
    for index in sorted(poured):
        if paints[index].uncertainty >= GUESSED:
            moves += [(PER_PAINT * index + 1, HIDING_SIGMA), (PER_PAINT * index + 2, HUE_SIGMA)]
    usual = []
    for place, sigma in moves:
        for side in SIDES:
            row = np.zeros(places.size)
            row[place] = side * sigma
            usual.append(row)
    rows = [np.zeros(places.size), *usual, *(row for way in ways for row in way.rows(places.size))]
    seen = Predictor(paints, [card], places).labs([(0, np.stack(rows))])[0]  # (row, patch, 3)
    predicted, shaken, tried = seen[0], seen[1 : 1 + len(usual)], seen[1 + len(usual) :]
    measured = np.array([patch.lab for patch in card.patches])
    far = delta_e(predicted, measured)
    whole = float(far.mean())
    left = delta_e(tried, measured).mean(axis=-1).reshape(len(ways), TRIED)
    causes = [way.told(one, whole) for way, one in zip(ways, left, strict=True)]
    spread = np.sqrt((delta_e(shaken, predicted) ** 2).sum(axis=0) / len(SIDES))  # (patch,)
    patches = [
        PatchBeside(one, two, float(step), float(around), words.difference(one, two))
        for one, two, step, around in zip(predicted, measured, far, spread, strict=True)
    ]
    explaining = sorted((one for one in causes if one.explains >= EXPLAINS), key=lambda cause: -cause.explains)
    return Comparison(patches, whole, explaining, next(one.value for one in causes if one.key == "film"))


@dataclass(frozen=True, eq=False)
class _Way:
    """One cause, and the corrections that it moves together."""

    key: str
    values: Floats  # (TRIED,) of each of them
    moved: Sequence[int]
    factor: bool  # the values are logarithms

    def rows(self, size: int) -> Iterator[Floats]:
        """Parameters for each of its steps."""
        for value in self.values:
            changed = np.zeros(size)
            changed[list(self.moved)] = value
            yield changed

    def told(self, left: Floats, whole: float) -> Cause:
        """`left` is the mean dE at each of the values."""
        best = int(np.argmin(left))
        value = float(np.exp(self.values[best]) if self.factor else self.values[best])
        return Cause(self.key, value, 1 - float(left[best]) / whole if whole > 0 else 0.0)
