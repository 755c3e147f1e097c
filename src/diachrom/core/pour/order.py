"""The order of pouring: what colours little first, the strong paints last; and how far the first drop of each goes."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.difference import mean_delta_e
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.where import Where
from diachrom.errors import EmptyCup
from diachrom.words import say


@dataclass(frozen=True)
class InOrder:
    """One pour of a cup, in its turn."""

    index: int  # among the cup's pours
    drops: int
    a_drop: float  # dE that one drop of it less would make in the finished cup
    first_goes: float | None  # share of its way that its first drop goes; None for the base and for what thins


def pouring_order(cup: Cup, where: Where) -> list[InOrder]:
    """The cup's pours as they are best poured: the base, the others from weak to strong, then what thins it.

    Raises EmptyCup for one without a colour.
    """
    pours = cup.pours
    thin = [index for index, pour in enumerate(pours) if pour.drops and pour.paint.thins]
    own = [at for at, pour in enumerate(pours) if pour.drops and not pour.paint.thins]
    if not own:
        raise EmptyCup(say("pouring it in order"))
    looks = FastPredictor(where, [pour.paint for pour in pours])
    volumes = np.array([pour.volume_ml for pour in pours])
    drops = np.array([pour.drop_ml for pour in pours])
    less = np.array([volumes] + [volumes - drops * (np.arange(len(pours)) == at) for at in own])
    less = np.where(less.sum(axis=1, keepdims=True) > 0, less, volumes)
    seen = looks.of_volumes(less)
    a_drop = dict(zip(own, mean_delta_e(seen[1:], seen[0]).tolist(), strict=True))
    # The base is what there is most of; a single drop of it tells the least.
    base = max(own, key=lambda at: (volumes[at], -a_drop[at]))
    order = [base, *sorted((at for at in own if at != base), key=lambda at: a_drop[at])]
    shares: list[float | None] = [None]
    if len(order) > 1:
        rows, sofar = [], np.zeros_like(volumes)
        for index in order:
            one, whole = sofar.copy(), sofar.copy()
            one[index], whole[index] = drops[index], volumes[index]
            rows += [sofar, one, whole]
            sofar = whole
        # (pour, before/one/whole, view, 3)
        steps = looks.of_volumes(np.array(rows[3:])).reshape(len(order) - 1, 3, -1, 3)
        first, whole_way = (mean_delta_e(steps[:, at], steps[:, 0]).tolist() for at in (1, 2))
        shares = [None, *(min(1.0, a / b) if b > 0 else 1.0 for a, b in zip(first, whole_way, strict=True))]
    found = [InOrder(at, pours[at].drops, a_drop[at], share) for at, share in zip(order, shares, strict=True)]
    return [*found, *(InOrder(at, pours[at].drops, 0.0, None) for at in thin)]
