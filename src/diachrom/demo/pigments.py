"""Generic pigments and dyes as smooth parametric curves, by Colour Index generic name.

Shapes follow the textbooks' descriptions of each pigment's absorption (where it begins, where it peaks); the strengths
are those of a bottled airbrush paint at full load, in 1/um of wet film. They are an invention of the right kind, not
measurements of any product.
"""

from dataclasses import dataclass

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM as NM
from diachrom.core.light.bands import Floats


@dataclass(frozen=True, eq=False)
class Pigment:
    index_name: str
    words: str
    absorption: Floats  # (band,) 1/um at full load
    scattering: Floats  # (band,) 1/um at full load, reduced


def edge(at_nm: float, width_nm: float, height: float) -> Floats:
    """Absorbs everything shorter than `at_nm`."""
    return height / (1 + np.exp((NM - at_nm) / width_nm))


def peak(at_nm: float, width_nm: float, height: float) -> Floats:
    """(band,) a band of absorption, 1 at its peak."""
    return height * np.exp(-(((NM - at_nm) / width_nm) ** 2) / 2)


def haze(height: float, power: float = 1.4) -> Floats:
    """Scattering that falls with the wavelength; the finer the particle, the steeper."""
    return height * (550 / NM) ** power


def _pigment(index_name: str, words: str, *bands: Floats, base: float, scattering: Floats) -> Pigment:
    return Pigment(index_name, words, base + np.sum(bands, axis=0), scattering)


PIGMENTS = {
    pigment.index_name: pigment
    for pigment in (
        _pigment("PW6", "titanium white", edge(396, 6, 0.2), base=2e-4, scattering=haze(0.55, 1.1)),
        _pigment("PBk7", "carbon black", edge(560, 160, 0.3), base=0.75, scattering=haze(0.012)),
        _pigment("PY74", "arylide yellow", edge(490, 8, 0.34), base=4e-4, scattering=haze(0.022)),
        _pigment("PY110", "isoindolinone yellow", edge(512, 10, 0.36), base=4e-4, scattering=haze(0.03)),
        _pigment(
            "PY150", "nickel azo yellow", edge(492, 16, 0.36), peak(440, 40, 0.1), base=1e-3, scattering=haze(0.006)
        ),
        _pigment(
            "PY42",
            "yellow iron oxide",
            edge(530, 17, 0.30),
            peak(650, 45, 0.008),
            base=3e-3,
            scattering=haze(0.11, 0.8),
        ),
        _pigment(
            "PR101", "red iron oxide", edge(578, 14, 0.3), peak(660, 60, 0.01), base=0.008, scattering=haze(0.09, 0.6)
        ),
        _pigment("PBr7", "umber", edge(560, 55, 0.30), base=0.03, scattering=haze(0.06, 0.8)),
        _pigment("PO71", "pyrrole orange", edge(562, 9, 0.38), base=6e-4, scattering=haze(0.02)),
        _pigment("PR254", "pyrrole red", edge(588, 8, 0.28), peak(530, 32, 0.14), base=1e-3, scattering=haze(0.03)),
        _pigment(
            "PR177", "anthraquinone red", edge(586, 10, 0.26), peak(525, 35, 0.16), base=2e-3, scattering=haze(0.008)
        ),
        _pigment(
            "PR122",
            "quinacridone magenta",
            peak(535, 24, 0.24),
            peak(566, 14, 0.18),
            peak(420, 50, 0.05),
            base=2e-3,
            scattering=haze(0.012),
        ),
        _pigment(
            "PV23",
            "dioxazine violet",
            peak(540, 35, 0.26),
            peak(595, 20, 0.30),
            peak(400, 30, 0.06),
            base=0.01,
            scattering=haze(0.01),
        ),
        _pigment(
            "PB15:3",
            "phthalocyanine blue",
            peak(612, 28, 0.30),
            peak(560, 30, 0.07),
            peak(690, 36, 0.36),
            peak(365, 30, 0.16),
            base=3e-3,
            scattering=haze(0.014),
        ),
        _pigment("PB29", "ultramarine", peak(600, 48, 0.20), base=3e-3, scattering=haze(0.03)),
        _pigment(
            "PG7",
            "phthalocyanine green",
            peak(640, 32, 0.30),
            peak(705, 34, 0.24),
            edge(440, 16, 0.17),
            base=3e-3,
            scattering=haze(0.012),
        ),
        _pigment(
            "PG36",
            "yellowish phthalocyanine green",
            peak(655, 30, 0.28),
            peak(710, 30, 0.2),
            edge(462, 15, 0.2),
            base=3e-3,
            scattering=haze(0.012),
        ),
        # Dyes: dissolved, nothing to scatter.
        _pigment("SY82", "metal-complex yellow dye", edge(495, 14, 0.55), base=2e-4, scattering=haze(0)),
        _pigment("SO62", "metal-complex orange dye", edge(540, 14, 0.55), base=2e-4, scattering=haze(0)),
        _pigment(
            "SR122", "metal-complex red dye", edge(572, 11, 0.5), peak(520, 30, 0.2), base=3e-4, scattering=haze(0)
        ),
        _pigment(
            "SB70",
            "phthalocyanine blue dye",
            peak(615, 32, 0.4),
            peak(560, 28, 0.06),
            peak(680, 30, 0.5),
            peak(360, 30, 0.2),
            base=3e-4,
            scattering=haze(0),
        ),
        _pigment(
            "SBk29", "metal-complex black dye", edge(600, 120, 0.5), peak(600, 70, 0.25), base=0.15, scattering=haze(0)
        ),
        # The bodies of fluorescent paints: their own dye, with a shoulder down into the ultraviolet.
        _pigment(
            "fluorescent orange",
            "dye that gives light back",
            peak(518, 32, 0.2),
            edge(505, 12, 0.06),
            base=2e-4,
            scattering=haze(0),
        ),
        _pigment(
            "fluorescent yellow",
            "dye that gives light back",
            peak(445, 32, 0.2),
            edge(440, 12, 0.06),
            base=2e-4,
            scattering=haze(0),
        ),
    )
}
