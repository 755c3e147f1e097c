"""How far the facets of hand-laid foil are tilted, from two photos of it: where it flashes, and turned away.

Foil that is turned by an angle from where it flashes mirrors the lamp by those of its facets that are tilted by this
angle; how much darker it is than in the flash tells how the tilts are spread. White paper beside it, which lies still,
tells the two photos' exposures.
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.film.facets import density
from diachrom.core.film.flakes import LARGEST_TILT_DEG, SMALLEST_TILT_DEG
from diachrom.core.film.streams import INDEX
from diachrom.core.light.bands import Floats
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

CLIPPED = 0.965  # linear light, above which a camera counts no further
BURNT = 0.01  # of the foil's pixels that may be
DIMMEST = 0.04  # of the paper
UNEVEN = 0.15  # of the paper's light, from part to part
FOIL, PAPER = 0.12, (0.03, 0.13)  # of the width: the middle, and the left edge
TALL = 0.15  # of the height, of either
REST = 0.045  # of a white's light that the rest of it, scratches and dust, sends any way
METAL = 0.87  # of the light that meets a facet
LEAST_DEG, MOST_DEG = 5.0, 35.0  # that foil is turned
STEPS = 40


@dataclass(frozen=True)
class FoilPhoto:
    """What a photo shows: the foil's light, in that of the paper."""

    foil: float
    paper: float  # of full exposure


def read(picture: Floats, name: str) -> FoilPhoto:
    """The foil in the middle, the paper along the left edge, of linear light (row, column, channel). Raises
    InvalidInput for one that is burnt out or too dark, or has no paper there."""
    height, width = picture.shape[:2]
    rows = slice(int(height * (0.5 - TALL / 2)), int(height * (0.5 + TALL / 2)) + 1)
    foil = picture[rows, int(width * (0.5 - FOIL / 2)) : int(width * (0.5 + FOIL / 2)) + 1]
    paper = picture[rows, int(width * PAPER[0]) : int(width * PAPER[1]) + 1].mean(axis=-1)
    if float((foil.max(axis=-1) > CLIPPED).mean()) > BURNT:
        raise InvalidInput(say("{name}: the foil is burnt out in it. Take it darker.", name=name), field="file")
    parts = [float(part.mean()) for part in np.array_split(paper, 4)]
    bright = float(np.median(paper))
    if bright < DIMMEST:
        raise InvalidInput(
            say("{name}: no white paper along its left edge, or too dark. Lay some there.", name=name), field="file"
        )
    if bright > CLIPPED or float(np.ptp(parts)) > UNEVEN * bright:
        raise InvalidInput(
            say("{name}: the paper along its left edge is burnt out, or not evenly lit.", name=name), field="file"
        )
    return FoilPhoto(float(foil.mean()) / bright, bright)


def bright(tilt_deg: float, turned_deg: float, *, cleared: bool) -> float:
    """How bright foil is that is turned so far, in the light of a white that lies still."""
    met = np.cos(np.radians(turned_deg))  # of the lamp's light
    cos = np.cos(np.arcsin(np.sin(np.radians(turned_deg)) / (INDEX if cleared else 1.0)))
    facing = float(density(np.array([cos]), tilt_deg)[0])
    return float((METAL * np.pi * facing / (4 * cos**2) / (INDEX**2 if cleared else 1.0) + REST) * met)


def ratio(tilt_deg: float, turned_deg: float, *, cleared: bool) -> float:
    """How bright foil is that is turned so far, by itself where it flashes."""
    return bright(tilt_deg, turned_deg, cleared=cleared) / bright(tilt_deg, 0.0, cleared=cleared)


def tilt(flash: FoilPhoto, turned: FoilPhoto, turned_deg: float, *, cleared: bool) -> float:
    """The spread of the facets' tilts, degrees, rms of one direction. Raises InvalidInput where the photos do not
    tell it."""
    if not LEAST_DEG <= turned_deg <= MOST_DEG:
        raise InvalidInput(
            say(
                "Turn the bait by {least} to {most}, not by {turned}.",
                least=quantity(LEAST_DEG, "g"),
                most=quantity(MOST_DEG, "g", "°"),
                turned=quantity(turned_deg, "g", "°"),
            ),
            field="turned_deg",
        )
    seen = turned.foil / max(flash.foil, 1e-9)
    low, high = SMALLEST_TILT_DEG, LARGEST_TILT_DEG
    if seen >= ratio(high, turned_deg, cleared=cleared):
        raise InvalidInput(
            say("Turned, the foil is nearly as bright as in the flash: are the photos swapped, or is it no foil?"),
            field="file",
        )
    if seen <= ratio(1.5 * low, turned_deg, cleared=cleared):
        raise InvalidInput(say("Turned so far, nothing of the flash is left. Turn it less."), field="turned_deg")
    for _ in range(STEPS):
        middle = (low + high) / 2
        low, high = (middle, high) if ratio(middle, turned_deg, cleared=cleared) < seen else (low, middle)
    return (low + high) / 2
