"""How figures and days are said."""

from collections.abc import Sequence

from diachrom.clock import day_of
from diachrom.core.mix.layers import COATS_UM
from diachrom.words import listed, quantity, quantity_range, say, say_as, say_count, when

FEW = 10.0


def day(at: str) -> str:
    """A time as the bench's own day in words: "2 September 2026"; what is no time, as it stands."""
    found = day_of(at)
    return at[:20] if found is None else when(found)


def short_day(at: str) -> str:
    """ "2 Sep 2026", for a label."""
    found = day_of(at)
    return at[:20] if found is None else when(found, "short day")


def millilitres(value: float) -> str:
    """ "12 ml", "1.4 ml" """
    return quantity(value, ".0f" if abs(value) >= FEW else ".1f", "ml")


def lasts(value: float) -> str:
    """ "lasts 6 weeks" """
    if value > 104:
        return say("lasts years")
    if value < 1:
        return say("lasts under a week")
    return say_count(round(value), "lasts {count} week", "lasts {count} weeks")


def weeks(value: float | None) -> str:
    """ "lasts 6 weeks at this rate", or what is known instead."""
    return say("not poured lately") if value is None else say("{lasts} at this rate", lasts=lasts(value))


def count(number: int, noun: str) -> str:
    """ "1 drop", "12 drops", "3 patches", "4 passes"."""
    many = "es" if noun.endswith(("ch", "ss")) else "s"
    return f"{number} {noun}{'' if number == 1 else many}"


COUNTS = (
    *(say_as("count", "no"), say("one"), say("two"), say("three"), say("four")),
    *(say("five"), say("six"), say("seven"), say("eight")),
)
# How thick a coat is, by its key.
SIZES = {"mist": say("mist"), "light": say_as("coat", "light"), "medium": say_as("coat", "medium"), "wet": say("wet")}


def coats_words(coats: int, film_um: float) -> str:
    """Coats and their thickness in words: "two light coats"."""
    number = COUNTS[coats] if coats < len(COUNTS) else str(coats)
    size = next((SIZES[key] for key, um in COATS_UM.items() if um == film_um), quantity(film_um, "g", "µm"))
    return say("one {size} coat", size=size) if coats == 1 else say("{number} {size} coats", number=number, size=size)


def ranges(numbers: Sequence[int]) -> str:
    """Rising numbers, those that follow one another together: "2, 5 to 9, 12"."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and number == runs[-1][-1] + 1:
            runs[-1].append(number)
        else:
            runs.append([number])
    return listed(str(run[0]) if len(run) == 1 else quantity_range(run[0], run[-1], "g") for run in runs)
