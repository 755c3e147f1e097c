"""Which of the mixes that come near a painter would pour: near enough, of few bottles, forgiving, of plain paints.

What the eye cannot tell apart is equally near. One drop amiss and an uneven hand take the rest: what they do is weighed
with the distance as errors are, in a square sum, since they add to it at random. A bottle more, and a paint that is no
colour for the purpose (primer, light of its own, flakes), must each bring so much more nearness. Where nothing plain
comes near, the target needs the others, and nothing speaks against them.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.match.judge import Judge, Match
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.mixes import Parts, uncommon
from diachrom.core.mix.spread import NINETY_PERCENT, spread

CLOSENESS = {"last-shade": 0.5, "side-by-side": 1.0, "arms-length": 2.5}  # dE
USUAL_CLOSENESS = CLOSENESS["side-by-side"]
A_BOTTLE, A_SPECIAL, FEW_BOTTLES = 0.5, 2.0, 2  # dE that one more must bring; so many bottles are free
NEEDED = 2.0  # dE: farther than this from everything plain, a target needs what is special
SLACK = 0.5  # dE beyond the nearest that is as good, where nothing is near enough
SURE_OF = 24  # mixes, the most promising, whose spread is reckoned


@dataclass(frozen=True, eq=False)
class Pourable:
    """A match, and what speaks for and against pouring it."""

    match: Match
    uncommon: tuple[int, ...]  # of its paints
    one_drop: Floats  # (part,) dE that one drop more or less of each does, the worse of both
    spread_delta_e: float
    score: float

    @property
    def worst_drop(self) -> float:
        """dE of one drop amiss, at its worst."""
        return float(self.one_drop.max())

    @property
    def smallest_drop(self) -> float:
        """The worst of those that have the fewest drops."""
        counts = np.array([drops for _, drops in self.match.parts])
        return float(self.one_drop[counts == counts.min()].max())


@dataclass(frozen=True)
class Wish:
    """What a painter wants of a match."""

    closeness: float = USUAL_CLOSENESS  # dE that is near enough
    special: bool = False  # primers, flakes and light of their own are as welcome as any paint

    def reluctance(self, paints: Sequence[Paint]) -> list[float]:
        """dE that each paint must bring a mix nearer, for the search."""
        return [0.0 if self.special or not uncommon(one) else A_SPECIAL for one in paints]


class Ranking:
    """Ranks what a search finds. What speaks against paints is in its judge's reluctance, that of the wish included."""

    def __init__(
        self, judge: Judge, wish: Wish, *, coats: int, most_drops: int, needed_ml: float | None = None
    ) -> None:
        """`needed_ml` is what will be sprayed: each mix is told in as many times its lowest terms; without it in as
        many drops as there may be as well."""
        self.judge, self.wish, self.coats, self.most_drops = judge, wish, coats, most_drops
        self.needed_ml = needed_ml
        self._spread: dict[Parts, float] = {}  # a search tells the same mixes again and again

    def of(self, matches: Sequence[Match]) -> list[Pourable]:
        """Those that a painter would rather pour first: near enough before what is not, and what is special only where
        it is needed or let in. Of many only the most promising are answered, and the nearest of all."""
        every = self.told(self._sized(matches))
        if not every:
            return []
        # Nothing plain comes near, and what is special does: the target needs it.
        plain, odd = (
            [pourable.match.delta_e for pourable in every if bool(pourable.uncommon) is kind] for kind in (False, True)
        )
        if self.wish.special or not plain:
            needed = True
        else:
            needed = bool(odd) and min(plain) > NEEDED and min(odd) <= min(plain) - A_SPECIAL
        rows = [one for one in every if needed or not one.uncommon]
        nearest = min(rows, key=lambda one: one.match.delta_e)
        enough = max(self.wish.closeness, nearest.match.delta_e + SLACK)

        def order(one: Pourable) -> tuple[bool, float, int]:
            return one.match.delta_e > enough, one.score, one.match.drops

        first = sorted((self._scored(row, needed=needed) for row in rows), key=order)[:SURE_OF]
        if nearest.match not in [one.match for one in first]:
            first.append(nearest)
        return sorted((self._scored(self._sure(one), needed=needed) for one in first), key=order)

    def _sized(self, matches: Sequence[Match]) -> list[Match]:
        """In a larger cup a drop amiss does less, but who needs little pours little."""

        def taken(one: Match, times: int) -> Match:
            return one if times <= 1 else replace(one, parts=tuple((index, times * n) for index, n in one.parts))

        most = [self.most_drops // one.drops for one in matches]
        if self.needed_ml is None:
            return [*matches, *(taken(one, times) for one, times in zip(matches, most, strict=True) if times > 1)]
        sprayed = [sum(n * self.judge.drop_ml[at] for at, n in one.parts) / self.judge.full for one in matches]
        times = [math.ceil(self.needed_ml / ml - 1e-9) for ml in sprayed]
        return [taken(one, min(each, limit)) for one, each, limit in zip(matches, times, most, strict=True)]

    def told(self, matches: Sequence[Match]) -> list[Pourable]:
        """In this order, with what a drop amiss does; nothing is known of their spread."""
        return [
            Pourable(one, tuple(index for index, _ in one.parts if uncommon(self.judge.paints[index])), step, 0.0, 0.0)
            for one, step in zip(matches, one_drop(self.judge, matches), strict=True)
        ]

    def _sure(self, pourable: Pourable) -> Pourable:
        parts = pourable.match.parts
        if parts not in self._spread:
            self._spread[parts] = spread_of(self.judge, pourable.match, self.coats)
        return replace(pourable, spread_delta_e=self._spread[parts])

    def _scored(self, pourable: Pourable, *, needed: bool) -> Pourable:
        """dE, and what is as bad."""
        far, likely = max(pourable.match.delta_e, self.wish.closeness), pourable.spread_delta_e / NINETY_PERCENT
        whole = float(np.sqrt(far**2 + likely**2 + pourable.worst_drop**2 / 4))
        more = A_BOTTLE * max(len(pourable.match.parts) - FEW_BOTTLES, 0)
        back = (
            A_SPECIAL if needed and pourable.uncommon and not self.wish.special else 0.0
        )  # one is needed, a second is not
        return replace(pourable, score=whole + more + self.judge.against(pourable.match) - back)


def one_drop(judge: Judge, matches: Sequence[Match]) -> list[Floats]:
    """(part,) of each match: dE between it and itself with one drop more or less of that part, the worse of both."""
    size = max((len(one.parts) for one in matches), default=0)
    if not size:  # a search that found nothing
        return [np.zeros(0) for _ in matches]
    which = np.zeros((len(matches), size), dtype=np.intp)
    counts = np.zeros((len(matches), size))
    for row, one in enumerate(matches):
        used = [index for index, _ in one.parts]
        # Places that are not needed hold no drop of a paint that is not in it.
        spare = [at for at in range(len(judge.paints)) if at not in used][: size - len(used)]
        which[row, : len(used) + len(spare)] = used + spare
        counts[row, : len(used)] = [drops for _, drops in one.parts]
    steps = np.concatenate([np.zeros((1, size)), np.eye(size), -np.eye(size)])  # (way, part)
    tried = np.maximum(counts[:, None, :] + steps, 0)  # (match, way, part)
    poured = tried.sum(axis=-1) > 0  # a cup that held a single drop has none left
    tried[~poured] = np.broadcast_to(counts[:, None, :], tried.shape)[~poured]
    rows = np.repeat(which, len(steps), axis=0)
    labs = judge.labs(rows, tried.reshape(-1, size)).reshape(len(matches), len(steps), -1, 3)
    far = mean_delta_e(labs[:, 1:], labs[:, :1])  # (match, way)
    both = np.maximum(far[:, :size], far[:, size:])
    return [both[row, : len(one.parts)] for row, one in enumerate(matches)]


def spread_of(judge: Judge, one: Match, coats: int) -> float:
    """How sure it is, dE at 90 %."""
    pours = [Pour(judge.paints[index], drops, float(judge.drop_ml[index])) for index, drops in one.parts]
    where = judge.where
    layer = Layer(Cup(pours), where.film_um * judge.full / coats, coats)  # as thin as if it were thinned
    return spread(
        [*where.below, layer],
        over=where.ground,
        sheen=where.sheen,
        under=where.under,
        angle_deg=where.views[0],
    ).delta_e
