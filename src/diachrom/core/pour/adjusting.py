"""A mix that the eye is not content with, and no target: which drops take it the way that is wished, and what else
they do to it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import exact_labs, uncommon
from diachrom.core.mix.where import Where
from diachrom.core.pour.verdict import Looks, Untrue, Wish, wish
from diachrom.errors import InvalidInput
from diachrom.words import say

COUNTS = (1, 2, 3, 4, 6, 8, 12, 16, 24)  # drops of a bottle that are tried
MOST_ADDED = 1.5  # times the cup
PAIRED = 260  # of single ways, that are tried two by two
SOLVED = 40  # ways that are looked at by the whole solution
FILMS = (0.4, 0.6, 0.8, 1.0, 1.25, 1.6, 2.2, 3.0)  # of the cup's: how strong a mix is
LEAST, MOST = 0.15, 2.2  # of a step, that is worth a drop and no more than was asked
STRAYS = 0.5  # of the change, that may be beside what was wished
SHOWN, OWN = 5, 6
NEW_BOTTLE, SECOND_BOTTLE, STRAYING = 0.35, 0.25, 3.0  # costs: of a step


@dataclass(frozen=True, eq=False)
class Way:
    """Drops that are added."""

    parts: tuple[tuple[int, int], ...]  # (place among the bottles, drops)
    towards: float  # of a step the way that is wished
    side: float  # dE of what it does beside that
    beside: Floats  # (3,) Lab where that alone would lead
    lab: Floats  # (3,) afterwards
    added_ml: float


@dataclass(frozen=True, eq=False)
class Adjusted:
    """A mix, and the ways from it, gentlest first."""

    now: Floats  # (3,) Lab
    ways: Sequence[Way]
    sentence: str = ""  # why there are none


def adjust(cup: Cup, bottles: Sequence[tuple[Paint, float]], verdicts: Sequence[str], where: Where) -> Adjusted:
    """The ways from a mix that the eye is not content with.

    Parameters
    ----------
    cup : as it is.
    bottles : (paint, ml of its drop) that may be added, those of the cup among them.
    verdicts : "too yellow", "not bright enough" ...
    where : ground, film and light.

    Returns
    -------
    Adjusted; no ways where none of the bottles helps.

    Raises
    ------
    EmptyCup, InvalidInput
    """
    cup.mix()  # says so when it is empty
    if not bottles:
        raise InvalidInput(say("Name the bottles that may be added."), field="paints")
    mixes = _Mixes(cup, bottles, where)
    as_it_is = mixes.looks(np.zeros((1, len(bottles))), strength=False)
    try:
        wanted = wish(verdicts, as_it_is)
    except Untrue as error:
        return Adjusted(as_it_is.labs[0], [], str(error))
    strength = any(key == "strength" for key, _ in wanted.properties)
    singles = mixes.singles()
    nothing = np.zeros((1, len(bottles)))
    now, each = mixes.looks(nothing, strength=strength), mixes.looks(singles, strength=strength)
    pairs = mixes.pairs(singles, wanted, now, each)
    tried, looks = np.concatenate([singles, pairs]), each.beside(mixes.looks(pairs, strength=strength))
    ranked = mixes.best(tried, wanted, now, looks)
    own_rows = [row for row in ranked if mixes.in_cup([(int(at), 1) for at in np.flatnonzero(tried[row])])]
    best = list(dict.fromkeys([*ranked[:SOLVED], *own_rows[:OWN]]))
    if not best:
        return Adjusted(now.labs[0], [], say("Nothing here takes it that way: it wants another bottle."))
    # The nearest by the tables are looked at exactly, and ranked by that.
    chosen = tried[best]
    exact = mixes.exact(np.concatenate([nothing, chosen]))
    looked = looks.of(best)
    if not strength:
        now, looked = replace(now, as_strong=exact[:1]), replace(looked, as_strong=exact[1:])
    now, then = replace(now, labs=exact[:1]), replace(looked, labs=exact[1:])
    order = mixes.best(chosen, wanted, now, then)
    steps, rest = wanted.steps(now, then), wanted.rest(now, then)
    side = delta_e(rest, now.labs)
    ways: list[Way] = []
    for row in order:
        parts = tuple((int(at), int(chosen[row, at])) for at in np.flatnonzero(chosen[row]))
        if any({at for at, _ in parts} == {at for at, _ in way.parts} for way in ways):
            continue  # the same bottles, a drop more or less
        ways.append(
            Way(
                parts=parts,
                towards=float(steps[row]),
                side=float(side[row]),
                beside=rest[row],
                lab=then.labs[row],
                added_ml=mixes.added_ml(chosen[row]),
            )
        )
    shown = ways[:SHOWN]
    own = next((way for way in ways if mixes.in_cup(way.parts)), None)
    if own is not None and own not in shown:
        shown[-1] = own  # more of what is in the cup is asked for first, even where it strays
    return Adjusted(now.labs[0], shown)


class _Mixes:
    """The cup with drops of bottles added to it."""

    def __init__(self, cup: Cup, bottles: Sequence[tuple[Paint, float]], where: Where) -> None:
        self._pours = [pour for pour in cup.pours if pour.drops]
        self._paints = [pour.paint for pour in self._pours] + [paint for paint, _ in bottles]
        self._base = np.array([pour.volume_ml for pour in self._pours])
        self._drop_ml = np.array([ml for _, ml in bottles])
        self._where = where
        self._inside = np.array([any(_same(pour.paint, paint) for pour in self._pours) for paint, _ in bottles])
        self._able = np.array([self._inside[at] or not uncommon(paint) for at, (paint, _) in enumerate(bottles)])
        self._predictor = FastPredictor(where, self._paints)

    def added_ml(self, drops: Floats) -> float:
        """Of these drops, ml."""
        return float(drops @ self._drop_ml)

    def in_cup(self, parts: Sequence[tuple[int, int]]) -> bool:
        """Whether all of these bottles are in the cup."""
        return all(self._inside[at] for at, _ in parts)

    def _shares(self, drops: Floats) -> Floats:
        volumes = np.hstack([np.broadcast_to(self._base, (len(drops), len(self._base))), drops * self._drop_ml])
        return volumes / volumes.sum(axis=1, keepdims=True)

    def exact(self, drops: Floats) -> Floats:
        """(row, 3) by the whole solution, without a direction."""
        return exact_labs(self._paints, self._shares(drops), self._where)[:, 0]

    def looks(self, drops: Floats, *, strength: bool) -> Looks:
        """Of the cup with these drops (row, bottle) added."""
        shares = self._shares(drops)
        labs = self._predictor.labs(shares)[:, 0]
        if not strength:
            return Looks(labs, labs, np.ones(len(drops)), self._hiding(shares))
        return Looks(labs, *self._as_strong(shares), self._hiding(shares))

    def _hiding(self, shares: Floats) -> Floats:
        """(row,) contrast ratio."""
        lightness = []
        for ground in ("black", "white"):
            on = replace(self._where, ground=GROUNDS[ground], below=())
            light = (FastPredictor(on, self._paints).labs(shares)[:, 0, 0] + 16) / 116
            lightness.append(np.maximum(light, 0.05) ** 3)
        return lightness[0] / lightness[1]

    def _as_strong(self, shares: Floats) -> tuple[Floats, Floats]:
        """(row, 3) in the film in which each comes nearest to the cup's own colour, and (row,) that film, times the
        cup's."""
        own = self._predictor.labs(self._shares(np.zeros((1, len(self._drop_ml)))))[:, 0]
        films = [replace(self._where, film_um=times * self._where.film_um) for times in FILMS]
        labs = np.stack([FastPredictor(where, self._paints).labs(shares)[:, 0] for where in films])
        far = delta_e(labs, own)
        return labs[far.argmin(axis=0), np.arange(len(shares))], _lowest(np.array(FILMS), far)

    def singles(self) -> Floats:
        """(row, bottle) drops of one bottle."""
        most = MOST_ADDED * float(self._base.sum())
        rows = []
        for at in np.flatnonzero(self._able):
            for count in COUNTS:
                if count == 1 or count * self._drop_ml[at] <= most:
                    row = np.zeros(len(self._drop_ml))
                    row[at] = count
                    rows.append(row)
        return np.array(rows).reshape(-1, len(self._drop_ml))

    def pairs(self, singles: Floats, wanted: Wish, now: Looks, each: Looks) -> Floats:
        """Two of the single ways together, of which the sum of what they do is mostly what is wished."""
        steps, moved = wanted.steps(now, each), each.labs - now.labs
        rest = wanted.rest(now, each) - now.labs
        useful = np.flatnonzero((np.linalg.norm(moved, axis=1) < 25) & (np.linalg.norm(moved, axis=1) > 0.2))
        order = useful[np.argsort(-np.abs(steps[useful]) + 0.05 * np.linalg.norm(rest[useful], axis=1))][:PAIRED]
        first, second = np.triu_indices(len(order), 1)
        first, second = order[first], order[second]
        apart = singles[first].argmax(axis=1) != singles[second].argmax(axis=1)
        first, second = first[apart], second[apart]
        both = steps[first] + steps[second]
        left = np.linalg.norm(rest[first] + rest[second], axis=1)
        there = (both > LEAST) & (both < MOST)
        first, second, both, left = first[there], second[there], both[there], left[there]
        nearest = np.argsort(left + 2.0 * np.abs(1 - both))[: 4 * SOLVED]
        return singles[first[nearest]] + singles[second[nearest]]

    def best(self, drops: Floats, wanted: Wish, now: Looks, then: Looks) -> list[int]:
        """Rows that help, gentlest first: what is in the cup before what is not, what strays least, a step long."""
        each = wanted.each(now, then)
        steps = each.min(axis=0)
        side = delta_e(wanted.rest(now, then), now.labs)
        change = np.maximum(wanted.change(now, then), 1e-6)
        there = drops > 0
        cost = np.sqrt(np.mean((1 - each) ** 2, axis=0)) + NEW_BOTTLE * (there & ~self._inside).sum(axis=1)
        cost = cost + SECOND_BOTTLE * (there.sum(axis=1) - 1)
        cost = cost + STRAYING * np.maximum(side / change - 0.25, 0) + side / 10
        cost = cost + np.where(side > STRAYS * change, 5.0, 0.0)  # those last
        cost = cost + 0.3 * (drops @ self._drop_ml) / self._base.sum()
        order = np.argsort(cost, kind="stable")
        return [int(row) for row in order if steps[row] > LEAST and steps[row] <= 2 * MOST]


def _same(one: Paint, other: Paint) -> bool:
    """Names given in place are often all the same."""
    return one is other or (one.name == other.name and np.array_equal(one.absorption, other.absorption))


def _lowest(at: Floats, far: Floats) -> Floats:
    """(row,) where a curve (point, row) over `at` is lowest, between its points by a parabola."""
    best = np.clip(far.argmin(axis=0), 1, len(at) - 2)
    rows = np.arange(far.shape[1])
    x = np.log(at)
    x0, x1, x2 = x[best - 1], x[best], x[best + 1]
    y0, y1, y2 = far[best - 1, rows], far[best, rows], far[best + 1, rows]
    denominator = (x0 - x1) * (x0 - x2) * (x1 - x2)
    a = (x2 * (y1 - y0) + x1 * (y0 - y2) + x0 * (y2 - y1)) / denominator
    b = (x2**2 * (y0 - y1) + x1**2 * (y2 - y0) + x0**2 * (y1 - y2)) / denominator
    found = np.where(a > 1e-9, -b / np.where(a > 1e-9, 2 * a, 1.0), x1)
    return np.exp(np.clip(found, x0, x2))
