"""What the next drop would do, for every bottle on the shelf, and where to stop.

And the shortest way back for a cup that has gone too far, since nothing can be taken out of a cup.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import Parts, special, uncommon, volumes_of
from diachrom.core.mix.where import Where, facing

DROPS_TRIED = (1, 2, 3, 4, 6, 8)
HELPS = 0.3  # dE nearer, below which a drop is not worth it
SPOILS = 1.0  # dE farther, beyond which a single drop is marked before it falls
MOST_UNCOMMON = 2  # drops of a primer, of flakes or of what shines, where nothing turns
INSIDE_FIRST = 0.5  # dE that a bottle which is not in the cup yet must bring more to stand first
RESCUE_POOL = 24
RESCUE_DROPS = tuple((a, b) for a in (1, 2, 3, 5, 8) for b in (1, 2, 3, 5, 8))
NEAR = 0.5  # dE within which the shorter rescue wins


@dataclass(frozen=True, eq=False)
class Drop:
    """Some drops of one bottle into the cup as it stands."""

    index: int  # among the candidates
    drops: int
    delta_e: float  # from the target afterwards
    nearer: float  # than now; below nothing it leads away
    labs: Floats  # (view, 3) afterwards
    words: str = ""  # what it does to the colour, of those that help
    path: Sequence[Floats] = ()  # (3,) facing the eye, after fewer drops and after these, of those that help


@dataclass(frozen=True, eq=False)
class Rescue:
    """The shortest additions that bring a cup near."""

    parts: tuple[tuple[int, int], ...]  # (index, drops)
    delta_e: float
    added_ml: float
    volume_ml: float  # of the cup afterwards

    @property
    def costs_more(self) -> bool:
        """Than throwing the cup away and mixing as much afresh."""
        return self.added_ml > self.volume_ml - self.added_ml


@dataclass(frozen=True, eq=False)
class Advice:
    """A cup beside its target."""

    now: Floats  # (view, 3)
    delta_e: float
    difference: str  # of the cup beside the target, in words
    helps: Sequence[Drop]  # the best number of drops of each bottle that helps, the best first
    spoils: Sequence[int]  # candidates of which a single drop leads away
    first_drop: Mapping[int, float]  # of each candidate that was tried, dE that its first drop moves the cup
    rescue: Rescue | None

    @property
    def stop(self) -> bool:
        """This is as near as these bottles go, one after the other."""
        return not self.helps


def advise(cup: Cup, candidates: Sequence[tuple[Paint, float]], target: Floats, where: Where) -> Advice:
    """What one more drop would do, of what is in the cup and of what stands beside it.

    Parameters
    ----------
    cup : as it is.
    candidates : (paint, ml of its drop) each, beside the cup's own.
    target : (view, 3) Lab.
    where : ground, film, light and angles.

    Returns
    -------
    Advice, the drops that help, nearest first.

    Raises
    ------
    EmptyCup : there is nothing to correct.
    """
    cup.mix()  # says so when it is empty
    at_cup = _AtCup(cup, candidates, np.atleast_2d(target), where)
    now, ways = at_cup.ways(at_cup.able())
    singles = [way for way in ways if way.drops == 1]
    # dE that the first drop of each bottle moves the cup.
    steps = mean_delta_e(np.array([way.labs for way in singles]).reshape(-1, *now.labs.shape), now.labs)
    # The best number of drops of each bottle that helps: more only where they help clearly more. What is in the cup
    # already comes first where it does as well.
    front = facing(where.views)
    best: dict[int, Drop] = {}
    for way in ways:
        if way.nearer > HELPS and (way.index not in best or way.nearer > best[way.index].nearer + HELPS):
            best[way.index] = way
    return Advice(
        now=now.labs,
        delta_e=now.delta_e,
        difference=words.turning(at_cup.target, now.labs),
        helps=[
            replace(
                way,
                words=words.turning(now.labs, way.labs),
                path=[drop.labs[front] for drop in ways if drop.index == way.index and drop.drops <= way.drops],
            )
            for way in sorted(best.values(), key=lambda way: -way.nearer - INSIDE_FIRST * at_cup.inside(way.index))
        ],
        spoils=[way.index for way in singles if way.nearer < -SPOILS],
        first_drop={way.index: step for way, step in zip(singles, steps.tolist(), strict=True)},
        rescue=at_cup.rescue(now, ways),
    )


class _AtCup:
    """The cup with the bottles that may be added to it, beside its target."""

    def __init__(self, cup: Cup, candidates: Sequence[tuple[Paint, float]], target: Floats, where: Where) -> None:
        pours = [pour for pour in cup.pours if pour.drops]
        self.own = [pour.paint for pour in pours]
        self.candidates = [paint for paint, _ in candidates]
        self.drop_ml = [drop_ml for _, drop_ml in candidates]
        self.target, self.turned = target, where.turned
        self._names = {paint.name for paint in self.own}
        self._base = np.array([pour.volume_ml for pour in pours] + [0.0] * len(candidates))
        self._looks = FastPredictor(where, self.own + self.candidates)

    def able(self) -> list[int]:
        """Primers, flakes and light of its own are no correction for a cup that has none of them, unless the target
        turns."""
        every = enumerate(self.candidates)
        return [index for index, paint in every if self.turned or not uncommon(paint) or self.inside(index)]

    def inside(self, at: int) -> bool:
        """It is in the cup already."""
        return self.candidates[at].name in self._names

    def _volumes(self, added: Sequence[Parts]) -> Floats:
        """(row, paint) ml of the cup after each of these."""
        return self._base + np.pad(volumes_of(added, self.drop_ml), ((0, 0), (len(self.own), 0)))

    def ways(self, able: Sequence[int]) -> tuple[Drop, list[Drop]]:
        """The cup as it stands, as no drop of none, and some drops of each of these bottles."""
        tried = [
            (index, drops)
            for index in able
            for drops in DROPS_TRIED
            if drops <= MOST_UNCOMMON or self.turned or not uncommon(self.candidates[index])
        ]
        labs = self._looks.of_volumes(self._volumes([(), *((one,) for one in tried)]))
        far = mean_delta_e(labs, self.target).tolist()
        now = Drop(-1, 0, far[0], 0.0, labs[0])
        rows = enumerate(tried, start=1)
        return now, [Drop(at, drops, far[row], far[0] - far[row], labs[row]) for row, (at, drops) in rows]

    def rescue(self, now: Drop, ways: Sequence[Drop]) -> Rescue | None:
        """Pairs of the plain bottles that do best alone; the shortest of those that come within a hair of the
        nearest."""
        order = sorted(ways, key=lambda way: way.delta_e)
        pool = list(dict.fromkeys(way.index for way in order if not uncommon(self.candidates[way.index])))[:RESCUE_POOL]
        if len(pool) < 2 or any(special(paint) for paint in self.own):
            return None
        tried = [tuple(zip(pair, counts, strict=True)) for pair in combinations(pool, 2) for counts in RESCUE_DROPS]
        volumes = self._volumes(tried)
        far = mean_delta_e(self._looks.of_volumes(volumes), self.target)
        if far.min() > min(now.delta_e, order[0].delta_e) - HELPS:
            return None
        near = np.flatnonzero(far <= far.min() + NEAR)
        row = int(near[np.argmin(volumes[near].sum(axis=1))])
        whole = float(volumes[row].sum())
        return Rescue(tried[row], float(far[row]), whole - float(self._base.sum()), whole)
