"""A smooth reflectance for a colour: a sigmoid of a parabola, which never leaves 0 to 1 [jakob2019]."""

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import Light

STEPS = 60
SCALED = (WAVELENGTHS_NM - 555) / 175  # (band,), -1 to 1


def _reflectance(coefficients: Floats) -> Floats:
    x = coefficients[0] * SCALED**2 + coefficients[1] * SCALED + coefficients[2]
    return np.asarray(0.5 + x / (2 * np.sqrt(1 + x * x)))


def smooth_reflectance(target: Floats, *, under: Light) -> Floats:
    """(3,) Lab -> (band,) reflectance of that colour, or of the nearest that a smooth reflectance can have.

    Gauss-Newton with halved steps on the three coefficients, from the grey of the same lightness.
    """
    grey = np.clip(((target[0] + 16) / 116) ** 3, 1e-4, 1 - 1e-4)
    coefficients = np.array([0.0, 0.0, (2 * grey - 1) / np.sqrt(1 - (2 * grey - 1) ** 2)])
    error = lab(_reflectance(coefficients), under=under) - target
    for _ in range(STEPS):
        moved = coefficients + 1e-5 * np.eye(3)
        slopes = np.stack([lab(_reflectance(row), under=under) - target - error for row in moved], axis=-1) / 1e-5
        step = np.linalg.lstsq(slopes, -error, rcond=1e-9)[0]
        for share in 0.5 ** np.arange(8):
            tried = coefficients + share * step
            left = lab(_reflectance(tried), under=under) - target
            if left @ left < error @ error:
                coefficients, error = tried, left
                break
        else:
            break
        if error @ error < 1e-10:
            break
    return _reflectance(coefficients)
