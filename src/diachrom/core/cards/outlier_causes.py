"""Why a card that fits nothing may not fit: other coats, a bottle that was not shaken, the wrong bottle."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.cards.spray_out_cards import PER_PAINT, ParameterIndex, Predictor, TestCard
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.words import say

THICKNESSES = np.geomspace(0.25, 4.0, 25)
THIN = np.geomspace(0.1, 0.8, 8)  # of a paint whose pigment stayed at the bottom
EXPLAINS = 0.5  # of the difference, below which a reason is none


@dataclass(frozen=True)
class Reason:
    """What may have happened, and the dE that would be left."""

    key: str  # "coats", "not shaken", "wrong bottle"
    left: float
    film: float = 1.0  # times as thick
    paint: int | None = None  # that was meant
    instead: int | None = None  # that was poured


Tried = tuple[Reason, TestCard, Floats]  # what is said, the card as it then was, the corrections


def reason(card: TestCard, paints: Sequence[Paint]) -> Reason | None:
    """The likeliest reason why a card lies so far off, None where none explains it. `paints` are all that may have
    been poured by mistake, those of the card among them, as they are believed to be."""
    places = ParameterIndex(len(paints), 1 + max((part.bottle for part in card.parts), default=0), 1)
    as_meant = np.zeros(places.size)
    tried = list(_thicker(card, as_meant, places))
    coloured = [at for at in sorted({part.paint for part in card.parts}) if not paints[at].thins]
    for index in coloured:
        tried += _weak(card, as_meant, index)
        others = [other for other, one in enumerate(paints) if other not in coloured and not one.thins]
        tried += [
            (Reason(say("wrong bottle"), 0.0, paint=index, instead=one), _swapped(card, index, one), as_meant)
            for one in others
        ]
    cards = [card, *(own for _, own, _ in tried)]
    predictor = Predictor(paints, cards, ParameterIndex(places.paints, places.bottles, len(cards)))
    more = np.zeros(len(cards) - 1)
    rows = [np.concatenate([own, more])[None] for own in (as_meant, *(row for _, _, row in tried))]
    measured = np.array([patch.lab for patch in card.patches])
    left = [float(mean_delta_e(seen[0], measured)) for seen in predictor.labs(list(enumerate(rows)))]
    best = int(np.argmin(left[1:]))
    if left[1 + best] > (1 - EXPLAINS) * left[0]:
        return None
    return replace(tried[best][0], left=left[1 + best])


def _thicker(card: TestCard, row: Floats, places: ParameterIndex) -> Iterator[Tried]:
    for times in THICKNESSES.tolist():
        yield Reason("coats", 0.0, film=times), card, _moved(row, [places.hand], times)


def _weak(card: TestCard, row: Floats, paint: int) -> Iterator[Tried]:
    for share in THIN.tolist():
        moved = _moved(row, [PER_PAINT * paint, PER_PAINT * paint + 1], share)
        yield Reason(say("not shaken"), 0.0, paint=paint), card, moved


def _swapped(card: TestCard, meant: int, poured: int) -> TestCard:
    return replace(card, parts=[replace(part, paint=poured) if part.paint == meant else part for part in card.parts])


def _moved(row: Floats, places: Sequence[int], times: float) -> Floats:
    found = row.copy()
    found[list(places)] = np.log(times)
    return found
