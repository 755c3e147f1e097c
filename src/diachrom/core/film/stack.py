"""Layers on a ground, under a matte, satin or glossy surface: what comes back, without and with a direction."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import mirroring, transport
from diachrom.core.film.bleed import bled
from diachrom.core.film.dots import DIFFUSED, EVEN, STRAIGHT, Blend, dotted
from diachrom.core.film.facets import ORDERS, passing
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.layer import Coat, FilmLayer, layer
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import BANDS, Floats

STRAIGHT_IN = passing(0.0)


@dataclass(frozen=True, eq=False)
class Sprayed:
    """Layers from the bottom up, ready to be laid over any ground. Those that are dots have axes in front of the
    batch's own, over which what is seen blends."""

    layers: Sequence[FilmLayer]
    streams: int
    blend: Blend = EVEN

    @property
    def bare(self) -> bool:
        """Whether nothing was laid."""
        return all(float(np.max(one.coat.film_um)) == 0.0 for one in self.layers)

    @property
    def has_flakes(self) -> bool:
        """Whether any layer has flakes."""
        return any(one.covers for one in self.layers)


def sprayed(coats: Sequence[Coat], count: int = STREAMS) -> Sprayed:
    """Coats from the bottom up; what bleeds has bled. Mixes and thicknesses may carry batch axes (...)."""
    each, blend = dotted(coats, count)
    return Sprayed([layer(coat, count) for coat in bled(each)], count, blend)


def under(top: FilmLayer, coats: Sequence[Coat], count: int) -> Sprayed:
    """Coats from the bottom up with a layer on them that is solved already, and neither bleeds nor is dots."""
    each, blend = dotted(coats, count, np.broadcast_shapes(top.film_um.shape, top.coat.mix.absorption.shape[:-1]))
    return Sprayed([*(layer(coat, count) for coat in bled(each)), top], count, blend)


def below_each(stack: Sprayed, ground: Ground) -> list[Floats]:
    """Reflection matrices (..., band, stream, stream) of all that lies below each layer, and last of the whole."""
    count = stack.streams
    matrices = [ground.matrix(count)]
    for index, one in enumerate(stack.layers):
        if index == 0 and not ground.glossy:
            matrices.append(transport.over_diffuser(one.film, ground.reflectance, count))
        else:
            matrices.append(transport.over(one.film, matrices[-1]))
    return matrices


def diffuse(stack: Sprayed, ground: Ground, *, sheen: float) -> Floats:
    """Radiance factor (..., band) without a direction: directional-hemispherical, mirror part left out.

    What facets and smooth walls mirror is left out too, however often: it has a direction. The sheen of the surface is
    added (see `surface`), except on bare foil and plastic.
    """
    return from_afar(stack, ground, diffuse_each(stack, ground), sheen=sheen)


def from_afar(stack: Sprayed, ground: Ground, seen: Floats, *, sheen: float | Floats) -> Floats:
    """What is seen of dots (axes, ..., band) without a direction, blended, under the sheen of the surface."""
    blended = stack.blend.seen(seen, STRAIGHT if ground.glossy else DIFFUSED)
    return blended if ground.glossy and stack.bare else blended + sheen


def diffuse_each(stack: Sprayed, ground: Ground) -> Floats:
    """The same (axes, ..., band) of every number of discs by itself, without a sheen."""
    if len(stack.layers) == 1 and not ground.glossy:
        seen = transport.out_over_diffuser(stack.layers[0].film, ground.reflectance)
    else:
        seen = transport.out_of_surface(below_each(stack, ground)[-1])
    if ground.glossy or stack.has_flakes:
        straight, slanted = mirroring.directed(tuple(stack.layers), _for_mirrors(ground), stack.streams)
        # Light at 45 degrees keeps its direction less often than light straight down, and the rest of it is seen here.
        seen = np.maximum(seen - STRAIGHT_IN * straight, 0) * (1 - slanted) / (1 - straight)
    return seen


def _for_mirrors(ground: Ground) -> Ground:
    """All diffusers are one to light that keeps its direction."""
    return ground if ground.glossy else GROUNDS["black"]


def glance(stack: Sprayed, ground: Ground, angles_deg: Sequence[float], *, orders: int = ORDERS) -> Floats:
    """Light that ground and flakes mirror, dimmed by what lies above. Only light that met no particle keeps a
    direction; what was scattered is part of `diffuse`.

    Parameters
    ----------
    stack : films, bottom first.
    ground : what they lie on.
    angles_deg : aspecular angles, °.
    orders : Fourier orders of the azimuth.

    Returns
    -------
    (..., angle, band) radiance factor.
    """
    if not (ground.has_direction or stack.has_flakes):
        return np.zeros((len(angles_deg), BANDS))
    each = mirroring.glance(tuple(stack.layers), _for_mirrors(ground), tuple(angles_deg), orders=orders)
    return stack.blend.straight(each)
