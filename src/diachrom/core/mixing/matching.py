"""Matching: which bottles, and how many whole drops of each, come nearest to a colour.

Small shelves are tried whole: every set of paints, every number of drops. On larger ones every set of up to three is
tried in few parts, the best are given a fourth, and the best sets of all sizes then in every number of drops. All of
this by tables; the nearest are seen exactly, so that what is said is what the transport solution says. It goes in
steps, each with the best so far, and may be stopped after any.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from itertools import combinations
from math import comb

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.fast import FastFilms, films
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import Light
from diachrom.core.mixing.layers import Layer, coat
from diachrom.errors import InvalidInput

MOST_PAINTS, MOST_DROPS = 5, 60
TRY_ALL = 120_000  # mixes; beyond, the search chooses where to look
CHUNK = 8_000
FEW_PARTS = {1: 1, 2: 8, 3: 5}  # parts in which sets of this size are looked through
SETS_FOR_A_FOURTH, FOURTH_PARTS = 40, 8
SETS_IN_FULL = {1: 10, 2: 60, 3: 48, 4: 20, 5: 8}
COMPOSITIONS_IN_FULL = 12_000  # of one set; beyond, those around the best are taken
EXACTLY = 160
Parts = tuple[tuple[int, int], ...]  # (place among the paints, drops) each
Indexes = np.ndarray[tuple[int, ...], np.dtype[np.intp]]


@dataclass(frozen=True, eq=False)
class Where:
    """What is matched over what, and how it is looked at."""

    ground: Ground
    film_um: float  # all coats together
    clear_coat: bool
    under: Light
    below: tuple[Layer, ...] = ()
    angle_deg: float | None = None

    def factor(self, top: Coat, *, streams: int | None = None) -> Floats:
        """What is seen of a coat: radiance factor (..., band)."""
        coats = [*(coat(layer) for layer in self.below), top]
        stack = sprayed(coats) if streams is None else sprayed(coats, streams)
        found = seen.diffuse(stack, self.ground, clear_coat=self.clear_coat, under=self.under)
        if self.angle_deg is None:
            return found
        return found + seen.glance(stack, self.ground, [self.angle_deg], under=self.under)[..., 0, :]

    def tables(self) -> FastFilms:
        return _tables(self)


_kept: dict[tuple[object, ...], FastFilms] = {}
TABLES_KEPT = 12


def _tables(where: Where) -> FastFilms:
    """From memory, but for what lies on a recipe as sprayed."""
    if where.below:
        return FastFilms.solved(where.factor)
    key = (where.ground.key, where.ground.reflectance.tobytes(), where.clear_coat, where.angle_deg, where.under.key)
    found = _kept.get(key)
    if found is None:
        plain = where.angle_deg is None and where.clear_coat and not where.ground.glossy
        found = FastFilms.over(where.ground) if plain else FastFilms.solved(where.factor)
        while len(_kept) >= TABLES_KEPT:
            _kept.pop(next(iter(_kept)), None)
        _kept[key] = found
    return found


@dataclass(frozen=True, eq=False)
class Match:
    """Whole drops of some paints, and how near they come."""

    parts: Parts
    delta_e: float
    lab: Floats  # (3,)

    @property
    def drops(self) -> int:
        return sum(drops for _, drops in self.parts)


@dataclass(frozen=True, eq=False)
class Found:
    """The best so far: one match a set of paints, the nearest first."""

    matches: Sequence[Match]
    evaluated: int
    finished: bool


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


class Search:
    """One search, with what it needs at each step."""

    def __init__(
        self,
        target: Floats,
        paints: Sequence[Paint],
        drop_ml: Sequence[float],
        where: Where,
        *,
        most_paints: int,
        most_drops: int,
        dilution: float,
    ) -> None:
        """`target` is a Lab (3,) under the light of `where`. Raises InvalidInput."""
        if not 1 <= most_paints <= MOST_PAINTS:
            raise InvalidInput(f"A match takes 1 to {MOST_PAINTS} paints, not {most_paints}.", field="max_paints")
        if not 1 <= most_drops <= MOST_DROPS:
            raise InvalidInput(f"A match takes 1 to {MOST_DROPS} drops, not {most_drops}.", field="max_drops")
        if not 0 <= dilution < 1:
            raise InvalidInput(f"The share of reducer and medium is 0 to 1, not {dilution:g}.", field="dilution")
        self.target, self.where, self.paints = target, where, paints
        self.drop_ml = np.asarray(drop_ml, dtype=np.float64)
        self.most_paints, self.most_drops, self.full = min(most_paints, most_drops), most_drops, 1 - dilution
        self.plain = [at for at, paint in enumerate(paints) if not paint.thins and not special(paint)]
        self.special = [at for at, paint in enumerate(paints) if special(paint)]
        if not self.plain and not self.special:
            raise InvalidInput("There is no paint with a colour to match with.", field="paints")
        self.evaluated = 0
        self._tables = where.tables() if self.plain else None
        self._absorption = np.stack([paints[at].absorption for at in self.plain or [0]])
        self._scattering = np.stack([paints[at].scattering for at in self.plain or [0]])
        self._exact: dict[Parts, Match] = {}  # what was seen exactly already
        self._best: dict[tuple[int, ...], tuple[float, tuple[int, ...]]] = {}  # by set of paints: distance, drops

    def steps(self) -> Iterator[Found]:
        """The best so far, again and again until it is the best there is."""
        alone = [((at,), np.ones((1, 1), dtype=np.intp)) for at in self.plain]
        if alone:
            self._try(alone)
        yield self._found(finished=False)
        if self._count() <= TRY_ALL:
            for size in range(2, self._sizes() + 1):
                whole = compositions(size, self.most_drops)
                self._try([(one, whole) for one in combinations(self.plain, size)])
        else:
            yield from self._choosing()
        yield self._found(finished=True)

    def _choosing(self) -> Iterator[Found]:
        for size in (2, 3):
            if size <= self._sizes():
                few = compositions(size, min(FEW_PARTS[size], self.most_drops))
                self._try([(one, few) for one in combinations(self.plain, size)])
                yield self._found(finished=False)
        for size in range(4, self._sizes() + 1):
            few = compositions(size, min(FOURTH_PARTS, self.most_drops))
            grown = {
                tuple(sorted((*one, other)))
                for one in self._nearest(size - 1, SETS_FOR_A_FOURTH)
                for other in self.plain
                if other not in one
            }
            self._try([(one, few) for one in sorted(grown)])
            yield self._found(finished=False)
        for size in range(2, self._sizes() + 1):
            for one in self._nearest(size, SETS_IN_FULL[size]):
                self._try([(one, self._in_full(one))])
            yield self._found(finished=False)

    def _in_full(self, paints: tuple[int, ...]) -> Indexes:
        """Every number of drops of a set, or those around its best where they are too many."""
        size = len(paints)
        if comb(self.most_drops, size) <= COMPOSITIONS_IN_FULL:
            return compositions(size, self.most_drops)
        shares = np.array(self._best[paints][1]) / sum(self._best[paints][1])
        around = np.indices((3,) * size).reshape(size, -1).T - 1
        totals = np.arange(size, self.most_drops + 1)
        found = (np.rint(totals[:, None, None] * shares) + around).astype(np.intp).reshape(-1, size)
        found = found[(found >= 1).all(axis=1) & (found.sum(axis=1) <= self.most_drops)]
        return np.unique(found, axis=0)

    def _sizes(self) -> int:
        return min(self.most_paints, len(self.plain))

    def _count(self) -> int:
        return sum(comb(len(self.plain), size) * comb(self.most_drops, size) for size in range(1, self._sizes() + 1))

    def _nearest(self, size: int, most: int) -> list[tuple[int, ...]]:
        own = [(far, paints) for paints, (far, _) in self._best.items() if len(paints) == size]
        return [paints for _, paints in sorted(own)[:most]]

    def _try(self, sets: Sequence[tuple[tuple[int, ...], Indexes]]) -> None:
        """Look up these sets of paints (all of one size) in these numbers of drops, and keep the best of each."""
        if not sets or self._tables is None:
            return
        each = max(1, CHUNK // max(1, len(sets[0][1])))
        for start in range(0, len(sets), each):
            some = sets[start : start + each]
            counts = np.concatenate([drops for _, drops in some])  # (row, part)
            which = np.repeat(
                np.array([paints for paints, _ in some], dtype=np.intp), [len(d) for _, d in some], axis=0
            )
            far = self._distances(which, counts)
            ends = np.cumsum([len(drops) for _, drops in some])
            for (paints, drops), end in zip(some, ends.tolist(), strict=True):
                own = far[end - len(drops) : end]
                best = int(np.argmin(own))
                known = self._best.get(paints)
                if known is None or own[best] < known[0]:
                    self._best[paints] = (float(own[best]), tuple(drops[best].tolist()))

    def pairs(self) -> Floats:
        """(n, 3) Lab of every plain paint alone and with every other, by the tables: how far the shelf goes."""
        if self._tables is None:
            return np.array([one.lab for one in self.exactly([((at, 1),) for at in self.special])])
        few = compositions(2, FEW_PARTS[2])
        two = list(combinations(self.plain, 2))
        alone = self._labs(np.array(self.plain)[:, None], np.ones((len(self.plain), 1), dtype=np.intp))
        if not two:
            return alone
        which = np.repeat(np.array(two, dtype=np.intp), len(few), axis=0)
        return np.concatenate([alone, self._labs(which, np.tile(few, (len(two), 1)))])

    def _distances(self, which: Indexes, counts: Indexes) -> Floats:
        """dE (row,) of mixes by the tables."""
        self.evaluated += len(counts)
        return delta_e(self._labs(which, counts), self.target)

    def _labs(self, which: Indexes, counts: Indexes) -> Floats:
        """(row, 3) Lab of mixes by the tables."""
        if self._tables is None:
            raise ValueError("no tables")
        volumes = counts * self.drop_ml[which]
        shares = self.full * volumes / volumes.sum(axis=1, keepdims=True)
        dense = np.zeros((len(counts), len(self.plain)))
        places = np.searchsorted(self.plain, which)
        np.put_along_axis(dense, places, shares, axis=1)
        made = films(dense, absorption=self._absorption, scattering=self._scattering, film_um=self.where.film_um)
        seen_as = self._tables.reflectance(made).T.astype(np.float64)
        return lab(seen_as, under=self.where.under)

    def _found(self, *, finished: bool) -> Found:
        """The nearest sets seen exactly."""
        order = sorted(self._best.items(), key=lambda item: item[1][0])[: EXACTLY if finished else 12]
        wanted = [tuple(zip(paints, drops, strict=True)) for paints, (_, drops) in order]
        wanted += [((at, 1),) for at in self.special]
        new = [parts for parts in wanted if parts not in self._exact]
        self._exact |= {one.parts: one for one in self.exactly(new)} if new else {}
        looked = [self._exact[parts] for parts in wanted]
        return Found(sorted(looked, key=lambda one: (one.delta_e, one.drops)), self.evaluated, finished)

    def exactly(self, mixes: Sequence[Parts]) -> list[Match]:
        """These mixes by the transport solution."""
        found: list[Match] = []
        for together in by_special(self.paints, mixes):
            used = sorted({at for parts in together for at, _ in parts})
            volumes = np.zeros((len(together), len(used)))
            for row, parts in enumerate(together):
                for at, drops in parts:
                    volumes[row, used.index(at)] = drops * self.drop_ml[at]
            shares = self.full * volumes / volumes.sum(axis=1, keepdims=True)
            mixed = mix([self.paints[at] for at in used], shares)
            labs = lab(self.where.factor(Coat(mixed, self.where.film_um)), under=self.where.under)
            far = delta_e(labs, self.target)
            found += [Match(parts, float(d), point) for parts, d, point in zip(together, far, labs, strict=True)]
        return found


def special(paint: Paint) -> bool:
    """What the tables cannot tell: flakes, and light of its own."""
    return bool(paint.flake or paint.fluorescence or paint.glow)


def by_special(paints: Sequence[Paint], mixes: Sequence[Parts]) -> list[list[Parts]]:
    groups: dict[tuple[int, ...], list[Parts]] = {}
    for parts in mixes:
        groups.setdefault(tuple(at for at, _ in parts if special(paints[at])), []).append(parts)
    return list(groups.values())
