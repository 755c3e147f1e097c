"""Glitter and glow powder in a clear, by weight."""

import math
from dataclasses import dataclass

from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

MOST_PERCENT = 60.0


@dataclass(frozen=True)
class Powder:
    """What is stirred in: density g/ml; of flakes the thickness, um, None for grains."""

    key: str
    words: str
    density: float
    usual_percent: float
    most_percent: float  # beyond it the clear is too stiff to level
    flake_um: float | None = None
    size_um: float = 100.0


POWDERS = {
    powder.key: powder
    for powder in (
        Powder(
            "glitter-fine",
            say("fine glitter, {size}", size=quantity(0.1, "g", "mm")),
            1.4,
            2.0,
            8.0,
            flake_um=25.0,
            size_um=100.0,
        ),
        Powder(
            "glitter",
            say("glitter, {size}", size=quantity(0.4, "g", "mm")),
            1.4,
            2.5,
            8.0,
            flake_um=50.0,
            size_um=400.0,
        ),
        Powder("glow", say("glow powder"), 3.6, 20.0, 40.0, size_um=45.0),
    )
}


@dataclass(frozen=True)
class Stirred:
    """A powder in a batch."""

    grams: float
    covers: float | None  # share of the skin under flakes
    words: tuple[str, ...]


def share_for(powder: Powder, covers: float, *, film_um: float, density: float) -> float:
    """The share of a clear's weight at which flakes cover a skin.

    Parameters
    ----------
    powder : the flakes.
    covers : their area over the skin's.
    film_um : thickness of the clear, µm.
    density : of the clear, g/ml.

    Returns
    -------
    %.
    """
    if powder.flake_um is None:
        raise ValueError(say("{key} is no flake", key=powder.key))
    return 100 * covers * powder.density * powder.flake_um / (film_um * density)


def stirred(
    powder: Powder, percent: float, *, batch_g: float, on_bait_g: float, area_mm2: float, film_um: float
) -> Stirred:
    """So much powder in a clear. Flakes lie flat and fall anywhere: they cover 1 - exp(-their area over the
    skin's), Poisson's share.

    Parameters
    ----------
    powder : the flakes.
    percent : of the clear's weight.
    batch_g : clear that is mixed, g.
    on_bait_g : of it on one bait, g.
    area_mm2 : the bait's skin, mm².
    film_um : thickness of the clear, µm.

    Returns
    -------
    Stirred.

    Raises
    ------
    InvalidInput : a share that no clear takes.
    """
    if not 0 < percent <= MOST_PERCENT:
        raise InvalidInput(
            say(
                "Powder is more than nothing, and up to {most_percent} % of the clear.",
                most_percent=quantity(MOST_PERCENT, "g"),
            ),
            field="percent",
        )
    grams = batch_g * percent / 100
    told = []
    if percent > powder.most_percent:
        told.append(
            say(
                "More than {most_percent} % of {words} is stiff, and does not level any more.",
                most_percent=quantity(powder.most_percent, "g"),
                words=powder.words,
            )
        )
    if powder.size_um > film_um and powder.flake_um is None:
        told.append(
            say(
                "Its grains of {size} stand out of a film of {film}.",
                size=quantity(powder.size_um, "g", "µm"),
                film=quantity(film_um, "g", "µm"),
            )
        )
    if powder.flake_um is not None and powder.flake_um * 2 > film_um:
        told.append(
            say(
                "Flakes of {flake} stand up in a film of {film}: another clear goes over it.",
                flake=quantity(powder.flake_um, "g", "µm"),
                film=quantity(film_um, "g", "µm"),
            )
        )
    covers = None
    if powder.flake_um is not None:
        flakes_mm2 = on_bait_g * percent / 100 / powder.density * 1000 / (powder.flake_um / 1000)
        covers = 1 - math.exp(-flakes_mm2 / area_mm2)
    return Stirred(grams, covers, tuple(told))
