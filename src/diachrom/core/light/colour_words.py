"""The way back from a colour's plain name to a colour: "dark olive" -> the middle of what would be called that."""

from functools import lru_cache

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lch
from diachrom.core.light.names import name_of
from diachrom.core.light.screen import shown

# Words that say which part of a name's region is meant: (place in L*, C*, h, which end).
SHIFTS = {
    "dark": (0, -1),
    "deep": (0, -1),
    "light": (0, 1),
    "pale": (0, 1),
    "bright": (1, 1),
    "strong": (1, 1),
    "vivid": (1, 1),
    "dull": (1, -1),
    "muted": (1, -1),
    "soft": (1, -1),
}
OTHER_WORDS = {"gray": "grey", "gold": "amber", "silver": "grey", "cyan": "turquoise", "rose": "pink", "lime": "yellow"}
STRONG = 62.0  # chroma of a hue that has strong examples
QUIET = {"pale", "dull", "muted", "soft"}
SHARE = 0.3  # of the region, towards the end that is meant
FILLERS = {"a", "breath", "of", "very", "near", "glaring"}


@lru_cache(maxsize=1)
def _named() -> tuple[Floats, list[tuple[str, ...]]]:
    """Colours that a screen can show, all over: (n, 3) Lab, and the words of each one's name."""
    axes = np.meshgrid(np.arange(6.0, 99, 4), np.arange(0.0, 96, 6), np.arange(0.0, 360, 6), indexing="ij")
    light, chroma, hue = (axis.ravel() for axis in axes)
    angle = np.radians(hue)
    points = np.stack([light, chroma * np.cos(angle), chroma * np.sin(angle)], axis=-1)
    inside = np.array([one.in_gamut for one in shown(points)])
    points = points[inside]
    words = [
        tuple(word for word in name_of(*row).replace(",", "").split() if word not in FILLERS)
        for row in lch(points).tolist()
    ]
    return points, words


@lru_cache(maxsize=1)
def vocabulary() -> frozenset[str]:
    """Every word that says something about a colour."""
    return frozenset().union(*_named()[1], SHIFTS, OTHER_WORDS)


@lru_cache(maxsize=1024)
def colour_of(words: tuple[str, ...]) -> Floats | None:
    """Words of the vocabulary -> (3,) Lab in the middle of what they mean; None when they mean no colour together. It
    is handed out again: not to be changed."""
    spoken = [OTHER_WORDS.get(word, word) for word in words]
    hues = [word for word in spoken if word not in SHIFTS]
    points, names = _named()
    having = [index for index, name in enumerate(names) if set(name).issuperset(hues)]
    # A name is what its last word says: an olive brown is a brown, and no olive.
    region = points[[at for at in having if not hues or names[at][-1] in hues] or having]
    if not len(region) or not spoken:
        return None
    chroma = lch(region)[:, 1]
    if chroma.max() > STRONG and not any(word in QUIET for word in spoken):
        # Who says "orange" means an orange orange, not one of the many dull ones.
        region = region[chroma >= np.quantile(chroma, 0.7)]
    for word in spoken:
        if word in SHIFTS:
            axis, end = SHIFTS[word]
            order = np.argsort(end * -lch(region)[:, axis], kind="stable")
            region = region[order[: max(1, round(SHARE * len(order)))]]
    return np.asarray(region.mean(axis=0))
