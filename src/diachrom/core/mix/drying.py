"""How long paint dries: a table by kind, carried to other coats and other air, and learned from what was waited.

The table holds at 20 °C and 50 % relative humidity. Waterborne paint dries as fast as the air takes its water: in
proportion to the pressure of vapour that the air lacks (Dalton's law; saturation [alduchov1996]). A
clear that cures by moisture is the faster the more vapour there is. What hardens by itself doubles its pace with every
10 °C (Arrhenius' rule of thumb), and a solvent its pace with every 15.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.errors import InvalidInput
from diachrom.words import capitalized, quantity, say

LAWS = {
    "water": say("dries by its water"),
    "solvent": say("dries by its solvent"),
    "moisture": say("cures by the air's moisture"),
    "two-part": say("hardens by itself"),
    "none": say("does not dry"),
}
USUAL_C, USUAL_PERCENT = 20.0, 50.0
LEAST_LACK, LEAST_VAPOUR = 0.08, 0.1  # of saturation: beyond it nothing is said any more
# Powers of a coat's thickness with which it takes longer: until its skin is dry, and until it is dry through. Water and
# the air's moisture have to come through what is dry already, so the inside of a clear that cures by moisture takes
# four times as long in twice the thickness; what hardens by itself loses its heat where it is thin, and no sheet allows
# less where it is thick.
BY_THICKNESS = {"water": (1.0, 1.0), "moisture": (1.0, 2.0), "two-part": (-0.25, -0.25)}
THINNEST = 0.25  # of the table's own thickness: thinner waits no less
TOO_HUMID, TOO_COLD_C = 85.0, 10.0
WARM_AIR = 0.25  # of the wait that is left with a dryer
LONGEST_MIN = 14 * 24 * 60


@dataclass(frozen=True)
class Dries:
    """Of a kind of paint: minutes for a wet coat of `film_um`."""

    words: str
    law: str
    film_um: float
    flash: int  # before its own next coat
    touch: int  # before anything else goes on, or is pressed on it
    through: int  # before clear, or before it is handled
    window: tuple[int, int] | None = None  # for its own next coat, where that is not open for ever


def _row(words: str, law: str, film_um: float, waits: tuple[int, int, int], window: tuple[int, int] | None) -> Dries:
    flash, touch, through = waits
    return Dries(words, law, film_um, flash=flash, touch=touch, through=through, window=window)


TABLE: Mapping[str, Dries] = {
    **{
        kind.key: Dries(capitalized(kind.words), "water", **vars(kind.dries))
        for kind in KINDS.values()
        if kind.dries is not None
    },
    "craft": _row(say("Craft or brush paint"), "water", 20, (10, 30, 1440), None),
    "sealer": _row(say("Sealer"), "water", 10, (6, 20, 720), None),
    "varnish": _row(say("Varnish"), "water", 15, (8, 30, 720), None),
    "waterborne": _row(say("Clear, waterborne"), "water", 40, (30, 120, 1440), None),
    "two-part": _row(say("Clear, two-part"), "two-part", 60, (60, 360, 1440), (60, 360)),
    "dip": _row(say("Clear, dip"), "moisture", 60, (60, 240, 1440), (60, 360)),
    "moisture-brushed": _row(say("Clear, brushed, by moisture"), "moisture", 40, (60, 240, 1440), (60, 360)),
    "brushed": _row(say("Clear, brushed"), "solvent", 40, (120, 360, 2880), (360, 2880)),
    "hot-dip": _row(say("Hot dip"), "none", 300, (5, 15, 60), None),
}


def pressure_kpa(temperature_c: float) -> float:
    """Of saturated vapour over water, kPa: 2.339 at 20 °C."""
    return 0.61094 * math.exp(17.625 * temperature_c / (243.04 + temperature_c))


def pace(law: str, temperature_c: float, humidity_percent: float) -> float:
    """How many times as long it takes as at 20 °C and 50 %."""
    wet, usual = humidity_percent / 100, USUAL_PERCENT / 100
    full, usual_full = pressure_kpa(temperature_c), pressure_kpa(USUAL_C)
    if law == "water":
        return usual_full * (1 - usual) / (full * max(1 - wet, LEAST_LACK))
    if law == "moisture":
        return usual_full * usual / (full * max(wet, LEAST_VAPOUR))
    if law == "two-part":
        return float(2 ** ((USUAL_C - temperature_c) / 10))
    return float(2 ** ((USUAL_C - temperature_c) / 15)) if law == "solvent" else 1.0


def waits(drying: Dries, film_um: float, air: tuple[float, float], learned: float = 1.0) -> Dries:
    """What a wet coat waits for in this air.

    Parameters
    ----------
    drying : row of the drying table, for 20 °C, 50 % and its own thickness.
    film_um : thickness of the wet coat, µm.
    air : °C and %.
    learned : how many times as long as the table things take at this bench.

    Returns
    -------
    Dries, minutes.
    """
    own, thick = pace(drying.law, *air) * learned, max(film_um / drying.film_um, THINNEST)
    skin, depth = BY_THICKNESS.get(drying.law, (0.0, 0.0))
    if drying.law == "two-part":
        thick = min(thick, 1.0)

    def minutes(value: int, power: float = 0.0) -> int:
        by = own * thick**power
        return min(max(math.ceil(value * by - 1e-9), 1 if value else 0), LONGEST_MIN)

    window = None
    if drying.window is not None:
        # A window is of the chemistry, not of how thick the coat is.
        window = (minutes(drying.window[0]), minutes(drying.window[1]))
    flash, touch = minutes(drying.flash, skin), minutes(drying.touch, skin)
    return replace(drying, flash=flash, touch=touch, through=max(touch, minutes(drying.through, depth)), window=window)


def bad_air(law: str, air: tuple[float, float]) -> str:
    """What is to be said of the air, "" where nothing is."""
    temperature_c, humidity_percent = air
    if law == "water" and humidity_percent > TOO_HUMID:
        return say(
            "at {humidity_percent} % humidity waterborne paint hardly dries",
            humidity_percent=quantity(humidity_percent, "g"),
        )
    if law != "none" and temperature_c < TOO_COLD_C:
        return say(
            "at {temperature} paint and clear hardly harden: below what most data sheets allow",
            temperature=quantity(temperature_c, "g", "°C"),
        )
    return ""


def checked(drying: Dries) -> Dries:
    """Raises InvalidInput for what cannot be, naming it."""
    for each in fields(Dries):
        value = getattr(drying, each.name)
        if each.name in ("flash", "touch", "through") and not 0 <= value <= LONGEST_MIN:
            raise InvalidInput(
                say("{words}: a wait is 0 min to 14 days, not {value} min.", words=drying.words, value=value),
                field=each.name,
            )
    if drying.law not in LAWS:
        raise InvalidInput(
            say("{words}: there is no way of drying called '{law}'.", words=drying.words, law=drying.law[:20]),
            field="law",
        )
    if not drying.flash <= drying.touch <= drying.through:
        raise InvalidInput(
            say(
                "{words}: the wait before its next coat is no longer than that before other paint, and "
                "that no longer than until it is dry through; not {flash}, {touch}, {through} min.",
                words=drying.words,
                flash=drying.flash,
                touch=drying.touch,
                through=drying.through,
            ),
            field="touch",
        )
    if drying.window is not None and not 0 < drying.window[0] < drying.window[1]:
        raise InvalidInput(
            say(
                "{words}: its window closes before it opens ({window} to {other_window} min).",
                words=drying.words,
                window=drying.window[0],
                other_window=drying.window[1],
            ),
            field="window",
        )
    return drying


@dataclass(frozen=True)
class Waited:
    """What was waited against what the table asked for, and whether it was dry then."""

    kind: str
    ratio: float
    dry: bool


FACTORS = np.exp(np.linspace(math.log(0.2), math.log(5), 161))
PRIOR, BLUR = 0.5, 0.12  # how far benches lie apart, how blurred "dry" is: standard deviations of the logarithm


def learned(seen: Sequence[Waited]) -> float:
    """How many times as long paint dries at this bench, from what was dry and what was still wet.

    Bayes' rule over a grid of factors: a priori log-normal about 1; a coat that dries in f times its wait was dry after
    r times with probability logistic((ln r - ln f) / BLUR). Answers the median of what is left.
    """
    logs = np.log(FACTORS)
    weight = -0.5 * (logs / PRIOR) ** 2
    for waited in seen:
        sign = 1 if waited.dry else -1
        weight = weight - np.logaddexp(0, -sign * (math.log(min(max(waited.ratio, 0.01), 100)) - logs) / BLUR)
    share = np.cumsum(np.exp(weight - weight.max()))
    return float(FACTORS[int(np.searchsorted(share, share[-1] / 2))])
