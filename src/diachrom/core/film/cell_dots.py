"""Dots of mist in a mosaic of stacks.

Over what throws light about; over what keeps it in its place see `cell_clear_dots`. The mosaic's
films are even, and beside them goes what is seen: a layer of dots over anything that is seen as so much is
a curve of that figure, drawn through five grounds. The stacks of all numbers of discs are followed by three moments of
the n-th root of what is seen, and each layer finds them as two stacks. The same is followed for even films, and what
the exact mosaic shows otherwise than these is added as far as layers lie on each other. Against sums over all numbers
of discs of two and three layers: dE 0.06 to 0.3 in the median, 0.3 to 0.9 at the 95th percentile; tested.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np

from diachrom.core.film.cell_light import Lying, shining
from diachrom.core.film.cell_stacks import (
    BLOCK,
    FOUR,
    SOME_BANDS,
    Cells,
    MixTables,
    by_level,
    entering_straight,
    finer,
    gathered,
    lay,
    level,
    mixed,
    nodes,
    over,
    projected,
    seen_straight,
)
from diachrom.core.film.dots import COARSE, DIFFUSED, numbered, numbers_between, two_points
from diachrom.core.film.fast import Singles
from diachrom.core.film.stack import STRAIGHT_IN
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.film.surface import MATTE
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import light

GROUNDS_AT = (0.0, 0.02, 0.12, 0.45, 0.95)  # internal reflectances that a curve goes through
LEAST = 1e-6
MOMENTS = (1, 2, 3)
MOST_ROOT = 1.2


def shone(tables: MixTables, droplet_um: float) -> Singles:
    """(level,) how many times as much light a dye makes in dots as in an even film, over white."""
    film_um = nodes(tables.most_um)[1:]
    numbers, weights = numbered(film_um / droplet_um)
    places = np.concatenate([numbers * droplet_um, film_um])
    below = np.repeat(_diffusers()[-1:], len(places), axis=0)
    whole = lay([(tables.whole, None)], places, below, np.arange(len(places)))
    dyes, _ = shining([Lying(tables, places, below)], whole, light("D65").power)
    made = np.sum([dye.made for dye in dyes], axis=0).sum(axis=0)  # (place,)
    each, even = made[: len(numbers)], made[len(numbers) :]
    times = np.divide(each @ weights, even, out=np.ones_like(even), where=even > 0)
    return finer(np.concatenate([times[:1], times]))


@dataclass(frozen=True, eq=False)
class Curves:
    """A mix in all its thicknesses, as dots or even: coefficients (level, moment, power, band), in the n-th root of
    what lies below, of moments of the n-th root of what is seen."""

    rows: Singles
    most_um: float

    def over(self, below: Sequence[tuple[Singles, Singles | None]], film_um: Floats) -> list[Singles]:
        """The mean of each moment (band, cell) of films (cell,) over what is seen in these roots (band, cell), with
        their weights."""
        rows = gathered(self.rows, level(film_um, self.most_um))  # (moment, power, band, cell)
        found: list[Singles] = []
        for root, weight in below:
            at = internal(root ** np.float32(DIFFUSED)) ** np.float32(1 / DIFFUSED)
            each = rows[:, -1].copy()
            for power in range(rows.shape[1] - 2, -1, -1):
                each *= at
                each += rows[:, power]
            if weight is not None:
                each *= weight
            found = list(each) if not found else [one + other for one, other in zip(found, each, strict=True)]
        return [np.maximum(one, np.float32(LEAST)) for one in found]


def internal(seen: Singles) -> Singles:
    """The internal reflectance of a diffuser that is seen as so much under a gloss [saunderson1942]."""
    grid = streams(STREAMS)
    inner = np.float32(1 - float(grid.q**2 @ (1 - grid.inner)))
    back = np.maximum(seen, np.float32(0))
    return np.asarray(np.minimum(back / (np.float32(1 - MATTE) * (1 - inner) + inner * back), np.float32(1)))


def most_discs_um(film_um: float, droplet_um: float) -> float:
    """The thickest place of such a film that is looked at, µm."""
    if not droplet_um:
        return film_um
    discs = film_um / droplet_um
    return float(numbers_between(discs, discs, *COARSE)[-1]) * droplet_um


def curves(tables: MixTables, droplet_um: float, moments: Sequence[int] = MOMENTS) -> Curves:
    """Of a mix whose films are known up to the thickest place of its thickest film; what its flakes mirror is left
    out."""
    film_um = nodes(tables.most_um)[1:]
    grounds = _diffusers()  # (ground, pair, band)
    if droplet_um:
        numbers, weights = numbered(film_um / droplet_um)  # (number, node)
        places = numbers * droplet_um
    else:
        places, weights = film_um, np.eye(len(film_um))
    rows = tables.whole.at(np.repeat(places, len(grounds)))  # (pair, band, place x ground)
    below = np.moveaxis(np.tile(grounds, (len(places), 1, 1)), 0, -1)  # (pair, band, place x ground)
    each = seen_straight(np.moveaxis(over(FOUR, rows[:10], rows[10:], np.ascontiguousarray(below)), -1, 0))
    each = each.reshape(SOME_BANDS, len(places), len(grounds))
    if tables.mix.flakes:
        straight = seen_straight(np.moveaxis(tables.directed.at(places)[:10], -1, 0)) / entering_straight()
        each = np.maximum(each - np.float32(STRAIGHT_IN) * straight[..., None], 0)
    seen, bare = (np.maximum(one, LEAST) ** (1 / DIFFUSED) for one in (each, seen_straight(grounds)))
    whole = np.stack(
        [np.concatenate([bare[None] ** moment, np.einsum("pn,bpg->nbg", weights, seen**moment)]) for moment in moments],
        axis=1,
    )  # (node, moment, band, ground)
    powers = np.linalg.inv(np.vander(np.array(GROUNDS_AT) ** (1 / DIFFUSED), increasing=True))  # (power, ground)
    return Curves(by_level(np.einsum("kg,nmbg->mkbn", powers, whole)), tables.most_um)


@cache
def _diffusers() -> Singles:
    """(ground, pair, band) of GROUNDS_AT."""
    q = streams(STREAMS).q
    each = [np.broadcast_to(one * np.outer(q, q), (SOME_BANDS, STREAMS, STREAMS)) for one in GROUNDS_AT]
    return np.stack([FOUR.of(projected(one)) for one in each]).astype(np.float32)


@dataclass(eq=False)
class Followed:
    """The n-th root of what is seen (band, cell) of stacks so far: of all numbers of discs by its mean, mean square and
    mean cube, and as if all were even."""

    dotted: list[Singles]
    even: Singles
    covered: Singles  # (cell, 3) sums over the layers of the share that each covers, of its square, of its fourth power

    @classmethod
    def bare(cls, ground: Singles) -> "Followed":
        """Of grounds (cell, pair, band)."""
        root = np.maximum(seen_straight(ground), np.float32(LEAST)) ** np.float32(1 / DIFFUSED)
        return cls([root**power for power in MOMENTS], root, np.zeros((len(ground), 3), dtype=np.float32))

    def copy(self) -> "Followed":
        """The same, to go on from."""
        return Followed([one.copy() for one in self.dotted], self.even.copy(), self.covered.copy())

    @property
    def nbytes(self) -> int:
        """What it takes to keep, bytes."""
        return self.even.nbytes * (1 + len(self.dotted)) + self.covered.nbytes

    def lay(
        self, parts: Sequence[tuple[Curves, Curves, Singles | None]], film_um: Floats, droplet_um: float, cells: Cells
    ) -> None:
        """Films of one layer on some of the cells: dotted and even curves, several where cells hold more of a dye."""
        for start in range(0, len(cells), BLOCK):
            some = cells[start : start + BLOCK]
            own, below = film_um[some], two_roots([one[:, some] for one in self.dotted])
            dotted = [dots.over(below, own) for dots, _, _ in parts]
            even = [(one.over([(self.even[:, some], None)], own)[0], weight) for _, one, weight in parts]
            self.even[:, some] = mixed(even, some)
            for power, kept in enumerate(self.dotted):
                each = [(one[power], weight) for one, (_, _, weight) in zip(dotted, parts, strict=True)]
                kept[:, some] = mixed(each, some)
        share = -np.expm1(-film_um[cells] / droplet_um) if droplet_um else np.ones(len(cells))
        self.covered[cells] += np.stack([share, share**2, share**4], axis=1)

    def seen(self, exact: Singles, cells: Cells) -> Singles:
        """With what the exact even mosaic (band, cell) shows otherwise, where layers lie on each other."""
        exact = exact[:, cells]
        dotted, even = (one[:, cells] ** np.float32(DIFFUSED) for one in (self.dotted[0], self.even))
        once, twice, four = self.covered[cells].T
        # The share on which each two of them lie, and its mean, weighed by itself.
        pairs, squares = once**2 - twice, twice**2 - four
        both = np.divide(squares, pairs, out=np.zeros_like(pairs), where=pairs > LEAST)
        left = np.minimum(dotted / even, even / dotted) * both
        return np.asarray(np.maximum(dotted + (exact - even) * left, np.float32(0)))


def two_roots(moments: Sequence[Singles]) -> list[tuple[Singles, Singles | None]]:
    """Two values (band, cell) and their weights that have the mean, the mean square and the mean cube given: Gauss's
    quadrature of two points."""
    mean, square, cube = moments
    if float((square - mean * mean).max(initial=0.0)) < LEAST:
        return [(mean, None)]
    return [(np.clip(value, 0, MOST_ROOT), share) for value, share in two_points(mean, square, cube, LEAST)]
