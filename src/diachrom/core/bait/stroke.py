"""What a hand does on the skin with an airbrush or another tool: a path, or marks at places. A value, and what can be
changed of it; what it leaves is in `strokes` and `marks`."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

MOST_STROKES, MOST_POINTS, MOST_MARKS, LONGEST_S = 400, 60, 400, 120.0
STEP_U, STEP_V = 0.05, 0.06  # of a stretch that is taken as straight, of the length and of the girth
LEAST_TIMES, MOST_TIMES = 0.05, 10.0  # as large as usual
LEAST_MM, MOST_MM = 0.2, 60.0
FARTHEST = 12.0  # shares of the length and of the girth, as far as a stroke may be moved

# u from nose to tail, v around the girth (it may run past the spine), and seconds; of a mark, how many times as large
# as usual it is.
Point = tuple[float, float, float]


@dataclass(frozen=True)
class Tool:
    """What paint is laid with: along a path, or one mark at each place."""

    key: str
    words: str
    usual_mm: float = 0.0
    path: bool = False
    unthinned: bool = True  # paint as it is bottled will do


AIRBRUSH = Tool("", say("airbrush"), path=True, unthinned=False)
TOOLS = {
    tool.key: tool
    for tool in (
        AIRBRUSH,
        Tool("dot", say("dot"), 2.0),
        Tool("ring", say("ring"), 4.0),
        Tool("scale", say("scale"), 3.5),
        Tool("stylus", say("stylus dot, raised"), 1.2),
        Tool("swab", say("swab dot, soft"), 3.0),
        Tool("brush", say("brush line"), 1.2, path=True),
        Tool("dry", say("dry-brush sweep"), 6.0, path=True),
        Tool("scratch", say("scratch"), 0.5, path=True),
        Tool("trail", say("blood trail"), 3.0, path=True),
    )
}


@dataclass(frozen=True)
class Stroke:
    """One thing that the hand does. It is kept by shares of the bait, so that it moves with its size."""

    points: tuple[Point, ...]
    tool: str = AIRBRUSH.key
    size_mm: float = 0.0  # of a mark, or how wide a line is; the airbrush's is its disc
    turn_deg: float = 0.0

    @property
    def kind(self) -> Tool:
        """What it is laid with."""
        return TOOLS[self.tool]

    @property
    def stretches(self) -> np.ndarray:
        """(n + 1, 3) places between which it may be taken as straight; a tap stands between two that are the same."""
        points = np.array(self.points)
        if len(points) == 1:
            points = np.repeat(points, 2, axis=0)
        step = np.abs(np.diff(points[:, :2], axis=0)) / (STEP_U, STEP_V)
        pieces = np.maximum(np.ceil(step.max(axis=1) - 1e-9), 1).astype(int)
        at = np.concatenate([k + np.arange(count) / count for k, count in enumerate(pieces)] + [[len(pieces)]])
        return np.stack([np.interp(at, np.arange(len(points)), values) for values in points.T], axis=1)

    @property
    def count(self) -> int:
        """How many marks it is."""
        return 1 if self.kind.path else len(self.points)

    def moved(self, du: float, dv: float) -> "Stroke":
        """So far along the bait and around it, in shares of both."""
        return replace(self, points=tuple((round(u + du, 4), round(v + dv, 4), s) for u, v, s in self.points))

    def scaled(self, by: float) -> "Stroke":
        """So many times as large, as far as a mark may be."""
        return self if self.kind is AIRBRUSH else replace(self, size_mm=min(max(self.size_mm * by, LEAST_MM), MOST_MM))

    def on_the_other_side(self) -> "Stroke":
        """Its mirror image."""
        return _turned(replace(self, points=tuple((u, round(1 - v, 4), s) for u, v, s in self.points)))

    def trimmed(self, start: float, end: float) -> "Stroke":
        """What lies between two shares of its path, or of its marks. Raises InvalidInput."""
        if not 0 <= start < end <= 1:
            raise InvalidInput(say("Trim it from 0 to 100 %, the first less than the last."), field="from_share")
        count = len(self.points)
        if not self.kind.path:
            kept = self.points[round(start * count) : max(round(end * count), round(start * count) + 1)]
            return replace(self, points=kept or self.points[-1:])
        path = np.array(self.points)
        at = np.concatenate([[0], np.cumsum(np.hypot(*np.diff(path[:, :2], axis=0).T))])
        at = at / at[-1] if at[-1] > 0 else np.linspace(0, 1, count)
        where = np.concatenate([[start], at[(at > start) & (at < end)], [end]])
        points = np.stack([np.interp(where, at, one) for one in path.T], axis=1)
        points[:, 2] -= points[0, 2]
        return replace(self, points=_rounded(points))


def drawn(
    points: Sequence[Sequence[float]], tool: str = AIRBRUSH.key, *, size_mm: float | None = None, turn_deg: float = 0.0
) -> Stroke:
    """As a hand drew it, (u, v, s) each: v without a jump at the spine, time that runs on, and no more points than are
    needed. Raises InvalidInput."""
    kind = TOOLS.get(tool)
    if kind is None:
        raise InvalidInput(say("There is no tool called '{tool}'.", tool=tool[:30]), field="tool")
    try:
        given = np.array(points, dtype=np.float64).reshape(-1, 3)
    except (ValueError, TypeError, OverflowError):
        given = np.full((1, 3), np.nan)
    if not len(given) or not np.isfinite(given).all():
        raise InvalidInput(say("A stroke is places on the bait with their times: draw it again."), field="points")
    if abs(given[:, :2]).max() > 3 or (kind.path and np.ptp(given[:, 2]) > LONGEST_S):
        raise InvalidInput(
            say("A stroke lies on the bait, and takes two minutes at most: draw it again."), field="points"
        )
    size = 0.0 if kind is AIRBRUSH else kind.usual_mm if size_mm is None else size_mm
    stroke = Stroke((), tool, size, turn_deg)
    if kind.path:
        if len(given) > MOST_POINTS:
            given = given[np.unique(np.linspace(0, len(given) - 1, MOST_POINTS).round().astype(int))]
        given[:, 1] = np.unwrap(given[:, 1], period=1.0)
        given[:, 2] = np.maximum.accumulate(given[:, 2] - given[0, 2])
    else:
        given[:, 2] = np.clip(given[:, 2], LEAST_TIMES, MOST_TIMES)
    return checked(_turned(replace(stroke, points=_rounded(given))))


def checked(stroke: Stroke) -> Stroke:
    """Raises InvalidInput."""
    if stroke.tool not in TOOLS:
        raise InvalidInput(say("There is no tool called '{tool}'.", tool=stroke.tool[:30]), field="tool")
    if stroke.kind is not AIRBRUSH and not LEAST_MM <= stroke.size_mm <= MOST_MM:
        raise InvalidInput(
            say(
                "A mark is {least} to {most} large, not {size}.",
                least=quantity(LEAST_MM, "g", "mm"),
                most=quantity(MOST_MM, "g", "mm"),
                size=quantity(stroke.size_mm, "g", "mm"),
            ),
            field="size_mm",
        )
    if not -360 <= stroke.turn_deg <= 360:
        raise InvalidInput(say("A mark is turned by -360 to 360 °."), field="turn_deg")
    there = (abs(u) <= FARTHEST and abs(v) <= FARTHEST and math.isfinite(s) for u, v, s in stroke.points)
    if not stroke.points or not all(there):
        raise InvalidInput(say("A stroke lies on the bait: draw it again."), field="points")
    if len(stroke.points) > (MOST_POINTS if stroke.kind.path else MOST_MARKS):
        raise InvalidInput(say("At most {most} marks are laid at once.", most=MOST_MARKS), field="points")
    return stroke


def counted(strokes: Sequence[Stroke], *, mirrored: bool) -> tuple[int, int]:
    """Marks on the left and on the right; what lies along the spine or the belly counts where it begins."""
    left = right = 0
    for stroke in strokes:
        for _, v, _ in stroke.points[:1] if stroke.kind.path else stroke.points:
            if v % 1.0 < 0.5:
                left += 1
            else:
                right += 1
    return (left + right, left + right) if mirrored else (left, right)


def _turned(stroke: Stroke) -> Stroke:
    """With its first place between one spine and the next."""
    whole = float(np.floor(stroke.points[0][1]))
    return stroke.moved(0.0, -whole) if whole else stroke


def _rounded(points: np.ndarray) -> tuple[Point, ...]:
    return tuple((round(u, 4), round(v, 4), round(s, 3)) for u, v, s in points.tolist())
