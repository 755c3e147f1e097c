"""Foil: light mirrored by many small facets, seen through whatever lies on it.

The facets' slopes are Gaussian [beckmann1963]; the metal's reflectance is Fresnel's with its complex index, seen from
inside the binder. Angles are aspecular: measured from the mirror direction towards the light, which falls at 45
degrees.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.film.streams import INDEX, STREAMS, fresnel, streams
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats, Indices

LIGHT_DEG = 45.0
GRAZING_DEG = 85.0  # views beyond it see the edge of the bait, no longer its surface


@dataclass(frozen=True)
class View:
    """One viewing direction, refracted into the film."""

    cos_in: float  # of the light's path inside the film
    cos_out: float  # of the path to the eye
    facet_deg: float  # tilt that a facet inside needs to mirror the light to the eye
    cos_facet: float  # of the angle at which the light then meets the facet
    surface: float  # share let through the surface both ways


def _inside(angle_deg: float) -> float:
    return float(np.degrees(np.arcsin(np.sin(np.radians(angle_deg)) / INDEX)))


@lru_cache(maxsize=1024)
def view(angle_deg: float) -> View:
    """The geometry of an aspecular angle in degrees."""
    out_deg = float(np.clip(LIGHT_DEG - angle_deg, -GRAZING_DEG, GRAZING_DEG))
    light_in, eye_in = _inside(LIGHT_DEG), _inside(out_deg)
    cos_in, cos_out = np.cos(np.radians(light_in)), np.cos(np.radians(eye_in))
    passed = [1 - float(fresnel(cos_in=cos, index_in=INDEX, index_out=1.0)) for cos in (cos_in, cos_out)]
    facet_deg, on_facet_deg = abs(light_in - eye_in) / 2, abs(light_in + eye_in) / 2
    on_facet = float(np.cos(np.radians(on_facet_deg)))
    return View(float(cos_in), float(cos_out), facet_deg, on_facet, passed[0] * passed[1])


def lobe(seen: View, *, tilt_deg: float) -> float:
    """Radiance factor in air of a perfect mirror of facets whose tilts spread by `tilt_deg` (rms slope)."""
    slope = np.tan(np.radians(tilt_deg))
    facet = np.radians(seen.facet_deg)
    density = np.exp(-((np.tan(facet) / slope) ** 2) / 2) / (2 * np.pi * slope**2 * np.cos(facet) ** 4)
    inside = np.pi * density / (4 * seen.cos_in * seen.cos_out)
    return float(inside * seen.surface / INDEX**2)


# Most facets and flakes lie as flat as the hand lays them; some stand, and give what is turned away the light it has.
STANDING, STANDING_SPREAD = 0.15, 2.2


def facets_lobe(seen: View, *, tilt_deg: float) -> float:
    """The lobe of real facets: two Gaussians of slope, together the energy of one."""
    flat, standing = (lobe(seen, tilt_deg=tilt) for tilt in (tilt_deg, STANDING_SPREAD * tilt_deg))
    return (1 - STANDING) * flat + STANDING * standing


@dataclass(frozen=True, eq=False)
class Mirror:
    """The mirroring part of a ground."""

    index: Indices  # (band,)
    tilt_deg: float
    share: float  # of the light that meets a facet; the rest is diffused
    lacquer: Floats | float = 1.0  # (band,) what a coloured lacquer lets through, both ways

    def by_stream(self, count: int) -> Floats:
        """Reflectance (band, stream) for the directions followed inside a film."""
        metal = fresnel(cos_in=streams(count).mu, index_in=INDEX, index_out=self.index[:, None])
        return self.share * metal * np.atleast_1d(self.lacquer)[:, None]

    def glance(self, angles_deg: Sequence[float]) -> Floats:
        """Radiance factor (angle, band) of the bare foil's mirrored light."""
        rows = []
        for seen in map(view, angles_deg):
            metal = fresnel(cos_in=seen.cos_facet, index_in=INDEX, index_out=self.index)
            rows.append(self.share * self.lacquer * metal * facets_lobe(seen, tilt_deg=self.tilt_deg))
        return np.stack(rows)


@dataclass(frozen=True, eq=False)
class HoloFoil:
    """A mirror stamped with a fine grating: part of its light goes into the first order, lambda = d (sin ti - sin tv).

    The pattern's directions fan each colour out of the plane of light and eye, and blur it within.
    """

    mirror: Mirror
    pitch_nm: float = 950.0
    diffracted: float = 0.35  # share of the mirrored light
    blur: float = 0.10  # standard deviation of the sine in the plane
    fan: float = 0.45  # and across it

    def by_stream(self, count: int) -> Floats:
        return self.mirror.by_stream(count)

    def glance(self, angles_deg: Sequence[float]) -> Floats:
        """Radiance factor (angle, band): the mirror's own and the rainbow's. Both keep the energy that falls in."""
        rows = []
        plain = (1 - self.diffracted) * self.mirror.glance(angles_deg)
        metal = self.mirror.by_stream(STREAMS)[:, -1]  # (band,)
        for angle, own in zip(angles_deg, plain, strict=True):
            out_deg = np.clip(LIGHT_DEG - angle, -GRAZING_DEG, GRAZING_DEG)
            off = (
                np.sin(np.radians(LIGHT_DEG)) - WAVELENGTHS_NM / self.pitch_nm - np.sin(np.radians(out_deg))
            )  # (band,)
            density = np.exp(-((off / self.blur) ** 2) / 2) / (2 * np.pi * self.blur * self.fan)
            rows.append(own + np.pi * self.diffracted * metal * density)
        return np.stack(rows)
