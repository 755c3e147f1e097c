"""Simulated photos of foil on a bait beside white paper: every facet a little mirror of one small lamp."""

import io

import numpy as np
from PIL import Image

from diachrom.core.light.screen import encode

TILT_DEG = 11.5  # of this bench's hand
LAMP_DEG = 6.0  # half as wide as the lamp is seen
SIZE = (900, 600)  # pixels
STANDING, STANDING_SPREAD = 0.12, 2.4  # facets that stand off more
FACETS = 400_000  # in the middle of the picture
PAPER, EXPOSURE, METAL, REST, NOISE = 0.87, 0.16, 0.87, 0.04, 0.006


def photo(turned_deg: float, *, seed: int) -> bytes:
    """A JPEG of bare foil in the middle, turned so far from where it flashes, and paper along the left edge."""
    chance = np.random.default_rng(seed)
    width, height = SIZE
    spread = np.where(chance.random(FACETS) < STANDING, STANDING_SPREAD, 1.0)
    side = spread * np.tan(np.radians(TILT_DEG)) * chance.standard_normal((2, FACETS))
    normal = np.stack([*side, np.ones(FACETS)])
    normal /= np.linalg.norm(normal, axis=0)
    turn = np.radians(turned_deg)
    towards = np.array([np.sin(turn), 0.0, np.cos(turn)])  # the eye and the lamp, from the bait
    cos = towards @ normal
    mirrored = 2 * cos * normal - towards[:, None]
    lit = (towards @ mirrored > np.cos(np.radians(LAMP_DEG))) * cos / normal[2]
    # The lamp's radiance is that by which a white that faces it sends 1.
    radiance = 1 / np.sin(np.radians(LAMP_DEG)) ** 2
    cells = METAL * radiance * lit.reshape(-1, 1000).mean(axis=1) / float(np.cos(turn)) + REST
    picture = np.full((height, width), 0.18)
    picture[:, : int(0.16 * width)] = PAPER
    bait = slice(int(0.3 * height), int(0.7 * height)), slice(int(0.3 * width), int(0.7 * width))
    shape = picture[bait].shape
    picture[bait] = np.resize(chance.permutation(cells), shape)
    shown = EXPOSURE * picture + NOISE * chance.standard_normal(picture.shape)
    out = io.BytesIO()
    grey = np.rint(255 * encode(np.clip(shown, 0, 1))).astype(np.uint8)
    Image.fromarray(np.repeat(grey[..., None], 3, axis=-1)).save(out, "JPEG", quality=95, subsampling=0)
    return out.getvalue()
