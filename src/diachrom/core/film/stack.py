"""Layers on a ground, under a matte or a glossy surface: what comes back, without and with a direction."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.bleed import bled
from diachrom.core.film.foil import view
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import SHEETS, Coat, Laid, Layer, layer
from diachrom.core.film.streams import INDEX, STREAMS, streams
from diachrom.core.light.bands import BANDS, Floats

SHEEN = ((INDEX - 1) / (INDEX + 1)) ** 2  # what a matte surface sends into every direction


@dataclass(frozen=True, eq=False)
class Sprayed:
    """Layers from the bottom up, ready to be laid over any ground."""

    layers: Sequence[Layer]
    streams: int

    @property
    def bare(self) -> bool:
        return all(float(np.max(one.coat.film_um)) == 0.0 for one in self.layers)

    @property
    def has_flakes(self) -> bool:
        return any(one.shares for one in self.layers)


def sprayed(coats: Sequence[Coat], count: int = STREAMS) -> Sprayed:
    """Coats from the bottom up; what bleeds has bled. Mixes and thicknesses may carry batch axes (...)."""
    return Sprayed([layer(coat, count) for coat in bled(coats)], count)


def below_each(stack: Sprayed, ground: Ground) -> list[Floats]:
    """Reflection matrices (..., band, stream, stream) of all that lies below each layer, and last of the whole."""
    count = stack.streams
    matrices = [ground.matrix(count)]
    for at, one in enumerate(stack.layers):
        if at == 0 and not ground.glossy:
            matrices.append(transport.over_diffuser(one.film, ground.reflectance, count))
        else:
            matrices.append(transport.over(one.film, matrices[-1]))
    return matrices


def diffuse(stack: Sprayed, ground: Ground, *, clear_coat: bool) -> Floats:
    """Radiance factor (..., band) without a direction: directional-hemispherical, mirror part left out.

    Without a clear coat the surface is matte and its sheen is added, except on bare foil and plastic.
    """
    seen = transport.out_of_surface(below_each(stack, ground)[-1], stack.streams)
    if ground.glossy or stack.has_flakes:
        seen = np.maximum(seen - _straight(stack, ground), 0)
    matte = not clear_coat and not (ground.glossy and stack.bare)
    return seen + SHEEN if matte else seen


def _straight(stack: Sprayed, ground: Ground) -> Floats:
    """The part of the return that never left the straight line: it is a mirror image, no diffuse colour."""
    back = ground.mirrored(stack.streams)[:, -1]
    for one in stack.layers:
        mirrored, passed = one.straight
        back = mirrored + passed**2 * back / (1 - mirrored * back)
    inner = streams(stack.streams).inner[-1]
    straight: Floats = (1 - inner) ** 2 * back / (1 - inner * back)
    return straight


def glance(stack: Sprayed, ground: Ground, angles_deg: Sequence[float]) -> Floats:
    """Radiance factor (..., angle, band) mirrored by ground and flakes, dimmed both ways by what lies above.

    Only light that met no particle stays in the mirror's direction; what was scattered is part of `diffuse`.
    """
    if not (ground.has_direction or stack.has_flakes):
        return np.zeros((len(angles_deg), BANDS))
    rows = [mirrored(stack.layers, ground.glance(angle), angle) for angle in angles_deg]
    return np.stack(np.broadcast_arrays(*rows), axis=-2)


def mirrored(layers: Sequence[Laid], below: Floats, angle_deg: float) -> Floats:
    """(..., band) at one angle, over what is `below` and mirrors (..., band) by itself."""
    seen = view(angle_deg)
    path = 1 / seen.cos_in + 1 / seen.cos_out
    through, total = np.ones(BANDS), np.zeros(BANDS)
    for one in reversed(layers):
        if not one.shares:
            through = through * np.exp(-path * one.depth)
            continue
        half = np.exp(-path * one.depth / (2 * SHEETS))
        passing = one.passing(seen.cos_in) * one.passing(seen.cos_out)
        faces = sum(share[..., None] * flake.glance(angle_deg) for flake, share in one.shares)
        for _ in range(SHEETS):
            through = through * half
            total = total + through * faces
            through = through * passing * half
    return total + through * below
