"""The dots of a mist off a macro photo of one pass on white: how much is covered, and how wide a dot lies.

Discs that fall anywhere cover the share c = 1 - exp(-N pi r^2), and their outlines, where they are not covered, are
2 pi r N exp(-N pi r^2) long in a unit of area [stoyan1995]: both together tell r. The outline's length is counted by
how often lines cross it (Crofton). With the coat's mean thickness m, c tells how thick a disc lies: h = -m / ln(1 - c).
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.errors import InvalidInput
from diachrom.words import quantity, say

APART = 0.70  # of the picture's variance that two levels explain, where there are dots
CONTRAST = 0.12  # of linear light, between dots and white
LEAST, MOST = 0.01, 0.97  # covered
BLUR = 24  # parts of the picture's side over which its light is evened
LEVELS = 128
SMALLEST_DOT = 2.0  # pixels in radius, below which a dot is not told from grain
FILM_OFF = 0.2  # of a coat's thickness, one standard deviation


@dataclass(frozen=True)
class MistPhoto:
    """What a photo shows."""

    covered: float  # share of the white
    even: bool  # no dots: it flowed together
    across_px: float = 0.0  # a dot
    dots: int = 0  # that lie on it, about

    def droplet_um(self, film_um: float) -> float:
        """How thick a dot lies, where so much was sprayed in the mean."""
        return 0.0 if self.even else float(-film_um / np.log1p(-self.covered))

    @property
    def off(self) -> float:
        """One standard deviation of the logarithm of that: the hand's coat, and how many dots were counted."""
        if self.even:
            return 0.0
        bare = 1 - self.covered
        counted = np.sqrt(self.covered / bare / max(self.dots, 1)) / abs(np.log(bare))
        return float(np.hypot(FILM_OFF, counted))


def read(light: Floats) -> MistPhoto:
    """Dots on white.

    Parameters
    ----------
    light : linear light (row, column) of the channel in which paint and white differ most, 0 to 1.

    Returns
    -------
    MistPhoto.

    Raises
    ------
    InvalidInput : a photo of nothing, of a wall, or too coarse.
    """
    even = light / np.maximum(_white(light), 1e-3)
    level, apart = _two_levels(even)
    dark = even < level
    covered = float(dark.mean())
    contrast = float(even[~dark].mean() - even[dark].mean()) if 0 < covered < 1 else 0.0
    if contrast < CONTRAST or apart < APART:
        spread = float(even.std() / max(even.mean(), 1e-6))
        if spread < CONTRAST / 2 and float(np.median(light)) < 0.5:
            return MistPhoto(1.0, even=True)
        raise InvalidInput(
            say("No dots are seen on this photo: lay one pass of a dark paint on white, let it dry, and go near."),
            field="photo",
        )
    if covered < LEAST:
        raise InvalidInput(say("Hardly a dot lies there: lay one whole pass."), field="photo")
    if covered > MOST:
        return MistPhoto(covered, even=True)
    along = [float(np.abs(np.diff(dark.astype(np.int8), axis=axis)).mean()) for axis in (0, 1)]
    outline = np.pi / 2 * float(np.mean(along))  # pixels of outline in a pixel of area
    radius = 2 * -np.log1p(-covered) * (1 - covered) / outline
    if radius < SMALLEST_DOT:
        raise InvalidInput(
            say(
                "A dot is {radius} pixels wide on this photo, and grain is taken for dots: go nearer.",
                radius=quantity(2 * radius, ".1f"),
            ),
            field="photo",
        )
    many = -np.log1p(-covered) * dark.size / (np.pi * radius**2)
    return MistPhoto(covered, even=False, across_px=2 * radius, dots=int(many))


def strongest(rgb: Floats) -> Floats:
    """Of linear light (row, column, channel) the channel whose levels lie farthest apart."""
    spread = np.percentile(rgb, 95, axis=(0, 1)) - np.percentile(rgb, 5, axis=(0, 1))
    return np.asarray(rgb[..., int(np.argmax(spread))])


def _white(light: Floats) -> Floats:
    """The white's light (row, column) as the lamp gives it: the bright part of each tile, a plane through them."""
    rows, columns = (np.array_split(np.arange(size), min(BLUR, size)) for size in light.shape)
    at, bright = [], []
    for row in rows:
        for column in columns:
            at.append((1.0, float(row.mean()), float(column.mean())))
            bright.append(np.percentile(light[np.ix_(row, column)], 90))
    basis, values = np.array(at), np.array(bright)
    kept = np.ones(len(values), dtype=bool)
    for _ in range(4):  # tiles that dots cover whole say nothing of the white
        plane = np.linalg.lstsq(basis[kept], values[kept], rcond=None)[0]
        kept = values >= basis @ plane - 0.05 * values.max()
    row, column = np.ogrid[: light.shape[0], : light.shape[1]]
    return np.asarray(plane[0] + plane[1] * row + plane[2] * column)


def _two_levels(values: Floats) -> tuple[float, float]:
    """The level that divides a picture best in two, and the share of its variance that this explains [otsu1979]."""
    counts, edges = np.histogram(values, bins=LEVELS)
    middle, share = (edges[1:] + edges[:-1]) / 2, counts / counts.sum()
    below, mean = np.cumsum(share), np.cumsum(share * middle)
    whole, variance = mean[-1], float((share * middle**2).sum() - mean[-1] ** 2)
    between = np.divide(
        (whole * below - mean) ** 2, below * (1 - below), out=np.zeros(LEVELS), where=(below > 0) & (below < 1)
    )
    best = int(np.argmax(between))
    return float(edges[best + 1]), float(between[best] / variance) if variance > 0 else 0.0
