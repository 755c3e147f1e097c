"""Plain words for a colour difference: how much, and which way, as a painter would say it."""

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.words import listed, say

# Size of a CIEDE2000 difference, up to and including.
SIZES = ((4.0, say("a touch")), (9.0, say("somewhat")), (18.0, say("clearly")), (np.inf, say("far")))
CLOSENESS = (
    (1.0, say("the same side by side")),
    (2.5, say("nearly the same side by side")),
    (5.0, say("the same at arm's length")),
    (10.0, say("different at arm's length")),
    (np.inf, say("clearly different")),
)
SAME = 1.0
SHARE = 0.45  # a direction is named when it carries at least this share of the largest one
SAME_LAB = 0.05  # from view to view, where nothing turns
GREYISH = 8.0  # chroma below which a change of hue is told by a* and b* alone

# Going up in hue from here leads to the first word, going down to the second.
TOWARDS = (
    (45, say("yellower"), say("bluer")),
    (100, say("greener"), say("redder")),
    (190, say("bluer"), say("yellower")),
    (290, say("redder"), say("greener")),
    (360, say("yellower"), say("bluer")),
)


def closeness(difference: float) -> str:
    """A CIEDE2000 value -> how near two colours are, in words."""
    return next(words for limit, words in CLOSENESS if difference <= limit)


def difference(one: Floats, two: Floats) -> str:
    """How `two` looks beside `one`, both (3,) Lab: "a touch lighter and redder", or "the same side by side"."""
    one, two = np.asarray(one, dtype=np.float64), np.asarray(two, dtype=np.float64)
    size = float(delta_e(one, two))
    if size <= SAME:
        return closeness(size)
    # How far each way `two` lies from `one`, with the comparative, largest first.
    (l1, c1, h1), (l2, c2, h2) = lch(one), lch(two)
    ways = [(abs(l2 - l1), say("lighter") if l2 > l1 else say("darker"))]
    if min(c1, c2) < GREYISH:
        da, db = two[1:] - one[1:]
        ways += [
            (abs(da), say("redder") if da > 0 else say("greener")),
            (abs(db), say("yellower") if db > 0 else say("bluer")),
        ]
    else:
        turn = (h2 - h1 + 180) % 360 - 180
        arc = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(turn) / 2)
        up, down = next((up, down) for limit, up, down in TOWARDS if h1 <= limit)
        # The eye minds a step in chroma less than the same step in hue, the more so in strong colours.
        ways += [(abs(arc), up if arc > 0 else down)]
        ways += [(abs(c2 - c1) / (1 + 0.02 * max(c1, c2)), say("stronger") if c2 > c1 else say("duller"))]
    ways.sort(reverse=True)
    told = [word for amount, word in ways[:2] if amount >= SHARE * ways[0][0]]
    amount = next(word for limit, word in SIZES if size <= limit)
    return say("{amount} {ways}", amount=amount, ways=listed(told, " and "))


def turning(one: Floats, two: Floats) -> str:
    """The same of (view, 3) each: at the glance and turned away, where those are not the same story."""
    one, two = np.atleast_2d(one), np.atleast_2d(two)
    if all(np.ptp(side, axis=0).max() < SAME_LAB for side in (one, two)):
        return difference(one[0], two[0])
    glance, away = (difference(one[at], two[at]) for at in (0, -1))
    return (
        say("{glance} at every tilt", glance=glance)
        if glance == away
        else say("{glance} in the flash, {away} at the flop", glance=glance, away=away)
    )
