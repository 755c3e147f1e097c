"""Write the observer and the lights of core/light/data from the colour-science package (development only).

Every spectrum is sampled at the 36 band centres. Daylight, A and the LEDs are the CIE's tables [cie15].
"""

import warnings
from pathlib import Path

warnings.simplefilter("ignore")
import colour  # noqa: E402  (its import warns of plots that are not needed)

TARGET = Path(__file__).parents[1] / "src/diachrom/core/light/data"
BANDS = range(380, 731, 10)
OBSERVER = "CIE 1931 2 Degree Standard Observer"
# key -> the CIE's name. Overcast sky is close to 7500 K; the LEDs are the 2700 K and the 6600 K phosphor types.
LIGHTS = {"D65": "D65", "D50": "D50", "A": "A", "led-warm": "LED-B1", "led-cool": "LED-B5", "overcast": "D75"}


def write(name: str, header: list[str], columns: list[list[float]]) -> None:
    rows = [",".join(["nm", *header])]
    for band, *values in zip(BANDS, *columns, strict=True):
        rows.append(",".join([str(band), *(f"{value:.9g}" for value in values)]))
    (TARGET / name).write_text("\n".join(rows) + "\n", encoding="ascii")


def main() -> None:
    cmfs = colour.MSDS_CMFS[OBSERVER]
    matching = [[float(cmfs[float(band)][axis]) for band in BANDS] for axis in range(3)]
    write("observer.csv", ["x", "y", "z"], matching)
    spectra = [colour.SDS_ILLUMINANTS[name] for name in LIGHTS.values()]
    write("lights.csv", list(LIGHTS), [[float(spectrum[float(band)]) for band in BANDS] for spectrum in spectra])


if __name__ == "__main__":
    main()
