"""Plain names for colours: what a painter would call it, from L*, C*, h. Ranges are this project's own judgement."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lch
from diachrom.words import say

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
        (14, "crimson", say("wine red"), 32, say("rose pink"), 62, 60),
        (34, "red", say("brick red"), 36, "pink", 64, 60),
        (42, say("warm red"), say("brick red"), 36, say("salmon pink"), 64, 60),
        (54, say("red orange"), say("red brown"), 44, "salmon", 70, 50),
        (70, say("warm orange"), "brown", 48, "tan", 68, 40),
        (80, "orange", "brown", 52, "sand", 72, 40),
        (88, "amber", say("olive brown"), 52, "cream", 80, 40),
        (98, "yellow", "olive", 62, "cream", 84, 40),
        (108, say("lemon yellow"), "olive", 62, say("pale lemon"), 86, 40),
        (122, say("green yellow"), say("olive green"), 60),
        (136, say("yellow green"), say("moss green"), 46),
        (160, "green", say("forest green"), 34),
        (184, say("sea green"), say("bottle green"), 34),
        (212, "turquoise", "teal", 34),
        (236, say("turquoise blue"), say("petrol blue"), 36, say("ice blue"), 78, 26),
        (262, say("sky blue"), say("ink blue"), 30, say("ice blue"), 80, 24),
        (284, "blue", say("navy blue"), 26, say("light blue"), 72, 40),
        (300, say("violet blue"), say("navy blue"), 22, "lavender", 66, 45),
        (318, "violet", say("dark violet"), 26, "lilac", 66, 45),
        (338, "purple", "plum", 30, "orchid", 66, 45),
        (352, "magenta", "plum", 30, say("rose pink"), 64, 55),
        (360, "crimson", say("wine red"), 32, say("rose pink"), 62, 60),
    )
)


def _grey(lightness: float) -> str:
    for above, word in (
        (94, "white"),
        (86, "off-white"),
        (70, say("light grey")),
        (42, "grey"),
        (24, say("dark grey")),
    ):
        if lightness > above:
            return word
    return "black" if lightness < 12 else say("near black")


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
        return (
            f"{tint} {_grey(lightness)}"
            if lightness < 86
            else say("{grey}, a breath of {word}", grey=_grey(lightness), word=hue.word)
        )
    if hue.dark is not None and lightness < hue.dark_below:
        how = "deep " if chroma > 38 else say("very dark ") if lightness < 18 else "dull " if chroma < 20 else ""
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
    light, plain, dark = ("pale", "dull", say("dark dull")) if chroma < 28 else ("light", "", "dark")
    return light if lightness > 78 else dark if lightness < 40 else plain
