"""A paint's coefficients from a contrast card: sprayed over white and over black in one or several films, all measured.

A film that takes all the light tells the ratio of absorption to scattering and no more; films of several thicknesses
tell both, and so does the paint let down with a white that is known. Where nothing tells a band, it leans on its
neighbours, by a penalty on the curvature of the logarithms, and on what is usual for the kind; such bands are named.
Solved by damped Gauss-Newton on the exact transport solution; how sure the strength is follows from the covariance
there [tarantola2005].
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import GROUNDS, diffusing
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint, mix
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light, xyz
from diachrom.errors import InvalidInput

NOISE = 0.0025  # of a measured reflectance, one standard deviation
MISFIT = 0.005  # of a reflectance, of what the model leaves out
CURVATURE = 0.3  # of ln(coefficient) from band to band that is nothing unusual
PRIOR = 4.0  # of ln(coefficient) around the kind's usual scattering: hardly a constraint
FULL_DEPTH = 2.5  # of the thinnest film's absorption: beyond it a card cannot tell one strong band from another
BEYOND = 3.0  # of ln(absorption) above that
LEANS = 1.0  # of ln(coefficient) around an earlier profile
LEAST, MOST = 1e-6, 50.0  # 1/um
CARD_UM = 24.0  # three light coats
PASS_UM = 2.0  # a mist pass
STEPS = (1, 4, 12)  # mist passes of a step card
DOUBT = 0.5  # of ln(coefficient), one standard deviation from the measurements of the band alone
MATTERS, DROWNS = 0.05, 0.05  # of optical depth; of the absorption
SUREST, UNKNOWN = 0.01, 1.0  # of strength
FARTHEST = 30.0  # standard deviations
ITERATIONS = 40
USUAL_SCATTERING = {"opaque": 0.1, "primer": 0.3, "transparent": 0.01, "candy": 1e-4, "ink": 2e-3}


@dataclass(frozen=True, eq=False)
class CardFilm:
    """A film of a card: how thick, and what was measured of it (band,) in air."""

    film_um: float  # wet, all passes together
    over_white: Floats
    over_black: Floats
    share: float = 1.0  # of the paint in what was sprayed; the rest is `let_down`
    let_down: Paint | None = None


@dataclass(frozen=True, eq=False)
class Bare:
    """The card itself (band,), and its surface."""

    white: Floats
    black: Floats
    sheen: float | None = CLEARED  # None: uncleared, fitted


@dataclass(frozen=True, eq=False)
class FromCard:
    """The coefficients, where they are doubtful, and how well they give back the card."""

    absorption: Floats  # (band,) 1/um
    scattering: Floats  # (band,) 1/um
    uncertain_nm: tuple[float, ...]
    saturated_nm: tuple[float, ...]  # where even the thinnest film takes all the light: it does not tell how strong
    uncertainty: float  # of the strength, one standard deviation, as a share
    sheen: float
    fit_delta_e: float  # the largest of the fields


def bare_to_internal(measured: Floats, *, sheen: float) -> Floats:
    """A bare ground as measured in air -> the internal reflectance that light inside a film meets [saunderson1942]."""
    inner = 1 - float(streams().q ** 2 @ (1 - streams().inner))
    back = np.maximum(measured - sheen, 0.0)
    return np.clip(back / ((1 - MATTE) * (1 - inner) + inner * back), 0.0, 1.0)


def from_card(
    films: Sequence[CardFilm], bare: Bare, *, kind: str, noise: float = NOISE, before: Paint | None = None
) -> FromCard:
    """Reflectances measured in air -> coefficients. `noise` is theirs, one standard deviation. What the films do not
    tell is taken from the profile `before`, where there is one to lean on. Raises InvalidInput for a bare white that is
    no lighter than the black."""
    if bare.white.mean() <= bare.black.mean():
        raise InvalidInput("The bare white field is not lighter than the black one: are they swapped?", field="white")
    return _Fit(films, bare, kind, noise, before).solved()


class _Fit:
    """The unknowns are ln absorption and ln scattering of each band, then (if it is fitted) the sheen."""

    def __init__(self, films: Sequence[CardFilm], bare: Bare, kind: str, noise: float, before: Paint | None) -> None:
        self.films, self.bare = sorted(films, key=lambda one: one.film_um * one.share), bare
        self.measured = np.stack([field for one in self.films for field in (one.over_white, one.over_black)])
        self.noise = np.hypot(noise, MISFIT * self.measured)  # (field, band)
        self.usual = float(np.log(USUAL_SCATTERING.get(kind, 0.02)))
        self.thinnest_um = self.films[0].film_um * self.films[0].share
        self.fitted = bare.sheen is None
        known = None if before is None else np.concatenate([before.absorption, before.scattering])
        self.before = None if known is None else np.log(np.clip(known, LEAST, MOST))
        bend = np.diff(np.eye(BANDS), n=2, axis=0) / CURVATURE
        self.bend = bend.T @ bend
        self.size = 2 * BANDS + self.fitted

    def fields(self, values: Floats) -> Floats:
        """Unknowns (..., size) -> (field, ..., band)."""
        logs = values[..., : 2 * BANDS].reshape(*values.shape[:-1], 2, BANDS)
        absorption, scattering = np.exp(logs[..., 0, :]), np.exp(logs[..., 1, :])
        sheen = self._sheen(values)
        grounds = [diffusing(bare_to_internal(one, sheen=sheen)) for one in (self.bare.white, self.bare.black)]
        found = []
        for one in self.films:
            mixed = Mix(one.share * absorption, one.share * scattering)
            if one.let_down is not None:
                rest = 1 - one.share
                mixed = Mix(
                    mixed.absorption + rest * one.let_down.absorption, mixed.scattering + rest * one.let_down.scattering
                )
            stack = sprayed([Coat(mixed, one.film_um)])
            found += [diffuse(stack, ground, sheen=sheen) for ground in grounds]
        return np.stack(found)

    def _sheen(self, values: Floats) -> float:
        if self.bare.sheen is not None:
            return self.bare.sheen
        return float(np.clip(np.ravel(values[..., -1])[0], 0, MATTE))

    def solved(self) -> FromCard:
        values, damping = self._start(), 1e-2
        slopes = np.zeros((len(self.measured), 2, BANDS))
        for _ in range(ITERATIONS):
            now = self.fields(values)
            slopes, shine = self._slopes(values, now)
            cost, taken = self._cost(now, values), False
            for _ in range(8):
                tried = self._bounded(values + self._step(slopes, shine, now, values, damping))
                left = self._cost(self.fields(tried), tried)
                if left < cost:
                    taken, damping = True, damping / 3
                    break
                damping *= 4
            if not taken:
                break
            values = tried
            if cost - left < 1e-6 * cost:
                break
        return self._result(values, slopes, shine)

    def _start(self) -> Floats:
        """Beer's law there and back through the thinnest film, the kind's usual scattering."""
        depth = -np.log(np.clip(self.measured[0], 1e-3, 0.95)) / 2.5
        start = np.concatenate([np.log(np.maximum(depth / self.thinnest_um, LEAST)), np.full(BANDS, self.usual)])
        start = start if self.before is None else self.before
        return np.append(start, MATTE / 2) if self.fitted else start

    def _bounded(self, values: Floats) -> Floats:
        bounded = np.clip(values, np.log(LEAST), np.log(MOST))
        if self.fitted:
            bounded[-1] = np.clip(values[-1], 0, MATTE)
        return bounded

    def _slopes(self, values: Floats, now: Floats) -> tuple[Floats, Floats]:
        """By the two coefficients of the same band (field, 2, band), and by the sheen (field, band)."""
        found = []
        for which in range(2):
            moved = values.copy()
            moved[which * BANDS : (which + 1) * BANDS] += 1e-4
            found.append((self.fields(moved) - now) / 1e-4)
        shine = np.zeros_like(now)
        if self.fitted:
            moved = values.copy()
            step = 1e-4 if values[-1] < MATTE / 2 else -1e-4
            moved[-1] += step
            shine = (self.fields(moved) - now) / step
        return np.stack(found, axis=1), shine

    def _beyond(self, values: Floats) -> Floats:
        """ln absorption above what the thinnest film can tell (band,)."""
        return np.maximum(values[:BANDS] + np.log(self.thinnest_um / FULL_DEPTH), 0)

    def _cost(self, now: Floats, values: Floats, *, preferring: bool = True) -> float:
        bends = sum(float(one @ self.bend @ one) for one in (values[:BANDS], values[BANDS : 2 * BANDS]))
        prior = (values[BANDS : 2 * BANDS] - self.usual) / PRIOR
        data = (((now - self.measured) / self.noise) ** 2).sum()
        leaning = 0.0 if self.before is None else (((values[: 2 * BANDS] - self.before) / LEANS) ** 2).sum()
        preferred = ((self._beyond(values) / BEYOND) ** 2).sum() if preferring and self.before is None else 0.0
        return float(data + bends + (prior**2).sum() + leaning + preferred)

    def _information(self, slopes: Floats, shine: Floats, values: Floats, *, preferring: bool = True) -> Floats:
        """(size, size) of the measurements and of what is taken to be usual; what is only preferred tells nothing."""
        weighed, normal = slopes / self.noise[:, None], np.zeros((self.size, self.size))
        for one in range(2):
            rows = slice(one * BANDS, (one + 1) * BANDS)
            normal[rows, rows] += self.bend
            for other in range(2):
                columns = slice(other * BANDS, (other + 1) * BANDS)
                normal[rows, columns] += np.diag((weighed[:, one] * weighed[:, other]).sum(axis=0))
        band, scattering = np.arange(BANDS), np.arange(BANDS, 2 * BANDS)
        normal[scattering, scattering] += 1 / PRIOR**2
        preferring = preferring and self.before is None
        normal[band, band] += preferring * (self._beyond(values) > 0) / BEYOND**2 + 1 / PRIOR**2
        if self.before is not None:
            normal[np.diag_indices(2 * BANDS)] += 1 / LEANS**2
        if self.fitted:
            shone = shine / self.noise
            normal[-1, -1] = (shone**2).sum() + 1e-6
            normal[-1, :-1] = normal[:-1, -1] = (weighed * shone[:, None]).sum(axis=0).ravel()
        return normal

    def _step(self, slopes: Floats, shine: Floats, now: Floats, values: Floats, damping: float) -> Floats:
        missing, weighed = (self.measured - now) / self.noise, slopes / self.noise[:, None]
        right = np.zeros(self.size)
        for one in range(2):
            rows = slice(one * BANDS, (one + 1) * BANDS)
            right[rows] = (weighed[:, one] * missing).sum(axis=0) - self.bend @ values[rows]
        if self.before is None:
            right[:BANDS] -= self._beyond(values) / BEYOND**2
        else:
            right[: 2 * BANDS] -= (values[: 2 * BANDS] - self.before) / LEANS**2
        right[BANDS : 2 * BANDS] -= (values[BANDS : 2 * BANDS] - self.usual) / PRIOR**2
        if self.fitted:
            right[-1] = (shine / self.noise * missing).sum()
        normal = self._information(slopes, shine, values)
        normal[np.diag_indices(self.size)] *= 1 + damping
        return np.clip(np.linalg.solve(normal, right), -2.0, 2.0)

    def _uncertainty(self, values: Floats, covariance: Floats) -> float:
        """One standard deviation of the strength: by the covariance, then followed to either side along the least
        costly way until the misfit has grown by one, since towards a saturated film it grows ever more slowly."""
        weights = np.exp(2 * values)
        weights[2 * BANDS :] = 0
        weights /= weights.sum()
        linear = float(np.sqrt(weights @ covariance @ weights))
        way = covariance @ weights / linear
        here = self._cost(self.fields(values), values, preferring=False)

        def far(step: float) -> float:
            moved = values + step * way
            return self._cost(self.fields(moved), moved, preferring=False) - here

        sides = []
        for sign in (-1.0, 1.0):
            step = 1.0
            while far(sign * step) < 1 and step < FARTHEST:
                step *= 1.5
            sides.append(step)
        return min(max(SUREST, linear * max(sides) / 1.25), UNKNOWN)

    def _result(self, values: Floats, slopes: Floats, shine: Floats) -> FromCard:
        absorption, scattering = np.exp(values[:BANDS]), np.exp(values[BANDS : 2 * BANDS])
        alone = np.moveaxis(slopes / self.noise[:, None], -1, 0)  # (band, field, coefficient)
        information = np.swapaxes(alone, -1, -2) @ alone + 1e-9 * np.eye(2)
        doubt = np.sqrt(np.diagonal(np.linalg.inv(information), axis1=-2, axis2=-1)).T  # (coefficient, band)
        # What there is next to nothing of need not be told, nor scattering that drowns in absorption.
        matters = np.stack([absorption, scattering]) * self.films[-1].film_um > MATTERS
        matters[1] &= scattering > DROWNS * absorption
        dark = (absorption * self.thinnest_um > 1) & (np.abs(slopes[0, 0]) < self.noise[0])
        now = self.fields(values)
        day = light("D65")
        errors = delta_e(lab(now, under=day), lab(self.measured, under=day))
        covariance = np.asarray(
            np.linalg.inv(self._information(slopes, shine, values, preferring=False)), dtype=np.float64
        )
        return FromCard(
            absorption=absorption,
            scattering=scattering,
            uncertain_nm=tuple(WAVELENGTHS_NM[((doubt > DOUBT) & matters).any(axis=0)].tolist()),
            saturated_nm=tuple(WAVELENGTHS_NM[dark].tolist()),
            uncertainty=self._uncertainty(values, covariance),
            sheen=self._sheen(values),
            fit_delta_e=float(errors.max()),
        )


def on_card(paint: Paint | None, ground: str) -> Floats:
    """What a card shows (band,): a paint in three light coats over a ground, under clear; or the ground bare."""
    coats = [] if paint is None else [Coat(mix([paint], np.ones(1)), CARD_UM)]
    day = light("D65")
    radiance = seen.diffuse(sprayed(coats), GROUNDS[ground], sheen=CLEARED, under=day)
    return np.clip(day.factor(radiance), 0, 1)


def contrast_ratio(over_black: Floats, over_white: Floats) -> float:
    """Y over black to Y over white, of reflectances (band,): 1 hides."""
    return float(xyz(over_black, under=light("D65"))[1] / xyz(over_white, under=light("D65"))[1])


def strength(found: Floats, before: Floats) -> float:
    """How many times as strong: absorptions (band,), told where the paint absorbed; elsewhere a ratio says nothing."""
    return float((before * found).sum() / max((before * before).sum(), 1e-12))
