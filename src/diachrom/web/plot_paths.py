"""Two small plots side by side for the path of a colour: a* against b*, and the lightness step by step."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.web.plot import WIDTH

ROOM = 1.15
LEAST = 6.0  # units of Lab across, so that a small step stays small
EDGE, GAP = 12.0, 30.0
HEIGHT, TOP, BOTTOM = 98, 8, 18
HIGH = HEIGHT - TOP - BOTTOM
WIDE_L = WIDTH - 2 * EDGE - GAP - HIGH


@dataclass(frozen=True)
class Around:
    """The square of a* and b* that holds some points, and the span of their lightness."""

    a: float
    b: float
    half: float
    low: float
    high: float
    steps: int

    @classmethod
    def of(cls, ab: Sequence[tuple[float, float]], lightness: Sequence[float], steps: int) -> "Around":
        (low_a, high_a), (low_b, high_b) = ((min(side), max(side)) for side in zip(*ab, strict=True))
        half = ROOM * max(high_a - low_a, high_b - low_b, LEAST) / 2
        middle, span = (max(lightness) + min(lightness)) / 2, max(max(lightness) - min(lightness), LEAST) * ROOM / 2
        return cls((low_a + high_a) / 2, (low_b + high_b) / 2, half, middle - span, middle + span, steps)

    def in_ab(self, lab: Sequence[float], step: int) -> tuple[float, float]:
        x = EDGE + HIGH * (lab[1] - self.a + self.half) / (2 * self.half)
        y = TOP + HIGH * (self.b + self.half - lab[2]) / (2 * self.half)
        return round(x, 1), round(y, 1)

    def in_l(self, lab: Sequence[float], step: int) -> tuple[float, float]:
        x = EDGE + HIGH + GAP + WIDE_L * step / self.steps
        return round(x, 1), round(TOP + HIGH * (self.high - lab[0]) / (self.high - self.low), 1)

    middle_ab = EDGE + HIGH / 2
    middle_l = EDGE + HIGH + GAP + WIDE_L / 2
