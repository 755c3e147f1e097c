"""Facets that do not lie quite flat: foil, and every flake in a paint. Where their light goes, and what the surface
keeps.

Slopes are Gaussian [beckmann1963], most as flat as the hand lays them, some standing. Angles are aspecular: measured
from the mirror direction towards the light, which falls at 45 degrees.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.film.streams import INDEX, fresnel, streams
from diachrom.core.light.bands import Floats

LIGHT_DEG = 45.0
GRAZING_DEG = 85.0  # views beyond it see the edge of the bait, no longer its surface
STANDING, STANDING_SPREAD = 0.15, 2.2  # the facets that stand give what is turned away the light it has
FINE, AROUND = 6, 128  # places a stream, and around half the circle, at which the lobe is summed
ORDERS = 6  # waves around the circle that are followed
BALANCED = 1e-12


@dataclass(frozen=True)
class View:
    """One viewing direction, refracted into a film."""

    cos_in: float  # of the light's path inside the film
    cos_out: float  # of the path to the eye
    facet_deg: float  # tilt that a facet inside needs to mirror the light to the eye
    cos_facet: float  # of the angle at which the light then meets the facet
    surface: float  # share let through the surface both ways
    index: float  # of what the facets lie in


def _inside(angle_deg: float, index: float) -> float:
    return float(np.degrees(np.arcsin(np.sin(np.radians(angle_deg)) / index)))


@lru_cache(maxsize=1024)
def view(angle_deg: float, index: float = INDEX) -> View:
    """The geometry of an aspecular angle in degrees, for facets inside a film, or (index 1) behind a wall."""
    out_deg = float(np.clip(LIGHT_DEG - angle_deg, -GRAZING_DEG, GRAZING_DEG))
    light_in, eye_in = _inside(LIGHT_DEG, index), _inside(out_deg, index)
    cos_in, cos_out = np.cos(np.radians(light_in)), np.cos(np.radians(eye_in))
    facet_deg, on_facet_deg = abs(light_in - eye_in) / 2, abs(light_in + eye_in) / 2
    on_facet = float(np.cos(np.radians(on_facet_deg)))
    return View(
        cos_in=float(cos_in),
        cos_out=float(cos_out),
        facet_deg=facet_deg,
        cos_facet=on_facet,
        surface=passing(LIGHT_DEG) * passing(out_deg),
        index=index,
    )


def passing(out_deg: float) -> float:
    """Share of light at this angle in air that a smooth surface lets through, either way."""
    return 1 - float(fresnel(cos_in=np.cos(np.radians(out_deg)), index_in=1.0, index_out=INDEX))


def density(cos_facet: Floats, tilt_deg: float) -> Floats:
    """Facets per solid angle of their normal, as area on the plane: integrates to 1 times the normal's cosine."""
    found = np.zeros_like(cos_facet)
    tangent = 1 / cos_facet**2 - 1  # squared
    for share, spread in ((1 - STANDING, 1.0), (STANDING, STANDING_SPREAD)):
        slope = spread * np.tan(np.radians(tilt_deg))
        found += share * np.exp(-tangent / slope**2 / 2) / (2 * np.pi * slope**2 * cos_facet**4)
    return found


def lobe(seen: View, *, tilt_deg: float) -> float:
    """Radiance factor in air of a perfect mirror of facets whose tilts spread by `tilt_deg` (rms slope)."""
    facing = float(density(np.cos(np.radians(np.array([seen.facet_deg]))), tilt_deg)[0])
    return np.pi * facing / (4 * seen.cos_in * seen.cos_out) * seen.surface / seen.index**2


def _thrown(mu_in: Floats, mu_out: Floats, tilt_deg: float) -> Floats:
    """Radiance for unit irradiance (order, in, out): its mean around the circle, times cos(order x azimuth)."""
    around = np.pi * (np.arange(AROUND) + 0.5) / AROUND
    mu_in, mu_out = mu_in[:, None, None], mu_out[None, :, None]
    across = np.sqrt((1 - mu_in**2) * (1 - mu_out**2)) * np.cos(around)
    # The normal that mirrors one direction into the other lies halfway between them.
    cos_normal = (mu_in + mu_out) / np.sqrt(2 * np.maximum(1 + mu_in * mu_out + across, 1e-12))
    facing = density(np.clip(cos_normal, 1e-3, 1), tilt_deg) / (4 * mu_in * mu_out)
    waves = np.cos(np.arange(ORDERS)[:, None] * (np.pi - around)) / AROUND  # forwards is where the mirror sends it
    return np.moveaxis(facing @ waves.T, -1, 0)


def _places(count: int, index: float) -> Floats:
    """Fine cosines (stream, place) where the facets lie. Each stream stands for the stretch that is its own; behind a
    wall only those streams lead anywhere that leave the film."""
    grid = streams(count)
    share = (np.arange(FINE) + 0.5) / FINE
    mu = (np.cumsum(grid.weight) - grid.weight)[:, None] + share * grid.weight[:, None]
    if index != INDEX:
        mu = mu[count // 2 :]
    return np.sqrt(np.maximum(1 - (INDEX / index) ** 2 * (1 - mu**2), 1e-9))


@lru_cache(maxsize=256)
def _rough(tilt_deg: float, count: int, index: float) -> tuple[Floats, Floats]:
    mu = _places(count, index)
    q = streams(count).q[-len(mu) :] * INDEX / index
    thrown = _thrown(mu.ravel(), mu.ravel(), tilt_deg).reshape(ORDERS, len(q), FINE, len(q), FINE)
    matrix = np.pi * thrown.mean(axis=(2, 4)) * np.outer(q, q)
    # Scaled from both sides until q goes into q: facets shade each other at grazing angles, and lose nothing.
    scale = np.ones(len(q))
    for _ in range(10_000):
        off = q / (scale * (matrix[0] @ (scale * q)))
        scale = scale * np.sqrt(off)
        if np.abs(off - 1).max() < BALANCED:
            break
    return scale[:, None] * matrix * scale, scale


def rough(tilt_deg: float, count: int, index: float = INDEX) -> Floats:
    """Reflection matrices (order, stream, stream) in flux amplitudes of perfect facets, one for each wave around the
    circle; the first, of light that is even around it, loses nothing. Behind a wall (index 1): of those streams that
    get out."""
    return _rough(tilt_deg, count, index)[0]


@lru_cache(maxsize=2048)
def towards(tilt_deg: float, count: int, out_deg: float, index: float = INDEX) -> Floats:
    """What perfect facets make of light from one direction; the same, the other way round, is what they send there
    of each stream.

    Parameters
    ----------
    tilt_deg : spread of the facets' tilts, °.
    count : streams.
    out_deg : angle in air that the light falls at, °.
    index : refractive index of the binder.

    Returns
    -------
    (order, stream) amplitudes, of a unit of light.
    """
    mu, (_, scale) = _places(count, index), _rough(tilt_deg, count, index)
    own = np.array([np.cos(np.radians(_inside(out_deg, index)))])
    q = streams(count).q[-len(mu) :]
    thrown = _thrown(own, mu.ravel(), tilt_deg).reshape(ORDERS, *mu.shape).mean(axis=-1)
    found = np.zeros((ORDERS, count))
    found[:, -len(mu) :] = scale * q * thrown / ((scale * q * thrown[0]) @ q)
    return found
