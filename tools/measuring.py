"""What the benches share: a call timed, a row of the table, the demo shelf."""

import statistics
import time
from collections.abc import Callable

from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.demo.paints import PAINTS

FOUR = ("rav-gull", "torv-kritt", "rav-nype", "rav-fjord")
D65 = light("D65")
SHELF = {paint.id: Pour(paint.profile(), 1, paint.drop_ml) for paint in PAINTS}


def timed(work: Callable[[], object], rounds: int = 30) -> float:
    """Median milliseconds of a call, after a warm-up."""
    for _ in range(3):
        work()
    taken = []
    for _ in range(rounds):
        start = time.perf_counter()
        work()
        taken.append(time.perf_counter() - start)
    return 1000 * statistics.median(taken)


def row(what: str, value: float, unit: str, most: float | None, floor: float, floor_words: str) -> None:
    limit = f"at most {most:.4g}" if most is not None else ""
    ratio = f"{value / floor:6.1f} x" if floor else ""
    beside = f"floor {floor:8.1f} {unit:<3} {ratio:>9}  {floor_words}" if floor else ""
    print(f"{what:<52} {value:8.1f} {unit:<3} {limit:<13} {beside}".rstrip())


def cup_of_four() -> Cup:
    drops = {"rav-gull": 6, "torv-kritt": 1, "rav-nype": 2, "tynn-reducer": 4}
    return Cup(tuple(Pour(SHELF[paint].paint, count, SHELF[paint].drop_ml) for paint, count in drops.items()))
