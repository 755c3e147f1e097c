"""Spectra in files: CGATS text, CxF3 XML, or two plain columns; brought onto the band grid, and what that took said."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.errors import BadFile, InvalidInput

PERCENT_ABOVE = 2.0  # no reflectance factor of a paint is twice a white's
LIGHTEST_BLACK = 40.0  # L of the black of a card
WIDEST_STEP_NM = 20.0
MUST_REACH_NM = (420.0, 680.0)


@dataclass(frozen=True, eq=False)
class Sample:
    """A named spectrum on the band grid, and what was done to it."""

    name: str
    reflectance: Floats  # (band,)
    notes: Sequence[str] = field(default=())


@dataclass(frozen=True)
class Raw:
    """A spectrum as it stands in a file."""

    name: str
    wavelengths_nm: Sequence[float]
    values: Sequence[float]


def on_grids(file: str, found: Sequence[Raw], *, percent: bool | None) -> list[Sample]:
    """Spectra of one file -> samples; all of them are percent, or none is. `percent` is None where nothing says which:
    then one value beyond any reflectance tells it of the whole file. Raises BadFile, naming the sample."""
    if percent is None:
        percent = any(value > PERCENT_ABOVE for one in found for value in one.values)
    return [on_grid(file, one.name, one.wavelengths_nm, one.values, percent=percent) for one in found]


def on_grid(file: str, name: str, wavelengths_nm: Sequence[float], values: Sequence[float], *, percent: bool) -> Sample:
    """A spectrum on any even or uneven grid -> a sample. Raises BadFile, naming the sample."""
    at, raw = np.asarray(wavelengths_nm, dtype=np.float64), np.asarray(values, dtype=np.float64)
    if at.shape != raw.shape or len(at) < 2:
        raise BadFile(file, f"'{name}' has {raw.size} values for {at.size} wavelengths.")
    order = np.argsort(at)
    at, raw = at[order], raw[order]
    if not (np.isfinite(raw).all() and np.isfinite(at).all()):
        raise BadFile(file, f"'{name}' has a value that is not a number.")
    if np.diff(at).max() > WIDEST_STEP_NM or np.diff(at).min() <= 0:
        raise BadFile(file, f"'{name}' steps by {np.diff(at).max():g} nm; at most {WIDEST_STEP_NM:g} can be read.")
    if at[0] > MUST_REACH_NM[0] or at[-1] < MUST_REACH_NM[1]:
        raise BadFile(
            file,
            f"'{name}' reaches from {at[0]:g} to {at[-1]:g} nm; it must reach from {MUST_REACH_NM[0]:g} "
            f"to {MUST_REACH_NM[1]:g}.",
        )
    notes = []
    if percent:
        raw = raw / 100
        notes.append("given in percent")
    if raw.min() < -0.02 or raw.max() > PERCENT_ABOVE:
        raise BadFile(file, f"'{name}' goes from {raw.min():g} to {raw.max():g}: no reflectance.")
    if len(at) == BANDS and np.array_equal(at, WAVELENGTHS_NM):
        return Sample(name, np.clip(raw, 0, 1), notes)
    notes.append(f"resampled from {at[0]:g} to {at[-1]:g} nm in {len(at)} steps")
    if at[0] > WAVELENGTHS_NM[0] or at[-1] < WAVELENGTHS_NM[-1]:
        notes.append("its ends held where it has none")
    return Sample(name, np.clip(_resampled(at, raw), 0, 1), notes)


def _resampled(at: Floats, raw: Floats) -> Floats:
    """Finer grids are averaged with a triangle of one band, coarser ones joined by straight lines."""
    if np.diff(at).mean() >= 9.0:
        return np.interp(WAVELENGTHS_NM, at, raw)
    weights = np.maximum(0.0, 1 - np.abs(WAVELENGTHS_NM[:, None] - at) / 10.0)  # (band, given)
    total = weights.sum(axis=1)
    nearest = np.interp(WAVELENGTHS_NM, at, raw)
    return np.where(total > 0, weights @ raw / np.maximum(total, 1e-12), nearest)


VALUES = {"": "as the file says", "percent": "percent", "share": "0 to 1"}  # what its values may be said to be


def read_spectra(name: str, content: bytes, values: str = "") -> list[Sample]:
    """CGATS, CxF3 or columns, by what it is; `values` is one of VALUES. Raises BadFile, InvalidInput."""
    from diachrom.exchange import cgats, cxf
    from diachrom.exchange.text import decoded

    if values not in VALUES:
        raise InvalidInput(f"Values are percent or share, not '{values[:20]}'.", field="values")
    text, _ = decoded(name, content)
    percent: bool | None = False
    if text.lstrip().startswith("<"):
        found = cxf.read(name, content)
    elif "BEGIN_DATA" in text:
        found, percent = cgats.read(name, text)
    else:
        found, percent = _columns(name, text)
    if not found:
        raise BadFile(name, "it holds no spectra.")
    return on_grids(name, found, percent=percent if not values else values == "percent")


def too_light_for_black(sample: Sample) -> str:
    """What to ask of a bare black that is as light as a grey, "" of one that may be black."""
    lightness = float(lab(sample.reflectance, under=light("D65"))[0])
    if lightness <= LIGHTEST_BLACK:
        return ""
    return (
        f"The bare black, '{sample.name}', comes to L {lightness:.0f}. Are the file's values percent? Say which they "
        "are, percent or 0 to 1; nothing was written."
    )


def _columns(name: str, text: str) -> tuple[list[Raw], bool | None]:
    """Lines of a wavelength and a value, as many readers write them; and whether they say that they are percent."""
    rows: list[tuple[float, float]] = []
    percent: bool | None = None
    header = ""
    for number, line in enumerate(text.splitlines(), start=1):
        # A semicolon or a tab parts columns; then a comma is a decimal comma.
        plain = line.replace(",", ".") if ";" in line or "\t" in line else line
        cells = plain.replace(";", " ").replace("\t", " ").replace(",", " ").split()
        if not cells or (not rows and not _is_number(cells[0])):
            header = line if cells else header
            continue
        # The words right above the figures, or a mark behind one, say what they are; any other may be a name.
        percent = True if "%" in line or (not rows and "%" in header) else percent
        cells = [cell.rstrip("%") for cell in cells if cell != "%"]
        if len(cells) < 2 or not all(_is_number(cell) for cell in cells[:2]):
            raise BadFile(name, f"row {number}: '{line.strip()[:40]}' is no wavelength with a value.")
        rows.append((float(cells[0]), float(cells[1])))
    if len(rows) < 2:
        raise BadFile(name, "it is neither CGATS, CxF3, nor rows of a wavelength and a value.")
    at, values = zip(*rows, strict=True)
    return [Raw(name.rsplit(".", 1)[0], at, values)], percent


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
    raise BadFile(file, f"it holds {len(samples)} samples: {names}. Say which one.")
