"""Light in a film that absorbs, scatters and holds flakes: the transport equation in a few streams, solved exactly.

In flux amplitudes, with s the sum and d the difference of down- and upward light and z the depth,
    s' = -O d,   d' = -E s.
E holds what an even pattern of light loses on its way, O what an odd one does: extinction over mu on the diagonal, less
what is scattered on (in E less what is thrown back too, in O more); both are symmetric [grant1969; derived in
docs/model.md]. With O = L L^T (Cholesky) and L^T E L = V lambda^2 V^T, B = L V and C = L^-T V = B^-T:
    A = C diag(lambda tanh(lambda z/2)) C^T,   H = B diag(tanh(lambda z/2)/lambda) B^T.
The film lit alike from both sides gives R + T, and lit with opposite signs R - T:
    R = (1 + A)^-1 - (1 + H)^-1,   T = (1 + A)^-1 + (1 + H)^-1 - 1.
The form holds from no thickness to infinite thickness and for every albedo from 0 to 1, without doubling.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from diachrom.core.film.paint import Mix
from diachrom.core.film.phase import scattered
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.light.bands import Floats

FAINT = 1e-12  # of what a film does, in 1/um: less is nothing
STILL = 1e-9  # of a decay: a mode that does not


@dataclass(frozen=True, eq=False)
class Modes:
    """The eigenmodes of a mix, good for every thickness of it."""

    scale: Floats  # (..., band) 1/um, the unit of depth in which the rates are
    rate: Floats  # (..., band, mode) lambda
    sums: Floats  # (..., band, stream, mode) B
    differences: Floats  # (..., band, stream, mode) C

    @property
    def count(self) -> int:
        """How many streams there are."""
        return int(self.rate.shape[-1])


@dataclass(frozen=True, eq=False)
class Film:
    """Reflection and transmission of a film between media of its own index, in flux amplitudes."""

    reflection: Floats  # (..., band, stream, stream)
    transmission: Floats

    @cached_property
    def turned(self) -> tuple[Floats, Floats, Floats]:
        """What it sends down of light that is alike everywhere, and all that rises under the surface over nothing: of
        light straight down, and of that same light from below; (..., band, stream) each."""
        grid = streams(self.reflection.shape[-1])
        down = self.transmission @ grid.q
        first = np.stack([self.reflection[..., -1], down], axis=-1)
        rising = np.asarray(np.linalg.solve(np.eye(len(grid.q)) - self.reflection * grid.inner, first))
        return down, rising[..., 0], rising[..., 1]


def extinction(mix: Mix, count: int = STREAMS) -> Floats:
    """(..., band) 1/um that light loses which keeps its direction, flakes left aside."""
    return mix.absorption + mix.scattering * scattered(mix.forward, count).lost


def dimming(mix: Mix, count: int = STREAMS) -> Floats:
    """(..., band) 1/um that a mirror image loses on its way, flakes left aside."""
    return mix.absorption + mix.scattering * scattered(mix.forward, count).blurred


def modes(mix: Mix, count: int = STREAMS) -> Modes:
    """Solve the mix's eigenproblem once: batch axes in front are kept."""
    grid, phase = streams(count), scattered(mix.forward, count)
    own = extinction(mix, count)
    scale = _scale(mix, own)
    scattering = (mix.scattering / scale)[..., None, None]
    straight = (np.maximum(own, FAINT * scale) / scale)[..., None, None] * np.diag(1 / grid.mu)
    even, odd = straight - scattering * phase.even, straight - scattering * phase.odd
    for flake, cover in mix.flakes:
        lost, back = flake.matrices(count)
        share = (cover[..., None] / scale)[..., None, None]
        even, odd = even + share * (lost - back), odd + share * (lost + back)
    return _solved(scale, even, odd)


def directed(mix: Mix, count: int, orders: int) -> Modes:
    """The modes (..., order, band, ...) of light that meets flakes and no particle, for each wave around the circle."""
    grid, own = streams(count), extinction(mix, count)
    scale = _scale(mix, own)
    lost = (np.maximum(own, FAINT * scale) / scale)[..., None] / grid.mu  # (..., band, stream)
    back = np.zeros((orders, 1, count, count))
    for flake, cover in mix.flakes:
        share = cover[..., None] / scale
        lost = lost + share[..., None] * flake.lost_by_stream(count)
        back = back + share[..., None, :, None, None] * flake.mirrors(count)[:orders]
    straight = (lost[..., None] * np.eye(count))[..., None, :, :, :]
    return _solved(np.broadcast_to(scale[..., None, :], back.shape[:-2]), straight - back, straight + back)


def _scale(mix: Mix, own: Floats) -> Floats:
    area = sum((cover for _, cover in mix.flakes), np.zeros(()))[..., None]
    return np.maximum(own + area, FAINT)


def _solved(scale: Floats, even: Floats, odd: Floats) -> Modes:
    root = np.linalg.cholesky(odd)
    squares, vectors = np.linalg.eigh(np.swapaxes(root, -1, -2) @ even @ root)
    differences = np.linalg.solve(np.swapaxes(root, -1, -2), vectors)
    return Modes(scale, np.sqrt(np.maximum(squares, 0)), root @ vectors, differences)


def _inverse_plus_one(vectors: Floats, values: Floats) -> Floats:
    """(1 + vectors diag(values) vectors^T)^-1 for (..., band, stream, mode) and (..., band, mode)."""
    matrix = (vectors * values[..., None, :]) @ np.swapaxes(vectors, -1, -2)
    matrix += np.eye(vectors.shape[-2])
    return np.asarray(np.linalg.inv(matrix), dtype=np.float64)


def _tanh(mode: Modes, half: Floats) -> tuple[Floats, Floats]:
    """tanh(lambda t) and tanh(lambda t)/lambda (..., band, mode) at half depths t (..., band)."""
    tanh = np.tanh(mode.rate * half[..., None])
    # tanh(lambda t)/lambda tends to t as a mode stops decaying.
    still = mode.rate < STILL
    return tanh, np.where(still, half[..., None], tanh / np.where(still, 1.0, mode.rate))


def film(mode: Modes, film_um: float | Floats) -> Film:
    """A film of the given wet thickness in um; an array of thicknesses broadcasts against the batch axes."""
    tanh, over_rate = _tanh(mode, np.asarray(film_um)[..., None] * mode.scale / 2)
    even = _inverse_plus_one(mode.differences, mode.rate * tanh)
    odd = _inverse_plus_one(mode.sums, over_rate)
    return Film(even - odd, even + odd - np.eye(mode.count))


def endless(mode: Modes) -> Floats:
    """Reflection matrix (..., band, stream, stream) of a film without a bottom."""
    return 2 * _inverse_plus_one(mode.differences, mode.rate) - np.eye(mode.count)


def fluence(mode: Modes, film_um: Floats, entering: tuple[Floats, Floats], places: Floats) -> Floats:
    """How much light passes at depths of a film. 1 is what a unit of straight light has.

    Parameters
    ----------
    mode : the film's modes.
    film_um : (...,) thickness, µm.
    entering : (..., band, stream) amplitudes from above and from below.
    places : (place,) depths, 0 at the top to 1 at the bottom.

    Returns
    -------
    (..., band, place).
    """
    grid = streams(mode.count)
    half = film_um[..., None] * mode.scale / 2  # (..., band)
    tanh, over_rate = _tanh(mode, half)
    alike, unlike = (entering[0] + entering[1]) / 2, (entering[0] - entering[1]) / 2
    sums = 2 * _times(_inverse_plus_one(mode.differences, mode.rate * tanh), alike)
    differences = 2 * _times(_inverse_plus_one(mode.sums, over_rate), unlike)
    weigh = (grid.q / grid.mu) @ mode.sums  # (..., band, mode)
    even = weigh * _times(np.swapaxes(mode.differences, -1, -2), sums)
    odd = weigh * _times(np.swapaxes(mode.sums, -1, -2), differences)
    at = (2 * places - 1) * half[..., None]  # (..., band, place), from -half to half
    rate, far = mode.rate[..., None], np.abs(at)[..., None, :]
    # cosh(lambda t)/cosh(lambda h) without large numbers: e^(lambda (t - h)) (1 + e^(-2 lambda t))/(1 + e^(-2 lambda
    # h)).
    edge = half[..., None, None]
    falling = np.exp(rate * (far - edge)) / (1 + np.exp(-2 * rate * edge))
    still = rate < STILL
    cosh = falling * (1 + np.exp(-2 * rate * far))
    sinh = np.where(still, far, falling * -np.expm1(-2 * rate * far) / np.where(still, 1.0, rate))
    return np.asarray((even[..., None] * cosh - odd[..., None] * np.sign(at)[..., None, :] * sinh).sum(axis=-2))


def _times(matrix: Floats, vector: Floats) -> Floats:
    return (matrix @ vector[..., None])[..., 0]


def over_diffuser(top: Film, reflectance: Floats, count: int = STREAMS) -> Floats:
    """A film over a ground that diffuses: internal reflectance (..., band) -> reflection matrix of both."""
    q = streams(count).q
    down = top.transmission @ q  # (..., band, stream)
    back = ((top.reflection @ q) * q).sum(axis=-1)
    gain = reflectance / (1 - reflectance * back)
    return top.reflection + gain[..., None, None] * down[..., :, None] * down[..., None, :]


def out_over_diffuser(top: Film, reflectance: Floats) -> Floats:
    """What `out_of_surface` makes of `over_diffuser`. A diffuser adds a matrix of rank one, so that a film which was
    solved by itself is good for all of them [sherman1950]."""
    count = top.reflection.shape[-1]
    grid = streams(count)
    down, plain, lit = top.turned
    back = ((top.reflection @ grid.q) * grid.q).sum(axis=-1)
    gain = reflectance / (1 - reflectance * back)
    again = grid.inner * down
    first = plain + (gain * down[..., -1])[..., None] * lit
    more = gain * (again * first).sum(axis=-1) / (1 - gain * (again * lit).sum(axis=-1))
    return escaping(entering(count) * (first + more[..., None] * lit))


def over(top: Film, below: Floats) -> Floats:
    """A film over anything whose reflection matrix is known -> reflection matrix of both."""
    identity = np.eye(below.shape[-1])
    inner = np.linalg.solve(identity - below @ top.reflection, below @ top.transmission)
    return top.reflection + top.transmission @ inner


def between(top: Film, below: Floats, down: Floats) -> Floats:
    """What leaves the lower side of a film (..., band, stream) that lies on something and is lit from above."""
    identity = np.eye(below.shape[-1])
    passed = _times(top.transmission, down)
    return np.asarray(np.linalg.solve(identity - top.reflection @ below, passed[..., None])[..., 0])


def entering(count: int = STREAMS) -> float:
    """Amplitude straight down below the surface, of a unit of light falling straight on it."""
    grid = streams(count)
    return float((1 - grid.inner[-1]) / grid.q[-1])


def rising(below: Floats, first: Floats) -> Floats:
    """All the light that comes up under the surface (..., band, stream), of what comes up at first: some of it is
    turned back again and again."""
    grid = streams(below.shape[-1])
    return np.asarray(np.linalg.solve(np.eye(below.shape[-1]) - below * grid.inner, first[..., None])[..., 0])


def escaping(up: Floats) -> Floats:
    """What of the light that comes up under the surface (..., band, stream) leaves it."""
    grid = streams(up.shape[-1])
    return np.asarray(up @ (grid.q * (1 - grid.inner)))


def out_of_surface(below: Floats) -> Floats:
    """Directional-hemispherical reflectance (..., band) in air, light falling straight down, mirror part left out."""
    return escaping(rising(below, entering(below.shape[-1]) * below[..., -1]))
