"""A smooth reflectance for a colour: a sigmoid of a parabola, which never leaves 0 to 1 [jakob2019]."""

import numpy as np
from numpy.typing import NDArray

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import Light

Indexes = NDArray[np.intp]
STEPS = 40
CLOSE = 1e-10  # squared Lab
SCALED = (WAVELENGTHS_NM - 555) / 175  # (band,), -1 to 1
POWERS = np.stack([SCALED**2, SCALED, np.ones_like(SCALED)])  # (coefficient, band)


def _reflectance(coefficients: Floats) -> Floats:
    """(..., coefficient) -> (..., band)."""
    x = coefficients @ POWERS
    return np.asarray(0.5 + x / (2 * np.sqrt(1 + x * x)))


def smooth_reflectance(target: Floats, *, under: Light) -> Floats:
    """(3,) Lab -> (band,) reflectance of that colour, or of the nearest that a smooth reflectance can have."""
    return smooth_reflectances(target[None], under=under)[0]


def smooth_reflectances(targets: Floats, *, under: Light) -> Floats:
    """Many at once: (colour, 3) Lab -> (colour, band).

    Gauss-Newton with halved steps on the three coefficients, from the grey of the same lightness.
    """
    grey = np.clip(((targets[:, 0] + 16) / 116) ** 3, 1e-4, 1 - 1e-4)
    coefficients = np.zeros((len(targets), 3))
    coefficients[:, 2] = (2 * grey - 1) / np.sqrt(1 - (2 * grey - 1) ** 2)
    errors = lab(_reflectance(coefficients), under=under) - targets
    going = np.arange(len(targets))  # those that are neither close nor stuck
    for _ in range(STEPS):
        going = going[(errors[going] ** 2).sum(-1) >= CLOSE]
        if not len(going):
            break
        going = _step(going, coefficients, errors, targets, under)
    return _reflectance(coefficients)


def _step(going: Indexes, coefficients: Floats, errors: Floats, targets: Floats, under: Light) -> Indexes:
    """Move these colours one step, in place; returns those that got nearer."""
    now = coefficients[going]
    moved = now[:, None, :] + 1e-5 * np.eye(3)  # (colour, coefficient, 3)
    differences = lab(_reflectance(moved), under=under) - targets[going, None] - errors[going, None]
    slopes = np.swapaxes(differences, -1, -2) / 1e-5  # (colour, 3, coefficient)
    step = (-np.linalg.pinv(slopes, rcond=1e-9) @ errors[going, :, None])[..., 0]
    waiting = np.ones(len(going), dtype=bool)
    for share in 0.5 ** np.arange(8):
        rows = np.flatnonzero(waiting)
        tried = now[rows] + share * step[rows]
        left = lab(_reflectance(tried), under=under) - targets[going[rows]]
        nearer = (left**2).sum(-1) < (errors[going[rows]] ** 2).sum(-1)
        coefficients[going[rows[nearer]]], errors[going[rows[nearer]]] = tried[nearer], left[nearer]
        waiting[rows[nearer]] = False
        if not waiting.any():
            break
    return going[~waiting]
