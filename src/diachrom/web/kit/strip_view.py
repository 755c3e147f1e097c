"""The spray strip as the templates draw it: columns of grounds, rows of coats, flat or turning with the angle."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix.strip import Column, Patch, Strip
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import say

SHOWN_AT = 2  # of the strip's angles: 25 degrees, until the page is tilted


@dataclass(frozen=True)
class Turning:
    """A field whose colour travels: what it is at each of the strip's angles."""

    fills: str  # "#rrggbb #rrggbb ..."
    p3: str  # "r g b, r g b, ..."
    now: Swatch
    away: Swatch


@dataclass(frozen=True)
class PatchView:
    """One field. Where it turns, its left half follows the tilt and its right half runs to fully turned away."""

    coats: int
    swatch: Swatch
    turning: Turning | None
    words: str
    fits_screen: bool


@dataclass(frozen=True)
class ColumnView:
    ground: str
    words: str
    sub: str
    sparkle: bool
    edge: PatchView
    patches: Sequence[PatchView]


def columns(strip: Strip, *, sparkle: bool = False) -> list[ColumnView]:
    """The strip's columns; `sparkle` when the mix itself holds glitter."""
    return [_column(column, sparkle=sparkle or column.over.ground.sparkle) for column in strip.columns]


def single(patch: Patch, key: str, words: str) -> ColumnView:
    """A column of one field that is as high as the others together."""
    field = _patch(patch, 0)
    return ColumnView(ground=key, words=words, sub="", sparkle=False, edge=field, patches=[field])


def _column(column: Column, *, sparkle: bool) -> ColumnView:
    words = column.over.words
    return ColumnView(
        ground=column.over.key,
        words=words,
        sub=say("turns with the tilt") if column.has_direction else "",
        sparkle=sparkle,
        edge=_patch(column.edge, 0),
        patches=[_patch(patch, coats) for coats, patch in enumerate(column.patches, start=1)],
    )


def _patch(patch: Patch, coats: int) -> PatchView:
    flat = swatch(patch.diffuse)
    if not patch.at_angle:
        return PatchView(coats, flat, None, f"{flat.name}, {flat.figures}", flat.fits_screen)
    around = [swatch(colour) for colour in patch.at_angle]
    wide = ", ".join(one.p3.removeprefix("color(display-p3 ").removesuffix(")") for one in around)
    turning = Turning(" ".join(one.fill for one in around), wide, around[min(SHOWN_AT, len(around) - 1)], around[-1])
    words = say("in the flash {name}, at the flop {other_name}", name=around[0].name, other_name=around[-1].name)
    return PatchView(coats, flat, turning, words, all(one.fits_screen for one in around))
