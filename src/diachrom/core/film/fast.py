"""The fast path: thousands of cups as one film over one diffusing ground, by tables instead of transport.

One glossy film over a ground that diffuses returns, exactly, R = r + t rho / (1 - s rho), where r, t and s depend on
the film alone, through its optical depth and its albedo. They are solved once over x = sqrt(1 - albedo) and
y = depth / (depth + 1), both even; for a ground the three become one fine table a band, and a film is then one look-up.
The error against the transport solution is tested: at most dE 0.2.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from diachrom.core.film import transport
from diachrom.core.film.dots import DIFFUSED, EVEN_FILM, STRAIGHT, Shares
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.light.bands import BANDS, Floats
from diachrom.words import say

ACROSS, ALONG = 256, 96  # cells in x, and in y
NODES = 129  # of the solved grid, between which the cells are interpolated
FEW_NODES = 33  # where the whole stack is solved at each
FIRST, LAST = 2, 32  # bands looked up: 400 and 700 nm; those beyond carry 0.1 % of the luminance
SAME_GROUND = 5e-4  # of reflectance: dE 0.02 at most
LEAST = 1e-12  # of absorption, so that a film of nothing has an albedo
Singles = NDArray[np.float32]


@lru_cache(maxsize=1)
def _film_terms() -> tuple[Floats, Floats, Floats]:
    """r, t and s at the nodes (x, y), each (NODES, NODES)."""
    grid, node = streams(STREAMS), np.linspace(0, 1, NODES)
    absorbed = (node**2)[:, None]  # (x, 1), 1 - albedo
    film_um = np.append(node[:-1] / (1 - node[:-1]), 1e6)  # (y,), depth of a film of unit extinction
    modes = transport.modes(Mix(absorbed, 1 - absorbed), STREAMS)  # (x, 1, ...)
    r, t, s = (np.empty((NODES, NODES)) for _ in range(3))
    entering = transport.entering(STREAMS)
    for index, depth in enumerate(film_um):
        film = transport.film(modes, depth)
        # With U = R + g d d^T, g = rho / (1 - rho q.R q): the surface is a rank-one update too.
        down, straight, raised = (one[:, 0] for one in film.turned)  # (x, stream) each
        alone = entering * straight
        falling = entering * down[:, -1] + (down * grid.inner * alone).sum(-1)
        r[:, index] = transport.escaping(alone)
        t[:, index] = transport.escaping(raised) * falling
        s[:, index] = (film.reflection[:, 0] @ grid.q) @ grid.q + (down * grid.inner * raised).sum(-1)
    return r, t, s


def refining(places: Floats, nodes: int = NODES) -> Floats:
    """Lagrange's cubic through four nodes: (place,) in 0..1 -> a matrix (place, node)."""
    at = places * (nodes - 1)
    base = np.clip(at.astype(int), 1, nodes - 3)
    u = (at - base)[:, None]
    weights = np.hstack(
        [-u * (u - 1) * (u - 2) / 6, (u + 1) * (u - 1) * (u - 2) / 2, -u * (u + 1) * (u - 2) / 2, u * (u * u - 1) / 6]
    )
    matrix = np.zeros((len(at), nodes))
    for step in range(4):
        matrix[np.arange(len(at)), base + step - 1] = weights[:, step]
    return matrix


def thicker(places: Floats, times: float) -> Floats:
    """Where films stand in y = depth/(depth + 1) that are so many times as thick as those at these places."""
    return np.asarray(places * times / np.maximum(places * times + 1 - places, LEAST))


@lru_cache(maxsize=32)
def _fine_terms(times: float = 1.0) -> tuple[Floats, Floats, Floats]:
    """r, t and s at the corners of the cells in x and 1 - y: (ACROSS + 1, ALONG + 1) each, of films so many times as
    thick."""
    in_x = refining(np.arange(ACROSS + 1) / ACROSS)
    in_y = refining(thicker(1 - np.arange(ALONG + 1) / ALONG, times))
    r, t, s = (in_x @ term @ in_y.T for term in _film_terms())
    return r, t, s


def blended(each: Iterable[Floats], dots: Shares, n: float) -> Floats:
    """What is seen (...) of films side by side, of what is seen of each."""
    if len(dots.times) == 1:
        return next(iter(each))
    found = np.asarray(0.0)
    for weight, one in zip(dots.weights, each, strict=True):
        found = found + weight * (one if n == STRAIGHT else np.maximum(one, 0) ** (1 / n))
    return found if n == STRAIGHT else np.asarray(np.maximum(found, 0) ** n)


@dataclass(frozen=True, eq=False)
class FastFilms:
    """Look-up tables for one ground: in each cell of x and 1 - y the plane that touches R in its middle.

    Bands in which the ground is the same share a table, so that all of them stay in the cache.
    """

    value: Singles  # (table, cell), each
    in_x: Singles
    in_y: Singles
    table_of: tuple[int, ...]  # (band,)

    @property
    def nbytes(self) -> int:
        """What its tables take, bytes."""
        return self.value.nbytes + self.in_x.nbytes + self.in_y.nbytes

    @classmethod
    def over(cls, ground: Ground, dots: Shares = EVEN_FILM) -> "FastFilms":
        """Build the tables for a diffusing ground. Raises ValueError for any other."""
        if ground.glossy:
            raise ValueError(say("the fast path knows diffusing grounds only"))
        terms = [_fine_terms(times) for times in dots.times]
        reflectances, table_of = np.unique(np.round(ground.reflectance / SAME_GROUND), return_inverse=True)
        corners = (
            blended((r + t * rho / (1 - s * rho) for r, t, s in terms), dots, DIFFUSED)
            for rho in reflectances * SAME_GROUND
        )
        return cls._of_corners(corners, len(reflectances), table_of.tolist())

    @classmethod
    def solved(cls, seen: Callable[[Coat], Floats], dots: Shares, n: float, nodes: int = FEW_NODES) -> "FastFilms":
        """Tables for anything that is seen of a film: on foil, over other coats, at an angle; of dots by Yule and
        Nielsen's n.

        `seen` answers a coat whose batch axes are (x, y) with (x, y, band); it is asked once, at some thousand films.
        """
        node = np.linspace(0, 1, nodes)
        absorbed = np.repeat((node**2)[:, None, None], BANDS, axis=2)  # (x, 1, band), 1 - albedo
        film_um = np.append(node[:-1] / (1 - node[:-1]), 1e6)  # (y,)
        at_nodes = seen(Coat(Mix(absorbed, 1 - absorbed), film_um))  # (x, y, band)
        in_x = refining(np.arange(ACROSS + 1) / ACROSS, nodes)
        along = 1 - np.arange(ALONG + 1) / ALONG
        in_y = [refining(thicker(along, times), nodes) for times in dots.times]
        corners = (blended((in_x @ at_nodes[..., band] @ one.T for one in in_y), dots, n) for band in range(BANDS))
        return cls._of_corners(corners, BANDS, list(range(BANDS)))

    @classmethod
    def _of_corners(cls, corners: Iterable[Floats], count: int, table_of: Sequence[int]) -> "FastFilms":
        """From the values at the corners of the cells, (ACROSS + 1, ALONG + 1) each."""
        value, in_x, in_y = (np.empty((count, ACROSS * ALONG), dtype=np.float32) for _ in range(3))
        for index, corner in enumerate(corners):
            low = corner[:-1, :-1]
            along_x, along_y = corner[1:, :-1] - low, corner[:-1, 1:] - low
            twist = corner[1:, 1:] - low - along_x - along_y
            value[index] = (low - twist / 4).ravel()
            in_x[index], in_y[index] = (along_x + twist / 2).ravel(), (along_y + twist / 2).ravel()
        return cls(value, in_x, in_y, tuple(table_of))

    def reflectance(self, films: "Films") -> Singles:
        """Glossy reflectance (band, film); outside 400 to 700 nm, where the eye is all but blind, the last band's."""
        count = films.depth.shape[1]
        result = np.empty_like(films.depth)
        along = np.float32(ALONG * (1 - 1e-6))
        x, y, low_x, low_y, found = (np.empty(count, dtype=np.float32) for _ in range(5))
        # One band at a time: its table and its films stay in the cache.
        for band in range(FIRST, LAST + 1):
            depth, table = films.depth[band], self.table_of[band]
            np.divide(films.absorbed[band], depth, out=x)
            np.sqrt(x, out=x)
            np.floor(x, out=low_x)
            np.subtract(x, low_x, out=x)
            np.add(depth, np.float32(1), out=y)
            np.divide(along, y, out=y)
            np.floor(y, out=low_y)
            np.subtract(y, low_y, out=y)
            np.multiply(low_x, np.float32(ALONG), out=low_x)
            np.add(low_x, low_y, out=low_x)
            cell = low_x.astype(np.int32).astype(np.intp)
            np.multiply(self.in_x[table].take(cell, out=found, mode="wrap"), x, out=x)
            np.multiply(self.in_y[table].take(cell, out=found, mode="wrap"), y, out=y)
            np.add(x, y, out=x)
            np.add(x, self.value[table].take(cell, out=found, mode="wrap"), out=result[band])
        result[:FIRST], result[LAST + 1 :] = result[FIRST], result[LAST]
        return result


@lru_cache(maxsize=1)
def _terms() -> tuple[FastFilms, FastFilms, FastFilms]:
    r, t, s = (FastFilms._of_corners([corner], 1, [0] * BANDS) for corner in _fine_terms())
    return r, t, s


def over_any(films: "Films", which: NDArray[np.intp], grounds: Floats) -> Floats:
    """Films over diffusing grounds of any make, each of its own: which film (patch,), internal reflectance
    (patch, band) -> glossy reflectance (band, patch). For a single ground `FastFilms.over` is three times as fast."""
    r, t, s = (term.reflectance(films)[:, which] for term in _terms())
    rho = grounds.T
    return r + t * rho / (1 - s * rho)


@dataclass(frozen=True, eq=False)
class Films:
    """Many films of one thickness, made ready for the look-up."""

    absorbed: Singles  # (band, film) absorption, in cells of x squared times depth
    depth: Singles  # (band, film) optical depth

    def albedo_place(self) -> Singles:
        """(band, film) sqrt(1 - albedo), 0 to just below 1."""
        return np.sqrt(self.absorbed / self.depth) / np.float32(ACROSS)


def films(shares: Floats, *, absorption: Floats, scattering: Floats, film_um: float) -> Films:
    """Cups as films of one thickness.

    Parameters
    ----------
    shares : (cup, paint) shares of the sprayed volume.
    absorption, scattering : (paint, band), 1/µm.
    film_um : thickness, µm.

    Returns
    -------
    Films of the cups.
    """
    mixed = _ready(absorption, scattering, film_um).T @ shares.T.astype(np.float32)  # (2 bands, cup)
    return Films(mixed[:BANDS], mixed[BANDS:])


def films_of(absorption: Floats, scattering: Floats, *, film_um: float) -> Films:
    """One film a paint, from coefficients (film, band)."""
    ready = np.ascontiguousarray(_ready(absorption, scattering, film_um).T)
    return Films(ready[:BANDS], ready[BANDS:])


def _ready(absorption: Floats, scattering: Floats, film_um: float) -> Singles:
    """(paint, 2 bands): what adds by volume."""
    scale = (ACROSS * (1 - 1e-6)) ** 2
    lost = film_um * absorption + LEAST  # (paint, band)
    return np.concatenate([scale * lost, lost + film_um * scattering], axis=1).astype(np.float32)
