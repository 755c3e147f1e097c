"""Spectra in files: CGATS text, CxF3 XML, or two plain columns; brought onto the band grid, and what that took said."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.errors import BadFile

PERCENT_ABOVE = 2.0  # no reflectance factor of a paint is twice a white's
WIDEST_STEP_NM = 20.0
MUST_REACH_NM = (420.0, 680.0)


@dataclass(frozen=True, eq=False)
class Sample:
    """A named spectrum on the band grid, and what was done to it."""

    name: str
    reflectance: Floats  # (band,)
    notes: Sequence[str] = field(default=())


def on_grid(file: str, name: str, wavelengths_nm: Sequence[float], values: Sequence[float]) -> Sample:
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
    if raw.max() > PERCENT_ABOVE:
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


def read_spectra(name: str, content: bytes) -> list[Sample]:
    """CGATS, CxF3 or columns, by what it is. Raises BadFile."""
    from diachrom.exchange import cgats, cxf
    from diachrom.exchange.text import decoded

    text, _ = decoded(name, content)
    if text.lstrip().startswith("<"):
        found = cxf.read(name, content)
    elif "BEGIN_DATA" in text:
        found = cgats.read(name, text)
    else:
        found = _columns(name, text)
    if not found:
        raise BadFile(name, "it holds no spectra.")
    return found


def _columns(name: str, text: str) -> list[Sample]:
    """Lines of a wavelength and a value, as many readers write them."""
    rows: list[tuple[float, float]] = []
    for number, line in enumerate(text.splitlines(), start=1):
        # A semicolon or a tab parts columns; then a comma is a decimal comma.
        plain = line.replace(",", ".") if ";" in line or "\t" in line else line
        cells = plain.replace(";", " ").replace("\t", " ").replace(",", " ").split()
        if not cells or (not rows and not _is_number(cells[0])):
            continue  # a header
        if len(cells) < 2 or not all(_is_number(cell) for cell in cells[:2]):
            raise BadFile(name, f"row {number}: '{line.strip()[:40]}' is no wavelength with a value.")
        rows.append((float(cells[0]), float(cells[1])))
    if len(rows) < 2:
        raise BadFile(name, "it is neither CGATS, CxF3, nor rows of a wavelength and a value.")
    at, values = zip(*rows, strict=True)
    return [on_grid(name, name.rsplit(".", 1)[0], at, values)]


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
