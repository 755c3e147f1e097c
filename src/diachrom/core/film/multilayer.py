"""Thin films by the characteristic-matrix method, both polarisations, absorbing layers, from inside the binder.

Equations as in [macleod2010], chapter 2: with phase delta = 2 pi n d cos(theta)/lambda and tilted admittance eta
(n cos(theta) for s, n/cos(theta) for p), (B, C) = product of [[cos d, -i sin d/eta], [-i eta sin d, cos d]] times
(1, eta_sub).
The time dependence is exp(-i omega t), so absorbing media have n + ik with k > 0.
"""

from collections.abc import Sequence
from typing import Any

import numpy as np

from diachrom.core.film.streams import INDEX
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats, Indices


def multilayer(
    layers: Sequence[tuple[Any, Any]],
    *,
    below: Indices | Floats | float,
    cos_in: Floats | float,
    index_in: float = INDEX,
    wavelengths_nm: Floats = WAVELENGTHS_NM,
) -> tuple[Floats, Floats]:
    """Reflectance and transmittance, unpolarised, of thin layers by the method of characteristic matrices.

    Parameters
    ----------
    layers : (index, thickness in nm) each, top first; indices (..., band), thicknesses scalars or (..., 1).
    below : index of the thick medium that they lie on.
    cos_in : cosine of the angle in the medium that the light comes from; broadcasts against (..., band).
    index_in : index of that medium.
    wavelengths_nm : (band,), nm.

    Returns
    -------
    Two of (..., band).

    References
    ----------
    [macleod2010] chapter 2.
    """
    cos_in = np.asarray(cos_in, dtype=np.float64)
    invariant = index_in**2 * (1 - cos_in**2)  # (n sin)^2, the same in every layer
    reflected, passed = [], []
    for s_polarised in (True, False):

        def admittance(index: Indices, cosine: Indices, s: bool = s_polarised) -> Indices:
            return index * cosine if s else index / cosine

        first = admittance(np.asarray(index_in, dtype=np.complex128), cos_in.astype(np.complex128))
        last_index = np.asarray(below, dtype=np.complex128)
        last = admittance(last_index, np.sqrt(1 - invariant / last_index**2))
        b, c = np.ones_like(last + first), last + 0 * first
        for index, thickness_nm in reversed(layers):
            of_layer = np.asarray(index, dtype=np.complex128)
            cosine: Indices = np.sqrt(1 - invariant / of_layer**2)
            delta = 2 * np.pi * of_layer * np.asarray(thickness_nm) * cosine / wavelengths_nm
            eta = admittance(of_layer, cosine)
            sine, co = -1j * np.sin(delta), np.cos(delta)
            b, c = co * b + sine / eta * c, eta * sine * b + co * c
        total = first * b + c
        reflected.append(np.abs((first * b - c) / total) ** 2)
        passed.append(4 * first.real * last.real / np.abs(total) ** 2)
    return (reflected[0] + reflected[1]) / 2, (passed[0] + passed[1]) / 2
