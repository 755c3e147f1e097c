"""A colour of a palette, in whatever file it comes."""

from dataclasses import dataclass

MOST_COLOURS = 5000


@dataclass(frozen=True)
class Named:
    name: str
    srgb: str  # "#rrggbb"
