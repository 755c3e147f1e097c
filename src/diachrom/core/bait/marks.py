"""What marks leave: dots, rings and scales where they are set, lines of a brush, scratches and trails along a path.
Each is looked at in mm on the skin, a few places to a cell; paint lies where the tool met it."""

from collections.abc import Callable
from functools import lru_cache

import numpy as np

from diachrom.core.bait.stroke import Stroke
from diachrom.core.light.bands import Floats

FINE = 4  # places a cell, each way
RING, LEAST_LINE_MM = 0.16, 0.2  # of its width: a ring's line
RAISED = 1.6  # of a coat, in the middle of a drop from a stylus
BRISTLES = 14  # of a dry brush, across
TRAIL_BREAKS = 0.45  # of its way, after which a trail breaks into drops

Stamp = Callable[[Floats, Floats, float], Floats]  # places in mm from its middle, towards the tail and up; its size
Along = Callable[[Floats, Floats, float, float], Floats]  # mm aside and along, how long the path is, its size


def _dot(x: Floats, y: Floats, size: float) -> Floats:
    return (np.hypot(x, y) < size / 2).astype(np.float64)


def _ring(x: Floats, y: Floats, size: float) -> Floats:
    line = max(RING * size, LEAST_LINE_MM)
    return (np.abs(np.hypot(x, y) - (size - line) / 2) < line / 2).astype(np.float64)


def _scale(x: Floats, y: Floats, size: float) -> Floats:
    """A crescent, open towards the nose."""
    outer, inner = np.hypot(x, y) < size / 2, np.hypot(x + 0.22 * size, y) < 0.52 * size
    return (outer & ~inner).astype(np.float64)


def _stylus(x: Floats, y: Floats, size: float) -> Floats:
    return np.asarray(RAISED * np.sqrt(np.maximum(1 - (x**2 + y**2) / (size / 2) ** 2, 0)))


def _swab(x: Floats, y: Floats, size: float) -> Floats:
    return np.asarray(0.8 * np.maximum(1 - (x**2 + y**2) / (size / 2) ** 2, 0) ** 0.7)


def _brush(aside: Floats, along: Floats, long: float, size: float) -> Floats:
    """Begins round, and ends in a point."""
    taper = np.sqrt(np.clip(along / size + 0.5, 0, 1)) * np.clip((long - along) / (2.5 * size) + 0.15, 0, 1)
    return (np.abs(aside) < size / 2 * taper).astype(np.float64)


def _scratch(aside: Floats, along: Floats, long: float, size: float) -> Floats:
    """Thin at both ends, and never quite straight."""
    wobble = 0.35 * size * (np.sin(along / (3.1 * size)) + 0.6 * np.sin(along / (1.3 * size) + 1.0))
    taper = np.sin(np.pi * np.clip(along / max(long, 1e-6), 0, 1)) ** 0.6
    return (np.abs(aside - wobble) < size / 2 * taper).astype(np.float64)


def _dry(aside: Floats, along: Floats, long: float, size: float) -> Floats:
    """Streaks of single bristles, that run out one after another."""
    chance = np.random.default_rng(41)
    loads, shake = chance.uniform(0.15, 1.0, BRISTLES), chance.uniform(0, 6.3, BRISTLES)
    across = aside / size + 0.5
    which = np.clip((across * BRISTLES).astype(int), 0, BRISTLES - 1)
    left = loads[which] - along / max(long, 1e-6) + 0.15 * np.sin(along / (0.4 * size) + shake[which])
    there = (np.abs(aside) < size / 2) & (along > 0) & (along < long)
    return np.asarray(there * np.clip(2.5 * left, 0, 1))


def _trail(aside: Floats, along: Floats, long: float, size: float) -> Floats:
    """Broad where it begins; then it gets thinner, and breaks into drops."""
    part = np.clip(along / max(long, 1e-6), 0, 1)
    pitch = 1.1 * size
    drops = 0.5 + 0.5 * np.cos(2 * np.pi * along / pitch)
    broken = np.clip((part - TRAIL_BREAKS) / (1 - TRAIL_BREAKS), 0, 1)
    wide = size * (1 - 0.65 * part) * (1 - np.minimum(1.6 * broken, 1) * (1 - drops))
    wide = wide * (1 + 0.12 * np.sin(along / (0.7 * size)))
    ends = (along >= -0.3 * size) & (along <= long)
    return (ends & (np.abs(aside) < wide / 2)).astype(np.float64)


STAMPS: dict[str, Stamp] = {"dot": _dot, "ring": _ring, "scale": _scale, "stylus": _stylus, "swab": _swab}
PATHS: dict[str, Along] = {"brush": _brush, "scratch": _scratch, "dry": _dry, "trail": _trail}


@lru_cache(maxsize=1024)
def laid(stroke: Stroke, cells: tuple[int, int], length_mm: float, girths: tuple[float, ...]) -> tuple[int, Floats]:
    """The first row of cells that marks meet, and what lies on it and those behind it: (row, v) shares of a coat.

    Parameters
    ----------
    stroke : of any tool but the airbrush.
    cells : of the skin, along and around.
    girths : mm around it, of each row of cells.
    """
    count_u, count_v = cells
    fine_u, fine_v = FINE * count_u, FINE * count_v
    girth = np.repeat(np.array(girths), FINE)
    # Rows of cells that it can meet.
    places = np.array(stroke.points)
    reach = stroke.size_mm * (1.0 if stroke.kind.path else max(float(places[:, 2].max()), 1.0)) / length_mm
    first, last = (
        min(max(round(float(u) * count_u), 0), count_u)
        for u in (places[:, 0].min() - reach - 2 / count_u, places[:, 0].max() + reach + 2 / count_u)
    )
    if first == last:
        return 0, np.zeros((0, count_v))
    found, above = np.zeros(((last - first) * FINE, fine_v)), first * FINE

    def window(u: float, v: float, reach_mm: float) -> tuple[Floats, Floats, tuple[np.ndarray, ...]] | None:
        """Places around one, in mm from it, and which they are."""
        rows = np.arange(
            max(int((u - reach_mm / length_mm) * fine_u) - 1, above),
            min(int((u + reach_mm / length_mm) * fine_u) + 2, last * FINE),
        )
        if not len(rows):
            return None
        thin = max(float(girth[rows].min()), 1e-3)
        half = min(int(np.ceil(reach_mm / thin * fine_v)) + 1, fine_v // 2)
        columns = round(v * fine_v) + np.arange(-half, half)
        x = np.broadcast_to((((rows + 0.5) / fine_u - u) * length_mm)[:, None], (len(rows), len(columns)))
        return x, -((columns + 0.5) / fine_v - v) * girth[rows, None], np.ix_(rows - above, np.mod(columns, fine_v))

    turn = np.radians(stroke.turn_deg)
    if not stroke.kind.path:
        for u, v, times in stroke.points:
            size = stroke.size_mm * times
            near = window(u, v, size)
            if near is not None:
                x, y, at = near
                x, y = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
                found[at] = np.maximum(found[at], STAMPS[stroke.tool](x, y, size))
    else:
        path, rows = stroke.stretches[:, :2], len(girth) - 1
        middle = (path[:-1] + path[1:]) / 2
        around = girth[np.clip((middle[:, 0] * fine_u).astype(int), 0, rows)]
        ways = np.stack([np.diff(path[:, 0]) * length_mm, -np.diff(path[:, 1]) * around], axis=1)
        lengths = np.hypot(*ways.T)
        ends = np.cumsum(lengths)
        long, size = float(lengths.sum()), stroke.size_mm
        for (u, v), way, own, end in zip(middle, ways, lengths, ends, strict=True):
            near = window(float(u), float(v), own / 2 + size)
            if near is None or own < 1e-6:
                continue
            x, y, at = near
            along = (x * way[0] + y * way[1]) / own + own / 2
            aside = (y * way[0] - x * way[1]) / own
            # A stretch has what lies beside it; the first and the last also what lies before and behind.
            begins, stops = end - own <= 1e-9, end >= long - 1e-9
            beside = ((along >= 0) | begins) & ((along <= own) | stops)
            bent = np.hypot(aside, np.maximum(-along, 0) + np.maximum(along - own, 0))  # about the bend
            near_bend = ~beside & (bent < size / 2)
            here = np.where(beside, aside, np.copysign(bent, aside))
            laid_here = PATHS[stroke.tool](
                here, end - own + np.where(beside, along, np.clip(along, 0, own)), long, size
            )
            found[at] = np.maximum(found[at], laid_here * (beside | near_bend))
    return first, found.reshape(last - first, FINE, count_v, FINE).mean(axis=(1, 3))
