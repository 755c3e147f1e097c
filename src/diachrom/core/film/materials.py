"""Optical constants on the band grid: complex indices n + ik of metals and the indices of clear layers."""

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats, Indices


def _metal(nm: list[float], n: list[float], k: list[float]) -> Indices:
    """Tabulated constants, interpolated: -> (band,)."""
    real, imaginary = (np.interp(WAVELENGTHS_NM, nm, values) for values in (n, k))
    return np.asarray(real + 1j * imaginary, dtype=np.complex128)


# Aluminium [rakic1995].
ALUMINIUM = _metal(
    [350, 400, 450, 500, 550, 600, 650, 700, 750],
    [0.375, 0.490, 0.618, 0.769, 0.958, 1.200, 1.470, 1.830, 2.400],
    [4.24, 4.86, 5.47, 6.08, 6.69, 7.26, 7.79, 8.31, 8.62],
)
# Copper, for copper and bronze flakes [johnson1972].
COPPER = _metal(
    [381.5, 397.4, 413.3, 430.5, 450.9, 471.4, 495.9, 520.9, 548.6, 579.4, 616.8, 659.5, 704.5, 756.0],
    [1.33, 1.32, 1.28, 1.25, 1.24, 1.25, 1.22, 1.18, 1.02, 0.70, 0.30, 0.22, 0.21, 0.24],
    [2.045, 2.116, 2.207, 2.305, 2.397, 2.483, 2.564, 2.608, 2.577, 2.704, 3.205, 3.747, 4.205, 4.665],
)
# Gold, mixed with copper for pale bronze [johnson1972].
GOLD = _metal(
    [381.5, 397.4, 413.3, 430.5, 450.9, 471.4, 495.9, 520.9, 548.6, 579.4, 616.8, 659.5, 704.5, 756.0],
    [1.46, 1.47, 1.46, 1.45, 1.38, 1.31, 1.04, 0.62, 0.43, 0.29, 0.21, 0.14, 0.13, 0.14],
    [1.933, 1.952, 1.958, 1.948, 1.914, 1.849, 1.833, 2.081, 2.455, 2.863, 3.272, 3.697, 4.103, 4.542],
)
# Chromium as a thin evaporated film, smoothed [johnson1974].
CHROMIUM = _metal(
    [380, 400, 450, 500, 550, 600, 650, 700, 750],
    [1.80, 2.00, 2.40, 2.75, 3.05, 3.15, 3.14, 3.05, 3.10],
    [2.70, 2.80, 3.00, 3.20, 3.30, 3.30, 3.30, 3.35, 3.40],
)


def _cauchy(a: float, b_um2: float) -> Floats:
    """n = A + B / lambda^2, lambda in um."""
    return a + b_um2 / (WAVELENGTHS_NM / 1000) ** 2


TITANIA = _cauchy(2.35, 0.06)  # a dense film of the oxide as it lies on mica
# Haematite as a dense film on mica, drawn smoothly through what is usual for it: it takes blue and green, and lets
# red go.
RUST = _metal(
    [380, 400, 430, 460, 500, 530, 560, 580, 600, 620, 650, 700, 750],
    [2.30, 2.42, 2.60, 2.75, 2.90, 3.02, 3.12, 3.14, 3.08, 3.00, 2.92, 2.84, 2.80],
    [1.20, 1.18, 1.08, 0.95, 0.74, 0.62, 0.50, 0.34, 0.18, 0.09, 0.04, 0.02, 0.015],
)
MICA = _cauchy(1.575, 0.004)
SILICA = _cauchy(1.4484, 0.0035)  # within 0.0002 of [malitson1965] at 400, 589 and 700 nm
SPACER = _cauchy(1.37, 0.002)  # magnesium fluoride
