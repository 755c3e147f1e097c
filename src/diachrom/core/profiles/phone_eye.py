"""What a phone sees by: the sensitivities of its three channels in the light of a photo, from the colours that are
printed on every shelf sheet.

Many phones, lamps and printers are made up. What they show of the printed colours goes together with what they are, so
that a photo of these tells what took it, by the best linear estimate [tarantola2005]. By it the photo's colours are
turned into those of a screen in daylight; what stays open is shared by all fields of a paint.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache, lru_cache

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.inks import INKS
from diachrom.core.light.lab import lab_to_xyz
from diachrom.core.light.lights import light
from diachrom.core.light.screen import SRGB, WHITE, linear_to_lab
from diachrom.core.light.smooth import POWERS
from diachrom.core.profiles.card_fit import CardEye, camera

DRAWS = 4000
LAMPS = ("D65", "D50", "overcast", "A", "led-warm", "led-cool")
PAPER = 0.86
NOISE = 0.008  # of a printed colour's linear light, one standard deviation
SHAPE, DENSITY = 0.25, 0.3  # of a channel, of an ink: one standard deviation of their logarithms, from bell shapes
SMOOTH_NM = 35.0
SHARED = 1.5  # times what the fit of one paint finds: all fields are off alike
LUMA = np.linalg.inv(SRGB)[1]  # (3,) of a screen's channels


@dataclass(frozen=True, eq=False)
class PhoneEye:
    """How a photo's colours are set right, and what is then left to doubt."""

    turn: Floats  # (3, 3) from the photo's linear light to a screen's
    eye: CardEye

    def right(self, point: Floats) -> Floats:
        """Lab (3,) of a photo -> Lab in daylight; what lies outside a screen's colours is at its border."""
        return linear_to_lab(np.clip(self.turn @ linear(point), 0.0, 1.0))


def linear(point: Floats) -> Floats:
    """Linear light of a screen's channels (3,) of a Lab (3,)."""
    return np.asarray(lab_to_xyz(point, white=WHITE) @ SRGB.T)


class _Drawn:
    """Phones in their lamps, and printers, at random but always the same."""

    def __init__(self) -> None:
        self.chance = np.random.default_rng(20)
        step = np.abs(WAVELENGTHS_NM[:, None] - WAVELENGTHS_NM) / SMOOTH_NM
        self.root = np.linalg.cholesky(np.exp(-(step**2) / 2) + 1e-6 * np.eye(BANDS))
        self.channels = self._phones()  # (draw, 3, band)
        self.shown = np.einsum("dkb,dpb->dpk", self.channels, self._printed())  # (draw, colour, 3)

    def about(self, mean: float, sigma: float) -> Floats:
        """(draw, 1) normal."""
        return mean + sigma * self.chance.standard_normal((DRAWS, 1))

    def waves(self, size: float) -> Floats:
        """(draw, band) factors that run smoothly around 1."""
        return np.asarray(np.exp(size * self.chance.standard_normal((DRAWS, BANDS)) @ self.root.T))

    def bell(self, middle: tuple[float, float], below: float, above: float, *, flat: bool = False) -> Floats:
        """(draw, band) around a wavelength (mean, sigma), as wide as this to either side, or nearly; some `flat`."""
        power = self.chance.uniform(1.6, 5.0, (DRAWS, 1)) if flat else 2.0
        off = WAVELENGTHS_NM - self.about(*middle)
        wide = np.where(off < 0, self.about(below, below / 6), self.about(above, above / 6))
        return np.asarray(np.exp(-(np.abs(off / wide) ** power) / 2))

    def _phones(self) -> Floats:
        """Each turned to a screen's colours as its maker would: right for smooth ones, white kept, more or less
        vivid."""
        own = [((605, 10), 32, 38), ((533, 8), 42, 42), ((458, 8), 28, 36)]
        raw = np.stack([self.bell(*one, flat=True) * self.waves(SHAPE) for one in own], axis=1)
        leaks = np.abs(self.chance.normal(0, 0.06, (DRAWS, 3, 3))) * (1 - np.eye(3))
        raw = raw + leaks @ raw + np.abs(self.chance.normal(0, 0.02, (DRAWS, 3, 1)))
        lamps = np.stack([light(key).power for key in LAMPS])
        raw *= lamps[self.chance.integers(len(LAMPS), size=DRAWS)][:, None]
        raw /= raw.sum(axis=-1, keepdims=True)
        turn = _turns(raw)
        vivid = self.about(1, 0.08)[..., None]
        return np.asarray((vivid * turn + (1 - vivid) * (LUMA @ turn)[:, None]) @ raw)

    def _printed(self) -> Floats:
        """(draw, colour, band) reflectances; a pale one is dots with Yule and Nielsen's n of 2."""
        depths = {
            "C": self.bell((640, 8), 50, 60) + np.abs(self.about(0, 0.04)),
            "M": self.bell((545, 7), 35, 24) + np.abs(self.about(0.13, 0.05)) * self.bell((430, 10), 40, 40),
            "Y": self.bell((440, 6), 60, 34) + np.abs(self.about(0, 0.01)),
        }
        for ink in depths:
            depths[ink] *= 3.2 * np.exp(self.about(0, 0.18)) * self.waves(DENSITY)
        mirrored, covered = self.about(0.02, 0.006), np.clip(self.about(0.58, 0.06), 0.2, 0.9)
        found = []
        for one in INKS.values():
            depth = sum((depths[ink] for ink in one.inks), np.zeros(BANDS))
            full = np.clip(mirrored + (PAPER - mirrored) * np.exp(-depth), 0.003, 1)
            pale = (covered * np.sqrt(full) + (1 - covered) * np.sqrt(PAPER)) ** 2
            found.append(pale if one.pale else full)
        return np.stack(found, axis=1)


@cache
def _drawn() -> _Drawn:
    return _Drawn()


@cache
def _smooth() -> Floats:
    """(colour, band) reflectances as pigments have them."""
    x = (np.random.default_rng(1).standard_normal((300, 3)) * [1.5, 1.5, 1.0]) @ POWERS
    return np.asarray(0.5 + x / (2 * np.sqrt(1 + x * x)))


def _turns(channels: Floats) -> Floats:
    """(..., 3, 3) from what channels (..., 3, band) show to what a screen's do, best for smooth colours; white is
    kept."""
    shown, wanted = _smooth() @ np.swapaxes(channels, -1, -2), _smooth() @ camera().channels.T
    last = shown[..., 2:]
    apart = shown[..., :2] - last
    normal, right = np.swapaxes(apart, -1, -2) @ apart, np.swapaxes(apart, -1, -2) @ (wanted - last)
    two = np.swapaxes(np.linalg.solve(normal, right), -1, -2)  # (..., 3, 2)
    return np.concatenate([two, 1 - two.sum(axis=-1, keepdims=True)], axis=-1)


def phone_eye(printed: Mapping[str, Floats]) -> PhoneEye:
    """The eye that took a photo.

    Parameters
    ----------
    printed : Lab (3,) of the printed colours in it, by their keys; none where the sheet has none: any phone then.

    Returns
    -------
    PhoneEye.
    """
    known = [key for key in INKS if key in printed]
    return _found(tuple((key, *np.asarray(printed[key]).tolist()) for key in known))


@lru_cache(maxsize=8)
def _found(printed: tuple[tuple[str, float, float, float], ...]) -> PhoneEye:
    drawn, order = _drawn(), list(INKS)
    flat = drawn.channels.reshape(DRAWS, -1)
    mean = flat.mean(axis=0)
    off = flat - mean
    covariance = off.T @ off / DRAWS
    if printed:
        told = drawn.shown[:, [order.index(key) for key, *_ in printed]].reshape(DRAWS, -1)
        moved, seen = told - told.mean(axis=0), np.concatenate([linear(np.array(point)) for _, *point in printed])
        shared = moved.T @ off / DRAWS
        gain = np.linalg.solve(moved.T @ moved / DRAWS + NOISE**2 * np.eye(len(seen)), shared)
        mean = mean + (seen - told.mean(axis=0)) @ gain
        covariance = covariance - shared.T @ gain
    channels, usual = mean.reshape(3, BANDS), camera()
    turn = _turns(channels) if printed else np.eye(3)
    # What a screen's channel and the phone's, set right, may differ by: what is open, and what no turn sets right.
    left = turn @ channels - usual.channels
    each = np.einsum("ki,kj,iajb->kab", turn, turn, covariance.reshape(3, BANDS, 3, BANDS))
    return PhoneEye(turn, replace(usual, doubt=each + left[:, :, None] * left[:, None, :]))
