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
from diachrom.core.mix.mixes import special, volumes_of
from diachrom.core.mix.quick import QuickLooks
from diachrom.core.mix.where import Where, facing

DROPS_TRIED = (1, 2, 3, 4, 6, 8)
HELPS = 0.3  # dE nearer, below which a drop is not worth it
SPOILS = 1.0  # dE farther, beyond which a single drop is marked before it falls
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
    """(paint, drop in ml) each, beside the cup's own. Raises EmptyCup."""
    target = np.atleast_2d(target)
    own = [pour for pour in cup.pours if pour.drops]
    paints = [pour.paint for pour in own] + [paint for paint, _ in candidates]
    base = np.array([pour.volume_ml for pour in own] + [0.0] * len(candidates))
    cup.mix()  # says so when it is empty
    first = len(own)
    inside = {pour.paint.name for pour in own}
    # Flakes and light of its own are no correction for a cup that has none of them, unless the target turns.
    able = [
        at for at, (paint, _) in enumerate(candidates) if where.turned or not special(paint) or paint.name in inside
    ]
    tried = [(at, drops) for at in able for drops in DROPS_TRIED]
    added = volumes_of([(), *((one,) for one in tried)], [drop_ml for _, drop_ml in candidates])
    volumes = base + np.pad(added, ((0, 0), (first, 0)))  # the cup itself in the first row
    looks = QuickLooks(where, paints)
    labs = looks.of_volumes(volumes)
    far = mean_delta_e(labs, target)
    ways = [
        Drop(at, drops, float(far[row]), float(far[0] - far[row]), labs[row])
        for row, (at, drops) in enumerate(tried, start=1)
    ]
    best: dict[int, Drop] = {}
    for way in ways:
        if way.nearer > HELPS and (way.index not in best or way.nearer > best[way.index].nearer + HELPS):
            best[way.index] = way
    front = facing(where.views)
    helps = [
        replace(
            way,
            words=words.turning(labs[0], way.labs),
            path=[one.labs[front] for one in ways if one.index == way.index and one.drops <= way.drops],
        )
        for way in sorted(best.values(), key=lambda way: -way.nearer)
    ]
    singles = [way for way in ways if way.drops == 1]
    steps = mean_delta_e(np.array([way.labs for way in singles]).reshape(-1, *labs.shape[1:]), labs[0])
    moved = {way.index: step for way, step in zip(singles, steps.tolist(), strict=True)}
    spoils = [way.index for way in singles if way.nearer < -SPOILS]
    rescue = _rescue(looks=looks, base=base, candidates=candidates, target=target, now=float(far[0]), ways=ways)
    return Advice(
        now=labs[0],
        delta_e=float(far[0]),
        difference=words.turning(target, labs[0]),
        helps=helps,
        spoils=spoils,
        first_drop=moved,
        rescue=rescue,
    )


def _rescue(
    looks: QuickLooks,
    base: Floats,
    candidates: Sequence[tuple[Paint, float]],
    target: Floats,
    now: float,
    ways: Sequence[Drop],
) -> Rescue | None:
    """Pairs of the plain bottles that do best alone; the shortest of those that come within a hair of the nearest."""
    order = sorted(ways, key=lambda way: way.delta_e)
    pool = list(dict.fromkeys(way.index for way in order if not special(candidates[way.index][0])))[:RESCUE_POOL]
    first = len(base) - len(candidates)
    if len(pool) < 2 or any(special(paint) for paint in looks.paints[:first]):
        return None
    tried = [tuple(zip(pair, counts, strict=True)) for pair in combinations(pool, 2) for counts in RESCUE_DROPS]
    volumes = base + np.pad(volumes_of(tried, [drop_ml for _, drop_ml in candidates]), ((0, 0), (first, 0)))
    far = mean_delta_e(looks.of_volumes(volumes), target)
    alone = min((way.delta_e for way in ways), default=now)
    if far.min() > min(now, alone) - HELPS:
        return None
    near = np.flatnonzero(far <= far.min() + NEAR)
    row = int(near[np.argmin(volumes[near].sum(axis=1))])
    whole = float(volumes[row].sum())
    return Rescue(tried[row], float(far[row]), whole - float(base.sum()), whole)
