"""Small measures of powder: what they usually hold, until somebody weighs one."""

from collections.abc import Mapping
from dataclasses import dataclass

from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
from diachrom.core.shelf.keeping import density
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

LEAST_G, MOST_G = 0.005, 5.0


@dataclass(frozen=True)
class Measure:
    """A measure, and the grams of a glow powder that it usually takes."""

    words: str
    grams: float


MEASURES: Mapping[str, Measure] = {
    "match": Measure(say("a match head"), 0.03),
    "pinch": Measure(say("a pinch"), 0.1),
    "spoon": Measure(say("a small spoon"), 0.4),
}
USUAL = "pinch"


def usual_g(kind: str) -> float:
    """Grams of the measure that is taken first."""
    return min(MEASURES[USUAL].grams, LARGEST_DROP_ML * density(kind))


def as_drop_ml(grams: float, kind: str) -> float:
    """What a weighed measure takes of a bottle, ml. Raises InvalidInput."""
    if not LEAST_G <= grams <= MOST_G:
        raise InvalidInput(
            say(
                "A measure weighs {least} to {most}, not {grams}.",
                least=quantity(LEAST_G, "g", "g"),
                most=quantity(MOST_G, "g", "g"),
                grams=quantity(grams, "g"),
            ),
            field="grams",
        )
    ml = grams / density(kind)
    if not SMALLEST_DROP_ML <= ml <= LARGEST_DROP_ML:
        raise InvalidInput(
            say("So much of it cannot be counted as one: weigh a smaller measure.")
            if ml > LARGEST_DROP_ML
            else say("So little of it cannot be counted as one: weigh a larger measure."),
            field="grams",
        )
    return ml
