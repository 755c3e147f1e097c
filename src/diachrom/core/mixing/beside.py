"""A spray-out beside its prediction: field by field, and what one cause by itself would explain of the difference."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e, mean_delta_e
from diachrom.core.mixing.spray_outs import PER_PAINT, Places, Predictor, SprayOut

THINNEST, THICKEST = 0.33, 3.0  # as many times the film, or the strength, as is looked for
MOST_TILT = 0.4
TRIED = 61
EXPLAINS = 0.25  # of the difference, below which a cause is not worth naming


@dataclass(frozen=True, eq=False)
class FieldBeside:
    predicted: Floats  # (3,)
    measured: Floats  # (3,)
    delta_e: float
    words: str  # how the reading looks beside the prediction


@dataclass(frozen=True)
class Cause:
    """One thing that may have been otherwise, as it would fit best."""

    key: str  # "film", "strength", "hiding", "hue"
    value: float  # times as much; for the hue, how far absorption leans to long waves
    explains: float  # share of the difference, 0 to 1


@dataclass(frozen=True, eq=False)
class Beside:
    fields: Sequence[FieldBeside]
    delta_e: float  # the mean over the fields
    causes: Sequence[Cause]  # what explains most first; those that explain little are left out
    coats: float  # how many coats of the meant thickness it really was, by the film alone


def beside(card: SprayOut, paints: Sequence[Paint]) -> Beside:
    """A card with at least one field, beside what its paints' profiles predict."""
    places = Places(len(paints), 1 + max((part.bottle for part in card.parts), default=0), 1)
    predictor = Predictor(paints, [card], places)
    measured = np.array([field.lab for field in card.fields])
    as_meant = np.zeros(places.size)
    predicted = predictor.labs([(0, as_meant)])[0]
    far = delta_e(predicted, measured)
    whole = float(far.mean())
    times, tilts = np.geomspace(THINNEST, THICKEST, TRIED), np.linspace(-MOST_TILT, MOST_TILT, TRIED)
    own = sorted({part.paint for part in card.parts})
    ways = {
        "film": (np.log(times), [places.hand]),
        "strength": (np.log(times), [PER_PAINT * at for at in own]),
        "hiding": (np.log(times), [PER_PAINT * at + 1 for at in own]),
        "hue": (tilts, [PER_PAINT * at + 2 for at in own]),
    }
    causes, coats = [], float(card.coats)
    for key, (values, moved) in ways.items():
        rows = []
        for value in values:
            changed = as_meant.copy()
            changed[moved] = value
            rows.append((0, changed))
        left = np.array([float(mean_delta_e(seen, measured)) for seen in predictor.labs(rows)])
        best = int(np.argmin(left))
        explains = 1 - float(left[best]) / whole if whole > 0 else 0.0
        value = float(values[best] if key == "hue" else np.exp(values[best]))
        if key == "film":
            coats = card.coats * value
        if explains >= EXPLAINS:
            causes.append(Cause(key, value, explains))
    fields = [
        FieldBeside(one, two, float(step), words.difference(one, two))
        for one, two, step in zip(predicted, measured, far, strict=True)
    ]
    return Beside(fields, whole, sorted(causes, key=lambda cause: -cause.explains), coats)
