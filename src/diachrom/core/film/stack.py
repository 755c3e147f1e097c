"""Layers on a ground, under a matte, satin or glossy surface: what comes back, without and with a direction."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import mirroring, transport
from diachrom.core.film.bleed import bled
from diachrom.core.film.facets import ORDERS, passing
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.layer import Coat, FilmLayer, layer
from diachrom.core.film.streams import STREAMS
from diachrom.core.light.bands import BANDS, Floats

STRAIGHT_IN = passing(0.0)


@dataclass(frozen=True, eq=False)
class Sprayed:
    """Layers from the bottom up, ready to be laid over any ground."""

    layers: Sequence[FilmLayer]
    streams: int

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
    return Sprayed([layer(coat, count) for coat in bled(coats)], count)


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
    if len(stack.layers) == 1 and not ground.glossy:
        seen = transport.out_over_diffuser(stack.layers[0].film, ground.reflectance)
    else:
        seen = transport.out_of_surface(below_each(stack, ground)[-1])
    if ground.glossy or stack.has_flakes:
        straight, slanted = mirroring.directed(tuple(stack.layers), _for_mirrors(ground), stack.streams)
        # Light at 45 degrees keeps its direction less often than light straight down, and the rest of it is seen here.
        seen = np.maximum(seen - STRAIGHT_IN * straight, 0) * (1 - slanted) / (1 - straight)
    return seen if ground.glossy and stack.bare else seen + sheen


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
    return mirroring.glance(tuple(stack.layers), _for_mirrors(ground), tuple(angles_deg), orders=orders)
