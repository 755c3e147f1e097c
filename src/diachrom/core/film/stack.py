"""Films on a ground, under a matte or a glossy surface: what comes back, without and with a direction."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.foil import Mirror, view
from diachrom.core.film.grounds import Ground
from diachrom.core.film.streams import INDEX, STREAMS, streams
from diachrom.core.film.transport import Film, Modes
from diachrom.core.light.bands import BANDS, Floats

SHEEN = ((INDEX - 1) / (INDEX + 1)) ** 2  # what a matte surface sends into every direction


@dataclass(frozen=True, eq=False)
class Sprayed:
    """Films from the bottom up, ready to be laid over any ground."""

    films: Sequence[Film]
    depth: Floats  # (..., band) optical depth of all films together, straight down
    streams: int

    @property
    def bare(self) -> bool:
        return not self.films or float(np.max(self.depth)) == 0.0


def sprayed(layers: Sequence[tuple[Modes, float | Floats]]) -> Sprayed:
    """Layers from the bottom up as (modes, wet thickness in um); thicknesses may carry batch axes (...)."""
    films = [transport.film(modes, film_um) for modes, film_um in layers]
    depth = np.zeros(BANDS)
    for modes, film_um in layers:
        depth = depth + np.asarray(film_um)[..., None] * modes.extinction
    return Sprayed(films, depth, layers[0][0].count if layers else STREAMS)


def diffuse(stack: Sprayed, ground: Ground, *, clear_coat: bool) -> Floats:
    """Radiance factor (..., band) without a direction: directional-hemispherical, mirror part left out.

    Without a clear coat the surface is matte and its sheen is added, except on bare foil.
    """
    count = stack.streams
    if ground.mirror is None and stack.films:
        below = transport.over_diffuser(stack.films[0], ground.reflectance, count)
        upper = stack.films[1:]
    else:
        below, upper = _ground_matrix(ground, count), stack.films
    for top in upper:
        below = transport.over(top, below)
    seen = transport.out_of_surface(below, count)
    if ground.mirror is not None:
        seen = np.maximum(seen - _mirrored_straight(ground.mirror, stack), 0)
    matte = not clear_coat and not (ground.glossy and stack.bare)
    return seen + SHEEN if matte else seen


def glance(stack: Sprayed, ground: Ground, angles_deg: Sequence[float]) -> Floats:
    """Radiance factor (..., angle, band) mirrored by the ground and dimmed on its way in and out by every film.

    Only light that met no particle stays in the mirror's direction; what was scattered is part of `diffuse`.
    """
    if ground.mirror is None:
        return np.zeros((*stack.depth.shape[:-1], len(angles_deg), BANDS))
    path = np.array([1 / seen.cos_in + 1 / seen.cos_out for seen in map(view, angles_deg)])  # (angle,)
    return ground.mirror.glance(angles_deg) * np.exp(-path[:, None] * stack.depth[..., None, :])


def _ground_matrix(ground: Ground, count: int) -> Floats:
    """Reflection matrix (band, stream, stream) of the ground alone."""
    q = streams(count).q
    matrix = ground.reflectance[:, None, None] * np.outer(q, q)
    if ground.mirror is not None:
        matrix = matrix + ground.mirror.by_stream(count)[:, None, :] * np.eye(count)
    return matrix


def _mirrored_straight(mirror: Mirror, stack: Sprayed) -> Floats:
    """The part of a foil's return that never left the straight line: it is a mirror image, no diffuse colour."""
    inner = streams(stack.streams).inner[-1]
    once = mirror.by_stream(stack.streams)[:, -1] * np.exp(-2 * stack.depth)
    straight: Floats = (1 - inner) ** 2 * once / (1 - inner * once)
    return straight


def cup(modes: Modes) -> Floats:
    """The wet cup: an endlessly thick glossy film -> radiance factor (..., band)."""
    return transport.out_of_surface(transport.endless(modes), modes.count)
