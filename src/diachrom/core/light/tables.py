"""Small committed tables on the band grid."""

import csv
from importlib.resources import files

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.words import say


def table(name: str) -> dict[str, Floats]:
    """A committed table as column name -> (band,)."""
    text = (files("diachrom.core.light") / "data" / name).read_text(encoding="ascii")
    header, *rows = csv.reader(text.splitlines())
    columns = np.array(rows, dtype=np.float64).T  # (column, band)
    if not np.array_equal(columns[0], WAVELENGTHS_NM):
        raise ValueError(say("{name} is not on the band grid", name=name))
    return dict(zip(header[1:], columns[1:], strict=True))
