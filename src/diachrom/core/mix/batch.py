"""So much of a mix in whole drops, its ratio kept: whole multiples of its lowest terms."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.mix.cup import MOST_DROPS
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.words import quantity, say

LARGEST_ML = 1000.0
NOTHING = 1e-9  # of a drop: counting in binary fractions
STEPS = 120  # sizes tried for a batch that may change its ratio


@dataclass(frozen=True)
class Batch:
    """Whole drops of each part, and what of them is more than was wanted."""

    drops: tuple[int, ...]
    ml: float
    over_ml: float


def lowest_terms(drops: Sequence[int]) -> tuple[int, ...]:
    """12 : 12 is 1 : 1."""
    divisor = math.gcd(*drops)
    return tuple(count // divisor for count in drops) if divisor else tuple(drops)


def batch(drops: Sequence[int], drop_ml: Sequence[float], ml: float) -> Batch:
    """The smallest whole multiple of the lowest terms that makes so much.

    Parameters
    ----------
    drops : (part,) of the mix.
    drop_ml : (part,) of each bottle.
    ml : wanted.

    Raises
    ------
    EmptyCup, InvalidInput
    """
    terms = _wanted(drops, ml)
    one = sum(count * size for count, size in zip(terms, drop_ml, strict=True))
    times = max(1, math.ceil(ml / one - NOTHING))
    return _made([times * count for count in terms], drop_ml, ml)


def closest(drops: Sequence[int], drop_ml: Sequence[float], ml: float) -> Batch:
    """The whole drops nearest to the mix, at least one of each part, that make no more than wanted: a changed ratio.

    Raises
    ------
    EmptyCup, and InvalidInput where not even a drop of each fits
    """
    terms, sizes = np.array(_wanted(drops, ml), dtype=float), np.array(drop_ml)
    there = terms > 0
    if (there * sizes).sum() > ml + NOTHING:
        least = quantity(float((there * sizes).sum()), ".2g", "ml")
        raise InvalidInput(
            say("A drop of each is {least} already, more than {ml}.", least=least, ml=quantity(ml, ".2g", "ml")),
            field="ml",
        )
    shares = terms * sizes / (terms * sizes).sum()
    best: tuple[float, float, tuple[int, ...]] | None = None
    for size in np.linspace(0, ml, STEPS + 1)[1:]:
        wanted = shares * size / sizes
        counts = np.where(there, np.maximum(1, np.floor(wanted)), 0)
        while counts @ sizes <= ml + NOTHING:
            volume = float(counts @ sizes)
            off = float(np.abs(counts * sizes / volume - shares).sum())
            found = round(off, 9), -volume, tuple(counts.astype(int).tolist())
            best = found if best is None or found < best else best
            missing = np.where(there, wanted - counts, -np.inf)
            if missing.max() <= 0:
                break
            counts[int(np.argmax(missing))] += 1
    return _made(best[2] if best else tuple(there.astype(int).tolist()), drop_ml, ml)


def _wanted(drops: Sequence[int], ml: float) -> tuple[int, ...]:
    if not any(drops):
        raise EmptyCup(say("pouring so much of it"))
    if not 0 < ml < math.inf:
        raise _beyond(ml)
    return lowest_terms(drops)


def _made(drops: Sequence[int], drop_ml: Sequence[float], ml: float) -> Batch:
    made = sum(count * size for count, size in zip(drops, drop_ml, strict=True))
    return Batch(tuple(drops), made, max(0.0, made - ml))


def check_countable(found: Batch) -> None:
    """Raises InvalidInput for what nobody counts by drops."""
    if found.ml > LARGEST_ML:
        raise _beyond(found.ml - found.over_ml)
    if max(found.drops) > MOST_DROPS:
        raise InvalidInput(
            say("That takes {counts} drops of one bottle; measure it in ml.", counts=max(found.drops)), field="ml"
        )


def _beyond(ml: float) -> InvalidInput:
    most, asked = quantity(LARGEST_ML, ".0f", "ml"), quantity(ml, "g", "ml")
    return InvalidInput(say("A batch is more than 0 and at most {most}, not {ml}.", most=most, ml=asked), field="ml")
