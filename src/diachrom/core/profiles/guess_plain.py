"""Guesses at pigments and dyes: a scattering that hides as it was seen to, and the absorption that gives the colour."""

from collections.abc import Sequence

import numpy as np

from diachrom.core.film.fast import FIRST, LAST, FastFilms, films_of
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import KINDS, SURE
from diachrom.core.film.paint import USUAL_BLEED, Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import xyz
from diachrom.core.light.smooth import smooth_reflectances
from diachrom.core.profiles.card_fit import LEAST, MOST, USUAL_SCATTERING
from diachrom.core.profiles.guess_basis import D65, FALLING, SWATCH_UM, Seen, ToGuess, met

HALVINGS, HIDING_HALVINGS = 24, 10
UNCERTAINTY, WHITENED_UNCERTAINTY = 0.4, 0.7  # of strength: of what hides a colour tells little more than a ratio
DEEP_UM = 1e5  # as deep as a cup is to these tables
CUP_SCATTERING = 0.01  # 1/um at 550 nm at least, of what shows a colour in the cup: a clear dye is black there
LEAST_WHITE, MOST_WHITE = 0.035, 0.55  # 1/um at 550 nm: no white in it, nothing but white
THINNEST, THICKEST = 1e-4, 1.0  # 1/um at 550 nm, of what hides least and most


def guess(wanted: Sequence[ToGuess]) -> list[Paint]:
    """The paints that show these colours."""
    colours = np.stack([one.colour for one in wanted if one.colour is not None])
    usuals = []
    for one, colour in zip(wanted, colours, strict=True):
        # Scattering at 550 nm where nobody looked how it hides: the paler an opaque paint, the more white is in it.
        if not KINDS[one.kind].hides:
            usuals.append(USUAL_SCATTERING.get(one.kind, USUAL_SCATTERING[SURE]))
        else:
            palest = smooth_reflectances(colour[None], under=D65)[0, FIRST : LAST + 1].min()
            usuals.append(float(LEAST_WHITE + (MOST_WHITE - LEAST_WHITE) * palest))
    level = np.array(usuals)
    absorption = np.empty((len(wanted), len(FALLING)))
    for where in {one.seen_at for one in wanted}:
        rows = np.array([index for index, one in enumerate(wanted) if one.seen_at == where])
        hides = np.array([np.nan if wanted[at].hides is None else float(wanted[at].hides or 0) for at in rows])
        told = ~np.isnan(hides)
        if where == "cup":
            level[rows] = np.maximum(level[rows], CUP_SCATTERING)
        if told.any():
            level[rows[told]] = _hiding(colours[rows[told]], hides[told], where)
        absorption[rows] = _absorption(colours[rows], level[rows], where)
    scattering = level[:, None] * FALLING
    return [
        Paint(
            one.name,
            one.kind,
            absorption[at],
            scattering[at],
            WHITENED_UNCERTAINTY if KINDS[one.kind].hides else UNCERTAINTY,
            bleeds=USUAL_BLEED if KINDS[one.kind].dye else 0.0,
        )
        for at, one in enumerate(wanted)
    ]


def _tables(where: Seen) -> tuple[FastFilms, float]:
    """What looks a film up, and how thick it is. In a cup there is no ground to be seen."""
    ground = GROUNDS["white" if where == "white" else "black"]
    return FastFilms.over(ground), DEEP_UM if where == "cup" else SWATCH_UM


def _absorption(colours: Floats, level: Floats, where: Seen) -> Floats:
    """(paint, band), by halving: more absorption is always darker."""
    tables, film_um = _tables(where)
    scattering = level[:, None] * FALLING

    def look(absorption: Floats) -> Floats:
        return tables.reflectance(films_of(absorption, scattering, film_um=film_um)).T.astype(np.float64)

    def make(target: Floats) -> tuple[Floats, Floats]:
        low, high = np.full(target.shape, np.log(LEAST)), np.full(target.shape, np.log(MOST))
        for _ in range(HALVINGS):
            middle = (low + high) / 2
            too_light = target < look(np.exp(middle))
            low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
        # The tables stop at 400 and at 700 nm; beyond, a paint is taken to go on as it was.
        low[:, :FIRST], low[:, LAST + 1 :] = low[:, FIRST, None], low[:, LAST, None]
        return np.exp(low), lab(look(np.exp(low)), under=D65)

    return met(colours, make)


def _hiding(colours: Floats, hides: Floats, where: Seen) -> Floats:
    """Scattering (paint,) at 550 nm with which three light coats have this contrast ratio, by halving: more hides
    more."""
    low, high = np.full(len(hides), np.log(THINNEST)), np.full(len(hides), np.log(THICKEST))
    for _ in range(HIDING_HALVINGS):
        middle = (low + high) / 2
        level = np.exp(middle)
        absorption = _absorption(colours, level, where)
        made = films_of(absorption, level[:, None] * FALLING, film_um=SWATCH_UM)
        black, white = (
            xyz(FastFilms.over(GROUNDS[key]).reflectance(made).T.astype(np.float64), under=D65)[:, 1]
            for key in ("black", "white")
        )
        too_thin = np.asarray(black / np.maximum(white, 1e-9)) < hides
        low, high = np.where(too_thin, middle, low), np.where(too_thin, high, middle)
    return np.exp((low + high) / 2)
