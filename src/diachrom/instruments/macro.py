"""A simulated macro photo of one pass of mist on white."""

import io
from collections.abc import Sequence

import numpy as np
from PIL import Image

from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import encode

SIDE_MM, SIDE_PX = 4.0, 1000
ACROSS_UM, SCATTER = 60.0, 0.2  # a dot, and one standard deviation of its logarithm
NOISE, FALLS_OFF = 0.01, 0.15


def photo(looks: Sequence[Floats], *, discs: float, seed: int) -> bytes:
    """A JPEG, 4 mm wide, of so many discs in the mean at a place; `looks` are linear RGB (3,) of none, one, two ..."""
    import cv2

    chance, size = np.random.default_rng(seed), SIDE_PX
    radius = ACROSS_UM / 2 / (1000 * SIDE_MM / size)
    many = chance.poisson(discs * size**2 / (np.pi * radius**2 * np.exp(2 * SCATTER**2)))
    counts = np.zeros((size, size), dtype=np.float32)
    for x, y, wide in zip(
        *chance.uniform(0, size, (2, many)), np.exp(SCATTER * chance.standard_normal(many)), strict=True
    ):
        own = radius * wide
        low_x, low_y = int(max(0, x - own - 1)), int(max(0, y - own - 1))
        rows, columns = np.ogrid[low_y : int(y + own + 2), low_x : int(x + own + 2)]
        inside = (columns - x) ** 2 + (rows - y) ** 2 <= own**2
        there = counts[low_y : low_y + inside.shape[0], low_x : low_x + inside.shape[1]]
        there += inside[: there.shape[0], : there.shape[1]]
    sharp = np.stack(looks)[np.minimum(counts, len(looks) - 1).astype(np.intp)].astype(np.float32)
    picture = cv2.GaussianBlur(sharp, (0, 0), 0.8)
    lamp = np.linspace(1 + FALLS_OFF / 2, 1 - FALLS_OFF / 2, size)[None, :, None] * 0.8
    lit = picture * lamp + NOISE * chance.standard_normal((size, size, 1))
    out = io.BytesIO()
    Image.fromarray(np.rint(255 * encode(np.clip(lit, 0, 1))).astype(np.uint8)).save(out, "JPEG", quality=93)
    return out.getvalue()
