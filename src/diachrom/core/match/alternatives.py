"""A short list of matches that differ in kind: who wants the nearest, who the fewest bottles, who a forgiving mix."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import WORDS, Light, light
from diachrom.core.match.judge import Match
from diachrom.core.match.pourable import Pourable, Ranking, Wish
from diachrom.core.match.search import Search
from diachrom.core.mix.mixes import Parts
from diachrom.core.mix.where import facing
from diachrom.words import say

OTHER_LIGHTS = ("A", "led-warm", "led-cool", "overcast")
FORGIVING, TOUCHY = 1.5, 3.0  # dE that one drop amiss does


@dataclass(frozen=True, eq=False)
class Alternative:
    """A match, what it is the best at, and what else is to be known of it."""

    kinds: tuple[str, ...]  # "to pour", "the nearest", "the fewest bottles" ...
    match: Match
    uncommon: tuple[int, ...]  # of its paints: primers, flakes, light of their own
    worst_drop: float  # dE that one drop amiss does
    spread_delta_e: float
    price: float | None  # of its paint, in the painter's own money
    worst_light: str  # in words, where it leaves the target farthest
    worst_delta_e: float
    by_view: Sequence[float]  # dE in each view

    @property
    def why(self) -> str:
        """What speaks for it beside its colour, and against it, in a few words."""
        count = len(self.match.parts)
        bottles = say("one bottle") if count == 1 else say("{numbers} bottles", numbers=NUMBERS[count])
        if count > 1 and self.worst_drop <= FORGIVING:
            return say("{bottles}, forgiving", bottles=bottles)
        return say("{bottles}, count with care", bottles=bottles) if self.worst_drop > TOUCHY else bottles


NUMBERS = ("no", "one", "two", "three", "four", "five")


class ShortList:
    """Of what one search finds, some that differ in kind: those to pour first, and the best at each thing."""

    def __init__(
        self,
        search: Search,
        wish: Wish,
        *,
        in_lights: Mapping[str, Floats],
        price_ml: Sequence[float | None],
        coats: int,
        needed_ml: float | None = None,
    ) -> None:
        """`in_lights` is the target's Lab (3,) in each of OTHER_LIGHTS; prices are by ml of each paint."""
        self.search, self.in_lights, self.price_ml = search, in_lights, price_ml
        self.ranking = Ranking(search.judge, wish, coats=coats, most_drops=search.sets.most_drops, needed_ml=needed_ml)
        self._told: dict[Parts, Alternative] = {}  # a search tells the same mixes again and again

    def of(self, matches: Sequence[Match]) -> list[Alternative]:
        """The one to pour first."""
        whole = [self._of(one) for one in self.ranking.of(matches)]
        named: dict[int, list[str]] = {}
        for kind, index in _best(whole):
            named.setdefault(index, []).append(kind)
        return [replace(whole[at], kinds=tuple(named[at])) for at in sorted(named)]

    def _of(self, one: Pourable) -> Alternative:
        parts = one.match.parts
        if parts not in self._told:
            # The light in which match and target part most, and by how much.
            judge = self.search.judge
            shines = any(judge.paints[index].fluorescence or judge.paints[index].glow for index, _ in one.match.parts)
            here = judge.where.under
            factor = None if shines else here.factor(_radiance(self.search, one.match, here))
            far = {}
            for key, target in self.in_lights.items():
                under = light(key)
                # What a paint makes of the light is another amount in each; what it gives back of it is the same share.
                radiance = _radiance(self.search, one.match, under) if factor is None else under.power * factor
                far[key] = float(delta_e(lab_of_radiance(radiance, under=under), target))
            tells = max(far, key=lambda key: far[key])
            worst_light, worst = WORDS[tells], far[tells]
            prices = [self.price_ml[index] for index, _ in one.match.parts]
            if any(price is None for price in prices):
                price = None
            else:
                price = float(
                    sum(
                        (price or 0.0) * drops * self.search.judge.drop_ml[at]
                        for price, (at, drops) in zip(prices, one.match.parts, strict=True)
                    )
                )
            self._told[parts] = Alternative(
                kinds=(),
                match=one.match,
                uncommon=one.uncommon,
                worst_drop=one.worst_drop,
                spread_delta_e=one.spread_delta_e,
                price=price,
                worst_light=worst_light,
                worst_delta_e=worst,
                by_view=delta_e(one.match.labs, self.search.judge.target).tolist(),
            )
        return self._told[parts]


def _best(whole: Sequence[Alternative]) -> Iterator[tuple[str, int]]:
    """What one may want, in words, and which of them is the best at it; the first is the one to pour."""
    if not whole:
        return
    yield say("to pour"), 0
    keys: tuple[tuple[str, Callable[[Alternative], tuple[float, ...]]], ...] = (
        (say("the nearest"), lambda alternative: (alternative.match.delta_e,)),
        (say("the fewest bottles"), lambda one: (len(one.match.parts), one.match.delta_e)),
        (say("the smallest cup"), lambda one: (one.match.drops, one.match.delta_e)),
        (say("the most forgiving"), lambda one: (one.spread_delta_e**2 + one.worst_drop**2,)),
        (say("the cheapest"), lambda one: (np.inf if one.price is None else one.price, one.match.delta_e)),
        (say("the same in other light"), lambda one: (one.worst_delta_e,)),
    )
    for kind, key in keys:
        best = min(range(len(whole)), key=lambda index: key(whole[index]))
        if kind != "the cheapest" or whole[best].price is not None:
            yield kind, best


def _radiance(search: Search, one: Match, under: Light) -> Floats:
    """What is seen of a match in a light, facing the eye (band,)."""
    volumes = np.array([drops * search.judge.drop_ml[index] for index, drops in one.parts])
    mixed = mix([search.judge.paints[at] for at, _ in one.parts], search.judge.full * volumes / volumes.sum())
    where = replace(search.judge.where, under=under)
    return np.asarray(where.radiance(Coat(mixed, where.film_um))[facing(where.views)])


def reach(search: Search) -> Floats:
    """How far the shelf goes from here in a*b*: the outline (point, 2) of all single paints and pairs."""
    points = search.pairs()[:, 1:]
    return _hull(points)


def _hull(points: Floats) -> Floats:
    """The convex outline of points (n, 2), counter-clockwise (Andrew's monotone chain)."""
    ordered = sorted(set(map(tuple, np.round(points, 2).tolist())))
    if len(ordered) < 3:
        return np.array(ordered)

    def half(some: Sequence[tuple[float, ...]]) -> list[tuple[float, ...]]:
        kept: list[tuple[float, ...]] = []
        for point in some:
            while len(kept) > 1 and _turn(kept[-2], kept[-1], point) <= 0:
                kept.pop()
            kept.append(point)
        return kept[:-1]

    return np.array(half(ordered) + half(ordered[::-1]))


def _turn(a: tuple[float, ...], b: tuple[float, ...], c: tuple[float, ...]) -> float:
    return (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
