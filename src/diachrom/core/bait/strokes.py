"""Strokes of an airbrush over the skin: what a path, drawn so fast, leaves.

Paint lands in a soft disc that is carried along; where the hand is slow more of it lies. A coat's film is what lies in
the middle of a straight stroke at the usual speed.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.bait.surface import Surface
from diachrom.core.light.bands import Floats
from diachrom.errors import InvalidInput
from diachrom.words import say

USUAL_MM_S = 40.0  # of the hand
CLOSE_MM, SPREAD = 2.5, 0.2  # a disc's width from near with a nozzle of 0.3 mm; by the distance
CLOSE_UP_MM = 15.0  # from where a line is drawn
USUAL_NOZZLE_MM, USUAL_BAR = 0.3, 1.4
WIDENS = 0.25  # power of the pressure by which a disc is wider
MOST_STROKES, MOST_POINTS, LONGEST_S = 400, 60, 120.0
LEAST_S = 0.1  # of a line that is typed
STEP_U, STEP_V = 0.05, 0.06  # a stretch of a path is taken as straight, of the length and of the girth
ACROSS = 16 / (5 * np.pi)  # of the disc through its middle, times its radius

Point = tuple[float, float, float]  # u from nose to tail, v around the girth (it may run past the spine), seconds


@dataclass(frozen=True)
class Stroke:
    """A path of the airbrush over the skin. It is kept by shares of the bait, so that it moves with its size."""

    points: tuple[Point, ...]


def disc_mm(nozzle_mm: float, distance_mm: float, pressure_bar: float) -> float:
    """How wide the disc is in which paint lands, mm."""
    near = CLOSE_MM * nozzle_mm / USUAL_NOZZLE_MM
    return max(near, SPREAD * distance_mm) * float((pressure_bar / USUAL_BAR) ** WIDENS)


def drawn(points: Sequence[Sequence[float]]) -> Stroke:
    """A stroke as a hand drew it, (u, v, s) each: v without a jump at the spine, time that runs on, and no more points
    than are needed. Raises InvalidInput."""
    try:
        given = np.array(points, dtype=np.float64).reshape(-1, 3)
    except (ValueError, TypeError, OverflowError):
        given = np.full((1, 3), np.nan)
    if not len(given) or not np.isfinite(given).all():
        raise InvalidInput(say("A stroke is places on the bait with their times: draw it again."), field="points")
    if abs(given[:, :2]).max() > 3 or np.ptp(given[:, 2]) > LONGEST_S:
        raise InvalidInput(
            say("A stroke lies on the bait, and takes two minutes at most: draw it again."), field="points"
        )
    if len(given) > MOST_POINTS:
        given = given[np.unique(np.linspace(0, len(given) - 1, MOST_POINTS).round().astype(int))]
    given[:, 1] = np.unwrap(given[:, 1], period=1.0)
    given[:, 1] -= np.floor(given[0, 1])
    given[:, 2] = np.maximum.accumulate(given[:, 2] - given[0, 2])
    return Stroke(tuple((round(u, 4), round(v, 4), round(s, 3)) for u, v, s in given.tolist()))


def straight(surface: Surface, start: tuple[float, float], end: tuple[float, float]) -> Stroke:
    """From place to place at the usual speed: mm along the bait from its nose, and around it from the spine."""
    long, girths = surface.length_mm, surface.girths_mm
    girth = [float(girths[min(int(along / long * len(girths)), len(girths) - 1)]) for along, _ in (start, end)]
    (u0, v0), (u1, v1) = ((along / long, around / g) for (along, around), g in zip((start, end), girth, strict=True))
    seconds = float(np.hypot((u1 - u0) * long, (v1 - v0) * girth[0])) / USUAL_MM_S
    return drawn([(u0, v0, 0.0), (u1, v1, max(seconds, LEAST_S))])


def flow(disc: float) -> float:
    """Of a coat's film, how much comes into the middle of a disc that stands each second."""
    return USUAL_MM_S / ACROSS * 3 / (np.pi * disc / 2)


def share(strokes: Sequence[Stroke], surface: Surface, disc: float, *, mirrored: bool) -> Floats:
    """(u, v) shares of a coat's film that strokes leave together; one that is mirrored is done again on the other side.

    Parameters
    ----------
    disc : how wide paint lands, mm.
    """
    found, girths = np.zeros(surface.cells), tuple(surface.girths_mm.tolist())
    for stroke in strokes:
        first, rows = _laid(stroke, surface.cells, surface.length_mm, girths, disc)
        # What is drawn along the spine is there on both sides already.
        found[first : first + len(rows)] += np.maximum(rows, rows[:, ::-1]) if mirrored else rows
    return found


@lru_cache(maxsize=512)
def _laid(
    stroke: Stroke, cells: tuple[int, int], length_mm: float, girths: tuple[float, ...], disc: float
) -> tuple[int, Floats]:
    """The first row of cells that one stroke meets, and what lies on it and those behind it."""
    count_u, count_v = cells
    girth, radius = np.array(girths), disc / 2
    points = np.array(stroke.points)
    if len(points) == 1:
        points = np.repeat(points, 2, axis=0)
    # Stretches that are taken as straight, in one list: (stretch, 3).
    step = np.abs(np.diff(points[:, :2], axis=0)) / (STEP_U, STEP_V)
    pieces = np.maximum(np.ceil(step.max(axis=1) - 1e-9), 1).astype(int)
    at = np.concatenate([k + np.arange(count) / count for k, count in enumerate(pieces)] + [[len(pieces)]])
    path = np.stack([np.interp(at, np.arange(len(points)), values) for values in points.T], axis=1)
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
    b = np.maximum(1 - (x**2 + y**2 - along**2) / radius**2, 0.0)  # of the chord's middle
    chord = radius * np.sqrt(b)
    low, high = np.clip(-along, -chord, chord), np.clip(long - along, -chord, chord)

    def integral(t: Floats) -> Floats:
        return b**2 * t - 2 * b * t**3 / (3 * radius**2) + t**5 / (5 * radius**4)

    moving = (integral(high) - integral(low)) / long
    tapped = np.maximum(1 - (x**2 + y**2) / radius**2, 0.0) ** 2
    return np.where(still, tapped, moving)
