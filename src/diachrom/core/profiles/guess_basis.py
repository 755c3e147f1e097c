"""What a guess at a paint is made from, and how the colour that is given is met."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.flakes import Mica
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.mix.where import waves
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

Seen = Literal["white", "black-glance", "cup"]
SEEN_WORDS: dict[Seen, str] = {
    "white": say("three light coats on white"),
    "black-glance": say("three light coats on black, in the flash"),
    "cup": say("in the cup"),
}
SWATCH_UM = 24.0  # three light coats under clear: what a swatch usually is
GLANCE_DEG, FLOP_DEG = 25.0, 75.0
TURNS = 4  # until the colour is met, where a film cannot send back all of its smooth reflectance
D65 = light("D65")
FALLING = (550 / WAVELENGTHS_NM) ** 1.2  # (band,), as the scattering of most pigments does


@dataclass(frozen=True, eq=False)
class ToGuess:
    """What is known of a paint."""

    name: str
    kind: str
    colour: Floats | None  # (3,) Lab under daylight
    seen: Seen | None = None  # None: as is usual for the kind
    hides: float | None = None  # contrast ratio of three light coats; None where nobody looked
    mica: Mica | None = None  # of a pearl; None: what comes near
    turns_to: Floats | None = None  # (3,) Lab of a colour-shift at its flop
    glows: Floats | None = None  # (3,) Lab in the dark

    @property
    def seen_at(self) -> Seen:
        """Where its colour was seen, as told or as is usual for its kind."""
        return self.seen or ("black-glance" if KINDS[self.kind].flakes else "white")


def check_guess(one: ToGuess) -> None:
    """Whether there is enough to guess from. Raises InvalidInput."""
    if one.kind not in KINDS:
        raise InvalidInput(
            say("{name}: there is no kind of paint called '{kind}'.", name=one.name, kind=one.kind), field="kind"
        )
    if one.hides is not None and not 0 <= one.hides <= 1:
        raise InvalidInput(
            say("{name}: how it hides is 0 to 1, not {hides}.", name=one.name, hides=quantity(one.hides, "g")),
            field="hides",
        )
    if KINDS[one.kind].guess == "pigment" and one.colour is None:
        raise InvalidInput(
            say(
                "{name}: say its colour as #rrggbb, as {seen_words} show it.",
                name=one.name,
                seen_words=SEEN_WORDS[one.seen_at],
            ),
            field="colour",
        )


def radiance(mixed: Mix, where: Seen, *, count: int, flop: bool = False) -> Floats:
    """What is seen of paints, by themselves, where their colour was seen, or far from its flash: (..., band)."""
    if where == "cup":
        return seen.cup(mixed, under=D65, count=count)
    films = sprayed([Coat(mixed, SWATCH_UM)], count)
    over = GROUNDS["white" if where == "white" else "black"]
    found = seen.diffuse(films, over, sheen=CLEARED, under=D65)
    if where != "black-glance":
        return found
    return (
        found + seen.glance(films, over, [FLOP_DEG if flop else GLANCE_DEG], under=D65, orders=waves(count))[..., 0, :]
    )


def seen_lab(paint: Paint, where: Seen, *, count: int = 8) -> Floats:
    """(3,) Lab of a paint where its colour was seen."""
    return lab_of_radiance(radiance(mix([paint], np.ones(1)), where, count=count), under=D65)


def met(wanted: Floats, make: Callable[[Floats], tuple[Floats, Floats]]) -> Floats:
    """Absorptions (paint, band) with which the colours (paint, 3) are met as nearly as can be.

    `make` takes reflectances to aim at (paint, band) and returns absorptions and the Lab (paint, 3) that they give:
    where it falls short, because a film cannot be that light, it aims beyond.
    """
    aim = wanted.copy()
    best, nearest = np.zeros((len(wanted), BANDS)), np.full(len(wanted), np.inf)
    for _ in range(TURNS):
        absorption, got = make(smooth_reflectances(aim, under=D65))
        far = delta_e(got, wanted)
        best = np.where((far < nearest)[:, None], absorption, best)
        nearest = np.minimum(far, nearest)
        if nearest.max() < 0.1:
            break
        aim = aim + (wanted - got)
        aim[:, 0] = np.clip(aim[:, 0], 0.2, 99.8)
    return best
