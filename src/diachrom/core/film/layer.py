"""One layer of a stack: its film, and what it does to light that keeps its direction."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film import transport
from diachrom.core.film.flakes import Flake
from diachrom.core.film.paint import Mix
from diachrom.core.film.streams import streams
from diachrom.core.film.transport import Film, Modes
from diachrom.core.light.bands import Floats


@dataclass(frozen=True, eq=False)
class Coat:
    """A layer as it is sprayed: what, how thick in all, in how many coats, sealed or not."""

    mix: Mix
    film_um: float | Floats  # all coats together, wet
    coats: float | Floats = 1
    sealed: bool = False


Areas = tuple[tuple[Flake, Floats], ...]  # each kind of flake with the area (...) of all that lie in the film


@dataclass(frozen=True, eq=False)
class Laid:
    """A coat as light meets it that keeps its direction: no transport is solved for it."""

    depth: Floats  # (..., band) optical depth of the film without flakes, straight down
    areas: Areas

    def path(self, cos_in: float) -> Floats:
        """Optical depth (..., band) of film and flakes for light at this cosine."""
        found = self.depth / cos_in
        for flake, area in self.areas:
            found = found + area[..., None] * flake.lost(cos_in)
        return found

    def paths(self, count: int) -> Floats:
        """The same for each stream (..., band, stream)."""
        return np.stack([self.path(float(mu)) for mu in streams(count).mu], axis=-1)

    def directed(self, count: int, orders: int) -> Film:
        """The film (..., order, band, stream, stream) for light that meets flakes and no particle."""
        mixed = Mix(self.depth, np.zeros_like(self.depth), tuple((flake, area) for flake, area in self.areas))
        return transport.film(transport.directed(mixed, count, orders), 1.0)


@dataclass(frozen=True, eq=False)
class Layer(Laid):
    """A coat made ready for any stack."""

    coat: Coat
    modes: Modes
    film: Film


def laid(coat: Coat, count: int) -> Laid:
    """A coat for light that keeps its direction alone."""
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    areas = tuple((flake, cover * film_um) for flake, cover in coat.mix.flakes)
    return Laid(film_um[..., None] * transport.dimming(coat.mix, count), areas)


def layer(coat: Coat, count: int) -> Layer:
    """Solve a coat. Batch axes of mix and thickness broadcast."""
    straight, modes = laid(coat, count), transport.modes(coat.mix, count)
    return Layer(straight.depth, straight.areas, coat, modes, transport.film(modes, coat.film_um))
