"""Which paints of a large shelf are worth a close look for one colour.

All sets of three of two thousand are a thousand million. What is looked at instead: each paint alone; each beside the
nearest and beside those that lie farthest apart, since mixes are made of both; each in the best pairs of these. The
paints of the nearest of all that make the list.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.match.judge import Judge
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import Indexes
from diachrom.core.mix.together import together
from diachrom.core.mix.where import facing

MANY, MOST_FLAKED = 54, 10  # of so many paints every set of three is tried; more are listed first. Of these with flakes
NEAREST, APART = 22, 22  # paints beside which each other one is tried
PARTS_OF_TWO = np.array([(1, 1), (1, 3), (3, 1), (1, 9), (9, 1)])  # strong paints count in small shares
PARTS_OF_THREE = np.array([(2, 2, 2), (4, 1, 1), (1, 4, 1), (1, 1, 4), (6, 6, 1), (8, 1, 3), (1, 8, 3)])
PAIRS = 16
BY_THEMSELVES, IN_PAIRS, IN_TRIPLES = 8, 28, 36  # paints that each look brings to the list
ROWS, BLOCK = 8_000, 48  # mixes, and paints, that are looked up at once


def shortlist(judge: Judge, plain: Sequence[int], flaked: Sequence[int]) -> list[int]:
    """At most `MANY` of these paints, by their places, those of the best cups first."""
    # Those that come nearest alone, and those that lie farthest apart.
    if len(flaked) <= MOST_FLAKED:
        listed = list(flaked)
    else:
        paints = np.array(flaked, dtype=np.intp)
        looks = FastPredictor(judge.where, [judge.paints[index] for index in flaked], clouded=True)
        labs = looks.labs(judge.full * np.eye(len(flaked)))
        nearest = np.argsort(mean_delta_e(labs, judge.target) + judge.reluctance[paints])[: MOST_FLAKED // 2]
        far = _apart(labs[:, facing(judge.where.views)], judge.target.mean(axis=0), MOST_FLAKED)
        listed = paints[list(dict.fromkeys([*nearest.tolist(), *far]))[:MOST_FLAKED]].tolist()
    return [*listed, *_of_plain(judge, plain)][:MANY]


def _of_plain(judge: Judge, some: Sequence[int]) -> list[int]:
    if len(some) <= MANY - MOST_FLAKED:
        return list(some)
    # By one view alone: what has no flakes looks the same from all, or nearly.
    view = facing(judge.where.views)
    where = replace(judge.where, views=judge.where.views[view : view + 1])
    target = judge.target[min(view, len(judge.target) - 1)]
    drops, against = judge.drop_ml.tolist(), judge.reluctance.tolist()
    judge = Judge(target, judge.paints, drops, where, dilution=1 - judge.full, reluctance=against)
    paints = np.array(some, dtype=np.intp)
    alone = _alone(judge, paints)
    beside = np.union1d(paints[np.argsort(alone)[:NEAREST]], apart(judge, paints, APART))
    in_pairs, pairs = _with_each(judge, beside[:, None], paints, PARTS_OF_TWO)
    # The nearest of them, each paint in few: pairs that are alike grow to the same.
    taken: list[Indexes] = []
    often: dict[int, int] = {}
    for pair in pairs:
        if all(often.get(at, 0) < 4 for at in pair.tolist()):
            taken.append(pair)
            for at in pair.tolist():
                often[at] = often.get(at, 0) + 1
        if len(taken) == PAIRS:
            break
    in_triples, _ = _with_each(judge, np.array(taken), paints, PARTS_OF_THREE)
    looks = ((alone, BY_THEMSELVES), (in_pairs, IN_PAIRS), (in_triples, IN_TRIPLES))
    own = [paints[np.argsort(far)[:most]] for far, most in looks]
    of_best = np.concatenate([pairs[:12].ravel(), *own])
    return list(dict.fromkeys(of_best.tolist()))[:MANY]


def _alone(judge: Judge, paints: Indexes) -> Floats:
    """(paint,) dE of each."""
    return np.concatenate([judge.distances(one, np.ones_like(one)) for one in _pieces(paints)])


def apart(judge: Judge, paints: Indexes, most: int) -> Indexes:
    """Paints that lie as far from each other as can be."""
    labs = np.concatenate([judge.labs(one, np.ones_like(one)) for one in _pieces(paints)])
    return paints[_apart(labs[:, facing(judge.where.views)], judge.target.mean(axis=0), most)]


def _apart(labs: Floats, target: Floats, most: int) -> list[int]:
    """Of colours (n, 3) the farthest from the target, and each time the farthest from all that were taken."""
    taken = [int(np.argmax(((labs - target) ** 2).sum(axis=1)))]
    far = np.full(len(labs), np.inf)
    for _ in range(min(most, len(labs)) - 1):
        far = np.minimum(far, ((labs - labs[taken[-1]]) ** 2).sum(axis=1))
        taken.append(int(np.argmax(far)))
    return taken


def _pieces(paints: Indexes) -> list[Indexes]:
    """(n, 1) each, of so few that they are looked up at once."""
    return np.array_split(paints[:, None], -(-len(paints) * 4 // ROWS))


def _with_each(judge: Judge, sets: Indexes, paints: Indexes, few: Indexes) -> tuple[Floats, Indexes]:
    """Each of the sets (set, size) with each of the paints in `few` numbers of drops: the best dE that each paint is
    part of (paint,), and the sets so grown, (n, size + 1), the nearest first."""

    def with_some(others: Indexes) -> tuple[Floats, list[tuple[float, tuple[int, ...]]]]:
        which = np.column_stack([np.repeat(sets, len(others), axis=0), np.tile(others, len(sets))])
        looks = -(-len(which) * len(few) // ROWS)
        far = np.concatenate([_nearest(judge, own, few) for own in np.array_split(which, looks)])
        far[(which[:, :-1] == which[:, -1:]).any(axis=1)] = np.inf  # twice the same is no larger set
        best = [(float(far[row]), tuple(which[row].tolist())) for row in np.argsort(far)[: 4 * BLOCK]]
        return far.reshape(len(sets), len(others)).min(axis=0), best

    # So few others at once that few paints are in all rows of a look.
    found = together(with_some, [paints[index : index + BLOCK] for index in range(0, len(paints), BLOCK)])
    judge.evaluated += len(sets) * len(paints) * len(few)
    grown = sorted(one for _, near in found for one in near)
    return np.concatenate([best for best, _ in found]), np.array([one for _, one in grown], dtype=np.intp)


def _nearest(judge: Judge, which: Indexes, few: Indexes) -> Floats:
    """(set,) dE of the best of few numbers of drops of each."""
    far = judge.by_tables(np.repeat(which, len(few), axis=0), np.tile(few, (len(which), 1)))
    return far.reshape(len(which), len(few)).min(axis=1)
