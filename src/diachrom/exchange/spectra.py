"""Spectra in files: CGATS text, CxF3 XML, or two plain columns; brought onto the band grid, and what that took said."""

from collections.abc import Sequence

from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import cgats, cxf
from diachrom.exchange.sample import Raw, Sample, on_grids
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size, decoded
from diachrom.words import quantity, say

LIGHTEST_BLACK = 40.0  # L of the black of a card


VALUES = {"": "as the file says", "percent": "percent", "share": "0 to 1"}  # what its values may be said to be


def read_spectra(name: str, content: bytes, values: str = "") -> list[Sample]:
    """CGATS, CxF3 or columns, by what it is; `values` is one of VALUES. Raises BadFile, InvalidInput."""

    if values not in VALUES:
        raise InvalidInput(say("Values are percent or share, not '{values}'.", values=values[:20]), field="values")
    check_size(name, len(content))
    return run_sandboxed(name, _read, content, values)


def _read(name: str, content: bytes, values: str) -> list[Sample]:
    text, _ = decoded(name, content)
    percent: bool | None = False
    if text.lstrip().startswith("<"):
        raws = cxf.read(name, content)
    elif "BEGIN_DATA" in text:
        raws, percent = cgats.read(name, text)
    else:
        raws, percent = _columns(name, text)
    if not raws:
        raise BadFile(name, say("it holds no spectra."))
    return on_grids(name, raws, percent=percent if not values else values == "percent")


def too_light_for_black(sample: Sample) -> str:
    """What to ask of a bare black that is as light as a grey, "" of one that may be black."""
    lightness = float(lab(sample.reflectance, under=light("D65"))[0])
    if lightness <= LIGHTEST_BLACK:
        return ""
    return say(
        "The bare black, '{name}', comes to L {lightness}. Are the file's values percent? Say which they are, percent "
        "or 0 to 1; nothing was imported.",
        name=sample.name,
        lightness=quantity(lightness, ".0f"),
    )


def _columns(name: str, text: str) -> tuple[list[Raw], bool | None]:
    """Lines of a wavelength and a value, as many readers write them; and whether they say that they are percent."""
    rows: list[tuple[float, float]] = []
    percent, header = False, ""
    for number, line in enumerate(text.splitlines(), start=1):
        # A semicolon or a tab parts columns; then a comma is a decimal comma.
        plain = line.replace(",", ".") if ";" in line or "\t" in line else line
        cells = plain.replace(";", " ").replace("\t", " ").replace(",", " ").split()
        if not cells or (not rows and not _is_number(cells[0])):
            header = line if cells else header
            continue
        # The words right above the figures, or a mark behind one, say what they are; any other may be a name.
        percent |= "%" in line or (not rows and "%" in header)
        figures = [cell.rstrip("%") for cell in cells if cell != "%"][:2]
        if len(figures) < 2 or not all(map(_is_number, figures)):
            raise BadFile(
                name,
                say("row {number}: '{given}' is no wavelength with a value.", number=number, given=line.strip()[:40]),
            )
        rows.append((float(figures[0]), float(figures[1])))
    if len(rows) < 2:
        raise BadFile(name, say("it is neither CGATS, CxF3, nor rows of a wavelength and a value."))
    at, values = zip(*rows, strict=True)
    return [Raw(name.rsplit(".", 1)[0], at, values)], True if percent else None


def _is_number(text: str) -> bool:
    try:
        float(text)
    except ValueError:
        return False
    return True


def one_of(file: str, samples: Sequence[Sample], wanted: str) -> Sample:
    """The sample of this name, or the only one. Raises BadFile, saying which there are."""
    if not wanted.strip() and len(samples) == 1:
        return samples[0]
    found = [one for one in samples if one.name.casefold() == wanted.strip().casefold()]
    if len(found) == 1:
        return found[0]
    names = ", ".join(f"'{one.name}'" for one in samples[:8]) + (" and more" if len(samples) > 8 else "")
    raise BadFile(file, say("it holds {count} samples: {names}. Say which one.", count=len(samples), names=names))
