"""Matching against every cup, over the whole shelf, and what is said beside the cup."""

import statistics
import time
from collections import defaultdict
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor
from functools import partial
from itertools import combinations
from multiprocessing import get_context

import numpy as np
from fish_colours import COLOURS
from measuring import D65, SHELF, cup_of_four, row, timed

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.match.judge import Judge
from diachrom.core.match.pourable import CLOSENESS, Pourable, Ranking, Wish, one_drop
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import Pour
from diachrom.core.mix.family import FamilyBuilder
from diachrom.core.mix.mixes import Parts, compositions, special
from diachrom.core.mix.where import ALL_ANGLES, DIFFUSE, Views, Where
from diachrom.core.pour.next_drop import advise
from diachrom.core.pour.order import pouring_order
from diachrom.work.mix.candidates import last


def matching() -> None:
    """Small shelves against trying every cup exactly, the whole shelf, hidden recipes, and the next drop."""
    chance = np.random.default_rng(3)
    plain = [pour for pour in SHELF.values() if not pour.paint.thins and not special(pour.paint)][5:15]
    against_every_cup(chance, [one.paint for one in plain], 10, DIFFUSE, 30, "match: 10 paints, 3 used, 10 drops")
    flaked = ("perlemor-blaa", "malm-solv", "nordlys-fiol", "glo-oransje")
    mixed = [SHELF[key].paint for key in flaked] + [one.paint for one in plain[:6]]
    against_every_cup(chance, mixed, 7, ALL_ANGLES, 6, "match: 3 of 10 with flakes, 7 drops, 5 angles")
    whole_shelf(chance)
    where = Where(GROUNDS["white"], 16.0, CLEARED, D65)
    target = np.array([chance.uniform(20, 80), chance.uniform(-40, 50), chance.uniform(-40, 60)])
    cup, candidates = cup_of_four(), [(one.paint, one.drop_ml) for one in SHELF.values()]
    taken = timed(lambda: advise(cup, candidates, target, where), 5)
    row("next drop, of every bottle on the shelf", taken, "ms", 150, 0, "")
    order = timed(lambda: pouring_order(cup, where), 5)
    row("the order of pouring", order, "ms", None, 0, "")
    keys = list(SHELF)
    paints, drops = [one.paint for one in SHELF.values()], [one.drop_ml for one in SHELF.values()]
    recipe = [(keys.index("rav-gull"), 6), (keys.index("torv-kritt"), 1), (keys.index("rav-nype"), 2)]
    family = timed(
        lambda: FamilyBuilder(paints, drops, recipe, where).family(needs_ml=(1, 1, 1), step=8, given="middle"), 5
    )
    row("a family of three", family, "ms", None, 0, "")


def against_every_cup(
    chance: np.random.Generator, ten: Sequence[Paint], drops: int, views: Views, targets: int, what: str
) -> None:
    """So many targets on each of two grounds, against every cup by the transport solution."""
    gaps, taken = [], []
    for key in ("white", "silver-foil"):
        where = Where(GROUNDS[key], 16.0, CLEARED, D65, views=views)
        low, high = [10, -60, -60], [90, 70, 80]
        aims = [chance.uniform(low, high, (len(views), 3)) for _ in range(targets)]
        how = {"most_paints": 3, "most_drops": drops, "dilution": 0.3}
        searches = [Search(aim, ten, [0.05] * 10, where, **how) for aim in aims]  # type: ignore[arg-type]
        *_, _warm = searches[0].steps()  # what is tabulated once stays
        every, exhaustive = _every_cup(searches[0], 10, drops)  # (cup, view, 3), the same for all targets
        for search in searches:
            start = time.perf_counter()
            *_, found = search.steps()
            taken.append(time.perf_counter() - start)
            best = float(delta_e(every, search.judge.target).mean(axis=-1).min())
            gaps.append(found.matches[0].delta_e - best)
    row(what, 1000 * statistics.median(taken), "ms", 50 * exhaustive, 1000 * exhaustive, "every cup exactly")
    print(f"{f'  the largest distance from the optimum of {len(gaps)} targets':<52} {max(gaps):8.3f} dE  at most 0.05")


def whole_shelf(chance: np.random.Generator) -> None:
    """All paints, for flat colours without flakes, as the page has it; and recipes that were hidden in it."""
    every = list(SHELF.values())
    able = [one for one in every if not one.paint.flake]
    for words, shelf, views, key in (
        ("the whole shelf", able, DIFFUSE, "white"),
        ("the whole shelf, 5 angles", every, ALL_ANGLES, "black"),
    ):
        where = Where(GROUNDS[key], 16.0, CLEARED, D65, views=views)
        whole, first = [], []
        for at in range(6):
            target = chance.uniform([20, -40, -40], [80, 50, 60], (len(views), 3))
            search = _search(target, shelf, where)
            start = time.perf_counter()
            for step, _ in enumerate(search.steps()):
                if step == 0:
                    first.append(time.perf_counter() - start)
            if at:  # the first builds the tables
                whole.append(time.perf_counter() - start)
        row(f"match: {words}, 4 used, 24 drops", 1000 * statistics.median(whole), "ms", 1500, 0, "")
        row("match: its first answers", 1000 * statistics.median(first), "ms", 300, 0, "")
        *_, found = search.steps()
        few = timed(lambda found=found, judge=search.judge: one_drop(judge, found.matches[:6]), 5)  # type: ignore[misc]
        row("match: one drop amiss, of a list of six", few, "ms", 150, 0, "")
    where = Where(GROUNDS["white"], 16.0, CLEARED, D65)
    gaps = []
    plain = [one for one in able if not special(one.paint) and not one.paint.thins]
    for _ in range(20):
        some = chance.choice(len(plain), 4, replace=False).tolist()
        hidden = tuple(zip(some, chance.integers(1, 7, 4).tolist(), strict=True))
        target = _search(np.zeros(3), plain, where).judge.exactly([hidden])[0].labs
        *_, found = _search(target, plain, where).steps()
        gaps.append(found.matches[0].delta_e)
    print(f"{'  20 hidden recipes found again, the farthest':<52} {max(gaps):8.3f} dE  at most 0.3")


def painter() -> None:
    """Thirty colours of fish: what stands first by distance alone, and what for a painter."""
    paints, drops = zip(*((one.paint, one.drop_ml) for one in SHELF.values() if not one.paint.flake), strict=True)
    where = Where(GROUNDS["white"], 16.0, CLEARED, D65)
    first: dict[str, list[Pourable]] = defaultdict(list)
    for colour in COLOURS.values():
        for plain, wishes in ((False, [Wish(0.0, special=True)]), (True, [Wish(one) for one in CLOSENESS.values()])):
            how = {"most_paints": 4, "most_drops": 24, "dilution": 0.3}
            against = wishes[0].reluctance(paints)
            search = Search(np.array(colour, dtype=float), paints, drops, where, **how, reluctance=against)  # type: ignore[arg-type]
            found = last(search).matches
            for wish in wishes:
                ranking = Ranking(search.judge, wish, coats=2, most_drops=24)
                words = f"within dE {wish.closeness:g}" if plain else "by distance alone"
                first[words].append(ranking.of(found)[0] if plain else ranking.told(found[:1])[0])
    for words, rows in first.items():
        far, amiss = [one.match.delta_e for one in rows], [one.worst_drop for one in rows]
        print(
            f"thirty fish, {words}: {np.mean([len(one.match.parts) for one in rows]):.2f} bottles,"
            f" dE {np.mean(far):.2f} (worst {max(far):.2f}), a drop amiss {np.mean(amiss):.1f}"
            f" (worst {max(amiss):.1f}), special paints in {sum(bool(one.uncommon) for one in rows)}"
        )


def _search(target: Floats, shelf: Sequence[Pour], where: Where) -> Search:
    paints, drops = [one.paint for one in shelf], [one.drop_ml for one in shelf]
    return Search(target, paints, drops, where, most_paints=4, most_drops=24, dilution=0.3)


def _every_cup(search: Search, count: int, drops: int) -> tuple[Floats, float]:
    """(cup, view, 3) Lab of all cups of up to three paints, each by the transport solution, and the seconds of a
    processor that it took: on all there are."""
    cups = [
        tuple(zip(some, counts, strict=True))
        for size in (1, 2, 3)
        for some in combinations(range(count), size)
        for counts in compositions(size, drops).tolist()
    ]
    parts = [cups[at : at + 150] for at in range(0, len(cups), 150)]  # what fits into the cache
    with ProcessPoolExecutor(mp_context=get_context("fork")) as pool:
        found = list(pool.map(partial(_seen, search.judge), parts))
    return np.concatenate([labs for labs, _ in found]), sum(seconds for _, seconds in found)


def _seen(judge: Judge, cups: Sequence[Parts]) -> tuple[Floats, float]:
    start = time.process_time()
    labs = np.array([one.labs for one in judge.exactly(cups)])
    return labs, time.process_time() - start
