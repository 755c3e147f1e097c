"""The one wavelength grid: 36 bands, 380 to 730 nm in 10 nm steps. Spectral arrays end in the axis `band`."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from diachrom.errors import BadSpectrum
from diachrom.words import quantity, say

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
Ints = NDArray[np.intp]
Indices = NDArray[np.complex128]  # complex refractive indices n + ik

WAVELENGTHS_NM: Floats = np.arange(380.0, 731.0, 10.0)  # (band,)
BANDS = len(WAVELENGTHS_NM)


def spectrum(values: Any, *, field: str, lowest: float = 0.0, highest: float = np.inf) -> Floats:
    """Check a spectrum given from outside.

    Parameters
    ----------
    values : anything.
    field : what a message calls it.
    lowest, highest : bounds of a value, both included.

    Returns
    -------
    (band,) float64.

    Raises
    ------
    BadSpectrum : its length, a value or the range is wrong.
    """
    try:
        array = np.asarray(values, dtype=np.float64)
    except (TypeError, ValueError):
        raise BadSpectrum(field, say("expected a list of numbers.")) from None
    if array.shape != (BANDS,):
        count = array.size if array.ndim == 1 else say("another shape of")
        raise BadSpectrum(
            field,
            say(
                "expected {bands} values, 380 to 730 nm in steps of 10 nm, and got {count} values.",
                bands=BANDS,
                count=count,
            ),
        )
    for at, value in zip(WAVELENGTHS_NM, array, strict=True):
        if not np.isfinite(value):
            raise BadSpectrum(field, say("the value at {at} nm is not a number.", at=quantity(at, ".0f")))
        if not lowest <= value <= highest:
            bounds = (
                say("at least {lowest}", lowest=quantity(lowest, "g"))
                if np.isinf(highest)
                else say("from {lowest} to {highest}", lowest=quantity(lowest, "g"), highest=quantity(highest, "g"))
            )
            raise BadSpectrum(
                field,
                say(
                    "the value at {at} nm is {value}; it must be {bounds}.",
                    at=quantity(at, ".0f"),
                    value=quantity(value, "g"),
                    bounds=bounds,
                ),
            )
    return array
