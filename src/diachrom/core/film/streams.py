"""The directions in which light is followed inside a film, and what the film's surface does to each.

The hemisphere inside the film is split at the critical angle, so that no stream is half kept in and half let out.
Light is carried as flux amplitudes: y_i = sqrt(2 mu_i w_i) I_i. In these coordinates a film's matrices are symmetric
(reciprocity), a diffusing ground is the rank-one matrix rho q q^T, and q.q = 1 [prahl1993; grant1969].
"""

from dataclasses import dataclass
from functools import cache

import numpy as np

from diachrom.core.light.bands import Floats, Indices

INDEX = 1.5  # of binder, clear coat and the lacquer on foil
STREAMS = 8


@dataclass(frozen=True, eq=False)
class Streams:
    """Quadrature over mu = cos(theta) inside the film; the last node is mu = 1, straight down."""

    mu: Floats  # (stream,)
    weight: Floats  # (stream,)
    q: Floats  # (stream,) sqrt(2 mu w)
    inner: Floats  # (stream,) reflectance of the surface from inside


def fresnel(*, cos_in: Floats | float, index_in: float, index_out: Floats | Indices | complex) -> Floats:
    """Unpolarised Fresnel reflectance of a plane boundary; 1 beyond the critical angle. `index_out` may be complex."""
    ratio = index_in / np.asarray(index_out, dtype=np.complex128)
    cos_in = np.asarray(cos_in, dtype=np.float64)
    cos_out = np.sqrt(1 - ratio**2 * (1 - cos_in**2))
    s_polarised = (ratio * cos_in - cos_out) / (ratio * cos_in + cos_out)
    p_polarised = (cos_in - ratio * cos_out) / (cos_in + ratio * cos_out)
    return (np.abs(s_polarised) ** 2 + np.abs(p_polarised) ** 2) / 2


@cache
def streams(count: int = STREAMS) -> Streams:
    """The quadrature with `count` streams, an even number: half beyond the critical angle, half within it."""
    half = count // 2
    critical = float(np.sqrt(1 - 1 / INDEX**2))
    outer, outer_weight = np.polynomial.legendre.leggauss(half)
    # Nodes and weights of Radau's rule on [-1, 1] with a node at +1.
    legendre = np.polynomial.legendre
    both = np.zeros(half + 1)
    both[half - 1 :] = 1  # P_(n-1) + P_n, which has the root -1
    nodes = np.sort(legendre.legroots(both).real)
    nodes[0] = -1
    last = np.zeros(half)
    last[-1] = 1
    weights = (1 - nodes) / (half**2 * legendre.legval(nodes, last) ** 2)
    inner, inner_weight = -nodes[::-1], weights[::-1]
    mu = np.concatenate([critical * (outer + 1) / 2, critical + (1 - critical) * (inner + 1) / 2])
    weight = np.concatenate([critical * outer_weight / 2, (1 - critical) * inner_weight / 2])
    q = np.sqrt(2 * mu * weight)
    escape = 1 - fresnel(cos_in=mu, index_in=INDEX, index_out=1.0)
    escape[:half] = 0.0  # beyond the critical angle, exactly
    # Near the critical angle the escape falls like a square root, which few nodes integrate badly, and this was most
    # of the error of eight streams (dE 0.11; with the true hemispherical escape restored, 0.03).
    slanted = slice(half, count - 1)
    straight = q[-1] ** 2 * escape[-1]
    escape[slanted] *= (_diffuse_escape(critical) - straight) / (q[slanted] ** 2 @ escape[slanted])
    return Streams(mu, weight, q, 1 - escape)


def _diffuse_escape(critical: float) -> float:
    """The share of perfectly diffuse light that leaves through the surface from inside: 0.404 at n = 1.5."""
    node, weight = np.polynomial.legendre.leggauss(200)
    t = (node + 1) / 2
    mu = critical + (1 - critical) * t**2  # the square takes the root's steepness away
    escape = 1 - fresnel(cos_in=mu, index_in=INDEX, index_out=1.0)
    return float(np.sum(2 * mu * escape * (1 - critical) * t * weight))
