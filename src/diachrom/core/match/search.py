"""Matching: which bottles, and how many whole drops of each, come nearest to a colour.

Small shelves are tried whole: every set of paints, every number of drops. On larger ones every set of up to three is
tried in few parts, the best are given a fourth, and the best sets of all sizes then in every number of drops. Of very
large ones those paints are listed first that are worth it (`shortlist`), and the others left out. All of this by
tables; the nearest are seen exactly, so that what is said is what the transport solution says. It goes in
steps, each with the best so far, and may be stopped after any.

A target that was seen at several angles is matched over all of them together: by the mean of their differences.
Flakes have coarser tables, coarser still where several paints in a cup have them: what they promise of the nearest sets
is solved, until the nearest of all are solved ones.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import combinations
from typing import Any

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.match.best_sets import SEVERAL, SORTS, BestSets, Paints
from diachrom.core.match.judge import Judge, Match, parts_of
from diachrom.core.match.sets import Sets
from diachrom.core.match.shortlist import MANY, apart, shortlist
from diachrom.core.mix.mixes import Indexes, Parts, compositions
from diachrom.core.mix.together import together
from diachrom.core.mix.where import FEW_STREAMS, Where, facing
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

MOST_PAINTS, MOST_DROPS = 5, 60
TRY_ALL = 120_000  # mixes; beyond, the search chooses where to look
CHUNK = 8_000
FEW_PARTS = {2: 8, 3: 5}  # parts in which sets of this size are looked through
SETS_TO_GROW, GROWN_PARTS = 40, 8
SETS_IN_FULL = {2: 60, 3: 48, 4: 20, 5: 8}
COMPOSITIONS_IN_FULL = 12_000  # of one set; beyond, those around the best are taken
EXACTLY = 120
SMALL_SETS = {1: 4, 2: 20, 3: 30}  # of each size, always among those that are seen exactly
# Of sets with flakes fewer are looked at: each look costs ten times as much.
FLAKED_TO_GROW, FLAKED_GROWN_PARTS, FLAKED_IN_FULL, FLAKED_COMPOSITIONS = 12, 6, 6, 1_200
FLAKED_SOLVED = {1: 6, SEVERAL: 9}  # sets of a size and sort
FLAKED_FIRST, DROPS_SOLVED, FLAKED_AT_LAST = 3, 20, 16
QUICKER = 6  # times fewer sets are looked at in full by a quick search
SOLVED_EXACTLY = 40  # mixes that few streams call the nearest: they are right to some tenths of a dE


@dataclass(frozen=True, eq=False)
class FoundMixes:
    """The best so far: one match a set of paints, the nearest first."""

    matches: Sequence[Match]
    evaluated: int
    finished: bool


class Search:
    """One search: what is tried when. `Sets` says what there is to try, `Judge` how near it comes."""

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
        many: int = MANY,
        quick: bool = False,
    ) -> None:
        """`target` is a Lab (3,), or one for each view of `where` (view, 3), under its light.

        Every mix holds the paints that are `kept_in`. `reluctance` is how much nearer, in dE, a mix must be for each
        paint to be taken for it. Of more than so `many` paints those are listed that are looked at closely. A `quick`
        one is for who asks many times: it looks at fewer sets in full, and at none exactly before the end. Raises
        InvalidInput.
        """
        if not 1 <= most_paints <= MOST_PAINTS:
            raise InvalidInput(
                say(
                    "A match takes 1 to {most_paints} paints, not {other_most_paints}.",
                    most_paints=MOST_PAINTS,
                    other_most_paints=most_paints,
                ),
                field="max_paints",
            )
        if not 1 <= most_drops <= MOST_DROPS:
            raise InvalidInput(
                say(
                    "A match takes 1 to {most_drops} drops, not {other_most_drops}.",
                    most_drops=MOST_DROPS,
                    other_most_drops=most_drops,
                ),
                field="max_drops",
            )
        if not 0 <= dilution < 1:
            raise InvalidInput(
                say("The share of reducer and medium is 0 to 1, not {dilution}.", dilution=quantity(dilution, "g")),
                field="dilution",
            )
        self._many, self.most_paints, self.quick = many, most_paints, quick
        self._how: dict[str, Any] = {"most_paints": most_paints, "most_drops": most_drops, "dilution": dilution}
        plain = [index for index, paint in enumerate(paints) if not paint.thins and not paint.flake]
        flaked = [at for at, paint in enumerate(paints) if paint.flake]
        self.sets = Sets(plain, flaked, kept_in, most_paints=most_paints, most_drops=most_drops)
        self.judge = Judge(target, paints, drop_ml, where, dilution=dilution, reluctance=reluctance)
        if not self.sets.every:
            raise InvalidInput(
                say("There is no paint with a colour to match with: put one on the shelf, or let one back in."),
                field="paints",
            )
        kept, most = len(self.sets.kept_in), min(most_paints, most_drops)
        if kept > most:
            raise InvalidInput(
                say("{kept} paints are kept in, but a mix may hold {most}.", kept=kept, most=most), field="max_paints"
            )
        self._best = BestSets(flaked)
        self._solved: list[tuple[float, Parts]] = []

    def steps(self) -> Iterator[FoundMixes]:
        """The best so far, again and again until it is the best there is."""
        sets, paints = self.sets, self.judge.paints
        at_once = [index for index in sets.plain if not paints[index].fluorescence]  # whose tables are there already
        self._try(sets.of_size(1, at_once), 1)
        yield self._found(finished=False)
        if len(sets.every) > self._many:
            yield from self._of_a_list()
            return
        self._try(sets.of_size(1, [at for at in sets.every if at not in at_once]), 1)
        if sets.count() <= TRY_ALL:
            for size in range(2, sets.largest + 1):
                self._try(sets.of_size(size, sets.every))
        else:
            yield from self._choosing()
        # What the tables promise of the nearest sets with flakes, solved in few streams: they are coarser there.
        sizes = range(2, self.sets.largest + 1)
        together(self._solve_sort, [(size, sort, most) for size in sizes for sort, most in FLAKED_SOLVED.items()])
        yield self._found(finished=True)

    def _of_a_list(self) -> Iterator[FoundMixes]:
        """The same with the paints that are worth a close look, and those that are in every mix."""
        judge = self.judge
        listed = list(dict.fromkeys([*self.sets.kept_in, *shortlist(judge, self.sets.plain, self.sets.flaked)]))
        narrow = Search(
            judge.target,
            [judge.paints[index] for index in listed],
            judge.drop_ml[listed].tolist(),
            judge.where,
            kept_in=range(len(self.sets.kept_in)),
            reluctance=judge.reluctance[listed].tolist(),
            many=len(listed),
            quick=self.quick,
            **self._how,
        )
        for found in narrow.steps():
            matches = [
                replace(one, parts=tuple((listed[at], drops) for at, drops in one.parts)) for one in found.matches
            ]
            yield replace(found, matches=matches, evaluated=judge.evaluated + found.evaluated)

    def _choosing(self) -> Iterator[FoundMixes]:
        """Few parts of many sets, then all of the best."""
        sets, judge = self.sets, self.judge
        # Without flakes nothing turns with the angle, unless the ground does.
        flat = not judge.where.turned or judge.looks.ground_turns or bool(np.ptp(judge.target, axis=0).max() <= 3)
        for size in range(2, min(3 if flat else 2, sets.largest) + 1):
            self._try(sets.of_size(size, sets.plain), FEW_PARTS[size])
            yield self._found(finished=False)
        if sets.flaked and sets.largest > 1:
            self._try([one for one in sets.of_size(2, sets.every) if self._best.sort(one)], FLAKED_GROWN_PARTS)
            yield self._found(finished=False)
        for size in range(3, sets.largest + 1):
            # The nearest of the sets that are one smaller, each with another paint.
            if size > 3 and flat:
                grown = self._best.nearest(size - 1, self._some(SETS_TO_GROW))
                self._try(self.sets.grown(grown, size), GROWN_PARTS)
            for sort in (1, SEVERAL):
                nearest = self._best.nearest(size - 1, FLAKED_TO_GROW, sort=sort)
                self._try(self.sets.grown(nearest, size), FLAKED_GROWN_PARTS)
            yield self._found(finished=False)
        for size in range(2, sets.largest + 1):
            for sort in SORTS:
                most = self._some(FLAKED_IN_FULL if sort else SETS_IN_FULL[size])
                self._try(self._best.nearest(size, most, sort=sort))
            yield self._found(finished=False)

    def _some(self, most: int) -> int:
        return max(2, most // QUICKER) if self.quick else most

    def _try(self, some: Sequence[Paints], parts: int | None = None) -> None:
        """Look up sets of one size in at most so many parts, or in every number of drops; keep the best of each."""
        if not some:
            return
        few = None if parts is None else compositions(len(some[0]), min(parts, self.sets.most_drops))
        own: list[Paints] = []
        drops: list[Indexes] = []
        rows = 0
        for index, one in enumerate(some, start=1):
            own.append(one)
            drops.append(self._in_full(one) if few is None else few)
            rows += len(drops[-1])
            if index == len(some) or rows + len(drops[-1]) > CHUNK:
                self._try_drops(own, drops)
                own, drops, rows = [], [], 0

    def _try_drops(self, some: Sequence[Paints], drops: Sequence[Indexes]) -> None:
        """Sets of one size, and the numbers of drops of each."""
        ends = np.cumsum([len(drop) for drop in drops]).tolist()
        if not ends[-1]:
            return
        which = np.repeat(np.array(some, dtype=np.intp), [len(one) for one in drops], axis=0)
        far = self.judge.distances(which, np.concatenate(drops))
        for paints, tried, end in zip(some, drops, ends, strict=True):
            own = far[end - len(tried) : end]
            best = int(np.argmin(own))
            self._best.offer(paints, float(own[best]), tried[best].tolist())

    def _in_full(self, paints: Paints) -> Indexes:
        most = FLAKED_COMPOSITIONS if self._best.sort(paints) else COMPOSITIONS_IN_FULL
        return self.sets.drops(paints, self._best.of(paints), most=most)

    def _solve_sort(self, what: tuple[int, int, int]) -> None:
        """Of the sets of a size and a sort at most so many: the nearest, as each is corrected."""
        size, sort, most = what
        solved: set[Paints] = set()
        for _ in range(most):
            first = self._best.nearest(size, FLAKED_FIRST, sort=sort)
            one = next((paints for paints in first if paints not in solved), None)
            if one is None:
                break
            solved.add(one)
            self._solve(one)

    def _solve(self, paints: Paints) -> None:
        """The most promising numbers of drops of a set."""
        whole = self._in_full(paints)
        which = np.tile(np.array(paints, dtype=np.intp), (len(whole), 1))
        drops = whole[np.argsort(self.judge.distances(which, whole))[:DROPS_SOLVED]]
        far = self.judge.solved(which[: len(drops)], drops, count=FEW_STREAMS)
        best = int(np.argmin(far))
        self._best.correct(paints, float(far[best]), drops[best].tolist())
        self._solved += [(float(one), parts_of(paints, count)) for one, count in zip(far, drops, strict=True)]

    def _found(self, *, finished: bool) -> FoundMixes:
        """The nearest sets seen exactly."""
        if self.quick and not finished:
            return FoundMixes([], self.judge.evaluated, finished)
        plain, flaked = (self._some(EXACTLY), FLAKED_AT_LAST) if finished else (12, 2)
        some: list[Parts] = []
        for sort in SORTS if finished else SORTS[:SEVERAL]:
            best = self._best.overall(flaked if sort else plain, sort=sort)
            some += [parts_of(paints, drops) for paints, (_, drops) in best]
        for size, most in SMALL_SETS.items() if finished else ():  # few bottles are wanted too, be they farther
            some += [parts_of(paints, self._best.drops(paints)) for paints in self._best.nearest(size, most)]
        some += [parts for _, parts in sorted(self._solved)[:SOLVED_EXACTLY]]
        looked = sorted(self.judge.exactly(some), key=lambda one: (self.judge.cost(one), one.drops))
        nearest: dict[Paints, Match] = {}
        for one in looked:
            nearest.setdefault(tuple(index for index, _ in one.parts), one)
        return FoundMixes(list(nearest.values()), self.judge.evaluated, finished)

    def pairs(self) -> Floats:
        """(n, 3) Lab of every paint alone and of every two without flakes, facing the eye: how far the shelf goes. Of
        many paints those that lie farthest out are paired."""
        view, plain = facing(self.judge.where.views), np.array(self.sets.plain, dtype=np.intp)
        alone = np.array(self.sets.every, dtype=np.intp)
        if len(alone) > self._many:  # flakes would take a table each
            alone, plain = plain, apart(self.judge, plain, self._many)
        some = np.array_split(alone[:, None], -(-len(alone) // CHUNK) or 1)
        found = [self.judge.labs(one, np.ones_like(one))[:, view] for one in some]
        two = np.array(list(combinations(sorted(plain.tolist()), 2)), dtype=np.intp).reshape(-1, 2)
        if len(two):
            few = compositions(2, FEW_PARTS[2])
            found.append(self.judge.labs(np.repeat(two, len(few), axis=0), np.tile(few, (len(two), 1)))[:, view])
        return np.concatenate(found)
