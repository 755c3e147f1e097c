"""Where on a bait something went wrong: a side, and a spot on it."""

import math
from dataclasses import dataclass

from diachrom.core.session.script import SIDES
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

LEAST_MM, MOST_MM, USUAL_MM = 1.0, 80.0, 6.0


@dataclass(frozen=True)
class Spot:
    """A spot: u from nose to tail, v from spine 0 to belly 0.5, how wide in mm."""

    side: str
    u: float
    v: float
    wide_mm: float = USUAL_MM

    def text(self) -> str:
        """As an event keeps it."""
        return f"{self.side} {self.u:.3f} {self.v:.3f} {self.wide_mm:g}"

    def words(self, length_mm: float) -> str:
        """ "left side, 46 mm from the nose, high on the flank" """
        height = next(words for most, words in HEIGHTS if self.v <= most)
        from_nose = quantity(self.u * length_mm, ".0f", "mm")
        return say("{side}, {along} from the nose, {height}", side=SIDES[self.side], along=from_nose, height=height)


# Where one says it in words.
ZONES = {
    "head": (say("the head"), 0.13, 0.22),
    "back": (say("the back"), 0.5, 0.05),
    "flank": (say("the flank"), 0.5, 0.23),
    "belly": (say("the belly"), 0.5, 0.44),
    "tail": (say("before the tail"), 0.86, 0.23),
}
HEIGHTS = (
    (0.1, say("on the back")),
    (0.2, say("high on the flank")),
    (0.3, say("on the middle of the flank")),
    (0.4, say("low on the flank")),
    (0.5, say("on the belly")),
)


def read(text: str) -> Spot | None:
    """What an event keeps, None for "". Raises InvalidInput for what is no spot, or lies beside the bait."""
    if not text:
        return None
    try:
        side, along, around, wide = text.split()
        u, v, wide_mm = float(along), float(around), float(wide)
    except ValueError:
        raise InvalidInput(say("Touch the place on the picture again."), field="place") from None
    lies = 0 <= u <= 1 and 0 <= v <= 0.5 and LEAST_MM <= wide_mm <= MOST_MM
    if side not in SIDES or not lies or not math.isfinite(u + v + wide_mm):
        raise InvalidInput(say("Touch the place on the picture again."), field="place")
    return Spot(side, u, v, wide_mm)
