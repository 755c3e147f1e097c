"""Foil: light mirrored by many small facets, seen through whatever lies on it.

The facets' slopes are Gaussian [beckmann1963]; the metal's reflectance is Fresnel's with its complex index, seen from
inside the binder. Angles are aspecular: measured from the mirror direction towards the light, which falls at 45
degrees.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.streams import INDEX, fresnel, streams
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats

LIGHT_DEG = 45.0
GRAZING_DEG = 85.0  # views beyond it see the edge of the bait, no longer its surface

# Aluminium, n and k every 50 nm from 350 to 750 nm [rakic1995].
_NM = np.arange(350.0, 751.0, 50.0)
_N = np.array([0.375, 0.490, 0.618, 0.769, 0.958, 1.200, 1.470, 1.830, 2.400])
_K = np.array([4.24, 4.86, 5.47, 6.08, 6.69, 7.26, 7.79, 8.31, 8.62])
ALUMINIUM = np.interp(WAVELENGTHS_NM, _NM, _N) + 1j * np.interp(WAVELENGTHS_NM, _NM, _K)  # (band,)


@dataclass(frozen=True)
class View:
    """One viewing direction, refracted into the film."""

    cos_in: float  # of the light's path inside the film
    cos_out: float  # of the path to the eye
    facet_deg: float  # tilt that a facet inside needs to mirror the light to the eye
    surface: float  # share let through the surface both ways


def _inside(angle_deg: float) -> float:
    return float(np.degrees(np.arcsin(np.sin(np.radians(angle_deg)) / INDEX)))


def view(angle_deg: float) -> View:
    """The geometry of an aspecular angle in degrees."""
    out_deg = float(np.clip(LIGHT_DEG - angle_deg, -GRAZING_DEG, GRAZING_DEG))
    light_in, eye_in = _inside(LIGHT_DEG), _inside(out_deg)
    cos_in, cos_out = np.cos(np.radians(light_in)), np.cos(np.radians(eye_in))
    passed = [1 - float(fresnel(cos_in=cos, index_in=INDEX, index_out=1.0)) for cos in (cos_in, cos_out)]
    return View(float(cos_in), float(cos_out), abs(light_in - eye_in) / 2, passed[0] * passed[1])


def lobe(seen: View, *, tilt_deg: float) -> float:
    """Radiance factor in air of a perfect mirror of facets whose tilts spread by `tilt_deg` (rms slope)."""
    slope = np.tan(np.radians(tilt_deg))
    facet = np.radians(seen.facet_deg)
    density = np.exp(-((np.tan(facet) / slope) ** 2) / 2) / (2 * np.pi * slope**2 * np.cos(facet) ** 4)
    inside = np.pi * density / (4 * seen.cos_in * seen.cos_out)
    return float(inside * seen.surface / INDEX**2)


@dataclass(frozen=True, eq=False)
class Mirror:
    """The mirroring part of a ground."""

    index: Floats  # (band,) complex
    tilt_deg: float
    share: float  # of the light that meets a facet; the rest is diffused

    def by_stream(self, count: int) -> Floats:
        """Reflectance (band, stream) for the directions followed inside a film."""
        return self.share * fresnel(cos_in=streams(count).mu, index_in=INDEX, index_out=self.index[:, None])

    def glance(self, angles_deg: Sequence[float]) -> Floats:
        """Radiance factor (angle, band) of the bare foil's mirrored light."""
        rows = []
        for seen in map(view, angles_deg):
            metal = fresnel(cos_in=np.cos(np.radians(seen.facet_deg)), index_in=INDEX, index_out=self.index)
            rows.append(self.share * metal * lobe(seen, tilt_deg=self.tilt_deg))
        return np.stack(rows)
