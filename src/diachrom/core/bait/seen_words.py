"""What is seen of a bait, in words: its colours by place, and its surface."""

import numpy as np

from diachrom.core.bait.picture import Picture
from diachrom.core.bait.shading import TURNED
from diachrom.core.film.cell_stacks import seen_weights
from diachrom.core.film.surface import SATIN
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.names import name
from diachrom.words import say

FACING, AT_FLASH = 2, 0  # of the picture's angles
ALONG = slice(2, 4)  # fifths of the body, where a bait is looked at first
LEAST, APART, ROUNDS = 0.2, 25.0, 8  # share of the cells, and dE*ab, from which a part is said to have two colours
FLASHES = 18.0  # of lightness, from turned away to the flash


def by_place(picture: Picture, *, sheen: float) -> str:
    """Back, flanks and belly, and whether it is matte, clear coated or flashing. `sheen` is what its surface mirrors
    any way, 0 under a clear coat."""
    v = picture.cells[1]
    around = {"back": (0, 0.06), "flank": (0.2, 0.3), "belly": (0.44, 0.5)}
    rows = {key: slice(round(low * v), max(round(high * v), round(low * v) + 1)) for key, (low, high) in around.items()}
    names = {key: _named(_labs(picture, FACING, own, sheen)) for key, own in rows.items()}
    lightness = {
        angle: np.array([_labs(picture, angle, own, sheen)[:, 0].mean() for own in rows.values()])
        for angle in (AT_FLASH, TURNED)
    }
    if (lightness[AT_FLASH] - lightness[TURNED]).max() > FLASHES:
        surface = say("it flashes when it is turned")
    else:
        surface = say("under a gloss") if not sheen else say("satin") if sheen <= SATIN else say("matte")
    if len(set(names.values())) == 1:
        return say("{colour} all over; {surface}", colour=names["flank"], surface=surface)
    return say("back {back}, flanks {flank}, belly {belly}; {surface}", surface=surface, **names)


def _named(labs: Floats) -> str:
    """The colour of cells (cell, 3), or both where they are of two."""
    warm = labs[:, 0] + labs[:, 1:] @ np.array([0.5, 0.5])  # dark and cold ones against light and warm ones
    first = warm > np.median(warm)
    if 0 < first.sum() < len(first):
        for _ in range(ROUNDS):
            middles = labs[first].mean(axis=0), labs[~first].mean(axis=0)
            nearer = ((labs - middles[0]) ** 2).sum(axis=1) < ((labs - middles[1]) ** 2).sum(axis=1)
            if nearer.all() or not nearer.any():
                break
            first = nearer
        middles = labs[first].mean(axis=0), labs[~first].mean(axis=0)
        less = min(first.mean(), 1 - first.mean())
        if less > LEAST and np.linalg.norm(middles[0] - middles[1]) > APART:
            more, other = middles if first.mean() >= 0.5 else middles[::-1]
            if name(more) != name(other):
                return say("{colour} and {other}", colour=name(more), other=name(other))
    return name(labs.mean(axis=0))


def _labs(picture: Picture, angle: int, rows: slice, sheen: float) -> Floats:
    """(cell, 3) of a part of its left side."""
    fifth = picture.cells[0] // 5
    along = slice(ALONG.start * fifth, ALONG.stop * fifth)
    factors = picture.factors[angle][:, along, rows].reshape(seen_weights().shape[1], -1)
    return lab(np.maximum((seen_weights() @ factors).T + sheen, 0), under=light("D65"))
