"""The spray strip as the templates draw it: columns of grounds, rows of coats, flat or turning with the angle."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mixing.strip import Column, Patch, Strip
from diachrom.web.swatches import Swatch, swatch


@dataclass(frozen=True)
class Stop:
    offset: str  # "25%"
    swatch: Swatch


@dataclass(frozen=True)
class PatchView:
    """One field. With stops it runs from the glance at the left to fully turned away at the right."""

    coats: int
    swatch: Swatch
    stops: Sequence[Stop]
    words: str
    fits_screen: bool


@dataclass(frozen=True)
class ColumnView:
    ground: str
    words: str
    sub: str
    bare: PatchView
    patches: Sequence[PatchView]


def columns(strip: Strip) -> list[ColumnView]:
    return [_column(column) for column in strip.columns]


def _column(column: Column) -> ColumnView:
    sub = "glance to turned away" if column.has_direction else ""
    patches = [_patch(patch, coats) for coats, patch in enumerate(column.patches, start=1)]
    words = column.over.words
    return ColumnView(column.over.key, words[0].upper() + words[1:], sub, _patch(column.bare, 0), patches)


def _patch(patch: Patch, coats: int) -> PatchView:
    flat = swatch(patch.diffuse)
    if not patch.at_angle:
        return PatchView(coats, flat, (), f"{flat.name}, {flat.figures}", flat.fits_screen)
    around = [swatch(colour) for colour in patch.at_angle]
    last = len(around) - 1
    stops = [Stop(f"{100 * at / last:.0f}%", one) for at, one in enumerate(around)]
    words = f"at the glance {around[0].name}, turned away {around[-1].name}"
    return PatchView(coats, flat, stops, words, all(one.fits_screen for one in around))
