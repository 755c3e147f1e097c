"""Glow as the eye has it in the dark: how bright, for how long, and how many coats are worth spraying."""

from collections.abc import Sequence

import numpy as np

from diachrom.core.film.paint import Glow
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lch
from diachrom.core.light.lights import light
from diachrom.core.light.names import name_of
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.strip import Over, strip
from diachrom.words import say

SEEN_L = 3.0  # L* against a lit white, at which a bait's outline is lost: this project's own judgement
BRIGHT_L, DIM_L, FAINT_L = 45.0, 20.0, 9.0
HUE_L, HUE_C = 72.0, 50.0  # at which a hue of light is named
MOST_COATS, GAIN = 12, 0.05  # of a coat more, below which it is not worth spraying
LONGEST_MIN = 24 * 60.0


def called(lab: Floats) -> str:
    """(3,) Lab in the dark -> "bright sky blue", "dim green", "no light"."""
    lightness, chroma, hue = lch(np.asarray(lab, dtype=np.float64)).tolist()
    if lightness < SEEN_L:
        return say("no light that is seen")
    colour = name_of(HUE_L, HUE_C, hue) if chroma > SEEN_L else say("white")
    if lightness >= BRIGHT_L:
        return say("bright {colour}", colour=colour)
    if lightness >= DIM_L:
        return colour
    return say("dim {colour}", colour=colour) if lightness >= FAINT_L else say("faint {colour}", colour=colour)


def luminance(lightness: float) -> float:
    """Y of an L*, 1 for a lit white [cie15]."""
    return ((lightness + 16) / 116) ** 3 if lightness > 8 else lightness / 903.3


def seen_for(powders: Sequence[Glow], lightness: float, minutes: float) -> float:
    """Minutes in the dark until it is lost to the eye, 0 where it is already.

    Parameters
    ----------
    powders : in the mix; of several the one that lasts longest tells.
    lightness : L* that it has now.
    minutes : since the light went out.
    """
    now, least = luminance(lightness), luminance(SEEN_L)
    if not powders or now <= least:
        return 0.0
    found = []
    for powder in powders:
        left = powder.left_after(minutes) * least / now
        # (1 + t / half) ** -decay = left
        found.append(powder.half_minutes * (left ** (-1 / powder.decay) - 1))
    return min(max(found), LONGEST_MIN)


def worth_spraying(cup: Cup, film_um: float, over: Over) -> int:
    """Coats after which one more makes it hardly brighter when the lights go out; MOST_COATS where each does."""
    patches = (
        strip(cup, film_um=film_um, coats=MOST_COATS, over=[over], sheen=0.0, under=light("dark@0")).columns[0].patches
    )
    made = [luminance(float(patch.diffuse.lab[0])) for patch in patches]
    return next((n for n in range(1, MOST_COATS) if made[n] < (1 + GAIN) * made[n - 1]), MOST_COATS)
