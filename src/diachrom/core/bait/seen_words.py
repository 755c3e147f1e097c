"""What is seen of a bait, in words: its colours by place, and its surface."""

import numpy as np

from diachrom.core.bait.picture import Picture
from diachrom.core.bait.shading import TURNED
from diachrom.core.film.cell_stacks import seen_weights
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.names import name
from diachrom.words import say

FACING, AT_FLASH = 2, 0  # of the picture's angles
ALONG = slice(2, 4)  # fifths of the body, where a bait is looked at first
FLASHES = 18.0  # of lightness, from turned away to the flash


def by_place(picture: Picture, *, sheen: float) -> str:
    """Back, flanks and belly, and whether it is matte, clear coated or flashing. `sheen` is what its surface mirrors
    any way, 0 under a clear coat."""
    v = picture.cells[1]
    around = {"back": (0, 0.06), "flank": (0.2, 0.3), "belly": (0.44, 0.5)}
    labs = {
        key: [_lab(picture, angle, round(low * v), round(high * v), sheen) for angle in (FACING, AT_FLASH, TURNED)]
        for key, (low, high) in around.items()
    }
    names = {key: name(each[0]) for key, each in labs.items()}
    if max(each[1][0] - each[2][0] for each in labs.values()) > FLASHES:
        surface = say("it flashes when it is turned")
    else:
        surface = say("matte") if sheen else say("under a gloss")
    if len(set(names.values())) == 1:
        return say("{colour} all over; {surface}", colour=names["flank"], surface=surface)
    return say("back {back}, flanks {flank}, belly {belly}; {surface}", surface=surface, **names)


def _lab(picture: Picture, angle: int, low: int, high: int, sheen: float) -> Floats:
    """(3,) of a part of its left side."""
    fifth = picture.cells[0] // 5
    along = slice(ALONG.start * fifth, ALONG.stop * fifth)
    factors = picture.factors[angle][:, along, low : max(high, low + 1)].mean(axis=(1, 2))
    return lab(np.maximum(seen_weights() @ factors + sheen, 0), under=light("D65"))
