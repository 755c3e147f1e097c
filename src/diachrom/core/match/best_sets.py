"""The best of every set of paints that a search has tried: those without flakes, with one paint that has them, and with
several, each apart from the others."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from heapq import nsmallest
from operator import itemgetter

Paints = tuple[int, ...]  # places among the paints, in order
Known = tuple[float, tuple[int, ...]]  # distance, drops of each
SEVERAL = 2  # paints with flakes, or more
SORTS = (0, 1, SEVERAL)


class BestSets:
    def __init__(self, flaked: Iterable[int]) -> None:
        self._flaked = frozenset(flaked)
        self._known: dict[tuple[int, int], dict[Paints, Known]] = defaultdict(dict)

    def sort(self, paints: Iterable[int]) -> int:
        """How many of them have flakes, as far as it is told apart."""
        return min(len(self._flaked.intersection(paints)), SEVERAL)

    def _of_its_sort(self, paints: Paints) -> dict[Paints, Known]:
        return self._known[len(paints), self.sort(paints)]

    def of(self, paints: Paints) -> Known | None:
        """The best that was found of a set, None where it was not tried."""
        return self._of_its_sort(paints).get(paints)

    def drops(self, paints: Paints) -> tuple[int, ...]:
        """The best of a set that was tried."""
        return self._of_its_sort(paints)[paints][1]

    def offer(self, paints: Paints, distance: float, drops: Sequence[int]) -> None:
        """Keep these drops if they are the best of this set so far."""
        known = self._of_its_sort(paints)
        if paints not in known or distance < known[paints][0]:
            known[paints] = (distance, tuple(drops))

    def correct(self, paints: Paints, distance: float, drops: Sequence[int]) -> None:
        """Keep these drops, which are known better now."""
        self._of_its_sort(paints)[paints] = (distance, tuple(drops))

    def nearest(self, size: int, most: int, *, sort: int = 0) -> list[Paints]:
        """The nearest sets of a size and a sort."""
        known = self._known[size, sort]
        return nsmallest(most, known, key=lambda paints: known[paints])

    def overall(self, most: int, *, sort: int) -> list[tuple[Paints, Known]]:
        """The nearest of all sizes."""
        every = (item for (_, own), sets in self._known.items() if own == sort for item in sets.items())
        return nsmallest(most, every, key=itemgetter(1))
