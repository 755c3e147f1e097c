"""A mix made larger or smaller in whole drops: what rounding costs, and the volumes at which it costs nothing."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import gcd

import numpy as np

from diachrom.core.mix.cup import MOST_DROPS, Cup
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.words import quantity, say

LARGEST_ML = 1000.0
EACH_TIME = 0.01  # of the volume, that taking a mix once more must bring whole drops nearer by
MOST_TIMES = 6


@dataclass(frozen=True)
class Scaled:
    """Whole drops of each pour, and how far its largest share of the volume is from what it was."""

    drops: tuple[int, ...]
    volume_ml: float
    off: float  # of the volume, the largest of any part


def scaled(cup: Cup, volume_ml: float, *, drop_ml: Sequence[float] | None = None) -> Scaled:
    """The whole drops nearest to a volume, never none of what was in it; other droppers may be given.

    Raises EmptyCup and InvalidInput.
    """
    if cup.empty:
        raise EmptyCup(say("scaling it"))
    if not 0 < volume_ml <= LARGEST_ML:
        raise InvalidInput(
            say(
                "A mix can be scaled to {largest}, not {volume}.",
                largest=quantity(LARGEST_ML, ".0f", "ml"),
                volume=quantity(volume_ml, "g"),
            ),
            field="volume_ml",
        )
    sizes = np.array([pour.drop_ml for pour in cup.pours] if drop_ml is None else drop_ml)
    wanted = cup.fractions * volume_ml / sizes  # drops, not whole
    counts = np.where(cup.fractions > 0, np.maximum(1, np.floor(wanted)), 0)
    # The drops that are missing go where most of one is missing.
    while counts @ sizes + sizes.min() / 2 < volume_ml:
        missing = np.where(cup.fractions > 0, wanted - counts, -np.inf)
        counts[int(np.argmax(missing))] += 1
    if counts.max() > MOST_DROPS:
        raise InvalidInput(
            say("That takes {counts} drops of one bottle; measure it in ml.", counts=quantity(counts.max(), ".0f")),
            field="volume_ml",
        )
    volumes = counts * sizes
    off = float(np.abs(volumes / volumes.sum() - cup.fractions).max())
    return Scaled(tuple(counts.astype(int).tolist()), float(volumes.sum()), off)


def free_volumes(cup: Cup, near_ml: float, *, most: int) -> list[float]:
    """The volumes nearest to one that the same whole drops come to: multiples of the smallest such cup, in order."""
    if cup.empty:
        raise EmptyCup(say("scaling it"))
    smallest = cup.volume_ml / gcd(*(pour.drops for pour in cup.pours if pour.drops))
    first = max(1, round(near_ml / smallest) - most // 2)
    return [smallest * times for times in range(first, first + most)]


def counted(volumes_ml: Sequence[float], drop_ml: Sequence[float]) -> tuple[int, ...]:
    """Whole drops for these volumes, at least one of what there is some of. Raises InvalidInput."""
    counts = [max(1, round(ml / size)) if ml > 0 else 0 for ml, size in zip(volumes_ml, drop_ml, strict=True)]
    if max(counts, default=0) > MOST_DROPS:
        raise InvalidInput(
            say("That takes {counts} drops of one bottle; measure it in ml.", counts=max(counts)), field="amounts"
        )
    if not any(counts):
        raise InvalidInput(say("All amounts are zero."), field="amounts")
    return tuple(counts)


def times_in_whole_drops(parts: Sequence[tuple[float, float]]) -> tuple[int, list[int]]:
    """Whole drops for (ml, ml a drop) parts, all taken so many times: as few times as keep their shares."""
    volume = sum(ml for ml, _ in parts)
    found = []
    for times in range(1, MOST_TIMES + 1):
        counts = [max(1, round(times * ml / drop_ml)) for ml, drop_ml in parts]
        missed = max(
            abs(count * drop_ml - times * ml) / (times * volume)
            for count, (ml, drop_ml) in zip(counts, parts, strict=True)
        )
        found.append((missed + EACH_TIME * (times - 1), times, counts))
    _, times, counts = min(found)
    return times, counts
