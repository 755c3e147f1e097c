"""What could stand in for a paint: single paints and small mixes that look like it, over white, foil and black, at all
angles.

Plain mixes are found among thousands by the tables over white and over black, and the best are then seen exactly. The
tables know no flakes and no light of its own: there each such paint is tried with some of the others, in few streams.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.fast import FastFilms, films
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab, lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.mixes import Parts, by_special, special, volumes_of
from diachrom.core.mix.prediction import ANGLES_DEG
from diachrom.core.mix.where import waves

FILM_UM, THIN_UM = 24.0, 4.0  # three light coats, and a mist: how strong a paint is shows where it is thin
VIEWS = (("white", FILM_UM), ("silver-foil", FILM_UM), ("black", FILM_UM), ("white", THIN_UM))
POOL = 40  # paints that are mixed with one another, the nearest by themselves first
TRIPLE_POOL = 10
SPECIAL_POOL, BESIDE_SPECIAL = 6, 12
PAIR_RATIOS = ((1, 1), (2, 1), (1, 2), (3, 1), (1, 3), (4, 1), (1, 4), (6, 1), (1, 6), (9, 1), (1, 9), (3, 2), (2, 3))
TRIPLE_RATIOS = (
    *((1, 1, 1), (2, 1, 1), (1, 2, 1), (1, 1, 2), (6, 1, 1), (1, 6, 1), (1, 1, 6)),
    *((4, 2, 1), (4, 1, 2), (2, 4, 1), (1, 4, 2), (2, 1, 4), (1, 2, 4)),
)
SPECIAL_RATIOS = ((1, 1), (2, 1), (4, 1), (8, 1))
FIRST_RATIOS = ((1, 1), (4, 1))
EVERY, FIRST = (0, 1, 2, 3), (0, 2)  # of the views: flakes are tried over white and black first
IN_ALL = 15  # pairs that are then seen in every ratio and view
EXACTLY = 16  # mixes that are seen exactly
FEW_STREAMS = 4
D65 = light("D65")


@dataclass(frozen=True, eq=False)
class Found:
    """One paint or mix that could stand in: whole drops of each, and how it differs over each ground."""

    parts: Parts  # (place among the candidates, drops)
    delta_e: float  # over all grounds and angles, root of the mean square
    by_view: tuple[tuple[str, float, float, str], ...]  # (ground's key, µm, dE, what differs in words)


@dataclass(frozen=True, eq=False)
class _Seen:
    """A mix as it was seen, before it is told."""

    parts: Parts
    delta_e: float
    labs: Sequence[Floats]  # per view (angle, 3)


Pair = tuple[int, int]  # places among the candidates, the one with flakes or light of its own first
Looks = list[Floats]  # per view (n, angle, 3): one row where the angle changes nothing


def find_substitutes(target: Paint, candidates: Sequence[Paint], *, most: int = 5) -> tuple[list[Found], list[Found]]:
    """The nearest single paints and the nearest mixes, best first. Drops are taken to be equal."""
    turns = target.flake is not None or any(paint.flake for paint in candidates)
    aims = {count: _looks([target], [((0, 1),)], count, turns=turns) for count in (FEW_STREAMS, STREAMS)}

    def ranked(tried: Sequence[Parts], count: int, *, views: Sequence[int] = EVERY) -> list[_Seen]:
        return _ranked(aims[count], candidates, tried, count, turns=turns, views=views)

    def nearest(pairs: Sequence[Pair]) -> list[_Seen]:
        first = _different(ranked(_in(FIRST_RATIOS, pairs), FEW_STREAMS, views=FIRST), IN_ALL)
        near = [(one.parts[0][0], one.parts[1][0]) for one in first]
        then = ranked(_in(SPECIAL_RATIOS, near), FEW_STREAMS)[:EXACTLY]
        return ranked([one.parts for one in then], STREAMS)

    alone = ranked([((index, 1),) for index, paint in enumerate(candidates) if not paint.thins], FEW_STREAMS)
    order = [one.parts[0][0] for one in alone]
    singles = ranked([one.parts for one in alone[: 2 * most]], STREAMS)
    if special(target):
        mixes = nearest(list(_beside_special(candidates, order)))
    else:
        thinners = [at for at, paint in enumerate(candidates) if paint.thins]
        mixes = ranked(list(_plain(target, candidates, order, thinners)), STREAMS)
    shown = singles[:most], _different(mixes, most)
    singly, mixed = ([_told(one, aims[STREAMS]) for one in some] for some in shown)
    return singly, mixed


def _plain(
    target: Paint, candidates: Sequence[Paint], order: Sequence[int], thinners: Sequence[int]
) -> Iterator[Parts]:
    """The most promising mixes without flakes, by the tables over white and black."""
    pool = [index for index in order if not special(candidates[index])][:POOL] + list(thinners)
    if len(pool) < 2:
        return
    tried: list[Parts] = [
        tuple(zip(pair, ratio, strict=True)) for pair in combinations(pool, 2) for ratio in PAIR_RATIOS
    ]
    small = pool[:TRIPLE_POOL] + list(thinners[:1])
    tried += [tuple(zip(three, ratio, strict=True)) for three in combinations(small, 3) for ratio in TRIPLE_RATIOS]
    tried = [parts for parts in tried if not all(candidates[at].thins for at, _ in parts)]
    shares = _shares(tried, len(candidates))[:, pool]
    absorption = np.stack([candidates[at].absorption for at in pool])
    scattering = np.stack([candidates[at].scattering for at in pool])
    own = {"absorption": target.absorption[None], "scattering": target.scattering[None]}
    far = np.zeros(len(tried))
    for key, film_um in (("white", FILM_UM), ("black", FILM_UM), ("white", THIN_UM)):
        tables = FastFilms.over(GROUNDS[key])
        aim = films(np.eye(1), **own, film_um=film_um)
        made = films(shares, absorption=absorption, scattering=scattering, film_um=film_um)
        wanted, got = (lab(tables.reflectance(one).T.astype(np.float64), under=D65) for one in (aim, made))
        far += delta_e(got, wanted) ** 2
    yield from (tried[row] for row in np.argsort(far)[:EXACTLY])


def _beside_special(candidates: Sequence[Paint], order: Sequence[int]) -> Iterator[Pair]:
    """Each of the nearest paints with flakes or light of its own, with each of some others."""
    with_flakes = [index for index in order if special(candidates[index])][:SPECIAL_POOL]
    others = [at for at in order if not special(candidates[at]) and candidates[at].kind in ("transparent", "candy")]
    thinners = [at for at, paint in enumerate(candidates) if paint.thins]
    beside = others[:BESIDE_SPECIAL] + thinners[:2] + with_flakes
    for with_flake in with_flakes:
        for other in beside:
            if other != with_flake:
                yield with_flake, other


def _in(ratios: Sequence[tuple[int, int]], pairs: Sequence[Pair]) -> list[Parts]:
    return [((one, many), (other, few)) for one, other in pairs for many, few in ratios]


def _shares(tried: Sequence[Parts], paints: int) -> Floats:
    """(mix, paint), drops taken to be equal."""
    volumes = volumes_of(tried, np.ones(paints))
    return np.asarray(volumes / volumes.sum(axis=1, keepdims=True))


def _looks(
    paints: Sequence[Paint], tried: Sequence[Parts], count: int, *, turns: bool, views: Sequence[int] = EVERY
) -> Looks:
    """What each of these mixes of the same paints looks like in some views: a row a mix."""
    used = sorted({index for parts in tried for index, _ in parts})
    mixed = mix([paints[at] for at in used], _shares(tried, len(paints))[:, used])
    solved = {um: sprayed([Coat(mixed, um)], count) for um in {VIEWS[view][1] for view in views}}
    orders = waves(count) if len(views) == len(VIEWS) else 1  # the first look is a rough one
    found = []
    for key, film_um in (VIEWS[at] for at in views):
        over, layers = GROUNDS[key], solved[film_um]
        turned: Floats | float = 0.0
        if turns or over.has_direction:  # first what needs most waves: the rest finds them solved
            turned = seen.glance(layers, over, ANGLES_DEG, under=D65, orders=orders)  # (n, angle, band)
        radiance = turned + seen.diffuse(layers, over, sheen=CLEARED, under=D65)[:, None, :]
        found.append(lab_of_radiance(radiance, under=D65))
    return found


def _ranked(
    aim: Looks,
    candidates: Sequence[Paint],
    tried: Sequence[Parts],
    count: int,
    *,
    turns: bool,
    views: Sequence[int],
) -> list[_Seen]:
    """Seen, compared and sorted. Mixes that share their flakes are solved together."""
    looked_at: list[_Seen] = []
    for together in by_special(candidates, tried):
        looks = _looks(candidates, together, count, turns=turns, views=views)
        squares = [
            (delta_e(got, wanted) ** 2).mean(axis=-1)
            for got, wanted in zip(looks, (aim[index] for index in views), strict=True)
        ]
        whole = np.sqrt(np.mean(squares, axis=0)).tolist()
        looked_at += [_Seen(parts, whole[row], [look[row] for look in looks]) for row, parts in enumerate(together)]
    return sorted(looked_at, key=lambda one: one.delta_e)


def _told(one: _Seen, aim: Looks) -> Found:
    """With what differs in each view."""
    by_view = tuple(
        (key, um, float(np.sqrt(np.mean(delta_e(labs, wanted[0]) ** 2))), words.turning(wanted[0], labs))
        for (key, um), labs, wanted in zip(VIEWS, one.labs, aim, strict=True)
    )
    return Found(one.parts, one.delta_e, by_view)


def _different(found: Sequence[_Seen], most: int) -> list[_Seen]:
    """The best of each set of paints, so that five rows are five ideas."""
    best: dict[frozenset[int], _Seen] = {}
    for one in found:
        best.setdefault(frozenset(index for index, _ in one.parts), one)
    return list(best.values())[:most]
