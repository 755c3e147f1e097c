"""A paint's coefficients from a drawdown card: sprayed over white and over black in one or several films, all measured.

A film that takes all the light tells the ratio of absorption to scattering and no more; films of several thicknesses
tell both, and so does the paint let down with a white that is known. Where nothing tells a band, it leans on its
neighbours, by a penalty on the curvature of the logarithms, and on what is usual for the kind; such bands are named.
How sure the strength is follows from the covariance of the fit [tarantola2005].
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light, xyz
from diachrom.core.light.screen import linear_to_lab
from diachrom.core.profiles.card_fit import MOST, Bare, CardEye, CardFilm, CardFit, reader
from diachrom.core.profiles.how_sure import colour_sure, strength_sure
from diachrom.errors import InvalidInput
from diachrom.words import say

CARD_UM = 24.0  # three light coats
PASS_UM = 2.0  # a mist pass
STEPS = (1, 4, 12)  # mist passes of a step card
DOUBT = 0.5  # of ln(coefficient), one standard deviation from the measurements of the band alone
MATTERS, DROWNS = 0.05, 0.05  # of optical depth; of the absorption
HAND = 0.05  # of all films of a paint alike: nobody sprays as thick as meant
NOTHING, FEW, TINIEST = 1e-11, 1e-8, 1e-22  # 1/um, of scattering too; of a reflectance squared
DIGITS, EXACT_TURNS = 5e-8, 80  # of a reflectance that was computed
UNSURE = 0.25  # of strength: more than that is not taken unasked


@dataclass(frozen=True, eq=False)
class FromCard:
    """The coefficients, where they are doubtful, and how well they give back the card."""

    absorption: Floats  # (band,) 1/um
    scattering: Floats  # (band,) 1/um
    uncertain_nm: tuple[float, ...]
    saturated_nm: tuple[float, ...]  # where even the thinnest film takes all the light: it does not tell how strong
    uncertainty: float  # of the strength, one standard deviation, as a share
    colour_off: float  # of a strength that would move the colour as far as a photo leaves open; 0 of a reader
    sheen: float
    fit_delta_e: float  # the largest of the fields
    fields_delta_e: Floats  # (film, over white or black), the thinnest film first; 0 of what is spoilt


def from_card(
    films: Sequence[CardFilm],
    bare: Bare,
    *,
    kind: str,
    eye: CardEye | None = None,
    before: Paint | None = None,
    droplet_um: float = 0.0,
) -> FromCard:
    """Absorption and scattering of a paint from its films over white and black, by least squares within the noise
    of the reader.

    Parameters
    ----------
    films : as sprayed and read.
    bare : both grounds, read.
    kind : of paint.
    eye : what it was measured with; a reader in air where it is None.
    before : a profile to lean on for what the films do not tell.
    droplet_um : thickness of a disc of the mist that they were sprayed in, µm; 0 is even films.

    Returns
    -------
    FromCard.

    Raises
    ------
    InvalidInput : a bare white that is no lighter than the black.
    """
    if bare.white.mean() <= bare.black.mean():
        raise InvalidInput(
            say("The bare white field is not lighter than the black one: are they swapped?"), field="white"
        )
    fit = CardFit(films, bare, kind, eye or reader(), before=before, droplet_um=droplet_um)
    values, slopes = fit.solved()
    absorption, scattering = np.exp(values[:BANDS]), np.exp(values[BANDS : 2 * BANDS])
    covariance = np.asarray(np.linalg.inv(fit.information(slopes, values, preferring=False)), dtype=np.float64)
    # dE (field,) of what is given back from what was measured; none of what is spoilt.
    now, day = fit.fields(values), light("D65")
    if _by_band(fit):
        far = delta_e(lab(now, under=day), lab(fit.measured, under=day))
    else:
        shown = np.clip(now @ fit.eye.channels.T, fit.eye.floor, None)
        far = delta_e(linear_to_lab(shown), linear_to_lab(np.clip(fit.measured, fit.eye.floor, None)))
    errors = np.where(fit.spoilt, 0.0, far)
    # Bands, nm, of which the thinnest film over white tells nothing any more.
    unmoved = (np.abs(slopes[0, :, :BANDS]) < fit.noise[0][:, None]).all(axis=0) & ~fit.spoilt[0]  # (band,)
    # Bands in which a coefficient that matters is not told, nm: by the measurements of the band alone where it has
    # its own, else by all there is.
    if _by_band(fit):
        own = slopes[..., : 2 * BANDS].reshape(len(slopes), BANDS, 2, BANDS) / fit.noise[..., None, None]
        alone = np.moveaxis(np.diagonal(own, axis1=1, axis2=3), -1, 0)  # (band, field, coefficient)
        information = np.swapaxes(alone, -1, -2) @ alone + 1e-9 * np.eye(2)
        doubt = np.sqrt(np.diagonal(np.linalg.inv(information), axis1=-2, axis2=-1)).T  # (coefficient, band)
    else:
        doubt = np.sqrt(np.diagonal(covariance)[: 2 * BANDS]).reshape(2, BANDS)
    # What there is next to nothing of need not be told, nor scattering that drowns in absorption.
    matters = np.stack([absorption, scattering]) * fit.films[-1].film_um > MATTERS
    matters[1] &= scattering > DROWNS * absorption
    return FromCard(
        absorption=absorption,
        scattering=scattering,
        uncertain_nm=tuple(WAVELENGTHS_NM[((doubt > DOUBT) & matters).any(axis=0)].tolist()),
        saturated_nm=tuple(WAVELENGTHS_NM[(absorption * fit.thinnest_um > 1) & unmoved].tolist()),
        uncertainty=strength_sure(fit, values, covariance),
        colour_off=0.0 if _by_band(fit) else colour_sure(fit, values, covariance),
        sheen=fit.sheen(values),
        fit_delta_e=float(errors.max()),
        fields_delta_e=errors.reshape(-1, 2),
    )


def as_computed(film: CardFilm, bare: Bare, *, near: Paint) -> Paint:
    """The paint next to `near` that gives a film which was computed, and not measured, to its last digits: two figures
    a band for two unknowns, each band by itself. A dye that takes nearly all the light is far from anything that
    scatters: it is begun anew by Beer's law."""
    fit = CardFit([film], bare, near.kind, reader())
    own = np.log(np.clip(np.stack([near.absorption, near.scattering]), NOTHING, MOST))  # (coefficient, band)
    values, missing = _met_exactly(fit, own)
    off = np.abs(missing).max(axis=0) > DIGITS
    if off.any():
        depth = np.log(np.maximum(fit.measured[0], NOTHING) / np.maximum(bare.white, NOTHING))
        dye = np.log(np.clip(np.stack([-depth / (2.5 * film.film_um), np.full(BANDS, FEW)]), NOTHING, MOST))
        again, left = _met_exactly(fit, np.where(off, dye, values))
        values = np.where((left**2).sum(axis=0) < (missing**2).sum(axis=0), again, values)
    absorption, scattering = np.exp(values)
    return replace(near, absorption=absorption, scattering=scattering)


def _met_exactly(fit: CardFit, values: Floats) -> tuple[Floats, Floats]:
    """Unknowns (coefficient, band) by damped Gauss-Newton, and what is missing still (field, band)."""
    damping = np.full(BANDS, 1e-3)
    missing = fit.measured - fit.fields(values.ravel())
    for _ in range(EXACT_TURNS):
        if np.abs(missing).max() < DIGITS:
            break
        moved = values + 1e-4 * np.eye(2)[:, :, None]  # (moved, coefficient, band)
        now = fit.measured - missing
        slopes = ((fit.fields(moved.reshape(2, -1)) - now[:, None]) / 1e-4).transpose(2, 0, 1)  # (band, field, moved)
        normal, right = slopes.transpose(0, 2, 1) @ slopes, np.einsum("bfm,fb->bm", slopes, missing)
        size = damping * np.trace(normal, axis1=1, axis2=2) + TINIEST
        step = np.linalg.solve(normal + size[:, None, None] * np.eye(2), right[..., None])[..., 0].T
        tried = np.clip(values + np.clip(step, -2, 2), np.log(NOTHING), np.log(MOST))
        left = fit.measured - fit.fields(tried.ravel())
        better = (left**2).sum(axis=0) < (missing**2).sum(axis=0)
        values, missing = np.where(better, tried, values), np.where(better, left, missing)
        damping = np.clip(np.where(better, damping / 5, damping * 4), 1e-9, 1e9)
    return values, missing


def _by_band(fit: CardFit) -> bool:
    """Every band has a channel of its own."""
    return len(fit.eye.channels) == BANDS


def on_card(paint: Paint | None, ground: str) -> Floats:
    """What a card shows (band,): a paint in three light coats over a ground, under clear; or the ground bare."""
    coats = [] if paint is None else [Coat(mix([paint], np.ones(1)), CARD_UM)]
    day = light("D65")
    radiance = seen.diffuse(sprayed(coats), GROUNDS[ground], sheen=CLEARED, under=day)
    return np.clip(day.factor(radiance), 0, 1)


def contrast_ratio(over_black: Floats, over_white: Floats) -> float:
    """Y over black to Y over white, of reflectances (band,): 1 hides."""
    return float(xyz(over_black, under=light("D65"))[1] / xyz(over_white, under=light("D65"))[1])


def strength(found: Floats, before: Floats) -> float:
    """How many times as strong: absorptions (band,), told where the paint absorbed; elsewhere a ratio says nothing."""
    return float((before * found).sum() / max((before * before).sum(), 1e-12))
