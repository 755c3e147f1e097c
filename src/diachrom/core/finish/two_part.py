"""Two-part clear: how much of each part by volume and by weight, the smallest batch that can be weighed, and for how
long it can be brushed.

A ratio by volume is not the ratio by weight: a : b by volume is a x density_a : b x density_b by weight.
"""

import math
from dataclasses import dataclass

from diachrom.errors import InvalidInput
from diachrom.words import quantity, quantity_range, say

WITHIN = 0.02  # of the smaller part, as far as a scale may be off
LIGHTEST, HEAVIEST = 0.5, 2.5  # g/ml
POT_LIFE_C = 25.0  # at which data sheets give it
HALVES_PER_C = 10.0  # warmer by so much it is half as long
MOST_BAITS, MOST_COATS = 500, 10
THINNEST_UM = 5.0  # of a coat


@dataclass(frozen=True)
class Resin:
    """A two-part clear as its data sheet has it."""

    parts_a: float = 1.0  # by volume
    parts_b: float = 1.0
    density_a: float = 1.10  # g/ml
    density_b: float = 0.95
    pot_life_min: float = 35.0  # of a small cup at 25 °C

    def __post_init__(self) -> None:
        for words, value, least, most in (
            (say("Parts of A"), self.parts_a, 0.01, 100),
            (say("Parts of B"), self.parts_b, 0.01, 100),
            (say("The density of A, g/ml"), self.density_a, LIGHTEST, HEAVIEST),
            (say("The density of B, g/ml"), self.density_b, LIGHTEST, HEAVIEST),
            (say("Pot life, min"), self.pot_life_min, 1, 600),
        ):
            if not least <= value <= most:
                raise InvalidInput(
                    say(
                        "{words}: {least} to {most}, not {value}.",
                        words=words,
                        least=quantity(least, "g"),
                        most=quantity(most, "g"),
                        value=quantity(value, "g"),
                    ),
                    field="resin",
                )

    @property
    def weight_ratio(self) -> float:
        """Grams of B to one gram of A."""
        return self.parts_b * self.density_b / (self.parts_a * self.density_a)

    @property
    def density(self) -> float:
        """Of both together, g/ml; what mixing shrinks is left out."""
        return (self.parts_a * self.density_a + self.parts_b * self.density_b) / (self.parts_a + self.parts_b)


def by_weight(grams_a: float, grams_b: float, *, density_a: float, density_b: float) -> Resin:
    """A resin whose sheet gives its ratio by weight.

    Parameters
    ----------
    grams_a, grams_b : parts of resin and hardener, g.
    density_a, density_b : g/ml.

    Returns
    -------
    Resin, by volume.

    Raises
    ------
    InvalidInput : a ratio or density that no resin has.
    """
    return Resin(grams_a / density_a, grams_b / density_b, density_a, density_b)


@dataclass(frozen=True)
class Batch:
    """So much of each part."""

    volume_ml: float
    a_ml: float
    b_ml: float
    a_g: float
    b_g: float
    on_bait_g: float  # of one bait, when it has cured
    least_ml: float  # that this scale can weigh

    @property
    def weighable(self) -> bool:
        """Whether this scale tells its parts within the ratio."""
        return self.volume_ml >= self.least_ml - 1e-9


@dataclass(frozen=True)
class Clearing:
    """What is to be cleared: wetted skin of a bait, mm2; film of a coat, um; what brush and cup keep, ml."""

    area_mm2: float
    film_um: float = 150.0
    coats: int = 1
    baits: int = 1
    stays_ml: float = 1.0

    def __post_init__(self) -> None:
        for words, value, least, most in (
            (say("The area, mm²"), self.area_mm2, 1, 1e6),
            (say("A coat, µm"), self.film_um, THINNEST_UM, 2000),
            (say("Coats"), self.coats, 1, MOST_COATS),
            (say("Baits"), self.baits, 1, MOST_BAITS),
            (say("What stays in cup and brush, ml"), self.stays_ml, 0, 50),
        ):
            if not least <= value <= most:
                raise InvalidInput(
                    say(
                        "{words}: {least} to {most}, not {value}.",
                        words=words,
                        least=quantity(least, "g"),
                        most=quantity(most, "g"),
                        value=quantity(value, "g"),
                    ),
                    field="clearing",
                )

    @property
    def on_bait_ml(self) -> float:
        """What stays on a bait, ml."""
        return self.area_mm2 * self.film_um * self.coats * 1e-6

    @property
    def a_coat_ml(self) -> float:
        """That has to be mixed for a coat on all baits: each coat is mixed anew."""
        return self.on_bait_ml / self.coats * self.baits + self.stays_ml


def batch(resin: Resin, clearing: Clearing, *, scale_g: float) -> Batch:
    """What a coat on all baits takes. `scale_g` is what the scale shows at least. Raises InvalidInput."""
    least = least_ml(resin, scale_g)
    volume = clearing.a_coat_ml
    whole = resin.parts_a + resin.parts_b
    a_ml, b_ml = volume * resin.parts_a / whole, volume * resin.parts_b / whole
    return Batch(
        volume_ml=volume,
        a_ml=a_ml,
        b_ml=b_ml,
        a_g=a_ml * resin.density_a,
        b_g=b_ml * resin.density_b,
        on_bait_g=clearing.on_bait_ml * resin.density,
        least_ml=least,
    )


def least_ml(resin: Resin, scale_g: float) -> float:
    """The smallest batch whose smaller part is weighed within 2 %: the scale is off by half a digit. Raises
    InvalidInput."""
    if not 0 < scale_g <= 10:
        raise InvalidInput(
            say("A scale shows 0.001 to 10 g at least, not {scale}.", scale=quantity(scale_g, "g")), field="scale_g"
        )
    smaller_g = scale_g / 2 / WITHIN
    whole = resin.parts_a + resin.parts_b
    shares = (resin.parts_a / whole * resin.density_a, resin.parts_b / whole * resin.density_b)  # g in a ml of batch
    return smaller_g / min(shares)


def pot_life_s(resin: Resin, temperature_c: float) -> float:
    """From the moment the parts meet, s: half as long for every 10 °C more. Raises InvalidInput."""
    if not -20 <= temperature_c <= 60:
        raise InvalidInput(
            say(
                "A room has {range}, not {temperature}.",
                range=quantity_range(-20, 60, "g", "°C"),
                temperature=quantity(temperature_c, "g"),
            ),
            field="temperature_c",
        )
    return 60 * resin.pot_life_min * 2 ** ((POT_LIFE_C - temperature_c) / HALVES_PER_C)


def floats(
    bait_g: float, bait_ml: float, clear_g: float, clear_density: float, water: float = 1.0
) -> tuple[str, float]:
    """What clear does to a bait. Clear takes room itself: it counts by what it is denser than water.

    Parameters
    ----------
    bait_g, bait_ml : weight and volume of the bait.
    clear_g : clear on it, g.
    clear_density : g/ml.
    water : density of the water, g/ml.

    Returns
    -------
    "floats", "hangs" or "sinks", and what is left before it sinks, g (less than nothing where it does).
    """
    left = (bait_ml + clear_g / clear_density) * water - bait_g - clear_g
    if math.isclose(left, 0, abs_tol=0.005 * bait_g):
        return "hangs", left
    return ("floats" if left > 0 else "sinks"), left
