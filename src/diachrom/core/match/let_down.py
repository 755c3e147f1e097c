"""Pale colours that hang on one drop: the strong paints are first let down with white, in a cup of their own in which
a drop amiss does little, and the mix is then counted in drops of that."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.light.lab import lch
from diachrom.core.match.judge import Judge, Match
from diachrom.core.match.pourable import Pourable, Ranking, Wish
from diachrom.core.match.search import Search
from diachrom.core.mix.mixes import Indexes, uncommon

RATIOS = (9, 29)  # drops of white to one of the strong paint: one in nine as a rule, and for the strongest
TOUCHY = 1.5  # dE of a drop amiss, beyond which a mix hangs on it
AMISS = 1.0  # dE that a drop amiss in the first cup may do
LEAST, MOST = 2, 12  # drops of the strong paint in the first cup
STRONG = 8  # paints that are let down
WHITE_L, WHITE_CHROMA = 88.0, 6.0  # of a paint by itself
BETTER = 0.6  # times what a drop amiss does without one
MOST_CUPS, A_CUP, DROPS_A_DE = 2, 0.4, 200  # first cups, the dE that one must bring, and drops that cost one
LARGEST = 100  # drops of a first cup
NEAR = 1.0  # dE that is near enough, however much is wished
TRIED = 60
FROM = 12  # of the mixes that were found, the strong paints are taken


@dataclass(frozen=True, eq=False)
class LetDown:
    """A first cup."""

    strong: int  # place among the paints
    white: int
    drops: tuple[int, int]  # of both
    used: int  # drops of it in the mix
    amiss: float  # dE that one drop of the strong paint amiss does to the mix

    @property
    def ratio(self) -> int:
        """Drops of white to one."""
        return self.drops[1] // self.drops[0]


@dataclass(frozen=True, eq=False)
class LetDownMatch:
    """A mix that is counted in drops of first cups."""

    first: tuple[LetDown, ...]
    parts: tuple[tuple[int, int], ...]  # of the other paints, by their places, and drops
    match: Match  # its parts are of the extended list, for nobody else
    worst_drop: float  # dE of one drop amiss anywhere, in the first cups too


def by_let_down(
    search: Search, found: Sequence[Match], best: Pourable, wish: Wish, *, coats: int
) -> LetDownMatch | None:
    """The same colour by way of first cups, where the best mix that was found hangs on one drop.

    Parameters
    ----------
    search : that found them.
    found : its matches.
    best : of them, the one to pour.
    wish : what is wanted of a match.
    coats : that are sprayed.

    Returns
    -------
    None where a drop amiss does little, or a first cup does not help.
    """
    judge = search.judge
    if best.worst_drop <= TOUCHY:
        return None
    white = _white(judge)
    if white is None:
        return None
    used = [index for one in found[:FROM] for index, _ in one.parts]
    strong = [at for at in dict.fromkeys(used) if at != white and not uncommon(judge.paints[at])][:STRONG]
    if not strong:
        return None
    cups = [(at, ratio) for at in strong for ratio in RATIOS]
    plain = [white, *strong]
    paints = [judge.paints[at] for at in plain] + [_let_down(judge, at, white, 1.0, ratio) for at, ratio in cups]
    drop_ml = [float(judge.drop_ml[at]) for at in plain] + [_drop_ml(judge, at, white, ratio) for at, ratio in cups]
    own = Search(
        judge.target,
        paints,
        drop_ml,
        judge.where,
        most_paints=search.most_paints,
        most_drops=search.sets.most_drops,
        dilution=1 - judge.full,
        reluctance=[float(judge.reluctance[at]) for at in plain] + [0.0] * len(cups),
    )
    *_, mixes = own.steps()
    near = max(min(best.match.delta_e, NEAR), wish.closeness)
    able = [one for one in mixes.matches if one.delta_e <= near and _pourable(one, plain, cups)]
    # In as many drops as there may be: one amiss does less.
    times = [search.sets.most_drops // one.drops for one in able]
    able = [replace(one, parts=tuple((at, k * n) for at, n in one.parts)) for one, k in zip(able, times, strict=True)]
    ranked = Ranking(own.judge, wish, coats=coats, most_drops=search.sets.most_drops).told(able)
    ranked = sorted(ranked, key=lambda one: one.worst_drop + A_CUP * _cups_in(one.match, plain))[:TRIED]
    told = [_told(own.judge, one, plain, cups, judge) for one in ranked]
    told = [one for one in told if max(sum(cup.drops) for cup in one.first) <= LARGEST]
    chosen = min(told, key=_cost, default=None)
    return chosen if chosen is not None and chosen.worst_drop <= BETTER * best.worst_drop else None


def _cups_in(one: Match, plain: Sequence[int]) -> int:
    return sum(at >= len(plain) for at, _ in one.parts)


def _pourable(one: Match, plain: Sequence[int], cups: Sequence[tuple[int, int]]) -> bool:
    """One first cup or two, of different paints."""
    strong = [cups[at - len(plain)][0] for at, _ in one.parts if at >= len(plain)]
    return 0 < len(strong) <= MOST_CUPS and len(set(strong)) == len(strong)


def _cost(one: LetDownMatch) -> float:
    """dE: what a drop amiss does, and what a cup and its drops must bring."""
    return one.worst_drop + A_CUP * len(one.first) + sum(sum(cup.drops) for cup in one.first) / DROPS_A_DE


def _white(judge: Judge) -> int | None:
    """The lightest opaque paint without a hue, by itself."""
    able = [at for at, paint in enumerate(judge.paints) if paint.kind == "opaque" and not uncommon(paint)]
    if not able:
        return None
    which: Indexes = np.array(able, dtype=np.intp)[:, None]
    looks = lch(judge.labs(which, np.ones_like(which))[:, 0])
    fit = [row for row in range(len(able)) if looks[row, 0] > WHITE_L and looks[row, 1] < WHITE_CHROMA]
    return able[max(fit, key=lambda row: looks[row, 0])] if fit else None


def _let_down(judge: Judge, strong: int, white: int, drops: float, white_drops: float) -> Paint:
    """The first cup as a paint: coefficients add by volume."""
    volumes = np.array([drops * judge.drop_ml[strong], white_drops * judge.drop_ml[white]])
    one, other = volumes / volumes.sum()
    paint, body = judge.paints[strong], judge.paints[white]
    return replace(
        body,
        name=f"{paint.name} 1:{white_drops / drops:g}",
        absorption=one * paint.absorption + other * body.absorption,
        scattering=one * paint.scattering + other * body.scattering,
        uncertainty=float(np.hypot(one * paint.uncertainty, other * body.uncertainty)),
        bleeds=0.0,
    )


def _drop_ml(judge: Judge, strong: int, white: int, ratio: int) -> float:
    return float((judge.drop_ml[strong] + ratio * judge.drop_ml[white]) / (1 + ratio))


def _told(
    own: Judge,
    one: Pourable,
    plain: Sequence[int],
    cups: Sequence[tuple[int, int]],
    judge: Judge,
) -> LetDownMatch:
    """With first cups so large that a drop amiss in them does little; the white is the first of the plain ones."""
    first, white = [], plain[0]
    for at, drops in one.match.parts:
        if at < len(plain):
            continue
        strong, ratio = cups[at - len(plain)]
        # What a tenth more of the strong paint does, ten times: a drop amiss in ten.
        much = _amiss(own, one, at, _let_down(judge, strong, white, 1.1, ratio)) * 10
        count = min(max(LEAST, math.ceil(much / AMISS)), MOST, LARGEST // (1 + ratio))
        first.append(LetDown(strong, white, (count, ratio * count), drops, much / count))
    rest = tuple((plain[at], drops) for at, drops in one.match.parts if at < len(plain))
    worst = max(one.worst_drop, *(cup.amiss for cup in first))
    return LetDownMatch(tuple(first), rest, one.match, worst)


def _amiss(own: Judge, one: Pourable, at: int, other: Paint) -> float:
    """dE between a mix and itself with another paint in the place of one of its own."""
    which, counts = np.array(one.match.parts, dtype=np.intp).T
    paints = [own.paints[index] for index in which]
    changed = [other if index == at else own.paints[index] for index in which]
    volumes = counts * own.drop_ml[which]
    shares = own.full * volumes / volumes.sum()
    before, after = (
        Judge(own.target, some, [1.0] * len(some), own.where, dilution=1 - own.full).looks.labs(shares[None])
        for some in (paints, changed)
    )
    return float(mean_delta_e(after, before)[0])
