"""What strokes leave on the skin. Of the airbrush: paint lands in a soft disc that is carried along; where the hand is
slow more of it lies. A coat's film is what lies in the middle of a straight stroke at the usual speed.
"""

from collections.abc import Sequence
from functools import lru_cache
from itertools import pairwise

import numpy as np

from diachrom.core.bait import marks
from diachrom.core.bait.stroke import AIRBRUSH, TOOLS, Stroke, drawn
from diachrom.core.bait.surface import Surface
from diachrom.core.light.bands import Floats

USUAL_MM_S = 40.0  # of the hand
CLOSE_MM, SPREAD = 2.5, 0.2  # a disc's width from near with a nozzle of 0.3 mm; by the distance
CLOSE_UP_MM, CLOSE_UP_BAR = 15.0, 1.0  # from where a line is drawn, and with how much air
USUAL_NOZZLE_MM, USUAL_BAR = 0.3, 1.4
WIDENS = 0.25  # power of the pressure by which a disc is wider
LEAST_S = 0.1  # of a line that is typed
ACROSS = 16 / (5 * np.pi)  # of the disc through its middle, times its radius


def disc_mm(nozzle_mm: float, distance_mm: float, pressure_bar: float) -> float:
    """How wide the disc is in which paint lands, mm."""
    near = CLOSE_MM * nozzle_mm / USUAL_NOZZLE_MM
    return max(near, SPREAD * distance_mm) * float((pressure_bar / USUAL_BAR) ** WIDENS)


def straight(
    surface: Surface,
    start: tuple[float, float],
    end: tuple[float, float],
    tool: str = AIRBRUSH.key,
    size_mm: float | None = None,
) -> Stroke:
    """From place to place at the usual speed: mm along the bait from its nose, and around it from the spine. Marks that
    have no path lie at both. Raises InvalidInput."""
    long, girths = surface.length_mm, surface.girths_mm
    girth = [float(girths[min(int(along / long * len(girths)), len(girths) - 1)]) for along, _ in (start, end)]
    (u0, v0), (u1, v1) = ((along / long, around / g) for (along, around), g in zip((start, end), girth, strict=True))
    seconds = float(np.hypot((u1 - u0) * long, (v1 - v0) * girth[0])) / USUAL_MM_S
    if tool in TOOLS and not TOOLS[tool].path:
        return drawn([(u0, v0, 1.0), (u1, v1, 1.0)][: 1 if start == end else 2], tool, size_mm=size_mm)
    return drawn([(u0, v0, 0.0), (u1, v1, max(seconds, LEAST_S))], tool, size_mm=size_mm)


def flow(disc: float) -> float:
    """Of a coat's film, how much comes into the middle of a disc that stands each second."""
    return USUAL_MM_S / ACROSS * 3 / (np.pi * disc / 2)


def film_of(path: Floats, x: Floats, y: Floats, disc: float) -> Floats:
    """(n, m) shares of a coat's film at places x, y of a flat card, mm, that a path (point, 3) in mm and seconds
    leaves."""
    found = np.zeros(x.shape)
    points = np.repeat(path, 2, axis=0) if len(path) == 1 else path
    for (x0, y0, s0), (x1, y1, s1) in pairwise(points.tolist()):
        way = np.full((1, 1), x1 - x0), np.full((1, 1), y1 - y0)
        found += flow(disc) * (s1 - s0) * _along(x - x0, y - y0, way, disc / 2)
    return found


def share(strokes: Sequence[Stroke], surface: Surface, disc: float, *, mirrored: bool) -> Floats:
    """(u, v) shares of a coat's film that strokes leave together; one that is mirrored is done again on the other side.

    Parameters
    ----------
    disc : how wide paint lands, mm.
    """
    found, girths = np.zeros(surface.cells), tuple(surface.girths_mm.tolist())
    for stroke in strokes:
        if stroke.kind is AIRBRUSH:
            first, rows = _laid(stroke, surface.cells, surface.length_mm, girths, disc)
        else:
            first, rows = marks.laid(stroke, surface.cells, surface.length_mm, girths)
        # What is drawn along the spine is there on both sides already.
        found[first : first + len(rows)] += np.maximum(rows, rows[:, ::-1]) if mirrored else rows
    return found


@lru_cache(maxsize=2048)
def _laid(
    stroke: Stroke, cells: tuple[int, int], length_mm: float, girths: tuple[float, ...], disc: float
) -> tuple[int, Floats]:
    """The first row of cells that one stroke meets, and what lies on it and those behind it."""
    count_u, count_v = cells
    girth, radius = np.array(girths), disc / 2
    path = stroke.stretches
    first, last = path[:-1, :, None, None], path[1:, :, None, None]
    seconds = last[:, 2] - first[:, 2]
    # Cells around each stretch, as many for all: (stretch, row, column).
    middle, off = (first + last) / 2, abs(last - first) / 2
    high = int(np.ceil(2 * (off[:, 0].max() + radius / length_mm) * count_u)) + 2
    rows = np.round(middle[:, 0] * count_u).astype(int) - high // 2 + np.arange(high)[:, None]
    there = (rows >= 0) & (rows < count_u)
    rows = np.clip(rows, 0, count_u - 1)
    around = girth[rows]
    wide = int(min(np.ceil(2 * (off[:, 1].max() + radius / around.min()) * count_v) + 2, count_v))
    columns = np.round(middle[:, 1] * count_v).astype(int) - wide // 2 + np.arange(wide)
    x = ((rows + 0.5) / count_u - first[:, 0]) * length_mm
    y = ((columns + 0.5) / count_v - first[:, 1]) * around
    way = (last[:, 0] - first[:, 0]) * length_mm, (last[:, 1] - first[:, 1]) * around
    laid = flow(disc) * seconds * there * _along(x, y, way, radius)
    cell = rows * count_v + np.mod(columns, count_v)
    sums = np.bincount(cell.ravel(), weights=laid.ravel(), minlength=count_u * count_v)
    found = np.asarray(sums, dtype=np.float64).reshape(cells)
    met = np.flatnonzero(found.any(axis=1))
    if not len(met):
        return 0, found[:0]
    return int(met[0]), found[met[0] : met[-1] + 1].copy()


def _along(x: Floats, y: Floats, way: tuple[Floats, Floats], radius: float) -> Floats:
    """(..., n, m) at places x, y, of what comes into the middle of a disc (1 - r2/R2)2 that is carried evenly from 0
    along a way: in closed form."""
    long = np.hypot(way[0], way[1])  # (..., n, 1)
    still = long < 1e-6
    long = np.where(still, 1.0, long)
    along = (x * way[0] + y * way[1]) / long
    far, r2 = x * x + y * y, radius * radius
    b = np.maximum(1 - (far - along * along) / r2, 0.0)  # of the chord's middle
    chord = radius * np.sqrt(b)
    low, high = np.clip(-along, -chord, chord), np.clip(long - along, -chord, chord)

    def integral(t: Floats) -> Floats:
        t2 = t * t  # by Horner: powers of five are dear
        return t * (b * b - t2 * (b * (2 / (3 * r2)) - t2 / (5 * r2 * r2)))

    moving = (integral(high) - integral(low)) / long
    if not still.any():
        return moving
    tapped = np.maximum(1 - far / r2, 0.0) ** 2
    return np.where(still, tapped, moving)
