"""Whole drops of some paints: all the proportions there are, and what each is to the eye, exactly."""

from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.mix.together import together
from diachrom.core.mix.where import Where

Parts = tuple[tuple[int, int], ...]  # (place among the paints, drops) each
Indexes = np.ndarray[tuple[int, ...], np.dtype[np.intp]]
AT_ONCE = 24  # mixes solved together: more do not fit into the cache


@lru_cache(maxsize=64)
def compositions(parts: int, most: int) -> Indexes:
    """(n, parts) whole numbers from 1 that sum to at most `most` and have no common divisor; fewest drops first."""
    if parts == 1:
        return np.ones((1, 1), dtype=np.intp)
    grid = (
        np.indices((most - parts + 1,) * parts).reshape(parts, -1).T + 1 if most >= parts else np.empty((0, parts), int)
    )
    grid = grid[grid.sum(axis=1) <= most]
    grid = grid[np.gcd.reduce(grid, axis=1) == 1]
    return np.ascontiguousarray(grid[np.argsort(grid.sum(axis=1), kind="stable")], dtype=np.intp)


def volumes_of(mixes: Sequence[Parts], drop_ml: Sequence[float] | Floats) -> Floats:
    """(mix, paint) ml"""
    found = np.zeros((len(mixes), len(drop_ml)))
    for row, parts in enumerate(mixes):
        for index, drops in parts:
            found[row, index] += drops * drop_ml[index]
    return found


def special(paint: Paint) -> bool:
    """It has flakes, or light of its own."""
    return bool(paint.flake or paint.fluorescence or paint.glow)


def uncommon(paint: Paint) -> bool:
    """No colour to match with where a plain one does: a primer, or what has flakes or light of its own."""
    return paint.kind == "primer" or special(paint)


def by_special(paints: Sequence[Paint], mixes: Sequence[Parts]) -> list[list[Parts]]:
    """Mixes that share what is special in them: they can be solved together."""
    groups: dict[tuple[int, ...], list[Parts]] = {}
    for parts in mixes:
        groups.setdefault(tuple(index for index, _ in parts if special(paints[index])), []).append(parts)
    return list(groups.values())


def exact_labs(paints: Sequence[Paint], shares: Floats, where: Where, *, count: int = STREAMS) -> Floats:
    """Mixes by the whole transport solution.

    Parameters
    ----------
    paints : the paints.
    shares : (row, paint) shares of the sprayed volume.
    where : ground, film, light and angles.
    count : streams.

    Returns
    -------
    (row, view, 3) Lab.
    """
    result = np.empty((len(shares), len(where.views), 3))
    odd = shares[:, [special(paint) for paint in paints]] > 0  # (row, special paint)

    def solve(rows: Indexes) -> None:
        used = np.flatnonzero((shares[rows] > 0).any(axis=0)).tolist()
        mixed = mix([paints[index] for index in used], shares[rows][:, used])
        result[rows] = lab_of_radiance(where.radiance(Coat(mixed, where.film_um), count=count), under=where.under)

    alike = [np.flatnonzero((odd == kind).all(axis=1)) for kind in np.unique(odd, axis=0)]
    together(solve, [part for rows in alike for part in np.array_split(rows, -(-len(rows) // AT_ONCE))])
    return result
