"""The fast path for flakes: mixes with one kind of flake as one film over anything, by tables.

Without a direction a film with flakes is a function of its albedo, its depth and the area that the flakes cover, and of
the band by what the flakes are made of. A kind of flake is solved once at some nodes, for every other band, and kept;
over a ground they become cells with the plane that touches in the middle. For choosing among thousands: against the
transport solution it is within dE 0.5 for most mixes, and what is chosen is seen exactly afterwards.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from diachrom.core.film.dots import Shares
from diachrom.core.film.fast import Films, Singles, blended, refining, thicker
from diachrom.core.film.flakes import Flake
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat, FilmLayer, layer
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import diffuse, under
from diachrom.core.film.surface import CLEARED
from diachrom.core.film.transport import Film
from diachrom.core.light.bands import BANDS, Floats

FEW_STREAMS = 4  # within dE 0.5 of the converged solution
NODES, COVERS = 13, 5
CELLS, COVER_CELLS = 24, 8
STEP = 2  # of bands that are solved; those between are interpolated
MOST_DEPTH, MOST_AREA = 200.0, 8.0


@dataclass(frozen=True)
class _SomeBands(Flake):
    """A flake at every other band."""

    def faces(self, cos_in: float) -> tuple[Floats, Floats]:
        """What the faces mirror and let through, in some bands."""
        mirrored, passed = super().faces(cos_in)
        return mirrored[::STEP], passed[::STEP]


def _to_all_bands(values: Floats) -> Floats:
    """(x, y, cover, some band, ...) -> (x, y, cover, band, ...)"""
    solved = values.shape[3]
    weights = refining(np.arange(BANDS) / (STEP * (solved - 1)), solved)
    return np.moveaxis(np.tensordot(weights, values, (1, 3)), 0, 3)


@lru_cache(maxsize=48)
def _solved(material: str, thickness_nm: float, tilt_deg: float) -> FilmLayer:
    """Films (x, y, cover, band, stream, stream) with flakes of this make."""
    flake = _SomeBands(material, 1.0, thickness_nm, tilt_deg)
    node, cover = np.linspace(0, 1, NODES), np.linspace(0, 1, COVERS)
    film_um = np.clip(node / np.maximum(1 - node, 1e-9), 1e-9, MOST_DEPTH)[:, None]  # (y, 1), of unit extinction
    area = -np.log(np.maximum(1 - cover, np.exp(-MOST_AREA)))  # (cover,)
    absorbed = np.repeat((node**2)[:, None, None, None], len(range(0, BANDS, STEP)), axis=3)  # (x, 1, 1, some band)
    one = layer(Coat(Mix(absorbed, 1 - absorbed, ((flake, area / film_um),)), film_um), FEW_STREAMS)
    film = Film(_to_all_bands(one.film.reflection), _to_all_bands(one.film.transmission))
    dimming = np.repeat(one.dimming[..., :1], BANDS, axis=-1)  # the same in every band
    whole = Flake(material, 1.0, thickness_nm, tilt_deg)
    return FilmLayer(
        film_um=one.film_um,
        dimming=dimming,
        covers=((whole, area / film_um),),
        coat=one.coat,
        modes=one.modes,
        film=film,
    )


@dataclass(frozen=True, eq=False)
class FlakedFilms:
    """In each cell of x, 1 - y and 1 - cover (see `fast`) the plane that touches the radiance factor in its middle."""

    value: Singles  # (band, cell), each
    slopes: tuple[Singles, Singles, Singles]

    @property
    def nbytes(self) -> int:
        """What its tables take, bytes."""
        return self.value.nbytes + sum(slope.nbytes for slope in self.slopes)

    @classmethod
    def over(cls, flake: Flake, ground: Ground, *, below: Sequence[Coat], dots: Shares, n: float) -> "FlakedFilms":
        """Tables for a kind of flake on what lies below it, in `FEW_STREAMS` streams, without a sheen; of dots by Yule
        and Nielsen's n."""
        top = _solved(flake.material, flake.thickness_nm, flake.tilt_deg)
        nodes = diffuse(under(top, below, FEW_STREAMS), ground, sheen=CLEARED)  # (x, y, cover, band)
        in_x = refining(np.linspace(0, 1, CELLS + 1), NODES)
        along, covered = np.linspace(1, 0, CELLS + 1), np.linspace(1, 0, COVER_CELLS + 1)

        def at(times: float) -> Floats:
            in_y, in_c = refining(thicker(along, times), NODES), refining(1 - (1 - covered) ** times, COVERS)
            return np.einsum("xi,yj,ck,ijkb->bxyc", in_x, in_y, in_c, nodes, optimize=True)

        corner = blended(map(at, dots.times), dots, n)
        low, high = slice(None, -1), slice(1, None)
        eight = [corner[:, i, j, k] for i in (low, high) for j in (low, high) for k in (low, high)]
        middle = np.mean(eight, axis=0)
        steps = [np.diff(corner, axis=axis) for axis in (1, 2, 3)]
        x, y, c = (
            steps[0][:, :, :-1, :-1] + steps[0][:, :, 1:, 1:],
            steps[1][:, :-1, :, :-1] + steps[1][:, 1:, :, 1:],
            steps[2][:, :-1, :-1, :] + steps[2][:, 1:, 1:, :],
        )
        return cls(_flat(middle), (_flat(x / 2), _flat(y / 2), _flat(c / 2)))

    def reflectance(self, cells: "Cells") -> Singles:
        """Radiance factor (band, film) without a direction."""
        found = self.value.take(cells.cell, mode="clip")
        for slope, step in zip(self.slopes, cells.steps, strict=True):
            found += slope.take(cells.cell, mode="clip") * step
        return found


@dataclass(frozen=True, eq=False)
class Cells:
    """Where films lie in the tables, whatever their flakes are made of."""

    cell: NDArray[np.intp]  # (band, film), counted through all bands
    steps: tuple[Singles, Singles, Singles]  # (band, film) each, from the middle of the cell

    @classmethod
    def of(cls, films: Films, cover: Floats) -> "Cells":
        """`cover` (film,) is the area of flakes, once or more."""
        shown = COVER_CELLS * (1 - 1e-6) * np.exp(-np.minimum(cover, MOST_AREA))
        x = np.float32(CELLS) * films.albedo_place()
        y = np.float32(CELLS * (1 - 1e-6)) / (1 + films.depth)
        c = np.broadcast_to(shown.astype(np.float32), x.shape)
        i, j, k = (np.floor(each) for each in (x, y, c))
        cell = ((i * CELLS + j) * COVER_CELLS + k).astype(np.intp) + np.arange(BANDS)[:, None] * CELLS**2 * COVER_CELLS
        half = np.float32(0.5)
        return cls(cell, (x - i - half, y - j - half, c - k - half))


def _flat(values: Floats) -> Singles:
    return np.ascontiguousarray(values.reshape(BANDS, -1), dtype=np.float32)
