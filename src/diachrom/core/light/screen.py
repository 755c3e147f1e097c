"""What a screen can show of a colour: sRGB and display-p3, and a mark where it falls short.

A colour outside keeps its hue, and neighbours stay neighbours. Brighter than the screen (a glance off foil): it is
dimmed until it fits. More colourful than the screen: it is greyed at the same luminance.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.light.bands import Bools, Floats
from diachrom.core.light.lab import lab_to_xyz, xyz_to_lab

# Linear light of the screen from tristimulus values under D65 [iec61966; smpte-eg432].
SRGB = np.array(
    [
        [3.2404541621, -1.5371385128, -0.4985314096],
        [-0.9692660305, 1.8760108455, 0.0415560175],
        [0.0556434310, -0.2040259135, 1.0572251882],
    ]
)
DISPLAY_P3 = np.array(
    [
        [2.4934969119, -0.9313836179, -0.4027107845],
        [-0.8294889696, 1.7626640603, 0.0236246858],
        [0.0358458302, -0.0761723893, 0.9568845240],
    ]
)
WHITE = np.linalg.solve(SRGB, np.ones(3))  # (3,), the tristimulus values of the screen's own white
TOLERANCE = 0.002  # linear light; below it an eye sees no clipping


@dataclass(frozen=True)
class Shown:
    """A colour as the screen shows it."""

    srgb: str  # "#rrggbb"
    p3: str  # CSS color(display-p3 r g b)
    in_gamut: bool  # of sRGB
    in_p3: bool
    too_bright: bool  # brighter than the screen's white


def encode(linear: Floats) -> Floats:
    """Linear light as encoded sRGB values, 0 to 1; what is outside is cut off."""
    clipped = np.clip(linear, 0, 1)
    return np.where(clipped <= 0.0031308, 12.92 * clipped, 1.055 * np.power(clipped, 1 / 2.4) - 0.055)


def to_linear(encoded: Floats) -> Floats:
    """Encoded sRGB values, 0 to 1, as linear light."""
    return np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)


def _fit(lab: Floats, matrix: Floats) -> tuple[Floats, Bools]:
    """(n, 3) Lab -> encoded screen values (n, 3), and whether each was inside as it is (n,)."""
    # (..., 3) Lab -> (..., 3) linear screen light; the light's white is the screen's white.
    linear = lab_to_xyz(lab, white=WHITE) @ matrix.T
    inside = np.all((linear >= -TOLERANCE) & (linear <= 1 + TOLERANCE), axis=-1)
    # Too bright in a channel: dim the light, which keeps the chromaticity.
    return encode(greyed(linear / np.maximum(linear.max(axis=-1, keepdims=True), 1), matrix)), inside


def greyed(linear: Floats, matrix: Floats = SRGB) -> Floats:
    """Linear light (..., 3), what is too colourful mixed with the grey of the same luminance until no channel is below
    nothing."""
    low = linear.min(axis=-1, keepdims=True)
    # (3,) the share of Y that each channel carries.
    grey = np.clip((linear @ np.linalg.inv(matrix)[1])[..., None], 0, 1)
    share = grey / np.maximum(grey - low, 1e-12)
    return np.where(low < 0, grey + share * (linear - grey), linear)


def shown(lab: Floats) -> list[Shown]:
    """(n, 3) Lab under any light -> how the screen shows each; the eye is taken to be adapted to that light."""
    lab = np.asarray(lab, dtype=np.float64).reshape(-1, 3)
    srgb, in_srgb = _fit(lab, SRGB)
    p3, in_p3 = _fit(lab, DISPLAY_P3)
    eight_bits = np.rint(255 * srgb).astype(np.uint8).tobytes().hex()
    rows = zip(p3.round(4).tolist(), in_srgb.tolist(), in_p3.tolist(), (lab[:, 0] > 100.5).tolist(), strict=True)
    return [
        Shown(f"#{eight_bits[6 * index : 6 * index + 6]}", f"color(display-p3 {r} {g} {b})", fits, fits_wide, bright)
        for index, ((r, g, b), fits, fits_wide, bright) in enumerate(rows)
    ]


@lru_cache(maxsize=4096)
def hex_to_lab(text: str) -> Floats | None:
    """An sRGB hex colour "#rrggbb" or "rrggbb" -> (3,) Lab under D65; None when it is not one."""
    digits = text.removeprefix("#")
    if len(digits) != 6 or any(digit not in "0123456789abcdefABCDEF" for digit in digits):
        return None
    encoded = np.array([int(digits[at : at + 2], 16) / 255 for at in (0, 2, 4)])
    value = linear_to_lab(to_linear(encoded))
    value.setflags(write=False)  # it is handed out again
    return value


def grey(luminance: float) -> str:
    """ "#rrggbb" of a neutral of this linear light, 0 to 1."""
    return "#" + 3 * f"{round(255 * float(encode(np.array(luminance)))):02x}"


def linear_to_lab(linear: Floats) -> Floats:
    """Linear light of an sRGB screen (..., 3) -> (..., 3) Lab under D65."""
    return xyz_to_lab(np.linalg.solve(SRGB, linear.T).T, white=WHITE)
