"""A guess at a paint from one colour and its kind, for the bottle that was never measured."""

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import KINDS, USUAL_BLEED, Mix, Paint, clear_paint
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectance
from diachrom.core.mixing.contrast_card import LEAST, MOST, USUAL_SCATTERING
from diachrom.errors import InvalidInput

SWATCH_UM = 24.0  # three light coats on white under clear: what a swatch usually is
HALVINGS = 40
UNCERTAINTY = 0.35  # of strength: a guess

# What one colour can say something about; flakes and what shines must be measured or described.
GUESSED_KINDS = tuple(USUAL_SCATTERING)
KINDS_TO_ADD = (*GUESSED_KINDS, "reducer", "medium")


def from_one_colour(name: str, kind: str, colour: Floats | None) -> Paint:
    """The paint that looks like this Lab (3,) in three light coats on white, with its kind's usual scattering.

    Raises InvalidInput for a kind that one colour cannot describe, or when the colour is missing.
    """
    if kind not in KINDS_TO_ADD:
        raise InvalidInput(
            f"A {KINDS[kind].words if kind in KINDS else kind} needs more than one colour.", field="kind"
        )
    if not KINDS[kind].colours:
        return clear_paint(name, kind)
    if colour is None:
        raise InvalidInput(f"{name}: say its colour as #rrggbb, as three light coats on white show it.", field="colour")
    target = smooth_reflectance(colour, under=light("D65"))
    scattering = USUAL_SCATTERING[kind] * (550 / WAVELENGTHS_NM) ** 1.2
    low, high = np.full(BANDS, np.log(LEAST)), np.full(BANDS, np.log(MOST))
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        films = sprayed([Coat(Mix(np.exp(middle), scattering), SWATCH_UM)])
        too_light = diffuse(films, GROUNDS["white"], clear_coat=True) > target
        low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
    bleeds = USUAL_BLEED if kind == "candy" else 0.0
    return Paint(name, kind, np.exp(low), scattering, UNCERTAINTY, bleeds=bleeds)
