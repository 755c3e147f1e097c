"""The first week: a list of bottles, batches, verdicts, let-downs, zones of a photo."""

import random
import statistics
import time
from collections.abc import Sequence
from functools import partial

import numpy as np
from measuring import D65, SHELF, row, timed

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.colour_words import WORD, entries
from diachrom.core.light.difference import delta_e
from diachrom.core.match.fewest import fewest
from diachrom.core.match.let_down import by_let_down
from diachrom.core.match.pourable import Ranking, Wish
from diachrom.core.match.search import Search
from diachrom.core.mix.batch import batch
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.mixes import uncommon
from diachrom.core.mix.where import Where
from diachrom.core.pour.adjusting import adjust
from diachrom.core.pour.verdict import WORDS
from diachrom.core.shelf.bottle_list import each_line
from diachrom.errors import DiachromError
from diachrom.work.mix.candidates import last

WHITE = Where(GROUNDS["white"], 16.0, CLEARED, D65)
BELLIES = (
    *((85, 2, 16), (86, 4, 22), (88, -2, 14), (78, 22, 6), (82, -2, 2)),
    *((90, 4, 10), (84, 10, 14), (80, -6, 4), (87, 6, 4), (83, 0, 24)),
)
ZONES = ((42, -6, 28), (30, -6, 18), (85, 2, 16), (55, 48, 48), (62, 34, 8), (46, -16, 32))
PROPERTIES = ("strong", "thin", "see-through")  # that a colour on white may not show


def first_week() -> None:
    """What a new bench meets first."""
    names = [name for name in entries() if name.isascii()][::29][:40]
    text = "\n".join(f"{name.title()}, 30 ml" for name in names)
    floor = timed(lambda: WORD.findall(text))
    row("a list of forty lines", timed(lambda: each_line(text)), "ms", 150, floor, "its words found")
    row("a batch of five bottles", timed(lambda: batch([1, 4, 4, 7, 11], [0.05] * 5, 12.0)), "ms", 2, 0, "")
    verdicts()
    bellies()
    zones()


def verdicts() -> None:
    """Random mixes and what is said of them."""
    chance = random.Random(36)
    bottles = [(one.paint, one.drop_ml) for one in SHELF.values()]
    plain = [one for one in bottles if not uncommon(one[0]) and not one[0].thins]
    taken, strayed, wrong, found = [], 0, 0, 0
    for _ in range(300):
        mix = Cup([Pour(paint, chance.randint(1, 8), ml) for paint, ml in chance.sample(plain, chance.randint(2, 4))])
        word = chance.choice(list(WORDS))
        verdict = f"too {word}" if chance.random() < 0.5 else f"not {word} enough"
        start = time.perf_counter()
        try:
            told = adjust(mix, bottles, [verdict], WHITE)
        except DiachromError:
            continue
        taken.append(time.perf_counter() - start)
        for way in told.ways[:1]:
            change = float(delta_e(way.lab, told.now))
            if word in PROPERTIES:
                change = max(change, 5 * way.towards)
            found += 1
            wrong += way.towards <= 0
            strayed += way.side > 0.5 * change
    row("adjust, over the demo's shelf", 1000 * statistics.median(taken), "ms", 150, 0, "")
    print(f"  {found} first ways: {wrong} the wrong way, {strayed} strayed by more than half")


def bellies() -> None:
    """Ten pale bellies with and without a let-down."""
    shelf = [one for one in SHELF.values() if not one.paint.flake]
    paints, drops, wish = [one.paint for one in shelf], [one.drop_ml for one in shelf], Wish()
    before, after, far, taken = [], [], [], []
    for belly in BELLIES:
        how = {"most_paints": 4, "most_drops": 24, "dilution": 0.3}
        target, against = np.array(belly, dtype=float), wish.reluctance(paints)
        search = Search(target, paints, drops, WHITE, **how, reluctance=against)  # type: ignore[arg-type]
        found = last(search).matches
        best = Ranking(search.judge, wish, coats=2, most_drops=24).of(found)[0]
        start = time.perf_counter()
        told = by_let_down(search, found, best, wish, coats=2)
        taken.append(time.perf_counter() - start)
        before.append(best.worst_drop)
        after.append(best.worst_drop if told is None else told.worst_drop)
        far.append(best.match.delta_e if told is None else told.match.delta_e)
    row("a let-down looked for", 1000 * statistics.median(taken), "ms", None, 0, "")
    print(
        f"  ten pale bellies: a drop amiss dE {statistics.median(before):.1f}, let down {statistics.median(after):.2f}"
        f" (worst {max(after):.1f}); dE {max(far):.2f} at most"
    )


def zones() -> None:
    """Six zones of a fish matched together."""
    shelf = [one for one in SHELF.values() if not one.paint.flake]
    paints, drops, against = [one.paint for one in shelf], [one.drop_ml for one in shelf], Wish()
    reluctance = against.reluctance(paints)
    plain = [at for at, paint in enumerate(paints) if not uncommon(paint) and not paint.thins]

    def search(at: int, some: Sequence[int], most_paints: int = 4) -> Search:
        return Search(
            np.array(ZONES[at], dtype=float),
            [paints[one] for one in some],
            [drops[one] for one in some],
            WHITE,
            most_paints=most_paints,
            most_drops=24,
            dilution=0.3,
            reluctance=[reluctance[one] for one in some],
            quick=True,
        )

    pairs = partial(search, most_paints=2)
    firsts, wholes, last_one = [], [], None
    for _ in range(4):
        start = time.perf_counter()
        for step, palette in enumerate(
            fewest(len(ZONES), search, plain=plain, every=range(len(paints)), closeness=1.0, first=pairs)
        ):
            if step == 0:
                firsts.append(time.perf_counter() - start)
            last_one = palette
        wholes.append(time.perf_counter() - start)
    row("six zones together: first answers", 1000 * statistics.median(firsts), "ms", 500, 0, "")
    row("six zones together: done", 1000 * statistics.median(wholes), "ms", 3000, 0, "")
    if last_one is not None:
        print(f"  {len(last_one.bottles)} bottles, dE {max(one.delta_e for one in last_one.mixes):.2f} at most")
