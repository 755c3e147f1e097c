"""A paint's coefficients from a contrast card: sprayed over white and over black, both measured.

Two measurements a band give two coefficients a band. Where they do not (a film that hides, one that scatters nothing)
the bands lean on their neighbours, by a penalty on the curvature of the logarithms, and on what is usual for the kind;
such bands are named. Solved by damped Gauss-Newton on the exact transport solution.
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS, diffusing
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint, mix
from diachrom.core.film.stack import SHEEN, diffuse, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light, xyz

NOISE = 0.003  # of a measured reflectance, one standard deviation
CURVATURE = 0.15  # of ln(coefficient) from band to band that is nothing unusual
PRIOR = 4.0  # of ln(coefficient) around the kind's usual scattering: hardly a constraint
LEAST, MOST = 1e-6, 50.0  # 1/um
CARD_UM = 24.0  # three light coats
DOUBT = 0.5  # of ln(coefficient), one standard deviation from the two measurements of the band alone
STEPS = 40
USUAL_SCATTERING = {"opaque": 0.1, "primer": 0.3, "transparent": 0.01, "candy": 1e-4, "ink": 2e-3}


@dataclass(frozen=True, eq=False)
class FromCard:
    """The coefficients, where they are doubtful, and how well they give back the card."""

    absorption: Floats  # (band,) 1/um
    scattering: Floats  # (band,) 1/um
    uncertain_nm: tuple[float, ...]
    fit_delta_e: float  # the larger of the two fields


def bare_to_internal(measured: Floats, *, clear_coat: bool) -> Floats:
    """A bare ground as measured in air -> the internal reflectance that light inside a film meets [saunderson1942]."""
    inner = 1 - float(streams().q ** 2 @ (1 - streams().inner))
    back = np.maximum(measured - (0.0 if clear_coat else SHEEN), 0.0)
    return np.clip(back / ((1 - SHEEN) * (1 - inner) + inner * back), 0.0, 1.0)


def from_card(
    *,
    over_white: Floats,
    over_black: Floats,
    white: Floats,
    black: Floats,
    film_um: float,
    clear_coat: bool,
    kind: str,
) -> FromCard:
    """Reflectances (band,), measured in air -> coefficients."""
    grounds = [diffusing(bare_to_internal(one, clear_coat=clear_coat)) for one in (white, black)]
    measured = np.stack([over_white, over_black])  # (field, band)

    def fields(logs: Floats) -> Floats:
        """ln coefficients (..., 2, band) -> (field, ..., band)."""
        mix = Mix(np.exp(logs[..., 0, :]), np.exp(logs[..., 1, :]))
        films = sprayed([Coat(mix, film_um)])
        return np.stack([diffuse(films, ground, clear_coat=clear_coat) for ground in grounds])

    usual = float(np.log(USUAL_SCATTERING.get(kind, 0.02)))
    smoothing = np.diff(np.eye(BANDS), n=2, axis=0) / CURVATURE  # (band - 2, band)
    logs = _start(measured, film_um, usual)
    damping = 1e-2
    slopes = np.zeros((2, 2, BANDS))
    for _ in range(STEPS):
        now = fields(logs)
        cost = _cost(now, measured, logs, smoothing, usual)
        shifted = logs[None] + 1e-4 * np.eye(2)[:, :, None]  # (coefficient, 2, band)
        slopes = (fields(shifted) - now[:, None]) / 1e-4  # (field, coefficient, band)
        step_taken = False
        for _ in range(8):
            tried = logs + _step(slopes, measured - now, logs, smoothing, usual, damping)
            tried = np.clip(tried, np.log(LEAST), np.log(MOST))
            tried_cost = _cost(fields(tried), measured, tried, smoothing, usual)
            if tried_cost < cost:
                step_taken, damping = True, damping / 3
                break
            damping *= 4
        if not step_taken:
            break
        logs = tried
        if cost - tried_cost < 1e-6 * cost:
            break
    return _result(logs, slopes, fields(logs), measured)


def _start(measured: Floats, film_um: float, usual: float) -> Floats:
    """Beer's law there and back for the absorption, the kind's usual scattering."""
    depth = -np.log(np.clip(measured[0], 1e-3, 0.95)) / 2.5
    return np.stack([np.log(np.maximum(depth / film_um, LEAST)), np.full(BANDS, usual)])


def _cost(now: Floats, measured: Floats, logs: Floats, smoothing: Floats, usual: float) -> float:
    bends = logs @ smoothing.T
    prior = (logs[1] - usual) / PRIOR
    return float((((now - measured) / NOISE) ** 2).sum() + (bends**2).sum() + (prior**2).sum())


def _step(slopes: Floats, missing: Floats, logs: Floats, smoothing: Floats, usual: float, damping: float) -> Floats:
    """The damped normal equations of all bands together."""
    weighed = slopes / NOISE
    normal, right = np.zeros((2 * BANDS, 2 * BANDS)), np.zeros(2 * BANDS)
    bend = smoothing.T @ smoothing
    for one in range(2):
        rows = slice(one * BANDS, (one + 1) * BANDS)
        right[rows] = (weighed[:, one] * missing / NOISE).sum(axis=0) - bend @ logs[one]
        normal[rows, rows] += bend
        for other in range(2):
            columns = slice(other * BANDS, (other + 1) * BANDS)
            normal[rows, columns] += np.diag((weighed[:, one] * weighed[:, other]).sum(axis=0))
    scattering = slice(BANDS, 2 * BANDS)
    right[scattering] -= (logs[1] - usual) / PRIOR**2
    normal[scattering, scattering] += np.eye(BANDS) / PRIOR**2
    normal += damping * np.diag(np.diag(normal))
    return np.clip(np.linalg.solve(normal, right).reshape(2, BANDS), -2.0, 2.0)


def _result(logs: Floats, slopes: Floats, now: Floats, measured: Floats) -> FromCard:
    alone = np.moveaxis(slopes / NOISE, -1, 0)  # (band, field, coefficient)
    information = np.swapaxes(alone, -1, -2) @ alone + 1e-9 * np.eye(2)
    doubt = np.sqrt(np.diagonal(np.linalg.inv(information), axis1=-2, axis2=-1)).max(axis=-1)
    day = light("D65")
    errors = delta_e(lab(now, under=day), lab(measured, under=day))
    return FromCard(
        np.exp(logs[0]), np.exp(logs[1]), tuple(WAVELENGTHS_NM[doubt > DOUBT].tolist()), float(errors.max())
    )


def on_card(paint: Paint | None, ground: str) -> Floats:
    """What a card shows (band,): a paint in three light coats over a ground, under clear; or the ground bare."""
    coats = [] if paint is None else [Coat(mix([paint], np.ones(1)), CARD_UM)]
    return np.clip(seen.diffuse(sprayed(coats), GROUNDS[ground], clear_coat=True, under=light("D65")), 0, 1)


def contrast_ratio(over_black: Floats, over_white: Floats) -> float:
    """Y over black to Y over white, of reflectances (band,): 1 hides."""
    return float(xyz(over_black, under=light("D65"))[1] / xyz(over_white, under=light("D65"))[1])


def strength(found: Floats, before: Floats) -> float:
    """How many times as strong: absorptions (band,), told where the paint absorbed; elsewhere a ratio says nothing."""
    return float((before * found).sum() / max((before * before).sum(), 1e-12))
