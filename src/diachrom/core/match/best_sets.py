"""The best of every set of paints that a search has tried, those without flakes apart from those with."""

from collections import defaultdict
from collections.abc import Iterable, Sequence
from heapq import nsmallest
from operator import itemgetter

Paints = tuple[int, ...]  # places among the paints, in order
Known = tuple[float, tuple[int, ...]]  # distance, drops of each


class BestSets:
    def __init__(self, flaked: Iterable[int]) -> None:
        self._flaked = frozenset(flaked)
        self._known: dict[tuple[int, bool], dict[Paints, Known]] = defaultdict(dict)

    def has_flakes(self, paints: Iterable[int]) -> bool:
        return not self._flaked.isdisjoint(paints)

    def flakes_in(self, paints: Iterable[int]) -> frozenset[int]:
        return self._flaked.intersection(paints)

    def of(self, paints: Paints) -> Known | None:
        return self._known[len(paints), self.has_flakes(paints)].get(paints)

    def offer(self, paints: Paints, distance: float, drops: Sequence[int]) -> None:
        """Keep these drops if they are the best of this set so far."""
        known = self._known[len(paints), self.has_flakes(paints)]
        if paints not in known or distance < known[paints][0]:
            known[paints] = (distance, tuple(drops))

    def correct(self, paints: Paints, distance: float, drops: Sequence[int]) -> None:
        """Keep these drops, which are known better now."""
        self._known[len(paints), self.has_flakes(paints)][paints] = (distance, tuple(drops))

    def nearest(self, size: int, most: int, *, flaked: bool = False) -> list[Paints]:
        """The nearest sets of a size, without flakes or with."""
        known = self._known[size, flaked]
        return nsmallest(most, known, key=lambda paints: known[paints])

    def nearest_of(self, sets: Sequence[Paints], most: int) -> list[Paints]:
        """The nearest of these, of those that were tried."""
        tried = [(known, paints) for paints in sets if (known := self.of(paints)) is not None]
        return [paints for _, paints in nsmallest(most, tried)]

    def overall(self, most: int, *, flaked: bool) -> list[tuple[Paints, Known]]:
        """The nearest of all sizes."""
        every = (item for (_, own), sets in self._known.items() if own == flaked for item in sets.items())
        return nsmallest(most, every, key=itemgetter(1))
