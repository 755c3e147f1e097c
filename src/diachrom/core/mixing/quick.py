"""A quick look at thousands of mixes: by tables, with what the angle and fluorescent dyes add in closed form.

The tables know one kind of flake in a film; mixes of two are solved, in few streams.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from diachrom.core.film.fast import Films, films
from diachrom.core.film.flakes import Flake
from diachrom.core.film.layer import LEAST_ABSORPTION, Laid, shares_of
from diachrom.core.film.paint import Fluorescence, Paint
from diachrom.core.film.stack import mirrored
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.mixing.mixes import exact_labs
from diachrom.core.mixing.where import FEW_STREAMS, Where


@dataclass(eq=False)
class QuickLooks:
    """Mixes of these paints, as one film."""

    where: Where
    paints: Sequence[Paint]

    def of_volumes(self, volumes: Floats) -> Floats:
        """(row, paint) ml, sprayed as they are -> (row, view, 3). Where nothing is poured the ground is seen."""
        whole = volumes.sum(axis=1, keepdims=True)
        return self.labs(np.divide(volumes, whole, out=np.zeros_like(volumes, dtype=np.float64), where=whole > 0))

    def labs(self, shares: Floats) -> Floats:
        """(row, paint) shares of the sprayed volume -> (row, view, 3)."""
        result = np.empty((len(shares), len(self.where.views), 3))
        flaked = [at for at, paint in enumerate(self.paints) if paint.flake]
        having = shares[:, flaked] > 0  # (row, flaked paint)
        several = having.sum(axis=1) > 1
        if several.any():
            result[several] = exact_labs(self.paints, shares[several], self.where, count=FEW_STREAMS)
        plain = ~having.any(axis=1)
        if plain.any():
            result[plain] = self._alike(shares[plain], None)
        for column, at in enumerate(flaked):
            rows = having[:, column] & ~several
            if rows.any():
                result[rows] = self._alike(shares[rows], at)
        return result

    def _alike(self, shares: Floats, flaked: int | None) -> Floats:
        """Of mixes with the same flakes, or none."""
        used = np.flatnonzero((shares > 0).any(axis=0)).tolist() or [0]  # nothing of the first is as clear as nothing
        absorption = np.stack([self.paints[at].absorption for at in used])
        scattering = np.stack([self.paints[at].scattering for at in used])
        film_um = self.where.film_um
        made = films(shares[:, used], absorption=absorption, scattering=scattering, film_um=film_um)
        flake = None if flaked is None else self.paints[flaked].flake
        covered: tuple[tuple[Flake, Floats], ...] = ()
        if flake is None:
            seen = self.where.tables().reflectance(made)
        else:
            cover = shares[:, flaked] * flake.cover_per_um
            seen = self.where.flaked(flake).reflectance(made, cover * film_um)
            covered = shares_of([(flake, cover)], np.asarray(film_um))
        factors = seen.T.astype(np.float64)  # (row, band)
        for at in used:
            dye = self.paints[at].fluorescence
            if dye is not None:
                rows = np.flatnonzero(shares[:, at])
                some = Films(made.absorbed[:, rows], made.depth[:, rows])
                factors[rows] += self._shone(some, shares[rows, at], dye, self.paints[at].absorption)
        if not self.where.turned or (flake is None and not self.ground_turns):
            one = lab(factors, under=self.where.under)[:, None, :]
            return np.broadcast_to(one, (len(one), len(self.where.views), 3))
        top = Laid(made.depth.T.astype(np.float64), covered)
        views = [
            factors if angle is None else factors + mirrored([top], self._behind[angle], angle)
            for angle in self.where.views
        ]
        return lab(np.stack(views, axis=1), under=self.where.under)

    @cached_property
    def _behind(self) -> Mapping[float, Floats]:
        """What mirrors below the film, at each of the angles."""
        return {angle: self.where.behind(angle) for angle in self.where.views if angle is not None}

    @property
    def ground_turns(self) -> bool:
        """Something below the film mirrors, so that every film turns with the angle."""
        return any(one.any() for one in self._behind.values())

    def _shone(self, made: Films, share: Floats, dye: Fluorescence, of_paint: Floats) -> Floats:
        """(row, band) what a fluorescent dye adds: `emission.fluorescence` of a single film."""
        power = self.where.under.power
        taken = self.where.absorbed().reflectance(made).T.astype(np.float64)  # (row, band)
        lost = made.albedo_place().T.astype(np.float64) ** 2 * made.depth.T
        lost = np.maximum(lost, LEAST_ABSORPTION * self.where.film_um)  # (row, band), optical depth of absorption
        own = share[:, None] * self.where.film_um * dye.absorption(of_paint)
        photons = (power * WAVELENGTHS_NM * taken * own / lost).sum(axis=1)[:, None]
        emitted = dye.quantum_yield * photons * dye.emission / WAVELENGTHS_NM
        return np.asarray(emitted * taken / lost / (4 * power))
