"""Faults of a clear as the eye tells them, and what caused them most likely, by what was recorded."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass

from diachrom.core.finish import evidence
from diachrom.core.finish.evidence import Facts, Told
from diachrom.core.finish.schools import SCHOOLS
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

FAULTS = {
    "tacky": say("it stays tacky"),
    "fish-eyes": say("fish eyes: small round bare places"),
    "bubbles": say("bubbles in it"),
    "orange-peel": say("orange peel"),
    "sag": say("it sagged, or ran"),
    "haze": say("haze, milky or greasy"),
    "brush-hair": say("a brush hair, or dust in it"),
    "delaminated": say("it came off, or chips"),
}


@dataclass(frozen=True)
class Cause:
    key: str
    words: str
    do: str
    says: Callable[[Facts], Told]
    schools: tuple[str, ...] = ()  # () is all


@dataclass(frozen=True)
class Likely:
    cause: Cause
    weight: float
    seen: str  # "" where nothing was recorded
    ruled_out: bool


CAUSES: Mapping[str, Cause] = {
    cause.key: cause
    for cause in (
        Cause(
            "ratio",
            say("the mixing ratio was off"),
            say(
                "If it is tacky after two days it stays so: wipe it off with what its sheet names, or "
                "brush a coat in the right ratio over it once it can be sanded."
            ),
            evidence.ratio,
            ("two-part",),
        ),
        Cause(
            "small",
            say("the batch was too small for the scale"),
            say("Mix at least what the scale weighs within 2 %."),
            evidence.small,
            ("two-part",),
        ),
        Cause(
            "stirred",
            say("not stirred to the wall and floor of the cup"),
            say("Stir two minutes, scrape, pour into a second cup and stir again."),
            evidence.nothing,
            ("two-part",),
        ),
        Cause(
            "cold",
            say("too cold"),
            say("Bring it to a warm place, {temperature}: it may still harden.", temperature=quantity(25, "g", "°C")),
            evidence.cold,
        ),
        Cause("warm", say("too warm"), say("Cooler, smaller batches, thinner coats."), evidence.warm),
        Cause(
            "humid",
            say("too humid"),
            say(
                "Wash off the greasy film with water and a drop of soap once it is hard, scuff it, brush "
                "another coat in dry air."
            ),
            evidence.humid,
        ),
        Cause(
            "dry-air",
            say("too dry an air for a clear that cures by moisture"),
            say("Hang it in a moist room, a wet cloth beside it."),
            evidence.dry_air,
            ("dip", "moisture-brushed"),
        ),
        Cause(
            "pot",
            say("brushed past its pot life"),
            say("Mix less at a time; key it and lay a fresh coat."),
            evidence.late_pot,
            ("two-part",),
        ),
        Cause(
            "early",
            say("the coat before was not ready"),
            say("Wait it out; it may wrinkle: sand flat when hard, and again."),
            evidence.early,
        ),
        Cause(
            "late",
            say("the coat before was out of its window"),
            say("Scuff it dull all over, wipe, brush it again."),
            evidence.late,
        ),
        Cause(
            "beneath",
            say("the paint beneath was not dry through"),
            say("Give it days in warm dry air; what lifts is taken down to the ground."),
            evidence.wet_beneath,
        ),
        Cause(
            "wiped",
            say("silicone, wax or finger grease on it"),
            say("Once hard: sand flat, degrease twice with a fresh cloth, clear again."),
            evidence.not_wiped,
        ),
        Cause(
            "dust",
            say("dust, or a loose hair of the brush"),
            say("Pick it out while wet; when hard sand flat and clear again. A box over the turner."),
            evidence.not_wiped,
        ),
        Cause(
            "thick", say("too thick at once"), say("Thinner coats; what ran is sanded flat when hard."), evidence.thick
        ),
        Cause(
            "bubbles",
            say("stirred or shaken too fast, or brushed too often"),
            say("Stir slowly; warm air from afar while it is wet; thin it as its sheet allows."),
            evidence.nothing,
        ),
        Cause(
            "porous",
            say("air out of an unsealed blank, or moisture"),
            say("Seal the blank first; clear when the room cools, not when it warms."),
            evidence.nothing,
        ),
        Cause(
            "turner",
            say("too soon off the turner, or it turned too slowly"),
            say("Turn until it is set; 4 to 8 times a minute."),
            evidence.nothing,
            ("two-part",),
        ),
        Cause(
            "drained",
            say("drawn out too fast"),
            say("Some 3 s a centimetre; thin it as its sheet says."),
            evidence.nothing,
            ("dip", "waterborne", "hot-dip"),
        ),
        Cause(
            "keyed",
            say("too smooth a ground, not scuffed"),
            say("Scuff it dull, wipe, start again from there."),
            evidence.not_wiped,
        ),
    )
}
# Causes of each fault, the more usual first.
BY_FAULT: Mapping[str, Sequence[str]] = {
    "tacky": ("ratio", "stirred", "cold", "small", "beneath", "pot", "early", "dry-air", "humid"),
    "fish-eyes": ("wiped", "thick", "humid"),
    "bubbles": ("bubbles", "porous", "pot", "thick", "humid", "warm"),
    "orange-peel": ("pot", "warm", "cold", "early"),
    "sag": ("thick", "turner", "drained", "cold"),
    "haze": ("humid", "ratio", "beneath", "cold", "early"),
    "brush-hair": ("dust",),
    "delaminated": ("late", "keyed", "wiped", "beneath", "humid"),
}


def causes(fault: str, facts: Facts) -> list[Likely]:
    """The likely causes of a fault, in order: what was recorded comes before what is only usual, and what is ruled out
    last. Raises InvalidInput."""
    if fault not in FAULTS:
        raise InvalidInput(say("There is no fault called '{fault}'.", fault=fault[:30]), field="fault")
    if facts.school not in SCHOOLS:
        raise InvalidInput(say("There is no clear called '{school}'.", school=facts.school[:30]), field="school")
    found = []
    for rank, key in enumerate(BY_FAULT[fault]):
        cause = CAUSES[key]
        if cause.schools and facts.school not in cause.schools:
            continue
        told = cause.says(facts)
        usual = 1 - 0.06 * rank
        found.append(Likely(cause, told.weight * usual, told.words, told.weight <= 0.05))
    return sorted(found, key=lambda one: -one.weight)
