"""The plot of lightness against coats: how fast each ground goes, and where the cup would end."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.mixing.prediction import Colour
from diachrom.core.mixing.strip import Column, Strip
from diachrom.web.swatches import swatch

WIDTH, HEIGHT = 330, 180
LEFT, RIGHT, TOP, BOTTOM = 74, 40, 10, 24
BRIGHTEST = 120.0  # L*; a glance off bare foil goes beyond and is cut there


@dataclass(frozen=True)
class Dot:
    x: float
    y: float
    fill: str
    p3: str
    chosen: bool


@dataclass(frozen=True)
class Curve:
    label: str
    label_y: float
    path: str
    dots: Sequence[Dot]
    words: str


@dataclass(frozen=True)
class CoatsPlot:
    width: int
    height: int
    curves: Sequence[Curve]
    cup_y: float | None
    lines: Sequence[tuple[float, str]]  # height and lightness
    coats: Sequence[tuple[float, str]]  # place and count
    left: int
    right: int
    words: str


def _x(coats: int, most: int) -> float:
    return round(LEFT + (WIDTH - LEFT - RIGHT) * coats / most, 1)


def _y(lightness: float) -> float:
    share = min(max(lightness, 0.0), BRIGHTEST) / BRIGHTEST
    return round(HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * share, 1)


def _series(column: Column) -> list[tuple[str, list[Colour]]]:
    """A ground with a direction has two curves: its glance and its turned-away side."""
    patches = [column.bare, *column.patches]
    if not column.has_direction:
        return [(column.over.words, [patch.diffuse for patch in patches])]
    return [
        ("foil, glance", [patch.at_angle[0] for patch in patches]),
        ("foil, away", [patch.at_angle[-1] for patch in patches]),
    ]


def coats_plot(strip: Strip, *, ground: str, coats: int) -> CoatsPlot:
    """Curves for every ground of the strip; the dot of the chosen patch is marked."""
    most = len(strip.columns[0].patches)
    curves = []
    for column in strip.columns:
        for label, colours in _series(column):
            dots = []
            for at, colour in enumerate(colours):
                one = swatch(colour)
                chosen = column.over.key == ground and at == coats
                dots.append(Dot(_x(at, most), _y(float(colour.lab[0])), one.fill, one.p3, chosen))
            path = "M" + " L".join(f"{dot.x} {dot.y}" for dot in dots)
            words = f"{label} from {colours[0].lab[0]:.0f} to {colours[-1].lab[0]:.0f}"
            curves.append(Curve(label, dots[0].y, path, dots, words))
    return CoatsPlot(
        WIDTH,
        HEIGHT,
        _spread_labels(curves),
        _y(float(strip.cup.lab[0])) if strip.cup else None,
        [(_y(value), f"{value:.0f}") for value in (0.0, 50.0, 100.0)],
        [(_x(at, most), str(at)) for at in range(most + 1)],
        LEFT,
        WIDTH - RIGHT,
        "Lightness against coats: " + "; ".join(curve.words for curve in curves),
    )


def _spread_labels(curves: list[Curve], apart: float = 12.0) -> list[Curve]:
    """Move labels at the curves' beginnings so that none covers another."""
    placed: list[Curve] = []
    lowest = HEIGHT - BOTTOM + 2.0
    ordered = sorted(curves, key=lambda curve: curve.label_y)
    tops = []
    last = TOP - apart
    for curve in ordered:
        last = max(curve.label_y, last + apart)
        tops.append(last)
    below = lowest
    for curve, top in zip(reversed(ordered), reversed(tops), strict=True):
        below = min(top, below)
        placed.append(replace(curve, label_y=below))
        below -= apart
    return placed[::-1]
