"""A mask as a layer has it: of which kind, and its figures in mm on the bait. The kinds are in `masks`."""

from dataclasses import dataclass, replace

MOST_MM = 400.0
Polygons = tuple[
    tuple[tuple[float, float], ...], ...
]  # closed outlines in mm; what lies in an odd number of them is open


@dataclass(frozen=True)
class Field:
    """A figure of a mask: what it is called, its unit and bounds, and what is usual."""

    key: str
    words: str
    unit: str
    least: float
    most: float
    usual: float
    times: float = 1.0  # what is kept is so many times what is said


@dataclass(frozen=True)
class Mask:
    """A mask, or a way of laying paint without one."""

    kind: str = "free"
    size_mm: float = 0.0
    gap_mm: float = 0.0
    angle_deg: float = 0.0
    amount: float = 0.5
    lift_mm: float = 0.0
    every: int = 1  # nth tooth that a comb still has
    seed: int = 1
    stencil: str = ""
    turned: bool = False  # what it lets through and what it covers change places
    anchor: str = ""  # of the blank, at which it lies; "" is the middle of its region
    along_mm: float = 0.0  # moved from there towards the tail
    down_mm: float = 0.0  # and towards the belly
    tool: int = 0  # of the bench, 0 for none of it

    def scaled(self, by: float) -> "Mask":
        """The same on a bait so many times as long."""
        figures = ("size_mm", "gap_mm", "lift_mm", "along_mm", "down_mm")
        return replace(self, **{key: min(max(getattr(self, key) * by, -MOST_MM), MOST_MM) for key in figures})


FREE = Mask()
