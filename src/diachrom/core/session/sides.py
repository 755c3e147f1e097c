"""Both sides of a bait from two photos: where they differ most, and in words."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.zones import BY_HEIGHT
from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import linear_to_lab
from diachrom.core.light.words import difference
from diachrom.words import capitalized, quantity, say

ALONG = (
    (0.22, say("at the head")),
    (0.45, say("behind the gill")),
    (0.70, say("in the middle")),
    (0.88, say("before the tail")),
)
LAST = say("at the tail")
LEAST_CELLS = 12  # pixels of a zone that is told
SAME_DE = 2.0  # two photos of one side differ by about so much


@dataclass(frozen=True)
class Apart:
    """A zone of the bait on both sides."""

    words: str  # "the back, in the middle"
    place: tuple[float, float]  # of its middle: from nose to tail, from the picture's top
    delta_e: float
    tells: str  # how the right side looks beside the left one

    @property
    def same(self) -> bool:
        """Whether an eye would call them the same."""
        return self.delta_e <= SAME_DE


def zones_in(inside: Bools) -> dict[str, Bools]:
    """The zones of a bait, by their words: pixels (row, column) of each that is large enough to be told."""
    rows, columns = np.nonzero(inside)
    if not len(rows):
        return {}
    top = np.where(inside.any(0), inside.argmax(0), 0)
    bottom = np.where(inside.any(0), inside.shape[0] - 1 - inside[::-1].argmax(0), 1)
    height = (rows - top[columns]) / np.maximum(bottom[columns] - top[columns], 1)
    first, last = columns.min(), columns.max()
    u = (columns - first) / max(last - first, 1)
    across = np.searchsorted([limit for limit, _ in BY_HEIGHT], height)
    along = np.searchsorted([limit for limit, _ in ALONG], u)
    found = {}
    for a, high in enumerate([words for _, words in BY_HEIGHT]):
        for b, far in enumerate([*(words for _, words in ALONG), LAST]):
            own = (across == a) & (along == b)
            if own.sum() >= LEAST_CELLS:
                zone = np.zeros_like(inside)
                zone[rows[own], columns[own]] = True
                found[say("the {high}, {far}", high=high, far=far)] = zone
    return found


def compared(left: Floats, right: Floats, inside: Bools) -> list[Apart]:
    """Two pictures (row, column, 3) of linear light, nose to the left in both and each balanced by its own grey patch
    -> zones of the bait, the most different first. Zones are compared by their means: two hands hold a bait a little
    otherwise."""
    found = []
    for words, zone in zones_in(inside).items():
        one, two = (linear_to_lab(side[zone].mean(axis=0)) for side in (left, right))
        rows, columns = np.nonzero(zone)
        place = (float(columns.mean()) / inside.shape[1], float(rows.mean()) / inside.shape[0])
        found.append(Apart(words, place, float(delta_e(one, two)), difference(one, two)))
    return sorted(found, key=lambda zone: -zone.delta_e)


def in_words(zones: Sequence[Apart], most: int = 3) -> list[str]:
    """What is to be said of both sides, the worst first."""
    told = [
        say(
            "{place}: the right side is {tells} than the left one, dE {delta_e}.",
            place=capitalized(zone.words),
            tells=zone.tells,
            delta_e=quantity(zone.delta_e, ".1f"),
        )
        for zone in zones[:most]
        if not zone.same
    ]
    if told:
        return told
    worst = zones[0].delta_e if zones else 0.0
    return [
        say("Both sides are the same as far as two photos can tell: dE {worst} at most.", worst=quantity(worst, ".1f"))
    ]
