"""Which sets of paints, and which numbers of drops of each, a search may try."""

from collections.abc import Iterable, Sequence
from itertools import combinations
from math import comb

import numpy as np

from diachrom.core.match.best_sets import Known, Paints
from diachrom.core.mix.mixes import Indexes, compositions


class Sets:
    """Sets of up to so many paints, all with those that are `kept_in`, in up to so many drops."""

    def __init__(
        self,
        plain: Sequence[int],
        flaked: Sequence[int],
        kept_in: Iterable[int] = (),
        *,
        most_paints: int,
        most_drops: int,
    ) -> None:
        self.plain, self.flaked, self.kept_in = list(plain), list(flaked), tuple(sorted(set(kept_in)))
        self.every = [*self.plain, *self.flaked]
        self.most_drops, self.largest = most_drops, min(most_paints, most_drops, len(self.every))

    def of_size(self, size: int, of: Sequence[int]) -> list[Paints]:
        """The sets of so many paints."""
        others = [index for index in of if index not in self.kept_in]
        more = size - len(self.kept_in)
        return [] if more < 0 else [tuple(sorted((*self.kept_in, *one))) for one in combinations(others, more)]

    def grown(self, smaller: Iterable[Paints], size: int) -> list[Paints]:
        """These sets, each with every other plain paint; and what is kept in by itself."""
        found = {tuple(sorted((*one, other))) for one in smaller for other in self.plain if other not in one}
        return sorted(found | {self.kept_in} if len(self.kept_in) == size else found)

    def count(self) -> int:
        """All sets in all numbers of drops."""
        return sum(comb(len(self.every), size) * comb(self.most_drops, size) for size in range(1, self.largest + 1))

    def drops(self, paints: Paints, known: Known | None, *, most: int) -> Indexes:
        """(n, paint) every number of drops of a set, or those around its best where there are more than `most`."""
        size = len(paints)
        if known is None or comb(self.most_drops, size) <= most:
            return compositions(size, self.most_drops)
        shares = np.array(known[1]) / sum(known[1])
        around = np.indices((3,) * size).reshape(size, -1).T - 1
        totals = np.arange(size, self.most_drops + 1)
        found = (np.rint(totals[:, None, None] * shares) + around).astype(np.intp).reshape(-1, size)
        found = found[(found >= 1).all(axis=1) & (found.sum(axis=1) <= self.most_drops)]
        return np.unique(found, axis=0)
