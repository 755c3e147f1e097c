"""Light that a paint makes: fluorescence under a light, and glow when the light is out. Both are radiances.

Both need the light inside a layer, and at every depth: what is made deep down was both little lit and is little seen.
By reciprocity light made in all directions at a depth leaves towards the eye in proportion to the fluence that light
from the eye's direction has there: a radiance of 1/(4 n^2) of the light made, times the fluence for one unit of
incident light. The index counts because a cone of light in air is 1/n^2 of it in the film.
"""

from collections.abc import Sequence
from functools import cache

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.grounds import Ground
from diachrom.core.film.stack import Sprayed, below_each
from diachrom.core.film.streams import INDEX, streams
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats

CHARGING = WAVELENGTHS_NM <= 450  # the bands that fill a glow powder
PLACES = 24
LEAVES = 1 / (4 * INDEX**2)  # of the light made in a place, towards the eye, for a unit of fluence


@cache
def depths() -> tuple[Floats, Floats]:
    """Depths from 0 to 1 and their weights (place,), close together at both ends, where strong paint takes its
    light."""
    node, weight = np.polynomial.legendre.leggauss(PLACES)
    u = (node + 1) / 2
    both = u**3 + (1 - u) ** 3
    return u**3 / both, weight / 2 * 3 * (u * (1 - u)) ** 2 / both**2


def _lit(stack: Sprayed, ground: Ground) -> list[tuple[Floats, Floats]]:
    """What enters each layer from above and from below, amplitudes (..., band, stream), the bottom layer first, for one
    unit of light falling straight on the stack."""
    grid, below = streams(stack.streams), below_each(stack, ground)
    straight = np.zeros(stack.streams)
    straight[-1] = transport.entering(stack.streams)
    down = straight + grid.inner * transport.rising(below[-1], below[-1] @ straight)
    found = []
    for index in reversed(range(len(stack.layers))):
        film = stack.layers[index].film
        out = transport.between(film, below[index], down)
        found.append((down, (below[index] @ out[..., None])[..., 0]))
        down = out
    return found[::-1]


def absorbed_each(stack: Sprayed, ground: Ground) -> list[Floats]:
    """The share (..., band) of the light falling on a stack that each layer takes, the bottom one first."""
    q, taken = streams(stack.streams).q, []
    for layer, (down, up) in zip(stack.layers, _lit(stack, ground), strict=True):
        both = layer.film.reflection + layer.film.transmission
        taken.append(np.maximum((down + up - (both @ (down + up)[..., None])[..., 0]) @ q, 0))
    return taken


def fluence_each(stack: Sprayed, ground: Ground) -> list[Floats]:
    """Fluence (..., band, place) in each layer, the bottom one first; 1 is that of the incident light in free air."""
    places, _ = depths()
    return [
        transport.fluence(layer.modes, np.asarray(layer.coat.film_um, dtype=np.float64), lit, places)
        for layer, lit in zip(stack.layers, _lit(stack, ground), strict=True)
    ]


def _nothing(fluence: Sequence[Floats]) -> Floats:
    """Zeros (..., band) with the batch axes of all layers."""
    return np.zeros(np.broadcast_shapes((BANDS,), *(one.shape[:-1] for one in fluence)))


def fluorescence(stack: Sprayed, ground: Ground, power: Floats) -> Floats:
    """Radiance (..., band) that the dyes make under a light of this power (band,), in the units of the power."""
    fluence, (_, weights) = fluence_each(stack, ground), depths()
    made = _nothing(fluence)
    for layer, light in zip(stack.layers, fluence, strict=True):
        film_um = np.asarray(layer.coat.film_um, dtype=np.float64)[..., None]
        for dye, absorption in layer.coat.mix.dyes:
            photons = ((power * WAVELENGTHS_NM * absorption)[..., None] * light).sum(axis=-2)  # (..., place), per um
            leaving = (light * (photons * weights)[..., None, :]).sum(axis=-1)  # (..., band)
            made = made + film_um * dye.quantum_yield * dye.emission / WAVELENGTHS_NM * LEAVES * leaving
    return made


def glow(stack: Sprayed, ground: Ground, *, minutes: float) -> Floats:
    """Radiance (..., band) of a charged stack after some minutes in the dark, against a lit white of 1."""
    fluence, (_, weights) = fluence_each(stack, ground), depths()
    made = _nothing(fluence)
    for layer, light in zip(stack.layers, fluence, strict=True):
        film_um = np.asarray(layer.coat.film_um, dtype=np.float64)[..., None]
        field = light[..., CHARGING, :].mean(axis=-2)
        charge = field / (1 + field)  # fills up: twice the light is not twice the charge
        leaving = (light * (charge * weights)[..., None, :]).sum(axis=-1)
        for powder, strength in layer.coat.mix.glows:
            shining = strength[..., None] * film_um * powder.emission * powder.left_after(minutes)
            made = made + shining * LEAVES * leaving
    return made
