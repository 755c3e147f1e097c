"""CIELAB and its cylinder, relative to a light's white [cie15]."""

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import Light, xyz, xyz_of_radiance

EPSILON = (6 / 29) ** 3
KAPPA = (29 / 3) ** 3


def xyz_to_lab(values: Floats, *, white: Floats) -> Floats:
    """(..., 3) tristimulus values -> (..., 3) L*, a*, b*."""
    t = values / white
    f = np.where(t > EPSILON, np.cbrt(t), (KAPPA * t + 16) / 116)
    lab = np.empty_like(f)
    lab[..., 0] = 116 * f[..., 1] - 16
    lab[..., 1] = 500 * (f[..., 0] - f[..., 1])
    lab[..., 2] = 200 * (f[..., 1] - f[..., 2])
    return lab


def lab_to_xyz(lab: Floats, *, white: Floats) -> Floats:
    """(..., 3) L*, a*, b* -> (..., 3) tristimulus values."""
    fy = (lab[..., 0] + 16) / 116
    f = np.stack([fy + lab[..., 1] / 500, fy, fy - lab[..., 2] / 200], axis=-1)
    t = np.where(f > 6 / 29, f**3, (116 * f - 16) / KAPPA)
    return t * white


def lab(radiance_factor: Floats, *, under: Light) -> Floats:
    """(..., band) radiance factors -> (..., 3) L*, a*, b* relative to the light's white."""
    return xyz_to_lab(xyz(radiance_factor, under=under), white=under.white)


def lab_of_radiance(radiance: Floats, *, under: Light) -> Floats:
    """(..., band) radiances, in the units of the light's power -> (..., 3) L*, a*, b* relative to its white."""
    return xyz_to_lab(xyz_of_radiance(radiance, under=under), white=under.white)


def lch(values: Floats) -> Floats:
    """(..., 3) L*, a*, b* -> (..., 3) L*, C*, h in degrees, 0 to 360."""
    chroma = np.hypot(values[..., 1], values[..., 2])
    hue = np.degrees(np.arctan2(values[..., 2], values[..., 1])) % 360
    return np.stack([values[..., 0], chroma, hue], axis=-1)


def from_lch(values: Floats) -> Floats:
    """(..., 3) lightness, chroma and hue in degrees -> (..., 3) L*, a*, b*."""
    lightness, chroma, hue = np.moveaxis(np.asarray(values, dtype=np.float64), -1, 0)
    angle = np.radians(hue)
    return np.stack([lightness, chroma * np.cos(angle), chroma * np.sin(angle)], axis=-1)


def hue_difference(one: Floats, two: Floats) -> Floats:
    """dH* of CIELAB between (..., 3) and (..., 3), without its sign."""
    first, second = lch(one), lch(two)
    turn = np.radians(first[..., 2] - second[..., 2])
    return np.abs(2 * np.sqrt(first[..., 1] * second[..., 1]) * np.sin(turn / 2))
