"""A quick look at thousands of mixes: by tables, with what the angle and fluorescent dyes add in closed form.

The tables know one kind of flake in a film; of several the mean is taken, which is 1 to 2 off and at worst 10.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import cast

import numpy as np

from diachrom.core.film.dots import Shares
from diachrom.core.film.emission import LEAVES
from diachrom.core.film.facets import view
from diachrom.core.film.fast import Films, Singles, films
from diachrom.core.film.fast_flakes import Cells
from diachrom.core.film.flakes import Flake
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Laid
from diachrom.core.film.mirroring import glance, mirrored_once, once, shaded
from diachrom.core.film.paint import Paint, mix
from diachrom.core.film.transport import dimming
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import xyz_to_lab
from diachrom.core.light.lights import xyz
from diachrom.core.mix.mixes import Indexes
from diachrom.core.mix.where import FEW_STREAMS, Where

AGAIN = 1.8  # optical depths, straight down, that light between flakes and surface passes: fitted to what is solved
FULL_AREA = 5.0
ASLANT = 2 / 3  # cosine at which diffuse light falls, in the mean
CLOUD_TAKES, CLOUD_TURNS = 1.9, 4 / 3  # flakes around a fluorescent dye as a cloud: fitted to what is solved
LEAST_ABSORBED = 1e-4  # of optical depth, so that the light inside a film can be told from what it absorbs


@dataclass(eq=False)
class FastPredictor:
    """Mixes of these paints, as one film."""

    where: Where
    paints: Sequence[Paint]
    clouded: bool = False  # flakes as a cloud: farther off, and no table is made of each make

    def of(self, some: Indexes) -> "FastPredictor":
        """Of some of these paints alone, by their places; what is known of each goes along."""
        predictor = FastPredictor(self.where, [self.paints[at] for at in some.tolist()], self.clouded)
        predictor._alone = (self._alone[0][some], self._alone[1][some])
        predictor._behind = self._behind
        if self.where.turned:
            predictor._dimming_each = self._dimming_each[some]
        return predictor

    def of_volumes(self, volumes: Floats) -> Floats:
        """(row, paint) ml, sprayed as they are -> (row, view, 3). Where nothing is poured the ground is seen."""
        whole = volumes.sum(axis=1, keepdims=True)
        return self.labs(np.divide(volumes, whole, out=np.zeros_like(volumes, dtype=np.float64), where=whole > 0))

    def labs(self, shares: Floats) -> Floats:
        """(row, paint) shares of the sprayed volume -> (row, view, 3)."""
        flaked = [index for index, paint in enumerate(self.paints) if paint.flake]
        having = shares[:, flaked] > 0  # (row, flaked paint)
        if not having.any():
            return self._alike(shares, ())
        result = np.empty((len(shares), len(self.where.views), 3))
        bits = np.ascontiguousarray(
            np.packbits(having, axis=1)
        )  # as short texts they are told apart much faster than as rows
        kinds, which = np.unique(bits.view(f"S{bits.shape[1]}")[:, 0], return_inverse=True)
        for kind in range(len(kinds)):
            rows = np.flatnonzero(which == kind)
            own = having[rows[0]]
            result[rows] = self._alike(shares[rows], [at for at, there in zip(flaked, own, strict=True) if there])
        return result

    def _alike(self, shares: Floats, flaked: Sequence[int]) -> Floats:
        """Of mixes with flakes of the same paints, or none."""
        used = np.flatnonzero((shares > 0).any(axis=0)).tolist() or [0]  # nothing of the first is as clear as nothing
        film_um, made = self.where.film_um, self._films(shares, used, clouded=self.clouded)
        covered = [
            (flake, shares[:, index] * flake.cover_per_um)
            for index in flaked
            if (flake := self.paints[index].flake) is not None
        ]
        values = self._without_direction(self._diffuse(made, covered), self._shone(shares, used))
        under = self.where.under
        if not self.where.turned or not (covered or self.ground_turns):
            one = xyz_to_lab(values, white=under.white)[:, None, :]
            return np.broadcast_to(one, (len(one), len(self.where.views), 3))
        # (row, band) 1/um that light loses which keeps its direction.
        dimming = shares[:, used].astype(np.float32) @ self._dimming_each[used]
        # A layer in single figures, which take half as long and are exact enough to choose by.
        covers = tuple((flake, cast(Floats, cover.astype(np.float32))) for flake, cover in covered)
        in_singles = Laid(cast(Floats, np.asarray(film_um, dtype=np.float32)), cast(Floats, dimming), covers)
        top = _Mirrors(in_singles, self.where.dots)
        views = [
            values if angle is None else values + top.seen(angle, *self._behind[angle]) @ under.weights
            for angle in self.where.views
        ]
        return xyz_to_lab(np.stack(views, axis=1), white=under.white)

    def _without_direction(self, factors: Singles, shone: tuple[Indexes, Floats]) -> Floats:
        """Tristimulus values (row, 3) of radiance factors (band, row) and of what dyes make in some of the rows."""
        under = self.where.under
        looked = (under.weights.T.astype(np.float32) @ factors).T.astype(np.float64)
        values = looked + xyz(np.full(BANDS, self.where.sheen), under=under)
        rows, made = shone
        values[rows] += made @ under.observer
        return values

    def _diffuse(self, made: Films, covered: Sequence[tuple[Flake, Floats]]) -> Singles:
        """(band, row) by the tables. Of several kinds of flakes each is looked up as if all were of it, and the mean
        taken by cover."""
        if not covered or self.clouded:
            return self.where.tables().reflectance(made)
        whole = np.sum([cover for _, cover in covered], axis=0)
        cells = Cells.of(made, whole * self.where.film_um)
        each = (self.where.flaked(flake).reflectance(cells) * (cover / whole) for flake, cover in covered)
        return np.asarray(sum(each), dtype=np.float32)

    def _films(self, shares: Floats, used: Sequence[int], *, clouded: bool = False) -> Films:
        """Without the flakes in them, or with these as a cloud that takes light and turns it back."""
        absorption, scattering = (each[used] for each in self._alone)  # (used, band), copies
        for row, index in enumerate(used):
            if clouded and (flake := self.paints[index].flake) is not None:
                mirrored, passed = flake.faces(ASLANT)
                absorption[row] += CLOUD_TAKES * flake.cover_per_um * (1 - mirrored - passed)
                scattering[row] += CLOUD_TURNS * flake.cover_per_um * mirrored
        return films(shares[:, used], absorption=absorption, scattering=scattering, film_um=self.where.film_um)

    @cached_property
    def _alone(self) -> tuple[Floats, Floats]:
        """Absorption and scattering of every paint, (paint, band) each."""
        return np.stack([one.absorption for one in self.paints]), np.stack([one.scattering for one in self.paints])

    @cached_property
    def _dimming_each(self) -> Singles:
        """(paint, band)."""
        each = np.stack([dimming(mix([paint], np.ones(1)), FEW_STREAMS) for paint in self.paints])
        return each.astype(np.float32)

    @cached_property
    def _behind(self) -> Mapping[float, tuple[Singles, Singles]]:
        """What mirrors below the film, at each of the angles: once, and in all turns after."""
        each = {angle: self.where.behind(angle) for angle in self.where.views if angle is not None}
        return {angle: (once.astype(np.float32), more.astype(np.float32)) for angle, (once, more) in each.items()}

    @property
    def ground_turns(self) -> bool:
        """Something below the film mirrors, so that every film turns with the angle."""
        return any(one.any() for one, _ in self._behind.values())

    def _shone(self, shares: Floats, used: Sequence[int]) -> tuple[Indexes, Floats]:
        """In which rows fluorescent dyes make light, and its radiance (of those, band): `emission.fluorescence` of a
        single film that is lit and seen as much at every depth as in the mean, flakes in it being a cloud."""
        dyes = [(at, dye) for at in used if (dye := self.paints[at].fluorescence) is not None]
        rows = np.flatnonzero((shares[:, [at for at, _ in dyes]] > 0).any(axis=1))
        own = shares[rows]
        seen = np.zeros((len(rows), BANDS))
        if not len(rows):
            return rows, seen
        made = self._films(own, np.flatnonzero((own > 0).any(axis=0)).tolist(), clouded=True)
        taken = self.where.absorbed().reflectance(made).T.astype(np.float64)  # (row, band)
        lost = made.albedo_place().T.astype(np.float64) ** 2 * made.depth.T
        fluence = taken / np.maximum(lost, LEAST_ABSORBED)
        lit = self.where.under.power * WAVELENGTHS_NM * fluence
        for index, dye in dyes:
            absorbed = lit @ dye.excitation(self.paints[index].absorption)
            photons = own[:, index] * self.where.film_um * absorbed
            seen += dye.quantum_yield * photons[:, None] * (dye.emission / WAVELENGTHS_NM)
        return rows, LEAVES * seen * fluence


@dataclass(frozen=True, eq=False)
class _Mirrors:
    """What many films mirror at each angle: once as it is; what the surface sends back for another turn, dimmed as much
    as usual."""

    top: Laid
    dots: Shares

    @cached_property
    def _dimmed(self) -> tuple[Floats, Floats]:
        """(row, band) by which one disc dims what goes on for another turn: at first, and then; fitted to what is
        solved over foil."""
        one = self.top.depth / (self.dots.discs or 1.0)
        return np.expm1(-12.0 * one), np.expm1(-3.0 * one) if self.dots.discs else -3.0 * one

    def _turned(self, path: Floats) -> Floats:
        """(row, band) left of what was mirrored below the film, in all turns after the first."""
        first, then = self._dimmed
        if not self.dots.discs:
            return np.exp(0.55 * first + then)
        # Of the light that came through, fewer discs lay in the way: by Poisson's law still, of a smaller mean.
        left = self.dots.discs * np.exp(-path / self.dots.discs)
        return np.exp(0.55 * np.expm1(left * first) + left * then)

    @cached_property
    def _gained(self) -> list[tuple[Flake, Floats]]:
        """Each kind of flakes with the share (row, band) of a full cover's gain."""
        left = np.exp(-AGAIN * self.top.depth)
        return [(flake, (np.expm1(-area) ** 2)[:, None] * left) for flake, area in self.top.areas]

    def seen(self, angle_deg: float, below: Singles, again: Singles) -> Singles:
        """(row, band) at an angle, over what mirrors (band,) once and in all turns after."""
        way = view(angle_deg)
        path = self.top.path(way.cos_in, way.cos_out)
        passed = self.dots.left(path)
        found = passed * (below + again * self._turned(path)) if below.any() or again.any() else np.zeros_like(passed)
        if self.top.areas:
            found += mirrored_once(self.top, angle_deg, shaded(path, passed))
        for flake, share in self._gained:
            found += _again(flake, angle_deg) * share
        return np.asarray(found, dtype=np.float32)


@lru_cache(maxsize=512)
def _again(flake: Flake, angle_deg: float) -> Singles:
    """Radiance factor (band,) that a full cover of these flakes gains in all turns after the first."""
    full = Laid(np.ones(()), np.zeros(BANDS), ((flake, np.array(FULL_AREA)),))
    ground = GROUNDS["black"]
    whole = glance((full,), ground, (angle_deg,))[0]
    return np.asarray(whole - once([full], ground.glance(angle_deg), angle_deg), dtype=np.float32)
