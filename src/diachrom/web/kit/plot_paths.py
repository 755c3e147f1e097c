"""Two small plots side by side for the path of a colour: a* against b*, and the lightness step by step."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix import prediction
from diachrom.web.kit.plot import WIDTH, Curve, Dot
from diachrom.web.kit.swatches import swatch

ROOM = 1.15
LEAST = 6.0  # units of Lab across, so that a small step stays small
EDGE, GAP = 12.0, 30.0
HEIGHT, TOP, BOTTOM = 98, 8, 18
HIGH = HEIGHT - TOP - BOTTOM
WIDE_L = WIDTH - 2 * EDGE - GAP - HIGH


def dot(lab: Sequence[float], at: tuple[float, float], *, chosen: bool = False) -> Dot:
    """A dot at a place."""
    shown = swatch(prediction.colour_of(lab))
    return Dot(*at, shown.fill, shown.p3, chosen)


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
        """Axes around these points, with room for so many steps."""
        (low_a, high_a), (low_b, high_b) = ((min(side), max(side)) for side in zip(*ab, strict=True))
        half = ROOM * max(high_a - low_a, high_b - low_b, LEAST) / 2
        middle, span = (max(lightness) + min(lightness)) / 2, max(max(lightness) - min(lightness), LEAST) * ROOM / 2
        return cls(
            a=(low_a + high_a) / 2,
            b=(low_b + high_b) / 2,
            half=half,
            low=middle - span,
            high=middle + span,
            steps=steps,
        )

    def in_ab(self, lab: Sequence[float]) -> tuple[float, float]:
        """Where a colour lies by its a* and b*."""
        x = EDGE + HIGH * (lab[1] - self.a + self.half) / (2 * self.half)
        y = TOP + HIGH * (self.b + self.half - lab[2]) / (2 * self.half)
        return round(x, 1), round(y, 1)

    def in_l(self, lab: Sequence[float], step: int) -> tuple[float, float]:
        """Where a step lies by its lightness."""
        x = EDGE + HIGH + GAP + WIDE_L * step / self.steps
        return round(x, 1), round(TOP + HIGH * (self.high - lab[0]) / (self.high - self.low), 1)

    def way(self, labs: Sequence[Sequence[float]]) -> list[Curve]:
        """The path through these colours in both plots; the first one has no mark of its own."""
        curves = []
        for at in ([self.in_ab(lab) for lab in labs], [self.in_l(one, step) for step, one in enumerate(labs)]):
            dots = [dot(one, where) for one, where in zip(labs[1:], at[1:], strict=True)]
            curves.append(Curve("", 0, "M" + " L".join(f"{x} {y}" for x, y in at), dots))
        return curves

    def aim(self, lab: Sequence[float]) -> Curve:
        """A ring in one plot, dashes across the other."""
        x, y = self.in_l(lab, 0)
        ring = [dot(lab, self.in_ab(lab), chosen=True)]
        return Curve("", 0, f"M{x} {y} H{self.in_l(lab, self.steps)[0]}", ring, dashed=True)

    middle_ab = EDGE + HIGH / 2
    middle_l = EDGE + HIGH + GAP + WIDE_L / 2
