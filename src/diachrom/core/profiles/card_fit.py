"""Fitting the coefficients of a paint to films of it that were measured over white and over black.

What measures is an eye of some channels: a reader has one a band; a camera has three, and where one of them shows
nothing the film may send back less still. Solved by damped Gauss-Newton on the exact transport solution.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.film.grounds import Ground, diffusing
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix, Paint
from diachrom.core.film.stack import diffuse, sprayed
from diachrom.core.film.streams import streams
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.bands import BANDS, Bools, Floats
from diachrom.core.light.lights import light
from diachrom.core.light.screen import SRGB, WHITE
from diachrom.words import say

NOISE = 0.0025  # of a measured reflectance, one standard deviation
MISFIT = 0.005  # of a reflectance, of what the model leaves out
CURVATURE = 0.3  # of ln(coefficient) from band to band that is nothing unusual
PRIOR = 4.0  # of ln(coefficient) around the kind's usual scattering: hardly a constraint
FULL_DEPTH = 2.5  # of the thinnest film's absorption: beyond it a card cannot tell one strong band from another
BEYOND = 3.0  # of ln(absorption) above that
LEANS = 1.0  # of ln(coefficient) around an earlier profile
LEAST, MOST = 1e-6, 50.0  # 1/um
ITERATIONS = 40
NOTHING_TOLD = 1e6  # of a reflectance
USUAL_SCATTERING = {kind.key: kind.scattering for kind in KINDS.values() if kind.scattering is not None}


@dataclass(frozen=True, eq=False)
class CardFilm:
    """A film of a card: how thick, and what was measured of it (channel,) in air."""

    film_um: float  # wet, all passes together
    over_white: Floats
    over_black: Floats
    share: float = 1.0  # of the paint in what was sprayed; the rest is `let_down`
    let_down: Paint | None = None
    spoilt: tuple[bool, bool] = (False, False)  # over white, over black: it tells nothing


@dataclass(frozen=True, eq=False)
class Bare:
    """The card itself (band,), and its surface."""

    white: Floats
    black: Floats
    sheen: float | None = CLEARED  # None: uncleared, fitted


@dataclass(frozen=True, eq=False)
class CardEye:
    """What measures a card: channels (channel, band) of a reflectance, and how far they may be off."""

    channels: Floats
    noise: float  # one standard deviation of a channel
    misfit: float = MISFIT  # share of a channel that the model leaves out
    floor: float = -1.0  # a channel that shows no more shows nothing: there may be less still
    doubt: Floats | None = None  # (channel, band, band) covariance of the channels, where they are not known

    @property
    def shares(self) -> Floats:
        """(channel, band) by which channels tell about what reflectance they are seen of."""
        weights = np.abs(self.channels) + 1e-9
        return np.asarray(weights / weights.sum(axis=0))


def reader(noise: float = NOISE) -> CardEye:
    """One channel a band."""
    return CardEye(np.eye(BANDS), noise)


@lru_cache(maxsize=1)
def camera() -> CardEye:
    """The linear light of a screen's channels, in daylight."""
    day = light("D65")
    return CardEye(SRGB @ (day.weights * (WHITE / day.white)).T, noise=0.004, misfit=0.02, floor=0.004)


def bare_to_internal(measured: Floats, *, sheen: float) -> Floats:
    """A bare ground as measured in air -> the internal reflectance that light inside a film meets [saunderson1942]."""
    inner = 1 - float(streams().q ** 2 @ (1 - streams().inner))
    back = np.maximum(measured - sheen, 0.0)
    return np.clip(back / ((1 - MATTE) * (1 - inner) + inner * back), 0.0, 1.0)


class CardFit:
    """The unknowns are ln absorption and ln scattering of each band, then (if it is fitted) the sheen."""

    def __init__(
        self,
        films: Sequence[CardFilm],
        bare: Bare,
        kind: str,
        eye: CardEye,
        before: Paint | None = None,
        droplet_um: float = 0.0,
    ) -> None:
        self.droplet_um = droplet_um
        self.films, self.bare, self.eye = sorted(films, key=lambda one: one.film_um * one.share), bare, eye
        self.measured = np.stack([field for one in self.films for field in (one.over_white, one.over_black)])
        self.spoilt = np.array([each for one in self.films for each in one.spoilt])  # (field,)
        noise = np.hypot(eye.noise, eye.misfit * self.measured)
        self.noise = np.where(self.spoilt[:, None], NOTHING_TOLD, noise)  # (field, channel)
        each = self.noise.T[:, None] ** 2 * np.eye(len(self.measured))  # (channel, field, field)
        if eye.doubt is not None:
            about = self.measured @ eye.shares  # (field, band)
            each = each + about @ eye.doubt @ about.T
        self.whitening = np.linalg.inv(np.linalg.cholesky(each))  # (channel, field, field)
        self.usual = float(np.log(USUAL_SCATTERING.get(kind, 0.02)))
        self.thinnest_um = max(self.films[0].film_um, droplet_um) * self.films[0].share  # where paint lies at all
        self.fitted = bare.sheen is None
        known = None if before is None else np.concatenate([before.absorption, before.scattering])
        self.before = None if known is None else np.log(np.clip(known, LEAST, MOST))
        bend = np.diff(np.eye(BANDS), n=2, axis=0) / CURVATURE
        self.bend = bend.T @ bend
        self.size = 2 * BANDS + self.fitted

    def fields(self, values: Floats) -> Floats:
        """Unknowns (..., size) -> (field, ..., band)."""
        absorption, scattering = np.exp(values[..., :BANDS]), np.exp(values[..., BANDS : 2 * BANDS])
        sheen = self.sheen(values)
        grounds = [diffusing(bare_to_internal(one, sheen=sheen)) for one in (self.bare.white, self.bare.black)]
        alone = [one.film_um for one in self.films if one.let_down is None]
        each: Iterator[Floats] = iter(())
        if alone:
            mixed = Mix(absorption[..., None, :], scattering[..., None, :])
            stack = sprayed([Coat(mixed, np.array(alone), droplet_um=self.droplet_um)])
            each = iter(np.moveaxis(np.stack([diffuse(stack, ground, sheen=sheen) for ground in grounds]), -2, 0))
        found = [next(each) if one.let_down is None else self._let_down(one, values, grounds) for one in self.films]
        return np.concatenate(found)

    def _let_down(self, one: CardFilm, values: Floats, grounds: Sequence[Ground]) -> Floats:
        """(over white and over black, ..., band) of a film that was let down."""
        absorption, scattering = np.exp(values[..., :BANDS]), np.exp(values[..., BANDS : 2 * BANDS])
        white, rest = one.let_down, 1 - one.share
        if white is None:
            raise ValueError(say("it was not let down"))
        mixed = Mix(one.share * absorption + rest * white.absorption, one.share * scattering + rest * white.scattering)
        stack = sprayed([Coat(mixed, one.film_um, droplet_um=self.droplet_um)])
        return np.stack([diffuse(stack, ground, sheen=self.sheen(values)) for ground in grounds])

    def sheen(self, values: Floats) -> float:
        """What the surface mirrors."""
        if self.bare.sheen is not None:
            return self.bare.sheen
        return float(np.clip(np.ravel(values[..., -1])[0], 0, MATTE))

    def solved(self, start: Floats | None = None) -> tuple[Floats, Floats]:
        """The unknowns (size,), and how the channels move with them (field, channel, size); from near a start."""
        values, damping = self._start() if start is None else start, 1e-2
        slopes = np.zeros((*self.measured.shape, self.size))
        for _ in range(ITERATIONS):
            now = self.fields(values)
            slopes = self._slopes(values, now)
            cost, taken = self.cost(now, values), False
            for _ in range(8):
                tried = self._bounded(values + self._step(slopes, now, values, damping))
                left = self.cost(self.fields(tried), tried)
                if left < cost:
                    taken, damping = True, damping / 3
                    break
                damping *= 4
            if not taken:
                break
            values = tried
            if cost - left < 1e-6 * cost:
                break
        return values, slopes

    def _start(self) -> Floats:
        """Beer's law there and back through the thinnest film, the kind's usual scattering; or an earlier profile."""
        whites = [index for index in range(0, len(self.measured), 2) if not self.spoilt[index]] or [0]
        film = self.films[whites[0] // 2]
        per_band = self.measured[whites[0]] @ self.eye.shares
        depth = -np.log(np.clip(per_band, 1e-3, 0.95)) / 2.5
        each = np.log(np.maximum(depth / (film.film_um * film.share), LEAST))
        beer = np.concatenate([each, np.full(BANDS, self.usual)])
        starts = [beer] if self.before is None else [beer, self.before]
        if self.fitted:
            starts = [np.append(start, MATTE / 2) for start in starts]
        return min(starts, key=lambda one: self.cost(self.fields(one), one))

    def _bounded(self, values: Floats) -> Floats:
        bounded = np.clip(values, np.log(LEAST), np.log(MOST))
        if self.fitted:
            bounded[-1] = np.clip(values[-1], 0, MATTE)
        return bounded

    def _slopes(self, values: Floats, now: Floats) -> Floats:
        """(field, channel, size). A coefficient moves its own band alone, so all bands are moved at once. What shows
        nothing, and should, tells nothing."""
        channels, steps = self.eye.channels, np.zeros((2, self.size))
        steps[0, :BANDS] = steps[1, BANDS : 2 * BANDS] = 1e-4
        moved = (self.fields(values + steps) - now[:, None]) / 1e-4  # (field, coefficient, band)
        found = [moved[:, which, None, :] * channels for which in range(2)]
        if self.fitted:
            step = 1e-4 if values[-1] < MATTE / 2 else -1e-4
            shone = values + step * np.eye(self.size)[-1]
            found.append((((self.fields(shone) - now) / step) @ channels.T)[..., None])
        silent = self._silent(now @ channels.T)
        return np.where(silent[..., None], 0.0, np.concatenate(found, axis=-1))

    def missing(self, now: Floats) -> Floats:
        """(field, channel) what was measured beyond what the fields now (field, band) show, in standard deviations."""
        seen = now @ self.eye.channels.T
        return self._whitened(np.where(self._silent(seen), 0.0, self.measured - seen))

    def _whitened(self, off: Floats) -> Floats:
        """(field, channel, ...) in standard deviations, each free of what it shares with the others."""
        return np.asarray(np.einsum("cfg,gc...->fc...", self.whitening, off))

    def _silent(self, seen: Floats) -> Bools:
        """(field, channel) where the eye shows nothing, as it should of what is `seen` (field, channel)."""
        return (self.measured <= self.eye.floor) & (seen <= self.eye.floor)

    def _beyond(self, values: Floats) -> Floats:
        """ln absorption above what the thinnest film can tell (band,)."""
        return np.maximum(values[:BANDS] + np.log(self.thinnest_um / FULL_DEPTH), 0)

    def cost(self, now: Floats, values: Floats, *, preferring: bool = True) -> float:
        """How far from what was measured, weighed."""
        bends = sum(float(one @ self.bend @ one) for one in (values[:BANDS], values[BANDS : 2 * BANDS]))
        prior = (values[BANDS : 2 * BANDS] - self.usual) / PRIOR
        data = (self.missing(now) ** 2).sum()
        leaning = 0.0 if self.before is None else (((values[: 2 * BANDS] - self.before) / LEANS) ** 2).sum()
        preferred = ((self._beyond(values) / BEYOND) ** 2).sum() if preferring and self.before is None else 0.0
        return float(data + bends + (prior**2).sum() + leaning + preferred)

    def information(self, slopes: Floats, values: Floats, *, preferring: bool = True) -> Floats:
        """(size, size) of the measurements and of what is taken to be usual; what is only preferred tells nothing."""
        weighed = self._whitened(slopes).reshape(-1, self.size)
        normal = weighed.T @ weighed
        for one in range(2):
            rows = slice(one * BANDS, (one + 1) * BANDS)
            normal[rows, rows] += self.bend
        band, scattering = np.arange(BANDS), np.arange(BANDS, 2 * BANDS)
        normal[scattering, scattering] += 1 / PRIOR**2
        preferring = preferring and self.before is None
        normal[band, band] += preferring * (self._beyond(values) > 0) / BEYOND**2 + 1 / PRIOR**2
        if self.before is not None:
            known = np.arange(2 * BANDS)
            normal[known, known] += 1 / LEANS**2
        if self.fitted:
            normal[-1, -1] += 1e-6
        return np.asarray(normal)

    def _step(self, slopes: Floats, now: Floats, values: Floats, damping: float) -> Floats:
        right = np.einsum("fcs,fc->s", self._whitened(slopes), self.missing(now))
        for one in range(2):
            rows = slice(one * BANDS, (one + 1) * BANDS)
            right[rows] -= self.bend @ values[rows]
        if self.before is None:
            right[:BANDS] -= self._beyond(values) / BEYOND**2
        else:
            right[: 2 * BANDS] -= (values[: 2 * BANDS] - self.before) / LEANS**2
        right[BANDS : 2 * BANDS] -= (values[BANDS : 2 * BANDS] - self.usual) / PRIOR**2
        normal = self.information(slopes, values)
        normal[np.diag_indices(self.size)] *= 1 + damping
        return np.clip(np.linalg.solve(normal, right), -2.0, 2.0)
