"""A dropper's volume from counted drops: mean, spread, how sure the mean is, and how many drops are enough.

A few weighings alone say little about the spread, so they are read together with what is usual for a dropper, which
counts as a few weighings of its own (a scaled inverse chi-squared prior) [gelman2013].
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix.spread import DROP_SIGMA
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

USUAL_WEIGHS = 4  # weighings that the usual spread is worth
WANTED = 0.03  # of the mean: nearer than a painter's own hand
STEP_ML = 0.01  # of a scale that shows hundredths of a gram
MOST_COUNTED = 500
# Student's t, two-sided 95 %, from 4 degrees of freedom on.
T95 = (2.776, 2.571, 2.447, 2.365, 2.306, 2.262, 2.228, 2.201, 2.179, 2.160, 2.145, 2.131, 2.120)
T95_MANY = 1.96


@dataclass(frozen=True)
class Counted:
    """Some drops and what they came to."""

    drops: int
    ml: float

    def __post_init__(self) -> None:
        if not 1 <= self.drops <= MOST_COUNTED:
            raise InvalidInput(
                say("Count 1 to {most_counted} drops, not {drops}.", most_counted=MOST_COUNTED, drops=self.drops),
                field="drops",
            )
        if not (math.isfinite(self.ml) and self.ml > 0):
            raise InvalidInput(
                say(
                    "{drops} drops must come to something, not {ml}.", drops=self.drops, ml=quantity(self.ml, "g", "ml")
                ),
                field="ml",
            )


@dataclass(frozen=True)
class DropVolume:
    """A dropper's drop, in ml."""

    mean_ml: float
    spread_ml: float  # one standard deviation of a single drop
    sure_ml: float  # half the width of the interval that holds the mean in 95 of 100 cases
    drops: int  # counted in all
    more_drops: int  # that make the mean sure within 3 %; 0 when it is


def drop_volume_from(counted: Sequence[Counted]) -> DropVolume:
    """Raises InvalidInput when nothing was counted."""
    if not counted:
        raise InvalidInput(say("Count some drops first."), field="drops")
    total = sum(one.drops for one in counted)
    mean = sum(one.ml for one in counted) / total
    squares = sum(one.drops * (one.ml / one.drops - mean) ** 2 for one in counted)
    freedom = USUAL_WEIGHS + len(counted) - 1
    variance = (USUAL_WEIGHS * (DROP_SIGMA * mean) ** 2 + squares) / freedom
    t = T95[freedom - 4] if freedom - 4 < len(T95) else T95_MANY
    reading = len(counted) * 2 * STEP_ML**2 / 12  # tare and weight are both rounded
    sure = t * math.sqrt(variance / total + reading / total**2)
    # Drops still wanted, if they come in one more weighing.
    wanted = (WANTED * mean / t) ** 2
    # variance / n + reading / n^2 = wanted, for n
    enough = (variance + math.sqrt(variance**2 + 4 * wanted * reading)) / (2 * wanted)
    return DropVolume(mean, math.sqrt(variance), sure, total, max(0, math.ceil(enough) - total))
