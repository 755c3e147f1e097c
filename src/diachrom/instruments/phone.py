"""A simulated phone and the printer of its sheets: sensitivities with edges, as filters have them, dyes with shoulders.

Nothing here is shared with what works out a photo.
"""

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.inks import INKS
from diachrom.core.light.lights import light
from diachrom.core.light.screen import SRGB, WHITE

PAPER = 0.87
TRAINED = 80  # colours to which its maker fitted it
DOTS = 1.8  # Yule and Nielsen's n of a pale patch


def _edge(off: Floats) -> Floats:
    return np.asarray(1 / (1 + np.exp(-off)))


def _bump(at: float, wide: float) -> Floats:
    return np.asarray(np.exp(-(((WAVELENGTHS_NM - at) / wide) ** 2) / 2))


def channels(seed: int, lamp: str) -> Floats:
    """(3, band) of a phone's linear channels by reflectance, white 1, in this light."""
    chance, w = np.random.default_rng(seed), WAVELENGTHS_NM
    n = chance.standard_normal
    silicon = (w - 300) / 400
    red = _edge((w - 578 - 6 * n()) / 7) * _edge((648 + 8 * n() - w) / 9) + 0.05 * _bump(435, 20)
    green = _edge((w - 490 - 6 * n()) / 10) * _edge((578 + 6 * n() - w) / 12) + 0.04
    blue = _edge((w - 412 - 4 * n()) / 6) * _edge((500 + 6 * n() - w) / 10) + 0.02
    raw = np.stack([red, green, blue]) * silicon * light(lamp).power
    raw /= raw.sum(axis=1, keepdims=True)
    day = light("D65")
    screen = SRGB @ (day.weights * (WHITE / day.white)).T
    middle, wide = chance.uniform(400, 700, (TRAINED, 1)), chance.uniform(30, 90, (TRAINED, 1))
    base, height = chance.uniform(0.05, 0.6, (TRAINED, 1)), chance.uniform(-0.5, 0.8, (TRAINED, 1))
    colours = np.clip(base + height * np.exp(-(((w - middle) / wide) ** 2) / 2), 0.02, 0.95)
    turn = np.linalg.lstsq(colours @ raw.T, colours @ screen.T, rcond=None)[0].T
    return np.asarray(turn / turn.sum(axis=1, keepdims=True) @ raw)


def printed(seed: int) -> dict[str, Floats]:
    """Reflectances (band,) of the printed colours, by their keys."""
    chance, w = np.random.default_rng(seed), WAVELENGTHS_NM
    n = chance.standard_normal
    depths = {
        "C": 3.0 * (_edge((w - 585 - 6 * n()) / 22) * _edge((735 - w) / 25) + 0.05 * _bump(420, 28)),
        "M": 3.0 * (0.75 * _bump(525 + 5 * n(), 28) + 0.8 * _bump(565 + 5 * n(), 16) + 0.18 * _bump(415, 45)),
        "Y": 2.8 * _edge((487 + 5 * n() - w) / 13),
    }
    strong = {ink: float(np.exp(0.15 * n())) for ink in depths}
    covered = float(np.clip(0.55 + 0.06 * n(), 0.3, 0.8))
    found = {}
    for key, one in INKS.items():
        depth = sum((strong[ink] * depths[ink] for ink in one.inks), np.zeros(BANDS))
        full = PAPER * (0.015 + 0.985 * np.exp(-depth))
        pale = (covered * full ** (1 / DOTS) + (1 - covered) * PAPER ** (1 / DOTS)) ** DOTS
        found[key] = pale if one.pale else full
    return found
