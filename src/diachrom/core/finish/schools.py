"""The schools of clear coat: steps, waits, air, and when a bait may be touched, handled and fished.

Everything here is a usual figure, meant to be overruled by the product's own data sheet.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from diachrom.core.mix.drying import TABLE, Dries, pace, waits
from diachrom.words import quantity, say

NEXT_COAT = "{next coat}"  # a step that the drying table says
SLOW, FAST = 1.25, 0.8  # from where a pace is worth a word


@dataclass(frozen=True)
class Air:
    """Within which a school is usually laid: °C, % relative humidity."""

    temperature_c: tuple[float, float]
    humidity_percent: tuple[float, float]


@dataclass(frozen=True)
class School:
    """A way of clearing baits. Its key is a row of the drying table."""

    key: str
    words: str
    coats: tuple[int, int]
    film_um: float  # of a coat
    air: Air
    steps: tuple[str, ...]
    cautions: tuple[str, ...]  # keys of the session's
    cures: float  # times as long as until it is dry through, before it is fished
    keeps_days: int  # once opened
    keeps: str
    too_humid: str = ""
    too_dry: str = ""
    too_cold: str = say("below that it may stay tacky")


# What cures by the air's moisture, however it is laid on.
BY_MOISTURE: dict[str, Any] = {
    "air": Air((10, 30), (35, 75)),
    "cautions": ("dip", "solvent"),
    "cures": 5.0,
    "keeps_days": 120,
    "keeps": say("air-tight, a film over the mouth, as little air in it as can be"),
    "too_humid": say("above that it foams and clouds"),
    "too_dry": say("below that it cures slowly, or not through"),
}
SCHOOLS: Mapping[str, School] = {
    school.key: school
    for school in (
        School(
            "two-part",
            say("two-part, on a turner"),
            coats=(1, 3),
            film_um=150.0,
            air=Air((18, 30), (20, 70)),
            steps=(
                say("Warm both bottles to the room's temperature; what is cold is thick, and holds bubbles."),
                say("Dust off, and wipe the bait without touching it again."),
                say("Weigh both parts, stir slowly for two minutes, scrape wall and floor of the cup."),
                say("Let the bubbles rise, or spread it thin on foil."),
                say("Brush it on thin, joints and eyelets last; look along the bait for bare places."),
                say("On the turner until it is set; warm air from afar takes the last bubbles."),
            ),
            cautions=("resin",),
            cures=3.0,
            keeps_days=365,
            keeps=say("closed at once, caps not swapped, dark, at room temperature"),
            too_humid=say("above that the hardener draws water: haze, and a greasy film"),
        ),
        School(
            "dip",
            say("dip that cures by air moisture"),
            coats=(1, 4),
            film_um=60.0,
            steps=(
                say("A drip wire at the tail, before dipping."),
                say("Slowly in, wait until no bubble rises, slowly out: some 3 s for a centimetre."),
                say("Hang it nose up, the drop at the wire taken off after ten minutes."),
                say("Close the jar at once, a film over its mouth under the lid."),
                NEXT_COAT,
            ),
            **BY_MOISTURE,
        ),
        School(
            "moisture-brushed",
            say("brushed coats that cure by air moisture"),
            coats=(1, 3),
            film_um=40.0,
            steps=(
                say("Pour what one coat takes into a small dish, and close the jar at once, a film over its mouth."),
                say("A soft brush, its loose hairs wiped out before; thin, from the back down, not gone over twice."),
                say("Hang it nose up; what is left in the dish cures there and does not go back."),
                NEXT_COAT,
                say("The brush into its solvent before it sets."),
            ),
            **BY_MOISTURE,
        ),
        School(
            "brushed",
            say("brushed coats, of one part"),
            coats=(2, 4),
            film_um=40.0,
            air=Air((12, 28), (20, 70)),
            steps=(
                say("Stir, do not shake: bubbles stay in it."),
                say("A soft brush, its loose hairs wiped out before."),
                say("Thin coats from the back down, not gone over twice."),
                say("Flat and wet sanded between coats, dust off."),
            ),
            cautions=("solvent",),
            cures=5.0,
            keeps_days=180,
            keeps=say("lid tight, stored upside down once"),
            too_humid=say("above that it blushes white"),
        ),
        School(
            "waterborne",
            say("waterborne, sprayed or dipped"),
            coats=(2, 5),
            film_um=40.0,
            air=Air((15, 30), (20, 75)),
            steps=(
                say("Strain it; a big nozzle, or dipped slowly."),
                say("Thin coats, each until it is clear: milky is still wet."),
                say("Warm moving air from afar between coats."),
                say("A day before another clear goes over it."),
            ),
            cautions=("spray",),
            cures=7.0,
            keeps_days=365,
            keeps=say("lid tight, free of frost"),
            too_humid=say("above that it hardly dries, and stays milky"),
        ),
        School(
            "hot-dip",
            say("hot dip, for soft baits"),
            coats=(1, 2),
            film_um=300.0,
            air=Air((10, 35), (0, 100)),
            steps=(
                say("The bait bone dry, its paint dry through: moisture erupts in hot plastisol."),
                say("Heat it slowly and stirred, with a thermometer, as its sheet says; out of doors or under a hood."),
                say("Straight in and out, a second or two."),
                say("Hang it, trim the drip while it is warm."),
            ),
            cautions=("hot-dip",),
            cures=24.0,
            keeps_days=365,
            keeps=say("cold, closed, stirred before each use"),
            too_cold="",
        ),
    )
}


def air_words(school: School, temperature_c: float, humidity_percent: float) -> list[str]:
    """What this air means for it, the worst first; empty where it is as it should be."""
    found = []
    (cold, warm), (dry, humid) = school.air.temperature_c, school.air.humidity_percent
    if temperature_c < cold and school.too_cold:
        found.append(
            say(
                "{temperature} is below its {cold}: {too_cold}.",
                temperature=quantity(temperature_c, "g", "°C"),
                cold=quantity(cold, "g", "°C"),
                too_cold=school.too_cold,
            )
        )
    if temperature_c > warm:
        found.append(
            say(
                "{temperature} is above its {warm}: it sets before it has levelled.",
                temperature=quantity(temperature_c, "g", "°C"),
                warm=quantity(warm, "g", "°C"),
            )
        )
    if humidity_percent > humid and school.too_humid:
        found.append(
            say(
                "{humidity_percent} % humidity is above its {humid} %: {too_humid}.",
                humidity_percent=quantity(humidity_percent, "g"),
                humid=quantity(humid, "g"),
                too_humid=school.too_humid,
            )
        )
    if humidity_percent < dry and school.too_dry:
        found.append(
            say(
                "{humidity_percent} % humidity is below its {dry} %: {too_dry}.",
                humidity_percent=quantity(humidity_percent, "g"),
                dry=quantity(dry, "g"),
                too_dry=school.too_dry,
            )
        )
    slower = pace(TABLE[school.key].law, temperature_c, humidity_percent)
    if slower > SLOW or slower < FAST:
        found.append(
            say(
                "It takes {slower} times as long as at {temperature} and 50 %.",
                temperature=quantity(20, "g", "°C"),
                slower=quantity(slower, ".1f"),
            )
        )
    return found


@dataclass(frozen=True)
class Cured:
    """Minutes after a coat was laid."""

    touch: int
    opens: int | None  # window of the next coat
    closes: int | None
    handle: int
    fish: int


def steps_told(school: School, now: Cured) -> tuple[str, ...]:
    """Its steps in words; when the next coat may follow is said by the table alone."""
    if now.opens is None or now.closes is None:
        following = say("The next coat once it is touch dry.")
    else:
        opens, closes = now.opens / 60, now.closes / 60
        following = say(
            "The next coat after {opens} to {closes} h, or once it is dry through, keyed.",
            opens=quantity(opens, ".2g"),
            closes=quantity(closes, ".2g"),
        )
    return tuple(following if step == NEXT_COAT else step for step in school.steps)


def cured(school: School, row: Dries, air: tuple[float, float], learned: float = 1.0) -> Cured:
    """When a clear is dry to the touch, to be handled, and fit for water.

    Parameters
    ----------
    school : the kind of clear.
    row : its row of the drying table.
    air : °C and %.
    learned : how many times as long as the table things take at this bench.

    Returns
    -------
    Cured, minutes.
    """
    own = waits(row, school.film_um, air, learned)
    opens, closes = own.window or (None, None)
    return Cured(own.touch, opens, closes, own.through, round(own.through * school.cures))
