"""Spectra as CGATS.17 text: keywords, a data format, and a row a sample. Lab under D65 stands beside each spectrum."""

import re
import shlex
from collections.abc import Sequence

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.errors import BadFile
from diachrom.exchange.spectra import Sample, on_grid
from diachrom.exchange.text import writable

SPECTRAL = re.compile(r"^(?:SPEC_|SPECTRAL_NM_?|SPECTRAL_|NM_?|R_?)(\d{3})(?:NM)?$", re.I)
NAMES = ("SAMPLE_NAME", "SAMPLE_ID", "SAMPLEID", "SAMPLE_LOC")


def write(title: str, samples: Sequence[Sample]) -> bytes:
    bands = [f"SPECTRAL_NM{nm:.0f}" for nm in WAVELENGTHS_NM]
    lines = [
        "CGATS.17",
        "",
        'ORIGINATOR "Diachrom"',
        f'DESCRIPTOR "{_plain(title)}"',
        'MEASUREMENT_SOURCE "Illumination=D65 ObserverAngle=2 Geometry=d:8 mirror part left out"',
        f'KEYWORD "SPECTRAL_BANDS"\nSPECTRAL_BANDS "{BANDS}"',
        f'KEYWORD "SPECTRAL_START_NM"\nSPECTRAL_START_NM "{WAVELENGTHS_NM[0]:.6f}"',
        f'KEYWORD "SPECTRAL_END_NM"\nSPECTRAL_END_NM "{WAVELENGTHS_NM[-1]:.6f}"',
        "",
        f"NUMBER_OF_FIELDS {len(bands) + 5}",
        "BEGIN_DATA_FORMAT",
        "SAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B " + " ".join(bands),
        "END_DATA_FORMAT",
        "",
        f"NUMBER_OF_SETS {len(samples)}",
        "BEGIN_DATA",
    ]
    for number, one in enumerate(samples, start=1):
        figures = " ".join(f"{value:.4f}" for value in lab(one.reflectance, under=light("D65")))
        spectrum = " ".join(f"{value:.6f}" for value in one.reflectance)
        lines.append(f'{number} "{_plain(one.name)}" {figures} {spectrum}')
    return ("\n".join([*lines, "END_DATA"]) + "\n").encode("utf-8")


def _plain(text: str) -> str:
    return " ".join(writable(text).replace('"', "'").split())


def read(name: str, text: str) -> list[Sample]:
    """The samples of a CGATS text that has spectra. Raises BadFile."""
    fields = _between(name, text, "BEGIN_DATA_FORMAT", "END_DATA_FORMAT").split()
    places = {int(match[1]): at for at, field in enumerate(fields) if (match := SPECTRAL.match(field))}
    if not places:
        raise BadFile(name, "its data format names no spectral fields.")
    named = next((fields.index(key) for key in NAMES if key in fields), None)
    found: list[Sample] = []
    for row in _between(name, text, r"BEGIN_DATA(?!_)", r"END_DATA(?!_)").splitlines():
        if not row.strip() or row.lstrip().startswith("#"):
            continue
        try:
            cells = shlex.split(row.replace("\\", "\\\\"), posix=True) if '"' in row else row.split()
        except ValueError:
            raise BadFile(name, f"'{row.strip()[:40]}' has a quote that does not end.") from None
        label = cells[named] if named is not None and named < len(cells) else f"sample {len(found) + 1}"
        if len(cells) != len(fields):
            raise BadFile(name, f"'{label}' has {len(cells)} fields, its format {len(fields)}: is the file cut off?")
        try:
            values = [float(cells[at].replace(",", ".")) for at in places.values()]
        except ValueError as error:
            raise BadFile(name, f"'{label}': {error}.") from None
        found.append(on_grid(name, label, list(places), values))
    said = re.search(r"NUMBER_OF_SETS\s+(\d+)", text)
    if said and int(said[1]) != len(found):
        raise BadFile(name, f"it says {said[1]} samples and holds {len(found)}: is it cut off?")
    return found


def _between(name: str, text: str, begin: str, end: str) -> str:
    found = re.search(rf"^\s*{begin}\b(.*?)^\s*{end}\b", text, re.S | re.M)
    if found is None:
        plain = end.replace("(?!_)", "")
        raise BadFile(name, f"it has no {plain}: is it cut off?")
    return found[1]
