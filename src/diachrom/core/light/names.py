"""Plain names for colours: what a painter would call it, from L*, C*, h. Ranges are this project's own judgement."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import cache

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
        (14, say("crimson"), say("wine red"), 32, say("rose pink"), 62, 60),
        (34, say("red"), say("brick red"), 36, say("pink"), 64, 60),
        (42, say("warm red"), say("brick red"), 36, say("salmon pink"), 64, 60),
        (54, say("red orange"), say("red brown"), 44, say("salmon"), 70, 50),
        (70, say("warm orange"), say("brown"), 48, say("tan"), 68, 40),
        (80, say("orange"), say("brown"), 52, say("sand"), 72, 40),
        (88, say("amber"), say("olive brown"), 52, say("cream"), 80, 40),
        (98, say("yellow"), say("olive"), 62, say("cream"), 84, 40),
        (108, say("lemon yellow"), say("olive"), 62, say("pale lemon"), 86, 40),
        (122, say("green yellow"), say("olive green"), 60),
        (136, say("yellow green"), say("moss green"), 46),
        (160, say("green"), say("forest green"), 34),
        (184, say("sea green"), say("bottle green"), 34),
        (212, say("turquoise"), say("teal"), 34),
        (236, say("turquoise blue"), say("petrol blue"), 36, say("ice blue"), 78, 26),
        (262, say("sky blue"), say("ink blue"), 30, say("ice blue"), 80, 24),
        (284, say("blue"), say("navy blue"), 26, say("light blue"), 72, 40),
        (300, say("violet blue"), say("navy blue"), 22, say("lavender"), 66, 45),
        (318, say("violet"), say("dark violet"), 26, say("lilac"), 66, 45),
        (338, say("purple"), say("plum"), 30, say("orchid"), 66, 45),
        (352, say("magenta"), say("plum"), 30, say("rose pink"), 64, 55),
        (360, say("crimson"), say("wine red"), 32, say("rose pink"), 62, 60),
    )
)
GREYS = (
    (94, say("white"), say("warm white"), say("cool white")),
    (86, say("off-white"), say("warm off-white"), say("cool off-white")),
    (70, say("light grey"), say("warm light grey"), say("cool light grey")),
    (42, say("grey"), say("warm grey"), say("cool grey")),
    (24, say("dark grey"), say("warm dark grey"), say("cool dark grey")),
    (12, say("near black"), say("warm near black"), say("cool near black")),
    (-1, say("black"), say("warm black"), say("cool black")),
)


HOW: dict[str, Callable[[str], str]] = {
    "deep": lambda hue: say("deep {hue}", hue=hue),
    "very dark": lambda hue: say("very dark {hue}", hue=hue),
    "dull": lambda hue: say("dull {hue}", hue=hue),
    "glaring": lambda hue: say("glaring {hue}", hue=hue),
    "strong": lambda hue: say("strong {hue}", hue=hue),
    "pale": lambda hue: say("pale {hue}", hue=hue),
    "dark dull": lambda hue: say("dark dull {hue}", hue=hue),
    "light": lambda hue: say("light {hue}", hue=hue),
    "dark": lambda hue: say("dark {hue}", hue=hue),
}


@cache
def _with(how: str, hue: str) -> str:
    return HOW[how](hue)


def _grey(lightness: float, tint: int = 0) -> str:
    """`tint` is 1 for a warm, 2 for a cool one."""
    return next(words[tint] for above, *words in GREYS if lightness > above or above < 0)


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
        if lightness >= 86:
            return say("{grey}, a breath of {hue}", grey=_grey(lightness), hue=hue.word)
        return _grey(lightness, 1 if angle < 112 or angle > 330 else 2)
    if hue.dark is not None and lightness < hue.dark_below:
        word = hue.word if hue.dark.startswith("dark ") else hue.dark
        if chroma > 38:
            return _with("deep", word)
        if lightness < 18:
            return _with("very dark", word)
        return _with("dull", word) if chroma < 20 else word
    if hue.pale is not None and lightness > hue.pale_above and chroma < hue.pale_chroma:
        return hue.pale
    if lightness > 100:
        return _with("glaring", hue.word)
    if chroma > 62:
        return _with("strong", hue.word)
    if chroma < 28:
        if lightness > 78:
            return _with("pale", hue.word)
        return _with("dark dull", hue.word) if lightness < 40 else _with("dull", hue.word)
    if lightness > 78:
        return _with("light", hue.word)
    return _with("dark", hue.word) if lightness < 40 else hue.word
