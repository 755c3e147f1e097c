"""A cup: what was dropped into it, in the order of pouring, and the volumes that follow."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.film.paint import Mix, Paint, mix
from diachrom.core.light.bands import Floats
from diachrom.errors import BadDrops, EmptyCup, InvalidInput
from diachrom.words import quantity, say

ONLY_THIN = tuple(key for key, kind in KINDS.items() if kind.thins and not kind.carries)
MOST_DROPS = 500  # of one bottle; a 9 ml airbrush cup holds about 200
AIRBRUSH_CUP_ML = 9.0  # the largest usual one
USUAL_DROP_ML = 0.05
SMALLEST_DROP_ML, LARGEST_DROP_ML = 0.005, 0.5


def whole_drops(value: object, *, paint: str) -> int:
    """Check a number of drops given from outside. Raises BadDrops for anything but 0 to 500 whole drops."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        raise BadDrops(paint, "missing" if value is None else repr(value), MOST_DROPS)
    if (isinstance(value, float) and not value.is_integer()) or not 0 <= value <= MOST_DROPS:
        raise BadDrops(paint, value, MOST_DROPS)
    return int(value)


def drop_volume(value: float, *, paint: str) -> float:
    """Check a dropper's volume in ml. Raises InvalidInput."""
    if not SMALLEST_DROP_ML <= value <= LARGEST_DROP_ML:
        raise InvalidInput(
            say(
                "{paint}: a drop must be between {smallest} and {largest}, not {value}.",
                paint=paint,
                smallest=SMALLEST_DROP_ML,
                largest=quantity(LARGEST_DROP_ML, "g", "ml"),
                value=value,
            ),
            field="drop_ml",
        )
    return value


@dataclass(frozen=True)
class Pour:
    """Drops of one paint from one dropper."""

    paint: Paint
    drops: int
    drop_ml: float = USUAL_DROP_ML

    def __post_init__(self) -> None:
        whole_drops(self.drops, paint=self.paint.name)
        drop_volume(self.drop_ml, paint=self.paint.name)

    @property
    def volume_ml(self) -> float:
        """What its drops come to, ml."""
        return self.drops * self.drop_ml


@dataclass(frozen=True)
class Cup:
    """The pours in their order. A cup may be empty; what needs paint says so."""

    pours: Sequence[Pour]

    @property
    def drops(self) -> int:
        """Drops in all."""
        return sum(pour.drops for pour in self.pours)

    @property
    def volume_ml(self) -> float:
        """All that is in it, ml."""
        return sum(pour.volume_ml for pour in self.pours)

    @property
    def empty(self) -> bool:
        """Whether no drop is in it."""
        return self.drops == 0

    @property
    def only_thinner(self) -> bool:
        """Nothing in it colours."""
        return all(pour.paint.thins for pour in self.pours if pour.drops)

    @property
    def dilution(self) -> float:
        """Share of reducer and medium in the volume, 0 to 1."""
        thinner = sum(pour.volume_ml for pour in self.pours if pour.paint.thins)
        return thinner / self.volume_ml if not self.empty else 0.0

    @property
    def thinned(self) -> float:
        """Share of what only thins, 0 to 1: medium keeps the body."""
        thinner = sum(pour.volume_ml for pour in self.pours if pour.paint.kind in ONLY_THIN)
        return thinner / self.volume_ml if not self.empty else 0.0

    @property
    def even(self) -> bool:
        """Something that colours it is only known as an even film."""
        return any(pour.paint.even for pour in self.pours if pour.drops)

    @property
    def fractions(self) -> Floats:
        """Share of the volume (pour,), summing to 1. Raises EmptyCup."""
        if self.empty:
            raise EmptyCup(say("asking for its colour"))
        volumes = np.array([pour.volume_ml for pour in self.pours])
        shares: Floats = volumes / volumes.sum()
        return shares

    def mix(self) -> Mix:
        """What the cup holds, as light sees it. Raises EmptyCup."""
        return mix([pour.paint for pour in self.pours], self.fractions)
