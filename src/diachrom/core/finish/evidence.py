"""What was recorded of a clear coat, and how it speaks for or against a cause of its fault."""

from dataclasses import dataclass

from diachrom.core.finish.schools import SCHOOLS
from diachrom.words import quantity, say

RATIO_WITHIN = 0.05  # of the ratio, that hardeners forgive


@dataclass(frozen=True)
class Facts:
    """What is known of a clear coat; None where nothing was written down."""

    school: str = "two-part"
    ratio_off: float | None = None  # relative: more of B than meant is above nothing
    smaller_g: float | None = None  # of the smaller part, and what the scale shows at least
    scale_g: float | None = None
    temperature_c: float | None = None
    humidity_percent: float | None = None
    pot_life_used: float | None = None  # share of it when the last bait was brushed
    since_last_h: float | None = None  # since the clear coat before
    window_h: tuple[float, float] | None = None
    beneath: float | None = None  # share of the wait that the paint beneath had until it is dry through
    wiped: bool | None = None  # whether it was prepared, sanded and wiped
    film_um: float | None = None


@dataclass(frozen=True)
class Told:
    """What was recorded says of a cause: 1 that it was so, 0 that it was not; and the words for it."""

    weight: float
    words: str


UNKNOWN = Told(0.3, "")


def ratio(facts: Facts) -> Told:
    """What was recorded of it: parts that were weighed off their ratio."""
    if facts.ratio_off is None:
        return UNKNOWN
    off = abs(facts.ratio_off)
    more = "B" if facts.ratio_off > 0 else "A"
    words = (
        say("{off} % too much of {more} was weighed", off=quantity(100 * off, ".0f"), more=more)
        if off > 0.005
        else say("it was weighed to the gram")
    )
    return Told(min(1.0, 0.5 + off * 5) if off > RATIO_WITHIN else 0.05, words)


def small(facts: Facts) -> Told:
    """What was recorded of it: a batch too small to be weighed right."""
    if facts.smaller_g is None or facts.scale_g is None:
        return UNKNOWN
    share = facts.scale_g / 2 / facts.smaller_g
    return Told(
        0.8 if share > 0.02 else 0.05,
        say(
            "the smaller part was {smaller} g on a scale of {scale} g",
            smaller=quantity(facts.smaller_g, "g"),
            scale=quantity(facts.scale_g, "g"),
        ),
    )


def cold(facts: Facts) -> Told:
    """What was recorded of it: a room too cold to cure."""
    if facts.temperature_c is None:
        return UNKNOWN
    least = SCHOOLS[facts.school].air.temperature_c[0]
    return Told(
        0.85 if facts.temperature_c < least else 0.05,
        say(
            "it was {temperature}; it wants {least}",
            temperature=quantity(facts.temperature_c, "g", "°C"),
            least=quantity(least, "g", "°C"),
        ),
    )


def warm(facts: Facts) -> Told:
    """What was recorded of it: a room so warm that the pot was short."""
    if facts.temperature_c is None:
        return UNKNOWN
    most = SCHOOLS[facts.school].air.temperature_c[1]
    return Told(
        0.7 if facts.temperature_c > most else 0.05,
        say(
            "it was {temperature}; at most {most}",
            temperature=quantity(facts.temperature_c, "g", "°C"),
            most=quantity(most, "g", "°C"),
        ),
    )


def humid(facts: Facts) -> Told:
    """What was recorded of it: a room so humid that it blushes."""
    if facts.humidity_percent is None:
        return UNKNOWN
    most = SCHOOLS[facts.school].air.humidity_percent[1]
    return Told(
        0.85 if facts.humidity_percent > most else 0.05,
        say(
            "it was {humidity_percent} %; at most {most}",
            humidity_percent=quantity(facts.humidity_percent, "g"),
            most=quantity(most, "g"),
        ),
    )


def dry_air(facts: Facts) -> Told:
    """What was recorded of it: air too dry for what cures by moisture."""
    if facts.humidity_percent is None:
        return UNKNOWN
    least = SCHOOLS[facts.school].air.humidity_percent[0]
    weight = 0.8 if facts.humidity_percent < least else 0.05
    return Told(
        weight,
        say(
            "it was {humidity_percent} %; it wants {least}",
            humidity_percent=quantity(facts.humidity_percent, "g"),
            least=quantity(least, "g"),
        ),
    )


def late_pot(facts: Facts) -> Told:
    """What was recorded of it: a pot that was used beyond its life."""
    if facts.pot_life_used is None:
        return UNKNOWN
    used = 100 * facts.pot_life_used
    return Told(
        0.9 if used > 100 else 0.5 if used > 75 else 0.05,
        say("{used} % of its pot life was gone", used=quantity(used, ".0f")),
    )


def early(facts: Facts) -> Told:
    """What was recorded of it: a coat before the one beneath had set."""
    if facts.since_last_h is None or facts.window_h is None:
        return UNKNOWN
    early = facts.since_last_h < facts.window_h[0]
    return Told(
        0.85 if early else 0.05,
        say(
            "{since_last_h} h after the coat before; from {window_h} h on",
            since_last_h=quantity(facts.since_last_h, ".1f"),
            window_h=quantity(facts.window_h[0], ".1f"),
        ),
    )


def late(facts: Facts) -> Told:
    """What was recorded of it: a coat after the window had closed."""
    if facts.since_last_h is None or facts.window_h is None:
        return UNKNOWN
    late = facts.since_last_h > facts.window_h[1]
    return Told(
        0.9 if late else 0.05,
        say(
            "{since_last_h} h after the coat before; its window closes at {window_h} h",
            since_last_h=quantity(facts.since_last_h, ".1f"),
            window_h=quantity(facts.window_h[1], ".1f"),
        ),
    )


def wet_beneath(facts: Facts) -> Told:
    """What was recorded of it: paint that was not dry through."""
    if facts.beneath is None:
        return UNKNOWN
    share = 100 * facts.beneath
    return Told(
        0.9 if share < 60 else 0.5 if share < 95 else 0.05,
        say("the paint beneath had {share} % of its wait", share=quantity(share, ".0f")),
    )


def not_wiped(facts: Facts) -> Told:
    """What was recorded of it: a bait that was not wiped before."""
    if facts.wiped is None:
        return UNKNOWN
    return Told(
        0.05 if facts.wiped else 0.85,
        say("the step of sanding and wiping was done")
        if facts.wiped
        else say("no step of sanding and wiping was done"),
    )


def thick(facts: Facts) -> Told:
    """What was recorded of it: a coat thicker than the school allows."""
    if facts.film_um is None:
        return UNKNOWN
    usual = SCHOOLS[facts.school].film_um
    return Told(
        0.8 if facts.film_um > 1.4 * usual else 0.1,
        say("{film} a coat; usually {usual}", film=quantity(facts.film_um, "g", "µm"), usual=quantity(usual, "g")),
    )


def nothing(facts: Facts) -> Told:
    """A cause that nothing is recorded of."""
    return Told(0.25, "")
