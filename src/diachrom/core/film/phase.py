"""How a particle throws light: mostly onwards. The phase function of Henyey and Greenstein in a few directions.

With the mean cosine g its Legendre coefficients are g^l [henyey1941]. What goes into the directions of one side
together (even l) and what tells the sides apart (odd l) act on the sum and on the difference of down- and upward
light by themselves. The sharpest forward peak, g^L for L directions, counts as light that was not scattered
[wiscombe1977].
"""

from dataclasses import dataclass
from functools import cache

import numpy as np

from diachrom.core.film.streams import streams
from diachrom.core.light.bands import Floats

FORWARD = 0.55  # the mean cosine that all pigments share unless a profile says its own
MOST_FORWARD = 0.9
# Of what is thrown onwards, a part still comes back from a mirror near where the mirror sends it. Fitted to rays
# through films of mean cosine 0.55 over foil; where nothing is thrown onwards, all that meets a particle is lost to
# the image.
ASTRAY = 0.33


@dataclass(frozen=True, eq=False)
class Scattered:
    """What 1/um of scattering does, in flux amplitudes: shapes are (..., stream, stream)."""

    lost: Floats  # (...) share of all scattering that leaves its direction, times 1/(1 - g)
    blurred: Floats  # (...) what of it leaves the surroundings of a mirror image
    even: Floats
    odd: Floats


@cache
def _basis(count: int) -> Floats:
    """(l, stream, stream): (2l + 1) P_l(mu) P_l(mu') in flux amplitudes, over the cosines on both sides."""
    grid = streams(count)
    legendre = np.polynomial.legendre.legvander(grid.mu, count - 1).T  # (l, stream)
    rows = np.sqrt(grid.weight / grid.mu) * legendre
    return (2 * np.arange(count) + 1)[:, None, None] * rows[:, :, None] * rows[:, None, :]


def scattered(forward: Floats | None, count: int) -> Scattered:
    """For mean cosines (...) of scattering; None is the shared one. Times a reduced scattering."""
    return _shared(count) if forward is None else _of(np.asarray(forward, dtype=np.float64), count)


@cache
def _shared(count: int) -> Scattered:
    return _of(np.asarray(FORWARD), count)


def _of(forward: Floats, count: int) -> Scattered:
    order = np.arange(count)
    peak = forward**count
    per_reduced = 1 / (1 - forward)
    moments = per_reduced[..., None] * (forward[..., None] ** order - peak[..., None])  # (..., l)
    even, odd = (np.tensordot(moments[..., side::2], _basis(count)[side::2], 1) for side in (0, 1))
    return Scattered(per_reduced * (1 - peak), 1 + ASTRAY * (per_reduced - 1), even, odd)
