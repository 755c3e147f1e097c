"""Daylight at a depth: what four kinds of water leave of it, and the water's own colour.

Attenuation is (a + bb) / 0.8 with the absorption of pure water [pope1997], dissolved humus falling as
exp(-0.014 (lambda - 440)), algae, and particles [kirk2011]. The amounts of each are usual ones, to be changed freely.
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.tables import table
from diachrom.words import say

DEEPEST_M = 20.0

PURE = table("water.csv")["pure"]  # (band,) 1/m [pope1997]


def _bell(at_nm: float, width_nm: float) -> Floats:
    return np.asarray(np.exp(-(((WAVELENGTHS_NM - at_nm) / width_nm) ** 2) / 2))


@dataclass(frozen=True)
class Water:
    """A kind of water by what is in it."""

    key: str
    words: str
    humus: float  # 1/m at 440 nm
    algae: float  # 1/m at 440 nm
    backscatter: float  # 1/m

    @property
    def absorption(self) -> Floats:
        """(band,) 1/m."""
        algae = self.algae * (_bell(440, 35) + 0.5 * _bell(675, 13))
        return PURE + self.humus * np.exp(-0.014 * (WAVELENGTHS_NM - 440)) + algae

    @property
    def attenuation(self) -> Floats:
        """Kd (band,) 1/m."""
        return (self.absorption + self.backscatter) / 0.8

    @property
    def own_reflectance(self) -> Floats:
        """What open water sends back (band,), to stand out against."""
        return 0.33 * self.backscatter / (self.absorption + self.backscatter)


WATERS = {
    water.key: water
    for water in (
        Water("clear-lake", say("clear lake"), 0.08, 0.02, 0.004),
        Water("green-lake", say("green lake"), 0.35, 0.30, 0.03),
        Water("tea-stained", say("tea-stained water"), 2.2, 0.10, 0.02),
        Water("turbid", say("turbid water"), 0.8, 0.20, 0.25),
    )
}
