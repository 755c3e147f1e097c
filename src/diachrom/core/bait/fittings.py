"""What is fitted to a bait: bills, tails, fins, propellers. Lengths are shares of the bait's own."""

from dataclasses import dataclass

from diachrom.words import say

Points = tuple[tuple[float, float], ...]

# Half widths of plates (share of their length from the root, share of their widest), by form: round as a spoon, square,
# or cut off to a narrower end.
PLATES: dict[str, Points] = {
    "": ((0.0, 1.0), (1.0, 1.0)),
    "round": ((0.0, 0.42), (0.22, 0.62), (0.5, 0.9), (0.72, 1.0), (0.88, 0.9), (0.97, 0.55), (1.0, 0.2)),
    "square": ((0.0, 0.55), (0.25, 0.72), (0.6, 0.9), (0.93, 1.0), (1.0, 0.92)),
    "coffin": ((0.0, 0.42), (0.3, 0.7), (0.62, 1.0), (0.8, 0.92), (0.97, 0.5), (1.0, 0.42)),
}
LOW = 0.03  # above the axis: what stands there, stands on the flank


@dataclass(frozen=True)
class Fitting:
    """Something that stands out of the body, as seen from the side: (u, height above the axis). What lies across, as
    a bill does, has half a width at its root and at its end."""

    key: str
    words: str
    points: Points
    stuff: str = "hard"  # hard, soft, metal or clear
    painted: bool = True
    halves: tuple[float, float] = (0.0, 0.0)
    form: str = ""  # of PLATES

    @property
    def area(self) -> float:
        """Of both faces, in squares of the bait's length."""
        corners = [(u, across) for u, across, _ in self.plate] or list(self.points)
        ring = zip(corners, (*corners[1:], corners[0]), strict=True)
        return abs(sum(u * other_h - other_u * h for (u, h), (other_u, other_h) in ring))

    @property
    def stands_at(self) -> tuple[float, float]:
        """(u, v) of the skin at its root, on the left side."""
        u, high = self.points[0]
        v = 0.25 if abs(high) < LOW else 0.04 if high > 0 else 0.46
        return min(max(u, 0.03), 0.97), v

    @property
    def plate(self) -> tuple[tuple[float, float, float], ...]:
        """What lies across: (u, across, height) of its corners, none of what stands upright."""
        root, end = self.halves
        if end <= 0 or len(self.points) < 3:
            return ()
        (u0, z0), (u1, z1) = self.points[0], self.points[2]
        edge = PLATES[self.form]
        widths = [end * wide for _, wide in edge] if self.form else [root, end]
        rows = [(u0 + at * (u1 - u0), wide, z0 + at * (z1 - z0)) for (at, _), wide in zip(edge, widths, strict=True)]
        return (*((u, -wide, z) for u, wide, z in rows), *((u, wide, z) for u, wide, z in reversed(rows)))


def bill(
    at: float = 0.03, *, long: float = 0.12, down: float = 0.10, high: float = -0.04, form: str = "round"
) -> Fitting:
    """A bill of this length, lean and form."""
    points = (
        (at, high),
        (at - 0.97 * long, high - 1.2 * down),
        (at - long, high - 1.15 * down),
        (at - 0.1 * long, high + 0.015),
    )
    return Fitting("bill", say("bill"), points, "clear", painted=False, halves=(0.018, 0.026 + 0.24 * long), form=form)


def tail(
    height: float, *, at: float = 0.985, long: float = 0.13, stuff: str = "soft", painted: bool = False
) -> Fitting:
    """A tail of this length and height."""
    points = (
        (at, 0.018),
        (at + 0.75 * long, height),
        (at + long, 1.05 * height),
        (at + 0.72 * long, 0.0),
        (at + long, -1.05 * height),
        (at + 0.75 * long, -height),
        (at, -0.018),
    )
    return Fitting("tail", say("tail"), points, stuff, painted)


def fin(
    key: str, words: str, along: tuple[float, float], *, base: float, height: float, stuff: str = "hard"
) -> Fitting:
    """A fin of this length and height, at a place along the back or belly."""
    start, end = along
    points = (
        (start, base),
        (start + 0.25 * (end - start), base + height),
        (end, base + 0.55 * height),
        (end, 0.85 * base),
    )
    return Fitting(key, words, points, stuff)


def paddle() -> Fitting:
    """A soft tail that beats from side to side."""
    points = (
        (0.97, 0.013),
        (1.06, 0.012),
        (1.10, 0.046),
        (1.14, 0.036),
        (1.15, -0.02),
        (1.13, -0.07),
        (1.09, -0.066),
        (1.06, -0.016),
        (0.97, -0.013),
    )
    return Fitting("tail", say("tail"), points, "soft", painted=True)


def propeller(at: float) -> Fitting:
    """Two blades of sheet metal."""
    points = (
        (at - 0.006, 0.0),
        (at - 0.014, 0.05),
        (at - 0.004, 0.062),
        (at + 0.010, 0.05),
        (at + 0.006, 0.0),
        (at + 0.014, -0.05),
        (at + 0.004, -0.062),
        (at - 0.010, -0.05),
    )
    return Fitting("propeller", say("propeller"), points, "metal", painted=False)
