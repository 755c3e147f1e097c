"""Light that met no particle: mirrored by foil and flakes, turned back by the surface and mirrored again, until it is
out.

The same layers lie on many grounds, and all diffusers are alike to such light: what was solved is kept for a while.
Facets keep most of a beam's direction, also around the circle, so the light is followed in waves: order 0 is what is
even around it, order m varies as cos(m x azimuth). The first bounce is seen in closed form, those after it by
streams.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.facets import GRAZING_DEG, LIGHT_DEG, ORDERS, passing, view
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Laid
from diachrom.core.film.streams import INDEX, streams
from diachrom.core.light.bands import BANDS, Floats

SHORT = 1e-3  # optical depth: below it a series is exact to ten digits, and what was subtracted is not in single ones
STREAMS = 4  # for what follows the first bounce: within 1 % of the whole


def matrices(layers: Sequence[Laid], ground: Ground, count: int, *, orders: int = ORDERS) -> Floats:
    """What ground and flakes mirror of light that meets nothing else, from flake to flake as often as it happens.

    Parameters
    ----------
    layers : bottom first.
    ground : what they lie on.
    count : streams.
    orders : Fourier orders of the azimuth.

    Returns
    -------
    (..., order, band, stream, stream) reflection.
    """
    below = ground.matrices(count)[:orders]
    nothing = not ground.glossy  # a diffuser sends nothing back that keeps a direction
    for laid in layers:
        if laid.covers:
            film = laid.directed(count, orders)
            below = film.reflection if nothing else transport.over(film, below)
            nothing = False
        elif not nothing:
            through = np.exp(-laid.paths(count))  # (..., band, stream)
            below = below * (through[..., :, None] * through[..., None, :])[..., None, :, :, :]
    return below


@dataclass(frozen=True, eq=False)
class _Turns:
    """What follows the first mirroring: all of it (..., order, band, stream, stream), and what of that is not a single
    mirroring between film and surface. That part is smooth, and read between the streams."""

    whole: Floats
    between: Floats | None  # None where no flake can send light to another

    @classmethod
    def of(cls, layers: Sequence[Laid], ground: Ground, count: int, *, orders: int) -> "_Turns":
        """Of layers over a ground: all turns, and those that take more than one."""
        whole = matrices(layers, ground, count, orders=orders)
        if not any(laid.covers for laid in layers):
            return cls(whole, None)
        # The part of `matrices` that was mirrored once.
        found, up = np.zeros((orders, BANDS, count, count)), np.ones((BANDS, count))
        for laid in reversed(layers):
            paths = laid.paths(count)  # (..., band, stream)
            both = (up[..., :, None] * up[..., None, :])[..., None, :, :, :]
            for flake, area in laid.areas:
                part = shaded(paths[..., :, None] + paths[..., None, :])[..., None, :, :, :]
                found = found + area[..., None, None, None, None] * flake.mirrors(count)[:orders] * both * part
            up = up * np.exp(-paths)
        both = (up[..., :, None] * up[..., None, :])[..., None, :, :, :]
        return cls(whole, whole - (found + both * ground.matrices(count)[:orders]))

    def more(self, out_deg: float) -> Floats | float:
        """Amplitudes (..., order, band, stream) that light from this angle in air makes in more than one mirroring."""
        if self.between is None:
            return 0.0
        return self.between @ _between_streams(out_deg, self.whole.shape[-1])

    def seen(self, more: Floats | float, out_deg: float) -> Floats | float:
        """What of such amplitudes is sent to an angle in air (..., order, band)."""
        if self.between is None:
            return 0.0
        return np.asarray(more @ _between_streams(out_deg, self.whole.shape[-1]))


@lru_cache(maxsize=1024)
def _between_streams(out_deg: float, count: int) -> Floats:
    """Weights (stream,) that read a smooth radiance at an angle in air off the streams that leave the film: a cubic."""
    grid, half = streams(count), slice(count // 2, None)
    nodes, at = grid.mu[half], view(LIGHT_DEG - out_deg).cos_out
    weights = np.zeros(count)
    powers = np.vander(nodes, increasing=True)
    weights[half] = np.linalg.solve(powers.T, at ** np.arange(len(nodes))) / grid.q[half]
    return weights


def _towards(layers: Sequence[Laid], ground: Ground, count: int, out_deg: float, *, orders: int = ORDERS) -> Floats:
    """What they make of a unit of light that enters from an angle in air: amplitudes (..., order, band, stream)."""
    cos_in = view(LIGHT_DEG - out_deg).cos_out
    found, up, down = np.zeros((orders, BANDS, count)), np.ones((BANDS, count)), np.ones((BANDS, 1))
    for laid in reversed(layers):
        paths, path = laid.paths(count), laid.path(cos_in)[..., None]
        both = (up * down)[..., None, :, :]
        for flake, area in laid.areas:
            part = shaded(paths + path)[..., None, :, :]
            found = found + area[..., None, None, None] * flake.towards(count, out_deg)[:orders] * both * part
        up, down = up * np.exp(-paths), down * np.exp(-path)
    return found + (up * down)[..., None, :, :] * ground.towards(count, out_deg)[:orders]


@lru_cache(maxsize=16)
def directed(layers: tuple[Laid, ...], ground: Ground, count: int) -> tuple[Floats, Floats]:
    """Of the light that enters, straight down and at 45 degrees, the share (..., band) that leaves and met no particle:
    mirrored by facets or smooth walls, once or more."""
    turns = _Turns.of(layers, ground, count, orders=1)
    matrix = turns.whole[..., 0, :, :, :]
    straight = transport.escaping(transport.rising(matrix, matrix[..., -1])) / streams(count).q[-1]
    lit = (_towards(layers, ground, count, LIGHT_DEG, orders=1) + turns.more(LIGHT_DEG))[..., 0, :, :]
    return straight, transport.escaping(transport.rising(matrix, lit))


@lru_cache(maxsize=16)
def glance(layers: tuple[Laid, ...], ground: Ground, angles_deg: tuple[float, ...], *, orders: int = ORDERS) -> Floats:
    """All that is mirrored, seen at angles.

    Parameters
    ----------
    layers : bottom first.
    ground : what they lie on.
    angles_deg : aspecular angles, °.
    orders : Fourier orders of the azimuth; fewer do for small differences.

    Returns
    -------
    (..., angle, band) radiance factor.
    """
    count = STREAMS
    turns = _Turns.of(layers, ground, count, orders=orders)
    more = turns.more(LIGHT_DEG)
    lit = _towards(layers, ground, count, LIGHT_DEG, orders=orders) + more
    up = transport.rising(turns.whole, lit)  # (..., order, band, stream)
    down = streams(count).inner * up
    rows = []
    for angle in angles_deg:
        out_deg = float(np.clip(LIGHT_DEG - angle, -GRAZING_DEG, GRAZING_DEG))
        waves = np.where(np.arange(orders) > 0, 2.0, 1.0) * (1.0 if out_deg >= 0 else (-1.0) ** np.arange(orders))
        sent = ((_towards(layers, ground, count, out_deg, orders=orders) + turns.more(out_deg)) * down).sum(axis=-1)
        sent = sent + turns.seen(more, out_deg)
        seen = passing(LIGHT_DEG) * passing(out_deg) / INDEX**2 * (waves[:, None] * sent).sum(axis=-2)
        rows.append(once(layers, ground.glance(angle), angle) + seen)
    found = np.stack(np.broadcast_arrays(*rows), axis=-2)
    found.setflags(write=False)  # it is handed out again
    return found


def once(layers: Sequence[Laid], below: Floats, angle_deg: float) -> Floats:
    """(..., band) mirrored once at one angle, over what is `below` and mirrors (..., band) by itself."""
    seen = view(angle_deg)
    through, total = np.ones(BANDS), np.zeros(BANDS)
    for laid in reversed(layers):
        path = laid.path(seen.cos_in, seen.cos_out)
        passed = np.exp(-path)
        if laid.areas:
            total = total + through * mirrored_once(laid, angle_deg, shaded(path, passed))
        through = through * passed
    return total + through * below


def mirrored_once(laid: Laid, angle_deg: float, part: Floats) -> Floats:
    """(..., band) by the flakes of a layer, of light that is `shaded` in it."""
    each = (area[..., None] * flake.glance(angle_deg).astype(area.dtype) for flake, area in laid.areas)
    return np.asarray(sum(each) * part)


def shaded(path: Floats, passed: Floats | None = None) -> Floats:
    """The mean of exp(-path x) for x from 0 to 1: what is left on average of light that goes part of the way.
    `passed` is exp(-path), where it is known already."""
    taken = -np.expm1(-path) if passed is None else 1 - passed
    return np.where(path > SHORT, taken / np.maximum(path, SHORT), 1 - path / 2 + path**2 / 6)
