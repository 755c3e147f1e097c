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

    def scaled(self, by: float) -> "Mask":
        """The same on a bait so many times as long."""
        return replace(self, size_mm=self.size_mm * by, gap_mm=self.gap_mm * by, lift_mm=self.lift_mm * by)


FREE = Mask()
