"""Plain names for colours: what a painter would call it, from L*, C*, h. Ranges are this project's own judgement."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lch

GREY_BELOW = 5.0  # chroma
TINTED_BELOW = 13.0


@dataclass(frozen=True)
class Hue:
    """A stretch of the hue circle up to `until`, with words for dark and pale colours where people have them."""

    until: float
    word: str
    dark: str | None = None  # below dark_below in lightness
    dark_below: float = 0.0
    pale: str | None = None  # above pale_above in lightness and below pale_chroma in chroma
    pale_above: float = 100.0
    pale_chroma: float = 45.0


HUES = tuple(
    Hue(*row)
    for row in (
        (14, "crimson", "wine red", 32, "rose pink", 62, 60),
        (34, "red", "brick red", 36, "pink", 64, 60),
        (42, "warm red", "brick red", 36, "salmon pink", 64, 60),
        (54, "red orange", "red brown", 44, "salmon", 70, 50),
        (70, "warm orange", "brown", 48, "tan", 68, 40),
        (80, "orange", "brown", 52, "sand", 72, 40),
        (88, "amber", "olive brown", 52, "cream", 80, 40),
        (98, "yellow", "olive", 62, "cream", 84, 40),
        (108, "lemon yellow", "olive", 62, "pale lemon", 86, 40),
        (122, "green yellow", "olive green", 60),
        (136, "yellow green", "moss green", 46),
        (160, "green", "forest green", 34),
        (184, "sea green", "bottle green", 34),
        (212, "turquoise", "teal", 34),
        (236, "turquoise blue", "petrol blue", 36, "ice blue", 78, 26),
        (262, "sky blue", "ink blue", 30, "ice blue", 80, 24),
        (284, "blue", "navy blue", 26, "light blue", 72, 40),
        (300, "violet blue", "navy blue", 22, "lavender", 66, 45),
        (318, "violet", "dark violet", 26, "lilac", 66, 45),
        (338, "purple", "plum", 30, "orchid", 66, 45),
        (352, "magenta", "plum", 30, "rose pink", 64, 55),
        (360, "crimson", "wine red", 32, "rose pink", 62, 60),
    )
)


def _grey(lightness: float) -> str:
    for above, word in ((94, "white"), (86, "off-white"), (70, "light grey"), (42, "grey"), (24, "dark grey")):
        if lightness > above:
            return word
    return "black" if lightness < 12 else "near black"


def name(lab: Floats) -> str:
    """(3,) Lab -> a plain name such as "strong warm orange"."""
    lightness, chroma, hue = lch(np.asarray(lab, dtype=np.float64)).tolist()
    return name_of(lightness, chroma, hue)


def name_of(lightness: float, chroma: float, angle: float) -> str:
    """L*, C* and h in degrees -> the same name."""
    if chroma < GREY_BELOW or lightness < 6:
        return _grey(lightness)
    hue = next(hue for hue in HUES if angle <= hue.until)
    if chroma < TINTED_BELOW:
        tint = "warm" if angle < 112 or angle > 330 else "cool"
        return f"{tint} {_grey(lightness)}" if lightness < 86 else f"{_grey(lightness)}, a breath of {hue.word}"
    if hue.dark is not None and lightness < hue.dark_below:
        how = "deep " if chroma > 38 else "very dark " if lightness < 18 else "dull " if chroma < 20 else ""
        return how + hue.dark.removeprefix("dark ")
    if hue.pale is not None and lightness > hue.pale_above and chroma < hue.pale_chroma:
        return hue.pale
    return f"{_how(lightness, chroma)} {hue.word}".strip()


def _how(lightness: float, chroma: float) -> str:
    """What stands before a hue's word."""
    if lightness > 100:
        return "glaring"
    if chroma > 62:
        return "strong"
    light, plain, dark = ("pale", "dull", "dark dull") if chroma < 28 else ("light", "", "dark")
    return light if lightness > 78 else dark if lightness < 40 else plain
