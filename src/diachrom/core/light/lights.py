"""The CIE 1931 2-degree observer and the lights a bait is looked at in; spectra to tristimulus values."""

import csv
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.errors import UnknownLight


def _table(name: str) -> dict[str, Floats]:
    """A committed table as column name -> (band,)."""
    text = (files("diachrom.core.light") / "data" / name).read_text(encoding="ascii")
    header, *rows = csv.reader(text.splitlines())
    columns = np.array(rows, dtype=np.float64).T  # (column, band)
    if not np.array_equal(columns[0], WAVELENGTHS_NM):
        raise ValueError(f"{name} is not on the band grid")
    return dict(zip(header[1:], columns[1:], strict=True))


@dataclass(frozen=True)
class Light:
    """A light: its key, its words, and the weights that turn radiance factors into tristimulus values."""

    key: str
    words: str
    power: Floats  # (band,) relative
    weights: Floats  # (band, 3); a perfect diffuser gives Y = 1
    white: Floats  # (3,)


WORDS = {
    "D65": "daylight",
    "D50": "warm daylight",
    "A": "light bulb",
    "led-warm": "warm LED",
    "led-cool": "cool LED",
    "overcast": "overcast sky",
}


@cache
def all_lights() -> dict[str, Light]:
    matching = _table("observer.csv")
    observer = np.stack([matching["x"], matching["y"], matching["z"]], axis=-1)  # (band, 3)
    lights = {}
    for key, power in _table("lights.csv").items():
        weights = power[:, None] * observer  # (band, 3)
        weights = weights / weights[:, 1].sum()
        lights[key] = Light(key, WORDS[key], power, weights, weights.sum(axis=0))
    return lights


def light(key: str) -> Light:
    """The light called `key`. Raises UnknownLight."""
    try:
        return all_lights()[key]
    except KeyError:
        raise UnknownLight(key, list(all_lights())) from None


def xyz(radiance_factor: Floats, *, under: Light) -> Floats:
    """Tristimulus values of radiance factors, Y = 1 for the perfect diffuser: (..., band) -> (..., 3) [cie15]."""
    return radiance_factor @ under.weights
