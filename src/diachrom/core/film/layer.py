"""One layer of a stack: its film, the flakes in it, and what it does to light that keeps its direction.

Flakes lie in a few sheets through the depth, so that pigment or dye lies above and below them as it does in the coat:
half a slice of film, a sheet of flakes, half a slice, again and again. Two elements join by the star product
[redheffer1962]; in flux amplitudes transmission upwards is the transpose of transmission downwards.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.flakes import EDGE, Flake
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import streams
from diachrom.core.film.transport import Film, Modes
from diachrom.core.light.bands import Floats

DOUBLINGS = 2
SHEETS = 2**DOUBLINGS
LEAST_ABSORPTION = 1e-4  # 1/um, so that the light inside a layer that shines can be told from what it absorbs


@dataclass(frozen=True, eq=False)
class Coat:
    """A layer as it is sprayed: what, how thick in all, in how many coats, sealed or not."""

    mix: Mix
    film_um: float | Floats  # all coats together, wet
    coats: float | Floats = 1
    sealed: bool = False


@dataclass(frozen=True, eq=False)
class Laid:
    """A coat as light meets it that keeps its direction: no transport is solved for it."""

    depth: Floats  # (..., band) optical depth of the film without flakes, straight down
    shares: tuple[tuple[Flake, Floats], ...]  # in each sheet, with the area that they cover (...)

    def passing(self, cos_in: float) -> Floats:
        """Share (..., band) of light at this cosine that a single sheet lets through unmet."""
        cover = sum((share for _, share in self.shares), np.zeros(()))
        passed = 1 - cover[..., None]
        for flake, share in self.shares:
            passed = passed + (1 - EDGE) * share[..., None] * flake.faces(cos_in)[1]
        return passed


@dataclass(frozen=True, eq=False)
class Layer(Laid):
    """A coat made ready for any stack."""

    coat: Coat
    modes: Modes
    film: Film
    straight: tuple[Floats, Floats]  # (..., band) reflectance and transmittance for light that keeps straight down


def laid(coat: Coat) -> Laid:
    """A coat for `stack.mirrored` alone."""
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    shares = shares_of(coat.mix.flakes, film_um) if coat.mix.flakes else ()
    return Laid(film_um[..., None] * (coat.mix.absorption + coat.mix.scattering), shares)


def layer(coat: Coat, count: int) -> Layer:
    """Solve a coat. Batch axes of mix and thickness broadcast."""
    mix = coat.mix
    if mix.shines:
        mix = Mix(np.maximum(mix.absorption, LEAST_ABSORPTION), mix.scattering, mix.flakes, mix.dyes, mix.glows)
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    modes = transport.modes(mix, count)
    depth = film_um[..., None] * modes.extinction
    if not mix.flakes:
        through = np.exp(-depth)
        return Layer(depth, (), coat, modes, transport.film(modes, film_um), (np.zeros_like(through), through))
    shares = shares_of(mix.flakes, film_um)
    half = transport.film(modes, film_um / (2 * SHEETS))
    slice_ = _around(half, _sheet(shares, count))
    straight = _straight_slice(shares, np.exp(-depth / (2 * SHEETS)))
    for _ in range(DOUBLINGS):
        slice_, straight = transport.twice(slice_), _twice_straight(*straight)
    return Layer(depth, shares, coat, modes, slice_, straight)


def shares_of(flakes: Sequence[tuple[Flake, Floats]], film_um: Floats) -> tuple[tuple[Flake, Floats], ...]:
    """The area that each kind of flake covers in one sheet: random cover 1 - exp(-area), shared out by area."""
    areas = [cover * film_um / SHEETS for _, cover in flakes]
    total = np.sum(np.broadcast_arrays(*areas), axis=0)
    covered = np.divide(-np.expm1(-total), total, out=np.ones_like(total), where=total > 1e-12)
    return tuple((flake, area * covered) for (flake, _), area in zip(flakes, areas, strict=True))


def _sheet(shares: tuple[tuple[Flake, Floats], ...], count: int) -> Film:
    """A sheet of flakes in flux amplitudes: mirrors and passes in each direction; edges scatter into all."""
    q = streams(count).q
    mirrored: Floats | float = 0.0
    passed: Floats | float = 1.0
    edges: Floats | float = 0.0
    for flake, share in shares:
        faces = flake.by_stream(count)  # (band, stream) each
        area = share[..., None, None]
        mirrored = mirrored + (1 - EDGE) * area * faces[0]
        passed = passed - area + (1 - EDGE) * area * faces[1]
        edges = edges + EDGE * area[..., None] / 2
    scattered = edges * np.outer(q, q)
    one = np.eye(count)
    return Film(
        np.asarray(mirrored)[..., None] * one + scattered,
        np.asarray(passed)[..., None] * one + scattered,
    )


def _around(half: Film, sheet: Film) -> Film:
    """The same film above and below a sheet."""
    top = transport.star(half, sheet)  # (from above, downwards, from below)
    return transport.over_symmetric(top, half)


def _straight_slice(shares: tuple[tuple[Flake, Floats], ...], through: Floats) -> tuple[Floats, Floats]:
    mirrored, passed = np.zeros_like(through), np.ones_like(through)
    for flake, share in shares:
        faces = flake.faces(1.0)
        mirrored = mirrored + (1 - EDGE) * share[..., None] * faces[0]
        passed = passed - share[..., None] + (1 - EDGE) * share[..., None] * faces[1]
    return through**2 * mirrored, through**2 * passed


def _twice_straight(mirrored: Floats, passed: Floats) -> tuple[Floats, Floats]:
    between = 1 / (1 - mirrored**2)
    return mirrored + passed**2 * mirrored * between, passed**2 * between
