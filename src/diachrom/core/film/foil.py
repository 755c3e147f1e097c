"""Foil: a metal's mirror of many small facets, plain or stamped with a grating.

The metal's reflectance is Fresnel's with its complex index, seen from inside what the facets lie in.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import facets
from diachrom.core.film.facets import GRAZING_DEG, LIGHT_DEG, lobe, view
from diachrom.core.film.streams import INDEX, fresnel, streams
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats, Indices


@dataclass(frozen=True, eq=False)
class Mirror:
    """The mirroring part of a ground. What it answers is for facets inside a film, or behind a wall (index 1)."""

    index: Indices  # (band,)
    tilt_deg: float
    share: float  # of the light that meets a facet; the rest is diffused
    lacquer: Floats | float = 1.0  # (band,) what a coloured lacquer lets through, both ways

    def metal(self, cos_in: Floats, index: float) -> Floats:
        """Reflectance (band, ...) of its facets."""
        cos_in = np.asarray(cos_in, dtype=np.float64)
        here = (slice(None), *(None for _ in cos_in.shape))
        bright = fresnel(cos_in=cos_in, index_in=index, index_out=self.index[here])
        return np.asarray(self.share * np.broadcast_to(self.lacquer, self.index.shape)[here] * bright)

    def matrices(self, cos_in: Floats, count: int, index: float = INDEX) -> Floats:
        """Reflection matrices (order, band, stream, stream) in flux amplitudes, for streams at these cosines."""
        root = np.sqrt(self.metal(cos_in, index))
        return root[:, :, None] * facets.rough(self.tilt_deg, count, index)[:, None] * root[:, None, :]

    def towards(self, count: int, out_deg: float, index: float = INDEX) -> Floats:
        """What it makes of a unit of light from this angle in air: amplitudes (order, band, stream)."""
        bright = self.metal(np.asarray(view(LIGHT_DEG - out_deg, index).cos_out), index)
        return bright[:, None] * facets.towards(self.tilt_deg, count, out_deg, index)[:, None]

    def glance(self, angles_deg: Sequence[float], index: float = INDEX) -> Floats:
        """Radiance factor (angle, band) of the bare foil's mirrored light."""
        views = [view(angle, index) for angle in angles_deg]
        rows = [self.metal(np.asarray(seen.cos_facet), index) * lobe(seen, tilt_deg=self.tilt_deg) for seen in views]
        return np.stack(rows)


@dataclass(frozen=True, eq=False)
class HoloFoil(Mirror):
    """A mirror stamped with a fine grating: part of its light goes into the first order, lambda = d (sin ti - sin tv).

    The pattern's directions fan each colour out of the plane of light and eye, and blur it within.
    """

    pitch_nm: float = 950.0
    diffracted: float = 0.35  # share of the mirrored light
    blur: float = 0.10  # standard deviation of the sine in the plane
    fan: float = 0.45  # and across it

    def matrices(self, cos_in: Floats, count: int, index: float = INDEX) -> Floats:
        """What is diffracted goes everywhere."""
        found = (1 - self.diffracted) * super().matrices(cos_in, count, index)
        q = streams(count).q[-len(cos_in) :] * INDEX / index
        found[0] += self.diffracted * self.metal(np.ones(()), index)[:, None, None] * np.outer(q, q)
        return found

    def towards(self, count: int, out_deg: float, index: float = INDEX) -> Floats:
        """The same of what its grating leaves."""
        return (1 - self.diffracted) * super().towards(count, out_deg, index)

    def glance(self, angles_deg: Sequence[float], index: float = INDEX) -> Floats:
        """The mirror's own and the rainbow's. Both keep the energy that falls in."""
        rows = []
        plain = (1 - self.diffracted) * super().glance(angles_deg, index)
        metal = self.metal(np.ones(()), index)  # (band,)
        for angle, own in zip(angles_deg, plain, strict=True):
            out_deg = np.clip(LIGHT_DEG - angle, -GRAZING_DEG, GRAZING_DEG)
            off = (
                np.sin(np.radians(LIGHT_DEG)) - WAVELENGTHS_NM / self.pitch_nm - np.sin(np.radians(out_deg))
            )  # (band,)
            density = np.exp(-((off / self.blur) ** 2) / 2) / (2 * np.pi * self.blur * self.fan)
            rows.append(own + np.pi * self.diffracted * metal * density)
        return np.stack(rows)
