"""Spectra as CGATS.17 text: keywords, a data format, and a row a sample. Lab under D65 stands beside each spectrum."""

import re
from collections.abc import Sequence

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.errors import BadFile
from diachrom.exchange.sample import Raw, Sample
from diachrom.exchange.text import writable
from diachrom.words import say

SPECTRAL = re.compile(
    r"(?:(?P<percent>SPECTRAL_PCT_?)|SPEC_|SPECTRAL_NM_?|SPECTRAL_|NM_?|R_?)(?P<nm>\d{3})(?:NM)?", re.I
)
CELL = re.compile(r'"((?:[^"]|"")*)"|([^\s"]+)')  # a quote within quotes stands twice
PERCENT_FORMS = ("CTI3", "SPECT")  # first words of files whose spectra are percent
ORIGIN = 'ORIGINATOR "Diachrom"'
NAMES = ("SAMPLE_NAME", "SAMPLE_LOC", "SAMPLE_ID", "SAMPLEID")


def write(title: str, samples: Sequence[Sample]) -> bytes:
    """Spectra as CGATS.17 text."""
    bands = [f"SPECTRAL_NM{nm:.0f}" for nm in WAVELENGTHS_NM]
    lines = [
        "CGATS.17",
        "",
        ORIGIN,
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
        figures = " ".join(f"{value:.7g}" for value in lab(one.reflectance, under=light("D65")))
        spectrum = " ".join(f"{value:.7g}" for value in one.reflectance)
        lines.append(f'{number} "{_plain(one.name)}" {figures} {spectrum}')
    return ("\n".join([*lines, "END_DATA"]) + "\n").encode("utf-8")


def _plain(text: str) -> str:
    return " ".join(writable(text).replace('"', '""').split())


def read(name: str, text: str) -> tuple[list[Raw], bool | None]:
    """The spectra of a CGATS text, and whether it says that they are percent. Raises BadFile."""
    lines = [line.strip() for line in text.splitlines()]
    fields = " ".join(_between(name, lines, "BEGIN_DATA_FORMAT", "END_DATA_FORMAT")).split()
    spectral = {index: match for index, field in enumerate(fields) if (match := SPECTRAL.fullmatch(field))}
    places = {int(match["nm"]): at for at, match in spectral.items()}
    if not places:
        raise BadFile(name, say("its data format names no spectral fields."))
    named = next((fields.index(key) for key in NAMES if key in fields), len(fields))
    rows = [row for row in _between(name, lines, "BEGIN_DATA", "END_DATA") if row.strip() and row.lstrip()[0] != "#"]
    computed = ORIGIN in lines
    raws, marked = [], any(match["percent"] for match in spectral.values())
    for number, row in enumerate(rows, start=1):
        if '"' not in row:
            cells = row.split()
        else:
            if row.count('"') % 2:
                raise BadFile(name, say("'{given}' has a quote that does not end.", given=row.strip()[:40]))
            cells = [quoted.replace('""', '"') or plain for quoted, plain in CELL.findall(row)]
        label = (_bare(cells[named]) if named < len(cells) else "") or f"sample {number}"
        if len(cells) != len(fields):
            raise BadFile(
                name,
                say(
                    "'{label}' has {count} fields, its format {all}: is the file cut off?",
                    label=label,
                    count=len(cells),
                    all=len(fields),
                ),
            )
        own = [cells[place] for place in places.values()]
        marked |= any(cell.endswith("%") for cell in own)
        raws.append(Raw(label, list(places), _numbers(name, label, own), computed=computed))
    count = len(raws)
    pairs = (words for words in map(str.split, lines) if len(words) == 2)
    said = next((words[1] for words in pairs if words[0] == "NUMBER_OF_SETS"), None)
    if said is not None and said.lstrip("0") != str(count):
        raise BadFile(
            name, say("it says {said} samples and holds {count}: is it cut off?", said=said[:12], count=count)
        )
    return raws, _percent(lines, marked=marked)


def _bare(name: str) -> str:
    """Some programs put a name's own quotes into the name."""
    quoted = len(name) > 1 and name.startswith('"') and name.endswith('"')
    return name[1:-1].replace('""', '"') if quoted else name


def _numbers(name: str, label: str, cells: Sequence[str]) -> list[float]:
    try:
        return [float(cell.replace(",", ".").rstrip("%")) for cell in cells]
    except ValueError as error:
        raise BadFile(name, f"'{label}': {error}.") from None


def _percent(lines: Sequence[str], *, marked: bool) -> bool | None:
    """Whether the file says that its spectra are percent; None where it says nothing."""
    for words in map(str.split, lines):
        if len(words) == 2 and words[0] == "SPECTRAL_NORM":
            return words[1].strip('"').startswith("100")
    first = next((line.split()[0] for line in lines if line), "")
    return True if marked or first in PERCENT_FORMS else None


def _between(name: str, lines: Sequence[str], begin: str, end: str) -> list[str]:
    """The lines between two that begin with these words; one pass, however long the file."""
    inside: list[str] | None = None
    for line in lines:
        words = line.split(maxsplit=1)
        if inside is None and words and words[0] == begin:
            inside = words[1:]
        elif inside is not None and words and words[0] == end:
            return inside
        elif inside is not None:
            inside.append(line)
    raise BadFile(name, say("it has no {what}: is it cut off?", what=begin if inside is None else end))
