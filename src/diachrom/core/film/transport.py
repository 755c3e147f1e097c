"""Light in a film that absorbs and scatters: the transport equation in a few streams, solved exactly.

With isotropic scattering the sum S and the difference D of down- and upward radiance obey
    S' = -M^-1 D,   D' = -M^-1 (1 - a 1 w^T) S,   so   S'' = M^-2 (1 - a 1 w^T) S,
where M = diag(mu), a is the single-scattering albedo and ' is d/dtau [grant1969, wiscombe1976]. In flux amplitudes
the last matrix is symmetric: G = M^-2 - a v v^T, v = sqrt(w)/mu. With G = V lambda^2 V^T and
    A = M^1/2 V diag(lambda tanh(lambda tau/2)) V^T M^1/2,   H = M^-1/2 V diag(tanh(lambda tau/2)/lambda) V^T M^-1/2
the film lit alike from both sides gives R + T, and lit with opposite signs R - T:
    R = (1 + A)^-1 - (1 + H)^-1,   T = (1 + A)^-1 + (1 + H)^-1 - 1.
The form holds from no thickness to infinite thickness and for every albedo from 0 to 1, without doubling.
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import STREAMS, Streams, streams
from diachrom.core.light.bands import Floats


@dataclass(frozen=True, eq=False)
class Modes:
    """The eigenmodes of a mix, good for every thickness of it."""

    extinction: Floats  # (..., band) 1/um
    rate: Floats  # (..., band, mode) lambda, per unit of tau
    vectors: Floats  # (..., band, stream, mode)
    count: int


@dataclass(frozen=True, eq=False)
class Film:
    """Reflection and transmission of a film between media of its own index, in flux amplitudes."""

    reflection: Floats  # (..., band, stream, stream)
    transmission: Floats


def modes(mix: Mix, count: int = STREAMS) -> Modes:
    """Solve the mix's eigenproblem once: batch axes in front are kept."""
    grid = streams(count)
    extinction = mix.absorption + mix.scattering
    albedo = np.divide(mix.scattering, extinction, out=np.zeros_like(extinction), where=extinction > 0)
    v = np.sqrt(grid.weight) / grid.mu
    matrix = np.diag(grid.mu**-2) - albedo[..., None, None] * np.outer(v, v)
    squares, vectors = np.linalg.eigh(matrix)
    return Modes(extinction, np.sqrt(np.maximum(squares, 0)), vectors, count)


def _inverse_plus_one(mode: Modes, values: Floats, scale: Floats) -> Floats:
    """(1 + diag(s) V diag(values) V^T diag(s))^-1 for (..., band, mode) values and (stream,) scale."""
    vectors = scale[:, None] * mode.vectors
    matrix = (vectors * values[..., None, :]) @ np.swapaxes(vectors, -1, -2)
    matrix += np.eye(mode.count)
    return np.asarray(np.linalg.inv(matrix), dtype=np.float64)


def film(mode: Modes, film_um: float | Floats) -> Film:
    """A film of the given wet thickness in um; an array of thicknesses broadcasts against the batch axes."""
    grid: Streams = streams(mode.count)
    half_tau = np.asarray(film_um)[..., None] * mode.extinction / 2  # (..., band)
    tanh = np.tanh(mode.rate * half_tau[..., None])  # (..., band, mode)
    # tanh(lambda t)/lambda tends to t as a mode stops decaying.
    still = mode.rate < 1e-9
    over_rate = np.where(still, half_tau[..., None], tanh / np.where(still, 1.0, mode.rate))
    root = np.sqrt(grid.mu)
    even = _inverse_plus_one(mode, mode.rate * tanh, root)
    odd = _inverse_plus_one(mode, over_rate, 1 / root)
    return Film(even - odd, even + odd - np.eye(mode.count))


def endless(mode: Modes) -> Floats:
    """Reflection matrix (..., band, stream, stream) of a film without a bottom."""
    grid = streams(mode.count)
    return 2 * _inverse_plus_one(mode, mode.rate, np.sqrt(grid.mu)) - np.eye(mode.count)


def over_diffuser(top: Film, reflectance: Floats, count: int = STREAMS) -> Floats:
    """A film over a ground that diffuses: internal reflectance (..., band) -> reflection matrix of both."""
    q = streams(count).q
    down = top.transmission @ q  # (..., band, stream)
    back = ((top.reflection @ q) * q).sum(axis=-1)
    gain = reflectance / (1 - reflectance * back)
    return top.reflection + gain[..., None, None] * down[..., :, None] * down[..., None, :]


def over(top: Film, below: Floats) -> Floats:
    """A film over anything whose reflection matrix is known -> reflection matrix of both."""
    identity = np.eye(below.shape[-1])
    inner = np.linalg.solve(identity - below @ top.reflection, below @ top.transmission)
    return top.reflection + top.transmission @ inner


@dataclass(frozen=True, eq=False)
class Uneven:
    """An element that is not the same from both sides; upward transmission is the transpose of `downward`."""

    from_above: Floats
    downward: Floats
    from_below: Floats


def star(top: Film, bottom: Film) -> Uneven:
    """Two even elements, one on the other [redheffer1962]."""
    between = np.linalg.inv(np.eye(top.reflection.shape[-1]) - top.reflection @ bottom.reflection)
    down = between @ top.transmission  # at the interface, downwards
    downward = bottom.transmission @ down
    from_above = top.reflection + top.transmission @ bottom.reflection @ down
    inner = between @ top.reflection
    from_below = bottom.reflection + bottom.transmission @ inner @ bottom.transmission
    return Uneven(from_above, downward, from_below)


def over_symmetric(top: Uneven, bottom: Film) -> Film:
    """An uneven element on an even one, when the whole is known to be even: the same from both sides."""
    between = np.linalg.inv(np.eye(bottom.reflection.shape[-1]) - top.from_below @ bottom.reflection)
    down = between @ top.downward
    upward = np.swapaxes(top.downward, -1, -2)
    return Film(top.from_above + upward @ bottom.reflection @ down, bottom.transmission @ down)


def twice(one: Film) -> Film:
    """An even element on another like it."""
    both = star(one, one)
    return Film(both.from_above, both.downward)


def out_of_surface(below: Floats, count: int = STREAMS) -> Floats:
    """Directional-hemispherical reflectance (..., band) in air, light falling straight down, mirror part left out."""
    grid = streams(count)
    straight = grid.q[-1]
    entering = (1 - grid.inner[-1]) / straight
    # up = R in + R diag(r) up; by symmetry of R the same as following the escape backwards from outside.
    matrix = np.eye(count) - below * grid.inner
    up = np.linalg.solve(matrix, below[..., :, -1:])[..., 0]  # (..., band, stream)
    escaped: Floats = entering * (up @ (grid.q * (1 - grid.inner)))
    return escaped
