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
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.spread import spread
from diachrom.core.mix.where import facing

STILL_GOOD = 1.5  # dE beyond the nearest
LOOKED_AT = 24
OTHER_LIGHTS = ("A", "led-warm", "led-cool", "overcast")


@dataclass(frozen=True, eq=False)
class Alternative:
    """A match, what it is the best at, and what else is to be known of it."""

    kinds: tuple[str, ...]  # "the nearest", "the fewest bottles" ...
    match: Match
    spread_delta_e: float
    price: float | None  # of its paint, in the painter's own money
    worst_light: str  # in words, where it leaves the target farthest
    worst_delta_e: float
    by_view: Sequence[float]  # dE in each view


def alternatives(
    search: Search,
    matches: Sequence[Match],
    *,
    in_lights: Mapping[str, Floats],
    price_ml: Sequence[float | None],
    coats: int,
) -> list[Alternative]:
    """The nearest first. `in_lights` is the target's Lab (3,) in each of OTHER_LIGHTS; prices are by ml of each
    paint."""
    if not matches:
        return []
    good = [one for one in matches if search.judge.cost(one) <= search.judge.cost(matches[0]) + STILL_GOOD][:LOOKED_AT]
    whole = [
        Alternative(
            kinds=(),
            match=one,
            spread_delta_e=_spread(search, one, coats),
            price=_price(search, one, price_ml),
            worst_light=light_words,
            worst_delta_e=far,
            by_view=delta_e(one.labs, search.judge.target).tolist(),
        )
        for one in good
        for light_words, far in [_other_lights(search, one, in_lights)]
    ]
    named: dict[int, list[str]] = {}
    for words, at in _best(whole, search):
        named.setdefault(at, []).append(words)
    chosen = sorted(named, key=lambda at: search.judge.cost(whole[at].match))
    return [replace(whole[at], kinds=tuple(named[at])) for at in chosen]


def _best(whole: Sequence[Alternative], search: Search) -> Iterator[tuple[str, int]]:
    """What one may want, in words, and which of them is the best at it."""
    keys: tuple[tuple[str, Callable[[Alternative], tuple[float, ...]]], ...] = (
        ("the nearest", lambda one: (search.judge.cost(one.match),)),
        ("the fewest bottles", lambda one: (len(one.match.parts), one.match.delta_e)),
        ("the smallest cup", lambda one: (one.match.drops, one.match.delta_e)),
        ("the most forgiving", lambda one: (one.spread_delta_e,)),
        ("the cheapest", lambda one: (np.inf if one.price is None else one.price, one.match.delta_e)),
        ("the same in other light", lambda one: (one.worst_delta_e,)),
    )
    for words, key in keys:
        best = min(range(len(whole)), key=lambda at: key(whole[at]))
        if words != "the cheapest" or whole[best].price is not None:
            yield words, best


def _radiance(search: Search, one: Match, under: Light) -> Floats:
    """What is seen of a match in a light, facing the eye (band,)."""
    volumes = np.array([drops * search.judge.drop_ml[at] for at, drops in one.parts])
    mixed = mix([search.judge.paints[at] for at, _ in one.parts], search.judge.full * volumes / volumes.sum())
    where = replace(search.judge.where, under=under)
    return np.asarray(where.radiance(Coat(mixed, where.film_um))[facing(where.views)])


def _other_lights(search: Search, one: Match, in_lights: Mapping[str, Floats]) -> tuple[str, float]:
    """The light in which match and target part most, and by how much more than in the light of the match."""
    far = {}
    for key, target in in_lights.items():
        under = light(key)
        # What a paint makes of the light is another amount in each.
        seen = lab_of_radiance(_radiance(search, one, under), under=under)
        far[key] = float(delta_e(seen, target))
    worst = max(far, key=lambda key: far[key])
    return WORDS[worst], far[worst]


def _spread(search: Search, one: Match, coats: int) -> float:
    pours = [Pour(search.judge.paints[at], drops, float(search.judge.drop_ml[at])) for at, drops in one.parts]
    where = search.judge.where
    layer = Layer(Cup(pours), where.film_um * search.judge.full / coats, coats)  # as thin as if it were thinned
    return spread(
        [*where.below, layer],
        over=where.ground,
        sheen=where.sheen,
        under=where.under,
        angle_deg=where.views[0],
    ).delta_e


def _price(search: Search, one: Match, price_ml: Sequence[float | None]) -> float | None:
    prices = [price_ml[at] for at, _ in one.parts]
    if any(price is None for price in prices):
        return None
    return float(
        sum(
            (price or 0.0) * drops * search.judge.drop_ml[at]
            for price, (at, drops) in zip(prices, one.parts, strict=True)
        )
    )


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
