"""A small plot as the templates draw it: ink is grey, marks are the paint's colour."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

from diachrom.core.mix.prediction import Colour
from diachrom.words import say

WIDTH, HEIGHT = 330, 180
LEFT, RIGHT, TOP, BOTTOM = 74, 40, 10, 24
LABELS_APART = 12.0
NAMES = {"coats": say("coats"), "tilt": say("tilt"), "spectrum": say("spectrum")}


@dataclass(frozen=True)
class Dot:
    x: float
    y: float
    fill: str
    p3: str
    chosen: bool = False


@dataclass(frozen=True)
class Curve:
    label: str
    label_y: float
    path: str
    dots: Sequence[Dot] = ()
    dashed: bool = False


@dataclass(frozen=True)
class Plot:
    key: str
    title: str
    words: str  # for those who listen
    curves: Sequence[Curve]
    x_ticks: Sequence[tuple[float, str]]
    y_ticks: Sequence[tuple[float, str]]
    width: int = WIDTH
    height: int = HEIGHT
    left: int = LEFT
    right: int = WIDTH - RIGHT
    doubtful: Sequence[tuple[float, float]] = ()  # (x, width) of what is hatched
    top: int = TOP
    bottom: int = HEIGHT - BOTTOM

    @property
    def name(self) -> str:
        """What it is chosen by."""
        return NAMES.get(self.key, self.title)


@dataclass(frozen=True)
class Axes:
    """From values to places."""

    x_from: float
    x_to: float
    y_to: float
    y_from: float = 0.0
    width: int = WIDTH
    height: int = HEIGHT
    left: int = LEFT

    def x(self, value: float) -> float:
        """Where a value lies across, in the drawing's units."""
        share = (value - self.x_from) / (self.x_to - self.x_from)
        return round(self.left + (self.width - self.left - RIGHT) * share, 1)

    def y(self, value: float) -> float:
        """Where a value lies upwards, in the drawing's units."""
        share = (min(max(value, self.y_from), self.y_to) - self.y_from) / (self.y_to - self.y_from)
        return round(self.height - BOTTOM - (self.height - TOP - BOTTOM) * share, 1)

    def line(self, points: Iterable[tuple[float, float]]) -> str:
        """An SVG path through points given in values."""
        return "M" + " L".join(f"{self.x(x)} {self.y(y)}" for x, y in points)

    def plot(
        self,
        key: str,
        title: str,
        words: str,
        curves: Sequence[Curve],
        *,
        x_ticks: Sequence[tuple[float, str]],
        y_ticks: Sequence[tuple[float, str]],
    ) -> Plot:
        """A plot as large as these axes."""
        right, bottom = self.width - RIGHT, self.height - BOTTOM
        return Plot(
            key=key,
            title=title,
            words=words,
            curves=curves,
            x_ticks=x_ticks,
            y_ticks=y_ticks,
            width=self.width,
            height=self.height,
            left=self.left,
            right=right,
            bottom=bottom,
        )

    def dots(self, points: Iterable[tuple[float, Colour]], chosen: float | None = None) -> list[Dot]:
        """Marks at (x, the colour's lightness)."""
        return [
            Dot(self.x(x), self.y(colour.lch[0]), colour.shown.srgb, colour.shown.p3, x == chosen)
            for x, colour in points
        ]


def apart(curves: Sequence[Curve]) -> list[Curve]:
    """Move labels at the curves' beginnings so that none covers another."""
    ordered = sorted(curves, key=lambda curve: curve.label_y)
    tops, last = [], TOP - LABELS_APART
    for curve in ordered:
        last = max(curve.label_y, last + LABELS_APART)
        tops.append(last)
    placed: list[Curve] = []
    below = HEIGHT - BOTTOM + 2.0
    for curve, top in zip(reversed(ordered), reversed(tops), strict=True):
        below = min(top, below)
        placed.append(replace(curve, label_y=below))
        below -= LABELS_APART
    return placed[::-1]
