"""How sure what a card tells is: of the strength, and of the colour."""

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import GUESSED, Mix
from diachrom.core.film.stack import sprayed
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import light
from diachrom.core.mix.spread import EVEN, HIDING_SIGMA, HUE_SIGMA, STREAMS
from diachrom.core.profiles.card_fit import LEAST, MOST, CardFit

SUREST, UNKNOWN = 0.01, 1.0  # of strength
FARTHEST = 30.0  # standard deviations
FILMS_UM = (8.0, 16.0)
DRAWS = 24
STEP = 0.1  # of uncertainty
USUAL_MISFIT = 0.17  # mean square, in standard deviations: noise and misfit are told with room


def strength_sure(fit: CardFit, values: Floats, covariance: Floats) -> float:
    """One standard deviation of the strength: by the covariance, then followed to either side along the least costly
    way until the misfit has grown by one, since towards a saturated film it grows ever more slowly."""
    visible = np.abs(fit.eye.channels).sum(axis=0)  # (band,)
    weights = np.append(np.exp(2 * values[: 2 * BANDS]) * np.tile(visible, 2), np.zeros(fit.size - 2 * BANDS))
    weights /= weights.sum()
    linear = float(np.sqrt(weights @ covariance @ weights))
    way = covariance @ weights / linear
    here = fit.cost(fit.fields(values), values, preferring=False)

    def far(step: float) -> float:
        moved = values + step * way
        return fit.cost(fit.fields(moved), moved, preferring=False) - here

    sides = []
    for sign in (-1.0, 1.0):
        step = 1.0
        while far(sign * step) < 1 and step < FARTHEST:
            step *= 1.5
        sides.append(step)
    return min(max(SUREST, linear * max(sides) / 1.25), UNKNOWN)


def colour_sure(fit: CardFit, values: Floats, covariance: Floats) -> float:
    """The uncertainty of a profile by which a spread says as much as the fit leaves open: draws from its covariance
    beside strength, hue and hiding moved to both sides, in the mean square of dE over white and black. What fits worse
    than usual is less sure."""
    chance, sides = np.random.default_rng(7), np.array([STEP, -STEP])[:, None]
    size, root = np.linalg.eigh(covariance)
    drawn = values + chance.standard_normal((DRAWS, fit.size)) @ (root * np.sqrt(np.maximum(size, 0))).T
    moved = np.zeros((6, fit.size))
    moved[:2, : 2 * BANDS] = sides
    moved[2:4, :BANDS] = sides * HUE_SIGMA / GUESSED * EVEN
    moved[4:, BANDS : 2 * BANDS] = sides * HIDING_SIGMA / GUESSED
    many = np.clip(np.concatenate([values[None], values + moved, drawn]), np.log(LEAST), np.log(MOST))
    mixed = Mix(np.exp(many[:, None, :BANDS]), np.exp(many[:, None, BANDS : 2 * BANDS]))
    films, day = sprayed([Coat(mixed, np.array(FILMS_UM))], STREAMS), light("D65")
    squares = np.zeros(len(many) - 1)
    for ground in ("white", "black"):
        radiance = seen.diffuse(films, GROUNDS[ground], sheen=CLEARED, under=day)  # (one, film, band)
        points = lab_of_radiance(radiance, under=day)
        squares += (delta_e(points[1:], points[0]) ** 2).mean(axis=-1)
    misfit = float((fit.missing(fit.fields(values)) ** 2).mean()) / USUAL_MISFIT
    most = max(float(squares[:6].sum()) / 2, 1e-9)
    return min(STEP * float(np.sqrt(squares[6:].mean() / most * max(misfit, 1.0))), UNKNOWN)
