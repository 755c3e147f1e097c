"""A cup into which drops fell that should not have: which drops of its own bottles bring it back.

Nothing can be taken out of a cup: more of all that it is of thins what strayed, and a little more of one may answer it.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.where import Where

TIMES = (1, 1.25, 1.5, 1.75, 2, 2.5, 3, 4)  # of the cup as it was meant
EXTRAS = (0, 1, 2, 3, 4, 6, 8, 12)  # drops of one bottle beside that
MOST = 4.5  # times the cup as it was meant, beyond which a new one is mixed
UNSEEN = 1.0  # dE that the eye lets pass
HELPS = 0.8  # of the difference as it is: what is less than that is worth a word
THRIFT = 0.3  # dE that a cup more must bring


@dataclass(frozen=True)
class Return:
    """How many drops of each bottle the cup then holds, and how far it is off."""

    drops: tuple[int, ...]
    delta_e: float
    added_ml: float


def returns(
    paints: Sequence[Paint], drop_ml: Sequence[float], meant: Sequence[int], fell: Sequence[int], where: Where
) -> tuple[float, list[Return]]:
    """How far a cup is off, and the ways back, the one that takes least first.

    Parameters
    ----------
    paints, drop_ml : of each bottle, what strayed among them; ml of its drop.
    meant : drops of each in the cup as it was meant, 0 for what strayed.
    fell : drops of each that are in it, at least as many.
    where : ground, film and light in which it is looked at.

    Returns
    -------
    dE of the cup as it is, and at most two ways: the shortest that nobody can tell from what was meant, and the
    nearest.
    """
    own, sizes = np.array(meant), np.array(drop_ml)
    there = np.array(fell)
    rows = {tuple(there.tolist())}
    exact = max(int(np.ceil(max(there[own > 0] / own[own > 0]))), 1)
    for times in (*TIMES, *range(1, exact + 1)):
        whole = np.maximum(np.round(times * own).astype(int), there)
        for at in np.flatnonzero(own):
            for extra in EXTRAS:
                row = whole.copy()
                row[at] += extra
                rows.add(tuple(row.tolist()))
    most = MOST * float(own @ sizes)
    tried = np.array([row for row in rows if row == tuple(fell) or np.array(row) @ sizes <= most])
    labs = FastPredictor(where, paints).of_volumes(np.vstack([own, tried]) * sizes)
    far = mean_delta_e(labs[1:], labs[0])
    added = tried @ sizes - there @ sizes
    standing = float(far[(tried == there).all(axis=1)][0])
    helps = np.flatnonzero((far < HELPS * standing) & (added > 0))
    if not len(helps):
        return standing, []
    best = helps[np.argmin(far[helps] + THRIFT * added[helps] / float(own @ sizes))]
    near = helps[far[helps] <= max(UNSEEN, float(far[best]))]
    shortest = near[np.argmin(added[near])]
    return standing, [
        Return(tuple(tried[at].tolist()), float(far[at]), float(added[at])) for at in dict.fromkeys((shortest, best))
    ]
