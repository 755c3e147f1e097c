"""Light that a paint makes: fluorescence under a light, and glow when the light is out.

Both need the light inside a layer. What a layer absorbs is the difference of the flux through its faces, and the mean
fluence is that over its absorption. By reciprocity light made evenly and in all directions inside a layer leaves
towards the eye in proportion to the fluence that light from the eye's direction has there: a radiance factor of 1/4 of
the light made, times the mean fluence for one unit of incident light.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import LEAST_ABSORPTION, Layer
from diachrom.core.film.stack import Sprayed, below_each
from diachrom.core.film.streams import streams
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats

THINNEST = 1e-9  # of absorption: less is nothing, and cannot be told from rounding
CHARGING = WAVELENGTHS_NM <= 450  # the bands that fill a glow powder


@dataclass(frozen=True, eq=False)
class Inside:
    """Light inside one layer, for one unit of light falling on the stack."""

    absorption: Floats  # (..., band) 1/um, pigment, dye and flakes
    absorbed: Floats  # (..., band) share of the incident light
    fluence: Floats  # (..., band) mean over the layer; 1 in free air


def inside_each(stack: Sprayed, ground: Ground) -> list[Inside]:
    """The light inside every layer, the bottom one first."""
    grid = streams(stack.streams)
    below = below_each(stack, ground)
    entering = np.zeros(stack.streams)
    entering[-1] = (1 - grid.inner[-1]) / grid.q[-1]
    whole = below[-1]
    up = _solve(np.eye(stack.streams) - whole * grid.inner, whole @ entering)
    down = entering + grid.inner * up  # (..., band, stream), below the surface
    found = []
    for at in reversed(range(len(stack.layers))):
        one = stack.layers[at]
        reflection, transmission = one.film.reflection, one.film.transmission
        leaving = _times(below[at + 1], down)
        system = np.eye(stack.streams) - reflection @ below[at]
        down_out = _solve(system, _times(transmission, down))
        absorbed = (down - leaving - down_out + _times(below[at], down_out)) @ grid.q
        found.append(_inside(one, np.maximum(absorbed, 0)))
        down = down_out
    return found[::-1]


def _times(matrix: Floats, vector: Floats) -> Floats:
    return (matrix @ vector[..., None])[..., 0]


def _solve(matrix: Floats, vector: Floats) -> Floats:
    return np.asarray(np.linalg.solve(matrix, vector[..., None])[..., 0])


def _inside(one: Layer, absorbed: Floats) -> Inside:
    film_um = np.asarray(one.coat.film_um, dtype=np.float64)[..., None]
    absorption = np.maximum(one.coat.mix.absorption, LEAST_ABSORPTION)
    for flake, cover in one.coat.mix.flakes:
        mirrored, passed = flake.faces(1.0)
        absorption = absorption + cover[..., None] * (1 - mirrored - passed)
    depth = absorption * film_um
    fluence = np.divide(absorbed, depth, out=np.zeros(np.broadcast(absorbed, depth).shape), where=depth > THINNEST)
    return Inside(absorption, absorbed, fluence)


def _nothing(inside: Sequence[Inside]) -> Floats:
    """Zeros (..., band) with the batch axes of all layers."""
    return np.zeros(np.broadcast_shapes((BANDS,), *(one.fluence.shape for one in inside)))


def fluorescence(stack: Sprayed, ground: Ground, power: Floats) -> Floats:
    """Radiance factor (..., band) that the dyes add under a light of this power (band,); above 1 where they shine.

    Where the light has no power there is no factor, and nothing is added.
    """
    inside = inside_each(stack, ground)
    added = _nothing(inside)
    for one, light in zip(stack.layers, inside, strict=True):
        for dye, absorption in one.coat.mix.dyes:
            photons = power * WAVELENGTHS_NM * light.absorbed * absorption / light.absorption  # (..., band)
            emitted = dye.quantum_yield * photons.sum(axis=-1)[..., None] * dye.emission / WAVELENGTHS_NM
            shone = emitted * light.fluence
            added = added + np.divide(shone, 4 * power, out=np.zeros_like(shone), where=power > 0)
    return added


def glow(stack: Sprayed, ground: Ground, *, minutes: float) -> Floats:
    """Radiance factor (..., band) of a charged stack after some minutes in the dark, against a lit white of 1."""
    inside = inside_each(stack, ground)
    shone = _nothing(inside)
    for one, light in zip(stack.layers, inside, strict=True):
        film_um = np.asarray(one.coat.film_um, dtype=np.float64)[..., None]
        field = light.fluence[..., CHARGING].mean(axis=-1)[..., None]
        charge = field / (1 + field)  # fills up: twice the light is not twice the charge
        for powder, strength in one.coat.mix.glows:
            made = strength[..., None] * film_um * charge * powder.emission * powder.left_after(minutes)
            shone = shone + made * light.fluence / 4
    return shone
