"""A guess at a paint from one colour and its kind, for the bottle that was never measured.

Pigments and dyes: the absorption that gives the colour in three light coats on white, with the kind's usual scattering.
What flakes or shines: the nearest of a few usual paints of the kind.
"""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.fast import FIRST, LAST, FastFilms, films_of
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import KINDS, USUAL_BLEED, Paint, clear_paint
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lights import light
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.mixing.contrast_card import LEAST, MOST, USUAL_SCATTERING
from diachrom.core.mixing.usual import USUAL, nearest_usual
from diachrom.errors import InvalidInput

SWATCH_UM = 24.0  # three light coats on white under clear: what a swatch usually is
HALVINGS = 24
UNCERTAINTY = 0.35  # of strength
GUESSED = 0.3  # a profile this uncertain was never measured


def from_one_colour(name: str, kind: str, colour: Floats | None) -> Paint:
    """The paint that looks like this Lab (3,) in three light coats on white, with its kind's usual scattering.

    Raises InvalidInput when the colour is missing.
    """
    return from_colours([(name, kind, colour)])[0]


def check_guess(name: str, kind: str, colour: Floats | None) -> None:
    """Whether there is enough to guess from. Raises InvalidInput."""
    if kind not in KINDS:
        raise InvalidInput(f"{name}: there is no kind of paint called '{kind}'.", field="kind")
    if KINDS[kind].colours and colour is None and kind not in USUAL:
        raise InvalidInput(f"{name}: say its colour as #rrggbb, as three light coats on white show it.", field="colour")


def from_colours(wanted: Sequence[tuple[str, str, Floats | None]]) -> list[Paint]:
    """Many at once: (name, kind, Lab (3,)) -> a paint each, by the tables that hold for glossy films on white."""
    for one in wanted:
        check_guess(*one)
    plain = [(kind, colour) for _, kind, colour in wanted if kind in USUAL_SCATTERING and colour is not None]
    colours = [colour for _, colour in plain]
    scattering = np.array([USUAL_SCATTERING[kind] for kind, _ in plain])[:, None]
    scattering = scattering * (550 / WAVELENGTHS_NM) ** 1.2  # (paint, band)
    found = iter(zip(_absorption(colours, scattering), scattering, strict=True)) if colours else iter(())
    paints = []
    for name, kind, colour in wanted:
        if kind in USUAL:
            paints.append(replace(nearest_usual(kind, colour), name=name))
        elif not KINDS[kind].colours:
            paints.append(clear_paint(name, kind))
        else:
            bleeds = USUAL_BLEED if kind == "candy" else 0.0
            paints.append(Paint(name, kind, *next(found), UNCERTAINTY, bleeds=bleeds))
    return paints


def _absorption(colours: Sequence[Floats], scattering: Floats) -> Floats:
    """(paint, band), by halving: more absorption is always darker."""
    target = smooth_reflectances(np.stack(colours), under=light("D65"))  # (paint, band)
    white = FastFilms.over(GROUNDS["white"])
    low, high = np.full(target.shape, np.log(LEAST)), np.full(target.shape, np.log(MOST))
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        too_light = target < white.reflectance(films_of(np.exp(middle), scattering, film_um=SWATCH_UM)).T
        low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
    # The tables stop at 400 and at 700 nm; beyond, a paint is taken to go on as it was.
    low[:, :FIRST], low[:, LAST + 1 :] = low[:, FIRST, None], low[:, LAST, None]
    return np.asarray(np.exp(low))
