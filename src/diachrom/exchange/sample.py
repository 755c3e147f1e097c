"""A spectrum brought onto the band grid, and what that took said."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.errors import BadFile
from diachrom.words import quantity, say

PERCENT_ABOVE = 2.0  # no reflectance factor of a paint is twice a white's


WIDEST_STEP_NM = 20.0


MUST_REACH_NM = (420.0, 680.0)


@dataclass(frozen=True, eq=False)
class Sample:
    """A named spectrum on the band grid, and what was done to it."""

    name: str
    reflectance: Floats  # (band,)
    notes: Sequence[str] = field(default=())
    computed: bool = False  # by this program from a profile: exact to its digits, and no measurement


@dataclass(frozen=True)
class Raw:
    """A spectrum as it stands in a file."""

    name: str
    wavelengths_nm: Sequence[float]
    values: Sequence[float]
    computed: bool = False


def on_grids(file: str, found: Sequence[Raw], *, percent: bool | None) -> list[Sample]:
    """Spectra of one file -> samples; all of them are percent, or none is. `percent` is None where nothing says which:
    then one value beyond any reflectance tells it of the whole file. Raises BadFile, naming the sample."""
    if percent is None:
        percent = any(value > PERCENT_ABOVE for raw in found for value in raw.values)
    return [
        replace(on_grid(file, one.name, one.wavelengths_nm, one.values, percent=percent), computed=one.computed)
        for one in found
    ]


def on_grid(file: str, name: str, wavelengths_nm: Sequence[float], values: Sequence[float], *, percent: bool) -> Sample:
    """A spectrum on any even or uneven grid -> a sample. Raises BadFile, naming the sample."""
    at, raw = np.asarray(wavelengths_nm, dtype=np.float64), np.asarray(values, dtype=np.float64)
    if at.shape != raw.shape or len(at) < 2:
        raise BadFile(
            file,
            say(
                "'{name}' has {size} values for {other_size} wavelengths.", name=name, size=raw.size, other_size=at.size
            ),
        )
    order = np.argsort(at)
    at, raw = at[order], raw[order]
    # Of a grid in order. Raises BadFile.
    if not (np.isfinite(raw).all() and np.isfinite(at).all()):
        raise BadFile(file, say("'{name}' has a value that is not a number.", name=name))
    if np.diff(at).max() > WIDEST_STEP_NM or np.diff(at).min() <= 0:
        raise BadFile(
            file,
            say(
                "'{name}' steps by {diff} nm; at most {widest_step_nm} can be read.",
                name=name,
                diff=quantity(np.diff(at).max(), "g"),
                widest_step_nm=quantity(WIDEST_STEP_NM, "g"),
            ),
        )
    low, high = MUST_REACH_NM
    if at[0] > low or at[-1] < high:
        raise BadFile(
            file,
            say(
                "'{name}' reaches from {first} to {last} nm; it must reach from {low} to {high}.",
                name=name,
                first=quantity(at[0], "g"),
                last=quantity(at[-1], "g"),
                low=quantity(low, "g"),
                high=quantity(high, "g"),
            ),
        )
    notes = [say("given in percent")] if percent else []
    raw = raw / 100 if percent else raw
    if raw.min() < -0.02 or raw.max() > PERCENT_ABOVE:
        raise BadFile(
            file,
            say(
                "'{name}' goes from {raw} to {other_raw}: no reflectance.",
                name=name,
                raw=quantity(raw.min(), "g"),
                other_raw=quantity(raw.max(), "g"),
            ),
        )
    if len(at) == BANDS and np.array_equal(at, WAVELENGTHS_NM):
        return Sample(name, np.clip(raw, 0, 1), notes)
    first, last = quantity(at[0], "g"), quantity(at[-1], "g")
    notes.append(say("resampled from {first} to {last} nm in {steps} steps", first=first, last=last, steps=len(at)))
    if at[0] > WAVELENGTHS_NM[0] or at[-1] < WAVELENGTHS_NM[-1]:
        notes.append(say("its ends held where it has none"))
    # Finer grids are averaged with a triangle of one band, coarser ones joined by straight lines.
    if np.diff(at).mean() >= 9.0:
        resampled = np.interp(WAVELENGTHS_NM, at, raw)
    else:
        weights = np.maximum(0.0, 1 - np.abs(WAVELENGTHS_NM[:, None] - at) / 10.0)  # (band, given)
        total = weights.sum(axis=1)
        nearest = np.interp(WAVELENGTHS_NM, at, raw)
        resampled = np.where(total > 0, weights @ raw / np.maximum(total, 1e-12), nearest)
    return Sample(name, np.clip(resampled, 0, 1), notes)
