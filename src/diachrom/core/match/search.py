"""Matching: which bottles, and how many whole drops of each, come nearest to a colour.

Small shelves are tried whole: every set of paints, every number of drops. On larger ones every set of up to three is
tried in few parts, the best are given a fourth, and the best sets of all sizes then in every number of drops. All of
this by tables; the nearest are seen exactly, so that what is said is what the transport solution says. It goes in
steps, each with the best so far, and may be stopped after any.

A target that was seen at several angles is matched over all of them together: by the mean of their differences.
Flakes have coarser tables: more of what they promise is seen exactly. Several paints with flakes in one cup have none:
such mixes are solved, all of them on small shelves, pairs on larger ones.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import comb

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.match.best_sets import BestSets
from diachrom.core.mix.mixes import Indexes, Parts, compositions, exact_labs, volumes_of
from diachrom.core.mix.quick import QuickLooks
from diachrom.core.mix.where import Where, facing
from diachrom.errors import InvalidInput

MOST_PAINTS, MOST_DROPS = 5, 60
TRY_ALL = 120_000  # mixes; beyond, the search chooses where to look
CHUNK = 8_000
FEW_PARTS = {2: 8, 3: 5}  # parts in which sets of this size are looked through
SETS_TO_GROW, GROWN_PARTS = 40, 8
SETS_IN_FULL = {2: 60, 3: 48, 4: 20, 5: 8}
COMPOSITIONS_IN_FULL = 12_000  # of one set; beyond, those around the best are taken
EXACTLY = 160
# Of sets with flakes fewer are looked at: each look costs ten times as much.
FLAKED_TO_GROW, FLAKED_GROWN_PARTS, FLAKED_IN_FULL, FLAKED_COMPOSITIONS = 12, 6, 6, 2_000
FLAKED_EXACTLY, DROPS_EXACTLY, FLAKED_AT_LAST = 3, 12, 24
FEW_FLAKED, SOLVED_PARTS, SOLVED_IN_FULL, SOLVED_FULL_PARTS = 4, 3, 3, 12


@dataclass(frozen=True, eq=False)
class Match:
    """Whole drops of some paints, and how near they come."""

    parts: Parts
    delta_e: float  # the mean over the views
    labs: Floats  # (view, 3)
    lab: Floats  # (3,) in the view that faces the eye

    @property
    def drops(self) -> int:
        return sum(drops for _, drops in self.parts)


@dataclass(frozen=True, eq=False)
class FoundMixes:
    """The best so far: one match a set of paints, the nearest first."""

    matches: Sequence[Match]
    evaluated: int
    finished: bool


def _parts(paints: Sequence[int], drops: Iterable[int]) -> Parts:
    return tuple((at, int(count)) for at, count in zip(paints, drops, strict=True))


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
        kept_in: Sequence[int] = (),
        reluctance: Sequence[float] | None = None,
    ) -> None:
        """`target` is a Lab (3,), or one for each view of `where` (view, 3), under its light.

        Every mix holds the paints that are `kept_in`. `reluctance` is how much nearer, in dE, a mix must be for each
        paint to be taken for it. Raises InvalidInput.
        """
        if not 1 <= most_paints <= MOST_PAINTS:
            raise InvalidInput(f"A match takes 1 to {MOST_PAINTS} paints, not {most_paints}.", field="max_paints")
        if not 1 <= most_drops <= MOST_DROPS:
            raise InvalidInput(f"A match takes 1 to {MOST_DROPS} drops, not {most_drops}.", field="max_drops")
        if not 0 <= dilution < 1:
            raise InvalidInput(f"The share of reducer and medium is 0 to 1, not {dilution:g}.", field="dilution")
        self.target, self.where, self.paints = np.atleast_2d(target), where, paints
        self.drop_ml = np.asarray(drop_ml, dtype=np.float64)
        self.most_paints, self.most_drops, self.full = min(most_paints, most_drops), most_drops, 1 - dilution
        self.plain = [at for at, paint in enumerate(paints) if not paint.thins and not paint.flake]
        self.flaked = [at for at, paint in enumerate(paints) if paint.flake]
        if not self.plain and not self.flaked:
            raise InvalidInput(
                "There is no paint with a colour to match with: put one on the shelf, or take one in again.",
                field="paints",
            )
        self.kept_in = tuple(sorted(set(kept_in)))
        if len(self.kept_in) > self.most_paints:
            raise InvalidInput(
                f"{len(self.kept_in)} paints are kept in, but a mix may hold {self.most_paints}.", field="max_paints"
            )
        self.reluctance = np.zeros(len(paints)) if reluctance is None else np.asarray(reluctance, dtype=np.float64)
        self.evaluated = 0
        self._looks = QuickLooks(where, paints)
        self._exact: dict[Parts, Match] = {}  # what was seen exactly already
        self._best = BestSets(self.flaked)

    def steps(self) -> Iterator[FoundMixes]:
        """The best so far, again and again until it is the best there is."""
        plain = [at for at in self.plain if not self.paints[at].fluorescence]  # whose tables are there at once
        self._try(self._sets(1, plain), 1)
        yield self._found(finished=False)
        self._try(self._sets(1, [at for at in (*self.plain, *self.flaked) if at not in plain]), 1)
        if self._count() <= TRY_ALL:
            for size in range(2, self._sizes() + 1):
                self._try(self._sets(size, [*self.plain, *self.flaked]))
        else:
            yield from self._choosing()
        self._two_with_flakes()
        self._flakes_exactly()
        yield self._found(finished=True)

    def _sets(self, size: int, of: Sequence[int]) -> list[tuple[int, ...]]:
        """Sets of so many paints, with those that are kept in; of other paints at most one has flakes."""
        others = [at for at in of if at not in self.kept_in]
        more, flaked = size - len(self.kept_in), frozenset(self.flaked)
        if more < 0:
            return []
        room = 1 - self._best.has_flakes(self.kept_in)
        sets: Iterable[tuple[int, ...]] = combinations(others, more)
        if self._best.has_flakes(others):
            sets = (one for one in sets if len(flaked.intersection(one)) <= room)
        return [tuple(sorted((*self.kept_in, *one))) for one in sets]

    def _two_with_flakes(self) -> None:
        """Sets with several paints with flakes, in few parts, and the best of them in more: they are solved, slowly.
        Where they are many, pairs alone."""
        if not (self.where.turned or len(self.flaked) <= FEW_FLAKED):
            return
        able, largest = ([*self.plain, *self.flaked], MOST_PAINTS) if self._count() <= TRY_ALL else (self.flaked, 2)
        for size in range(2, min(largest, self._sizes()) + 1):
            sets = [
                tuple(sorted(one))
                for one in combinations(able, size)
                if len(self._best.flakes_in(one)) > 1 and set(self.kept_in) <= set(one)
            ]
            self._try(sets, SOLVED_PARTS)
            self._try(self._best.nearest_of(sets, SOLVED_IN_FULL), SOLVED_FULL_PARTS)

    def _flakes_exactly(self) -> None:
        """What the tables promise of the nearest sets with flakes, seen exactly: they are coarser there."""
        for size in range(2, self._sizes() + 1):
            for one in self._best.nearest(size, FLAKED_EXACTLY, flaked=True):
                whole = self._in_full(one)
                which = np.tile(np.array(one, dtype=np.intp), (len(whole), 1))
                order = np.argsort(self._distances(which, whole))[:DROPS_EXACTLY]
                best = min(self._see([_parts(one, drops) for drops in whole[order]]), key=self.cost)
                self._best.correct(one, self.cost(best), [drops for _, drops in best.parts])

    def _see(self, mixes: Sequence[Parts]) -> list[Match]:
        """Exactly, each once."""
        new = [parts for parts in dict.fromkeys(mixes) if parts not in self._exact]
        self._exact |= {one.parts: one for one in self.exactly(new)}
        return [self._exact[parts] for parts in mixes]

    def _choosing(self) -> Iterator[FoundMixes]:
        # Without flakes nothing turns with the angle, unless the ground does.
        turning = self.where.turned and not self._looks.ground_turns and bool(np.ptp(self.target, axis=0).max() > 3)
        for size in (2,) if turning else (2, 3):
            if size <= self._sizes():
                self._try(self._sets(size, self.plain), FEW_PARTS[size])
                yield self._found(finished=False)
        if self.flaked and self._sizes() > 1:
            both = self._sets(2, [*self.plain, *self.flaked])
            self._try([one for one in both if self._best.has_flakes(one)], FEW_PARTS[2])
            yield self._found(finished=False)
        for size in range(3, self._sizes() + 1):
            if size > 3 and not turning:
                self._try(sorted(self._grown(size)), GROWN_PARTS)
            self._try(sorted(self._grown(size, flaked=True)), FLAKED_GROWN_PARTS)
            yield self._found(finished=False)
        for size in range(2, self._sizes() + 1):
            self._try(
                self._best.nearest(size, SETS_IN_FULL[size]) + self._best.nearest(size, FLAKED_IN_FULL, flaked=True)
            )
            yield self._found(finished=False)

    def _grown(self, size: int, *, flaked: bool = False) -> set[tuple[int, ...]]:
        """The nearest sets that are one smaller, each with every other plain paint; and what is kept in by itself."""
        grown = {
            tuple(sorted((*one, other)))
            for one in self._best.nearest(size - 1, FLAKED_TO_GROW if flaked else SETS_TO_GROW, flaked=flaked)
            for other in self.plain
            if other not in one
        }
        return grown | {self.kept_in} if len(self.kept_in) == size else grown

    def _in_full(self, paints: tuple[int, ...]) -> Indexes:
        """Every number of drops of a set, or those around its best where they are too many."""
        size = len(paints)
        known, flaked = self._best.of(paints), self._best.has_flakes(paints)
        if known is None or comb(self.most_drops, size) <= (FLAKED_COMPOSITIONS if flaked else COMPOSITIONS_IN_FULL):
            return compositions(size, self.most_drops)
        shares = np.array(known[1]) / sum(known[1])
        around = np.indices((3,) * size).reshape(size, -1).T - 1
        totals = np.arange(size, self.most_drops + 1)
        found = (np.rint(totals[:, None, None] * shares) + around).astype(np.intp).reshape(-1, size)
        found = found[(found >= 1).all(axis=1) & (found.sum(axis=1) <= self.most_drops)]
        return np.unique(found, axis=0)

    def _sizes(self) -> int:
        return min(self.most_paints, len(self.plain) + len(self.flaked))

    def _count(self) -> int:
        paints = len(self.plain) + len(self.flaked)
        return sum(comb(paints, size) * comb(self.most_drops, size) for size in range(1, self._sizes() + 1))

    def _try(self, sets: Sequence[tuple[int, ...]], parts: int | None = None) -> None:
        """Look up sets of one size in at most so many parts, or in every number of drops; keep the best of each."""
        if not sets:
            return
        few = None if parts is None else compositions(len(sets[0]), min(parts, self.most_drops))
        each = 1 if few is None else max(1, CHUNK // max(1, len(few)))
        for start in range(0, len(sets), each):
            some = sets[start : start + each]
            drops = [self._in_full(one) if few is None else few for one in some]
            ends = np.cumsum([len(one) for one in drops]).tolist()
            if not ends[-1]:
                continue
            which = np.repeat(np.array(some, dtype=np.intp), [len(one) for one in drops], axis=0)
            far = self._distances(which, np.concatenate(drops))
            for paints, tried, end in zip(some, drops, ends, strict=True):
                own = far[end - len(tried) : end]
                best = int(np.argmin(own))
                self._best.offer(paints, float(own[best]), tried[best].tolist())

    def pairs(self) -> Floats:
        """(n, 3) Lab of every paint alone and of every two without flakes, facing the eye: how far the shelf goes."""
        alone = np.array([*self.plain, *self.flaked], dtype=np.intp)[:, None]
        found = [self._labs(alone, np.ones_like(alone))]
        two = np.array(list(combinations(self.plain, 2)), dtype=np.intp).reshape(-1, 2)
        if len(two):
            few = compositions(2, FEW_PARTS[2])
            found.append(self._labs(np.repeat(two, len(few), axis=0), np.tile(few, (len(two), 1))))
        return np.concatenate(found)[:, facing(self.where.views)]

    def _distances(self, which: Indexes, counts: Indexes) -> Floats:
        """dE (row,) of mixes by the tables, the mean over all views, and what speaks against their paints."""
        self.evaluated += len(counts)
        return mean_delta_e(self._labs(which, counts), self.target) + self.reluctance[which].sum(axis=1)

    def _labs(self, which: Indexes, counts: Indexes) -> Floats:
        """(row, view, 3) Lab of mixes by the tables."""
        volumes = counts * self.drop_ml[which]
        shares = self.full * volumes / volumes.sum(axis=1, keepdims=True)
        dense = np.zeros((len(counts), len(self.paints)))
        np.put_along_axis(dense, which, shares, axis=1)
        return self._looks.labs(dense)

    def _found(self, *, finished: bool) -> FoundMixes:
        """The nearest sets seen exactly."""
        most = {False: EXACTLY, True: FLAKED_AT_LAST} if finished else {False: 12, True: 3}
        some: list[Parts] = []
        for flaked, number in most.items():
            some += [_parts(paints, drops) for paints, (_, drops) in self._best.overall(number, flaked=flaked)]
        looked = self._see(some)
        return FoundMixes(sorted(looked, key=lambda one: (self.cost(one), one.drops)), self.evaluated, finished)

    def cost(self, one: Match) -> float:
        """dE, and what speaks against its paints."""
        return one.delta_e + float(self.reluctance[[at for at, _ in one.parts]].sum())

    def exactly(self, mixes: Sequence[Parts]) -> list[Match]:
        """These mixes by the transport solution, in this order."""
        if not mixes:
            return []
        volumes = volumes_of(mixes, self.drop_ml)
        shares = self.full * volumes / volumes.sum(axis=1, keepdims=True)
        labs = exact_labs(self.paints, shares, self.where)
        rows = zip(
            mixes, mean_delta_e(labs, self.target).tolist(), labs, labs[:, facing(self.where.views)], strict=True
        )
        return [Match(*row) for row in rows]
