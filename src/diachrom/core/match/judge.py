"""How near mixes come to a colour: quickly by the tables, or by the transport solution."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import Indexes, Parts, exact_labs
from diachrom.core.mix.where import Where, facing


@dataclass(frozen=True, eq=False)
class Match:
    """Whole drops of some paints, and how near they come."""

    parts: Parts
    delta_e: float  # the mean over the views
    labs: Floats  # (view, 3)
    lab: Floats  # (3,) in the view that faces the eye

    @property
    def drops(self) -> int:
        """Drops in all."""
        return sum(drops for _, drops in self.parts)


def parts_of(paints: Sequence[int], drops: Iterable[int]) -> Parts:
    """Paints and their drops, without those of none."""
    return tuple((index, int(count)) for index, count in zip(paints, drops, strict=True))


class Judge:
    """Judges mixes of these paints beside one target. Mixes are rows of places among the paints and drops of each."""

    def __init__(
        self,
        target: Floats,
        paints: Sequence[Paint],
        drop_ml: Sequence[float],
        where: Where,
        *,
        dilution: float,
        reluctance: Sequence[float] | None = None,
    ) -> None:
        """`target` is a Lab (3,), or one for each view (view, 3); `reluctance` is said at `Search`."""
        self.target, self.paints, self.where = np.atleast_2d(target), paints, where
        self.drop_ml = np.asarray(drop_ml, dtype=np.float64)
        self.full = 1 - dilution  # share of paint in what is sprayed
        self.reluctance = np.zeros(len(paints)) if reluctance is None else np.asarray(reluctance, dtype=np.float64)
        self.evaluated = 0
        self.looks = FastPredictor(where, paints)
        self._seen: dict[Parts, Match] = {}  # exactly, each once

    def shares(self, which: Indexes, counts: Indexes) -> Floats:
        """(row, paint) of the sprayed volume."""
        volumes = counts * self.drop_ml[which]
        dense = np.zeros((len(counts), len(self.paints)))
        dense[np.arange(len(counts))[:, None], which] = self._of_whole(volumes)
        return dense

    def labs(self, which: Indexes, counts: Indexes) -> Floats:
        """(row, view, 3) by the tables."""
        used, places = np.unique(which, return_inverse=True)
        if len(used) == len(self.paints):
            return self.looks.labs(self.shares(which, counts))
        # Of a large shelf few are in so many rows: shares of all would fill the memory with zeros.
        volumes = counts * self.drop_ml[which]
        dense = np.zeros((len(counts), len(used)))
        dense[np.arange(len(counts))[:, None], places.reshape(which.shape)] = self._of_whole(volumes)
        return self.looks.of(used).labs(dense)

    def _of_whole(self, volumes: Floats) -> Floats:
        return self.full * volumes / volumes.sum(axis=1, keepdims=True)

    def distances(self, which: Indexes, counts: Indexes) -> Floats:
        """dE (row,) by the tables, the mean over all views, and what speaks against their paints."""
        self.evaluated += len(counts)
        return self.by_tables(which, counts)

    def by_tables(self, which: Indexes, counts: Indexes) -> Floats:
        """The same, not counted: for who looks in several threads at once."""
        return self._far(self.labs(which, counts), which)

    def solved(self, which: Indexes, counts: Indexes, *, count: int) -> Floats:
        """The same by the transport solution in `count` streams."""
        return self._far(exact_labs(self.paints, self.shares(which, counts), self.where, count=count), which)

    def _far(self, labs: Floats, which: Indexes) -> Floats:
        return mean_delta_e(labs, self.target) + self.reluctance[which].sum(axis=1)

    def exactly(self, mixes: Sequence[Parts]) -> list[Match]:
        """These mixes by the transport solution, in this order."""
        new = [parts for parts in dict.fromkeys(mixes) if parts not in self._seen]
        if new:
            shares = np.concatenate([self.shares(*_row(parts)) for parts in new])
            labs = exact_labs(self.paints, shares, self.where, count=STREAMS)
            facing_us, far = labs[:, facing(self.where.views)], mean_delta_e(labs, self.target).tolist()
            self._seen |= {
                parts: Match(parts, far[index], labs[index], facing_us[index]) for index, parts in enumerate(new)
            }
        return [self._seen[parts] for parts in mixes]

    def against(self, one: Match) -> float:
        """dE that a mix must be nearer for what speaks against its paints."""
        return float(self.reluctance[[index for index, _ in one.parts]].sum())

    def cost(self, one: Match) -> float:
        """dE, and what speaks against its paints."""
        return one.delta_e + self.against(one)


def _row(parts: Parts) -> tuple[Indexes, Indexes]:
    which, counts = np.array(parts, dtype=np.intp).T
    return which[None], counts[None]
