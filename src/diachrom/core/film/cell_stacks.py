"""A mosaic: very many stacks side by side that share their mixes and differ in the thickness of their films.

A film's matrices (see `transport`) are projected on four fixed directions: what is even within the escape cone, what is
even outside it, the stream straight down, and a first moment, made orthonormal. They stay symmetric, and films are laid
on each other by the same formula, element by element. Each mix is solved once at some thicknesses and looked up.
Every other band is followed, 380 to 700 nm: what an eye sees is read from these (`seen_weights`). Against the exact
stack: dE 0.06 in the median, 0.25 at the 95th percentile of stacks of up to eight films; tested.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cache, cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from diachrom.core.film import transport
from diachrom.core.film.emission import depths
from diachrom.core.film.fast import Singles, refining
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Laid
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import STREAMS, streams
from diachrom.core.film.transport import Film
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats

SOME = slice(0, 33, 2)  # bands followed: 380 to 700 nm, every 20 nm
SOME_NM = WAVELENGTHS_NM[SOME]
SOME_BANDS = len(SOME_NM)
NODES, LEVELS = 25, 512  # thicknesses solved, and looked up, by the square root
BLOCK = 768  # stacks at a time, so that what is reckoned stays in the cache
Cells = NDArray[np.intp]


@dataclass(frozen=True)
class Packed:
    """Symmetric matrices as their upper triangles: where each element stands."""

    size: int

    @cached_property
    def pairs(self) -> list[tuple[int, int]]:
        """Pairs of streams that are kept."""
        return [(i, j) for i in range(self.size) for j in range(i, self.size)]

    @cached_property
    def _places(self) -> list[list[int]]:
        return [[self.pairs.index((min(i, j), max(i, j))) for j in range(self.size)] for i in range(self.size)]

    def at(self, i: int, j: int) -> int:
        """Where a pair of streams stands among those that are kept."""
        return self._places[i][j]

    def of(self, matrices: Floats) -> Floats:
        """(..., i, j) -> (pair, ...)"""
        return np.stack([matrices[..., i, j] for i, j in self.pairs])

    def whole(self, rows: Floats | Singles) -> Floats:
        """(pair, ...) -> (..., i, j)"""
        return np.moveaxis(np.asarray(rows, dtype=np.float64), 0, -1)[..., self._places]


FOUR = Packed(4)


@cache
def directions() -> Floats:
    """(stream, direction), orthonormal."""
    grid = streams(STREAMS)
    within = np.arange(STREAMS) >= STREAMS // 2
    own = [grid.q * within, grid.q * ~within, np.eye(STREAMS)[-1], grid.q * grid.mu]
    return np.linalg.qr(np.array(own).T)[0]


@cache
def seen_weights() -> Floats:
    """(band, some band): what values at the bands followed are in all bands; beyond them the last one's."""
    last = SOME.stop - 1
    inside = refining(np.linspace(0, 1, SOME.stop), SOME_BANDS)
    return np.concatenate([inside, np.repeat(np.eye(SOME_BANDS)[-1:], BANDS - 1 - last, 0)])


def projected(matrices: Floats) -> Floats:
    """(..., stream, stream) -> (..., direction, direction)"""
    own = directions()
    return own.T @ matrices @ own


@dataclass(frozen=True, eq=False)
class FilmTable:
    """The films of a mix, in all thicknesses up to the thickest."""

    rows: Singles  # (level, pair of R then of T, band)
    most_um: float

    @classmethod
    def of(cls, film: Film, most_um: float) -> "FilmTable":
        """From films at `nodes` (node, band, stream, stream) of all bands."""
        both = np.concatenate([FOUR.of(projected(one[:, SOME])) for one in (film.reflection, film.transmission)])
        return cls(by_level(np.moveaxis(both, 1, -1)), most_um)

    def at(self, film_um: Floats | Singles) -> Singles:
        """(pair of R then of T, band, cell) of films of these thicknesses (cell,)."""
        return gathered(self.rows, level(film_um, self.most_um))


def nodes(most_um: float) -> Floats:
    """(node,) thicknesses at which a mix is solved."""
    return most_um * np.linspace(0, 1, NODES) ** 2


def finer(values: Floats | Singles) -> Singles:
    """(..., node) -> (..., level)"""
    return np.ascontiguousarray(values @ refining(np.linspace(0, 1, LEVELS), NODES).T, dtype=np.float32)


def by_level(values: Floats | Singles) -> Singles:
    """(..., node) -> (level, ...)"""
    return np.ascontiguousarray(np.moveaxis(finer(values), -1, 0))


def gathered(kept: Singles, which: Cells) -> Singles:
    """Some rows of (row, ...), standing last: (..., picked). Whole rows are copied at once, and turned in the cache:
    nine times as fast as picking each figure."""
    picked = kept.take(which, axis=0, mode="clip").reshape(len(which), -1)
    return np.ascontiguousarray(picked.T).reshape(*kept.shape[1:], len(which))


def level(film_um: Floats | Singles, most_um: float) -> Cells:
    """(cell,) which entry of a table a thickness is."""
    share = np.sqrt(np.clip(film_um / most_um, 0, 1))
    return np.rint(share * (LEVELS - 1)).astype(np.intp)


@dataclass(frozen=True, eq=False)
class MixTables:
    """A mix in all its thicknesses: for all light, and for light that met no particle."""

    mix: Mix
    most_um: float
    whole: FilmTable
    directed: FilmTable

    @cached_property
    def mean_fluence(self) -> Singles:
        """(level, direction, band) of the fluence that light entering from either side has in the mean."""
        places, weights = depths()
        film_um = nodes(self.most_um)
        modes, nothing = transport.modes(self.mix, STREAMS), np.zeros(STREAMS)
        each = [
            transport.fluence(modes, film_um, (one, nothing), places)[:, SOME] @ weights  # (node, band)
            for one in np.eye(STREAMS)
        ]
        return by_level(np.moveaxis(np.tensordot(directions().T, np.stack(each), 1), 1, -1))


def tables(mix: Mix, most_um: float) -> MixTables:
    """Solve a mix."""
    film_um = nodes(most_um)
    modes = transport.modes(mix, STREAMS)
    whole = FilmTable.of(transport.film(modes, film_um), most_um)
    laid = Laid(film_um, transport.dimming(mix, STREAMS), mix.flakes)
    if mix.flakes:
        own = laid.directed(STREAMS, 1)
        film = Film(own.reflection[..., 0, :, :, :], own.transmission[..., 0, :, :, :])
    else:
        through = np.exp(-laid.paths(STREAMS))
        film = Film(np.zeros((*through.shape, STREAMS)), through[..., None] * np.eye(STREAMS))
    return MixTables(mix, most_um, whole, FilmTable.of(film, most_um))


@lru_cache(maxsize=32)
def ground_rows(ground: Ground) -> tuple[Singles, Singles]:
    """(pair, band) of all that a ground sends back, and of what of that keeps its direction."""
    directed = ground.matrices(STREAMS)[0] if ground.glossy else np.zeros_like(ground.matrix(STREAMS))
    whole, own = (FOUR.of(projected(one[SOME])).astype(np.float32) for one in (ground.matrix(STREAMS), directed))
    return whole, own


Parts = Sequence[tuple[FilmTable, Singles | None]]  # with how much each cell is like it (cell,): they sum to 1


def lay(parts: Parts, film_um: Floats, below: Singles, cells: Cells) -> Singles:
    """Films of one paint laid over what is there, cell by cell.

    Parameters
    ----------
    parts : the paint's films by thickness; several where cells hold more or less of a dye.
    film_um : (cell,) thickness, µm.
    below : (cell, pair, band) what lies below, of all cells.
    cells : numbers of those that it is laid on.

    Returns
    -------
    (cell named, pair, band).
    """
    found = np.empty((len(cells), 10, SOME_BANDS), dtype=np.float32)
    for start in range(0, len(cells), BLOCK):
        some = cells[start : start + BLOCK]
        rows = mixed([(table.at(film_um[some]), weight) for table, weight in parts], some)
        found[start : start + BLOCK] = np.moveaxis(over(FOUR, rows[:10], rows[10:], gathered(below, some)), -1, 0)
    return found


def mixed(parts: Sequence[tuple[Singles, Singles | None]], cells: Cells) -> Singles:
    """The sum (..., cell named) of what parts come to, by the weights (cell,) of all cells."""
    each = [values if weight is None else values * weight[cells] for values, weight in parts]
    return each[0] if len(each) == 1 else np.asarray(sum(each))


def dim(table: FilmTable, film_um: Floats, below: Singles, cells: Cells) -> Singles:
    """The same of films that send nothing back."""
    found = np.empty((len(cells), 10, SOME_BANDS), dtype=np.float32)
    at, size = FOUR.at, range(4)
    for start in range(0, len(cells), BLOCK):
        some = cells[start : start + BLOCK]
        own, through = gathered(below, some), table.at(film_um[some])[10:]
        right = [[_row(own, through, at, i, j) for j in size] for i in size]
        for i, j in FOUR.pairs:
            total = sum(through[at(i, k)] * right[k][j] for k in size)
            found[start : start + BLOCK, at(i, j)] = np.asarray(total).T
    return found


def over(shape: Packed, film: Singles, through: Singles, below: Singles) -> Singles:
    """The adding equation, R + T (1 - B R)^-1 B T, element by element. Nothing pivots: a film and what lies below
    it send back less than all.

    Parameters
    ----------
    shape : how streams are packed into pairs.
    film : (pair, ...) reflection; the result is written here.
    through : (pair, ...) transmission.
    below : (pair, ...) reflection of what lies below.

    Returns
    -------
    (pair, ...).
    """
    at, size = shape.at, range(shape.size)
    left = [[_row(below, film, at, i, j) for j in size] for i in size]  # B R
    right = [[_row(below, through, at, i, j) for j in size] for i in size]  # B T
    for i in size:
        for j in size:
            np.negative(left[i][j], out=left[i][j])
        left[i][i] += 1
    solve(left, right)
    spare = np.empty_like(film[0])
    for i, j in shape.pairs:
        for k in size:
            film[at(i, j)] += np.multiply(through[at(i, k)], right[k][j], out=spare)
    return film


def _row(one: Singles, other: Singles, at: Callable[[int, int], int], i: int, j: int) -> Singles:
    """An element of the product of two."""
    total = one[at(i, 0)] * other[at(0, j)]
    spare = np.empty_like(total)
    for k in range(1, 4):
        total += np.multiply(one[at(i, k)], other[at(k, j)], out=spare)
    return total


def solve(left: list[list[Singles]], right: list[list[Singles]]) -> None:
    """Gauss, element by element and in place: `right` becomes the solution."""
    count, spare = len(left), np.empty_like(left[0][0])
    for i in range(count):
        inverse = 1 / left[i][i]
        for k in range(i + 1, count):
            factor = left[k][i] * inverse
            for j in range(i + 1, count):
                left[k][j] -= np.multiply(factor, left[i][j], out=spare)
            for j in range(len(right[0])):
                right[k][j] -= np.multiply(factor, right[i][j], out=spare)
        for j in range(i + 1, count):
            left[i][j] *= inverse
        for j in range(len(right[0])):
            right[i][j] *= inverse
    for i in reversed(range(count)):
        for k in range(i):
            for j in range(len(right[0])):
                right[k][j] -= np.multiply(left[k][i], right[i][j], out=spare)


@cache
def surface() -> tuple[Singles, Singles, Singles]:
    """In the directions followed: what the surface turns back (direction, direction), what of it leaves (direction,),
    and light that falls straight down (direction,)."""
    grid, own = streams(STREAMS), directions()
    back = own.T @ np.diag(grid.inner) @ own
    leaves = own.T @ (grid.q * (1 - grid.inner))
    return tuple(one.astype(np.float32) for one in (back, leaves, own[-1]))  # type: ignore[return-value]


def rising(below: Singles) -> list[Singles]:
    """All the light that comes up under the surface, of a unit that falls straight down below it: (direction) x
    (band, cell)."""
    back, _, straight = surface()
    at, size = FOUR.at, range(4)
    left = [[np.empty(0, dtype=np.float32)] * 4 for _ in size]
    for i in size:
        for j in size:
            total = below[at(i, 0)] * -back[0, j]
            for k in size[1:]:
                total -= below[at(i, k)] * back[k, j]
            left[i][j] = total
        left[i][i] += 1
    right = [[sum(below[at(i, k)] * straight[k] for k in size if straight[k])] for i in size]
    solve(left, right)
    return [row[0] for row in right]


def leaving(up: list[Singles]) -> Singles:
    """(band, cell) what of it leaves the surface."""
    _, leaves, _ = surface()
    return np.asarray(sum(one * float(share) for one, share in zip(up, leaves, strict=True)))


def entering_straight() -> np.float32:
    """What of light that falls straight down is in the stream straight down."""
    return np.float32(transport.entering(STREAMS) * streams(STREAMS).q[-1])


def seen_straight(below: Singles) -> Singles:
    """Radiance factor (band, cell) of light that falls straight down, mirror part left out: `out_of_surface`. What lies
    there is (cell, pair, band)."""
    entering = transport.entering(STREAMS)
    found = np.empty((below.shape[2], len(below)), dtype=np.float32)
    for start in range(0, len(below), BLOCK):
        some = slice(start, start + BLOCK)
        own = np.ascontiguousarray(np.moveaxis(below[some], 0, -1))
        found[:, some] = entering * leaving(rising(own))
    return found
