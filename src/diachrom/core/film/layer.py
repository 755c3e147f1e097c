"""One layer of a stack: its film, and what it does to light that keeps its direction."""

from dataclasses import dataclass
from functools import cached_property

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
    droplet_um: float | Floats = 0.0  # thickness of a disc of mist; 0 is an even film


Covers = tuple[tuple[Flake, Floats], ...]  # each kind of flake with the area (...) that those in 1 um of wet film cover


@dataclass(frozen=True, eq=False)
class Laid:
    """A coat as light meets it that keeps its direction: no transport is solved for it. Batch axes broadcast."""

    film_um: Floats  # (...)
    dimming: Floats  # (..., band) 1/um, flakes left aside
    covers: Covers

    @cached_property
    def depth(self) -> Floats:
        """(..., band) optical depth of the film without flakes, straight down."""
        return self.film_um[..., None] * self.dimming

    @cached_property
    def areas(self) -> Covers:
        """Each kind of flake with the area (...) of all that lie in the film."""
        return tuple((flake, cover * self.film_um) for flake, cover in self.covers)

    def path(self, *cosines: float) -> Floats:
        """Optical depth (..., band) of film and flakes for light on ways through the film at these cosines."""
        found = self.depth * sum(1 / cosine for cosine in cosines)
        for flake, area in self.areas:
            lost = np.sum([flake.lost(one) for one in cosines], axis=0, dtype=area.dtype)
            found = found + area[..., None] * lost
        return found

    def paths(self, count: int) -> Floats:
        """The same for each stream (..., band, stream)."""
        found = self.depth[..., None] / streams(count).mu
        for flake, area in self.areas:
            found = found + area[..., None, None] * flake.lost_by_stream(count)
        return found

    @cached_property
    def _directed(self) -> dict[int, Film]:
        """What was solved already, by streams: a layer lies on many grounds."""
        return {}

    def directed(self, count: int, orders: int) -> Film:
        """The film (..., order, band, stream, stream) for light that meets flakes and no particle."""
        known = self._directed.get(count)
        if known is None or known.reflection.shape[-4] < orders:
            mixed = Mix(self.dimming, np.zeros_like(self.dimming), self.covers)
            modes = transport.directed(mixed, count, orders)
            known = self._directed[count] = transport.film(modes, self.film_um[..., None])
        return Film(known.reflection[..., :orders, :, :, :], known.transmission[..., :orders, :, :, :])


@dataclass(frozen=True, eq=False)
class FilmLayer(Laid):
    """A coat made ready for any stack."""

    coat: Coat
    modes: Modes
    film: Film


def laid(coat: Coat, count: int) -> Laid:
    """A coat for light that keeps its direction alone."""
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    return Laid(film_um, transport.dimming(coat.mix, count), coat.mix.flakes)


def layer(coat: Coat, count: int) -> FilmLayer:
    """Solve a coat. Batch axes of mix and thickness broadcast."""
    one, modes = laid(coat, count), transport.modes(coat.mix, count)
    return FilmLayer(
        film_um=one.film_um,
        dimming=one.dimming,
        covers=one.covers,
        coat=coat,
        modes=modes,
        film=transport.film(modes, coat.film_um),
    )
