"""How much paint a job takes: the bait's skin, the share that is covered, what misses it, what stays behind."""

import math
from dataclasses import dataclass

from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

THOMSEN = 1.6075  # exponent of the usual approximation of an ellipsoid's area
MISSES = 0.5  # of what leaves the nozzle; a bait is small and the cone is wide
STAYS_ML = 0.25  # in cup, needle and nozzle


@dataclass(frozen=True)
class Job:
    """Some baits to be sprayed. Lengths in mm."""

    length_mm: float
    height_mm: float
    thickness_mm: float
    baits: int = 1
    covers: float = 1.0  # share of the skin
    coats: int = 2
    film_um: float = 8.0
    misses: float = MISSES
    stays_ml: float = STAYS_ML
    known_area_mm2: float | None = None  # of a shape that was measured; then its lengths do not count

    def __post_init__(self) -> None:
        for key, words, low, high in (
            ("length_mm", say("The bait's length"), 5.0, 1000.0),
            ("height_mm", say("The bait's height"), 2.0, 500.0),
            ("thickness_mm", say("The bait's thickness"), 1.0, 500.0),
            ("baits", say("The number of baits"), 1, 1000),
            ("covers", say("The share that is covered"), 0.01, 1.0),
            ("misses", say("The share that misses"), 0.0, 0.95),
            ("stays_ml", say("What stays behind"), 0.0, 20.0),
        ):
            value = getattr(self, key)
            if self.known_area_mm2 is not None and key.endswith("_mm"):
                continue
            if not low <= value <= high:
                raise InvalidInput(
                    say(
                        "{words} is {low} to {high}, not {value}.",
                        words=words,
                        low=quantity(low, "g"),
                        high=quantity(high, "g"),
                        value=quantity(value, "g"),
                    ),
                    field=key,
                )
        if self.known_area_mm2 is not None and not 10 <= self.known_area_mm2 <= 1e6:
            raise InvalidInput(
                say(
                    "The area is 0.1 to 10000 cm², not {known_area}.",
                    known_area=quantity(self.known_area_mm2 / 100, "g"),
                ),
                field="area",
            )

    @property
    def area_mm2(self) -> float:
        """Of one bait: as it is known, or as an ellipsoid (Thomsen's formula, within 1.1 %)."""
        if self.known_area_mm2 is not None:
            return self.known_area_mm2
        a, b, c = ((size / 2) ** THOMSEN for size in (self.length_mm, self.height_mm, self.thickness_mm))
        return float(4 * math.pi * ((a * b + a * c + b * c) / 3) ** (1 / THOMSEN))

    @property
    def on_baits_ml(self) -> float:
        """What stays on all of them, wet."""
        return self.area_mm2 * self.covers * self.baits * self.coats * self.film_um * 1e-6

    @property
    def volume_ml(self) -> float:
        """What has to be mixed."""
        return self.on_baits_ml / (1 - self.misses) + self.stays_ml


def learned_misses(job: Job, used_ml: float) -> float:
    """The share that misses, from what was really used. Raises InvalidInput when less was used than is on the baits."""
    sprayed = used_ml - job.stays_ml
    if sprayed <= job.on_baits_ml:
        raise InvalidInput(
            say(
                "{used} is less than the {stays} on the baits and in the cup.",
                used=quantity(used_ml, "g", "ml"),
                stays=quantity(job.on_baits_ml + job.stays_ml, ".2f", "ml"),
            ),
            field="used_ml",
        )
    return missed(job.on_baits_ml, job.stays_ml, used_ml)


def missed(on_baits_ml: float, stays_ml: float, used_ml: float) -> float:
    """The share of what was sprayed that is not on the baits."""
    return min(0.95, 1 - on_baits_ml / (used_ml - stays_ml))
