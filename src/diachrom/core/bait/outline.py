"""A blank's outline: three curves along its length, and a superellipse across. Lengths are shares of the blank's own.

Between its knots a curve runs monotonically [fritsch1980], over the angle at which an ellipse would be there, so that
noses and tails come out round.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats

Knots = Sequence[tuple[float, float]]  # (u, share of the length), u from nose 0 to tail 1
QUARTER = 96  # points of a quarter section
ROUNDEST, SQUAREST = 1.0, 6.0


def curve(knots: Knots, u: Floats) -> Floats:
    """The value (n,) of a curve at places (n,) along the length."""
    at, value = (np.array(each, dtype=np.float64) for each in zip(*knots, strict=True))
    x, places = (np.arccos(np.clip(1 - 2 * one, -1, 1)) for one in (at, u))
    step, rise = np.diff(x), np.diff(value)
    slope = rise / step
    inner = np.where(slope[:-1] * slope[1:] > 0, 3 * (step[:-1] + step[1:]), 0.0)
    weights = (2 * step[1:] + step[:-1]), (step[1:] + 2 * step[:-1])
    flat = slope[:-1] * slope[1:] <= 0
    first, second = (np.where(flat, 1.0, one) for one in (slope[:-1], slope[1:]))
    tangent = np.concatenate([slope[:1], inner / (weights[0] / first + weights[1] / second), slope[-1:]])
    k = np.clip(np.searchsorted(x, places, side="right") - 1, 0, len(step) - 1)
    t = (places - x[k]) / step[k]
    return np.asarray(
        value[k] * (1 + 2 * t) * (1 - t) ** 2
        + tangent[k] * step[k] * t * (1 - t) ** 2
        + value[k + 1] * t**2 * (3 - 2 * t)
        + tangent[k + 1] * step[k] * t**2 * (t - 1)
    )


@dataclass(frozen=True)
class Outline:
    """Upper and lower edge above and below the axis, and half the width."""

    upper: tuple[tuple[float, float], ...]
    lower: tuple[tuple[float, float], ...]
    half: tuple[tuple[float, float], ...]
    power: float = 2.0  # of the superellipse: 2 is an ellipse, more is squarer, 1 is a roof
    facets: int = 0  # flat faces a quarter; 0 is round

    def edges(self, u: Floats) -> tuple[Floats, Floats, Floats]:
        """Upper edge, lower edge and half width (n,) at places (n,)."""
        upper, lower, half = (curve(one, u) for one in (self.upper, self.lower, self.half))
        return upper, np.minimum(lower, upper), np.maximum(half, 0)

    def section(self, u: Floats, v: Floats) -> tuple[Floats, Floats]:
        """(y, z) of points (n, m): across (left is positive) and up, at places (n,) and around the girth (m,): 0 spine,
        a quarter the left flank, a half the belly. Within a quarter v runs with the length of the edge."""
        upper, lower, half = self.edges(u)
        middle = (upper + lower) / 2
        y, z = (np.empty((len(u), len(v))) for _ in range(2))
        around = np.mod(v, 1.0)
        side = np.where(around <= 0.5, 1.0, -1.0)
        folded = np.minimum(around, 1 - around)  # 0 spine to 0.5 belly
        for quarter, height in ((folded <= 0.25, upper - middle), (folded > 0.25, lower - middle)):
            share = np.where(folded <= 0.25, folded, 0.5 - folded)[quarter] * 4  # 0 at the ridge, 1 at the flank
            across, up = self._quarter(half, height, share)
            y[:, quarter], z[:, quarter] = side[quarter] * across, middle[:, None] + up
        return y, z

    def _quarter(self, half: Floats, height: Floats, share: Floats) -> tuple[Floats, Floats]:
        """(n, m) from the ridge (share 0) to the flank (share 1)."""
        count = self.facets + 1 if self.facets else QUARTER
        turn = np.linspace(0, np.pi / 2, count)
        wide, high = np.sin(turn) ** (2 / self.power), np.cos(turn) ** (2 / self.power)
        across, up = half[:, None] * wide, height[:, None] * high  # (n, point)
        run = np.cumsum(np.hypot(np.diff(across), np.diff(up)), axis=1)
        run = np.concatenate([np.zeros((len(half), 1)), run], axis=1)
        run = run / np.maximum(run[:, -1:], 1e-12)
        rows = [(np.interp(share, r, a), np.interp(share, r, b)) for r, a, b in zip(run, across, up, strict=True)]
        return np.array([row[0] for row in rows]), np.array([row[1] for row in rows])
