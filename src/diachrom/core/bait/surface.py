"""A blank's skin as a grid of cells: where each lies, how large it is, where it faces.

Axes: x from nose to tail, y to the left, z up; mm. Cells are counted (u, v): u along the length, v around the girth
from the spine over the left flank.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from diachrom.core.bait.outline import Outline
from diachrom.core.light.bands import Floats

FULL = (240, 96)
MIDDLE, ROUGH = (120, 48), (60, 24)
FINE = 3  # places a cell, each way, at which a pattern is looked at
LEAST = 1e-9
MIRRORED = np.array([1.0, -1.0, 1.0])


@dataclass(frozen=True)
class Relief:
    """What stands out of the skin: rows of scales, the edge of a gill plate."""

    scale_mm: float = 0.0  # from scale to scale; 0 is smooth
    height_mm: float = 0.0
    gill_u: float | None = None  # where a plate's edge stands
    gill_mm: float = 0.0

    def scaled(self, by: float) -> "Relief":
        """The same relief on a bait so many times as long."""
        return Relief(self.scale_mm * by, self.height_mm * by, self.gill_u, self.gill_mm * by)


@dataclass(frozen=True, eq=False)
class Surface:
    """An outline at its size, in so many cells."""

    outline: Outline
    length_mm: float
    relief: Relief = Relief()
    cells: tuple[int, int] = FULL

    @cached_property
    def corners(self) -> Floats:
        """(u + 1, v + 1, 3) mm."""
        u, v = (np.linspace(0, 1, count + 1) for count in self.cells)
        y, z = self.outline.section(u, v)
        x = np.broadcast_to(u[:, None], y.shape)
        return np.stack([x, y, z], axis=-1) * self.length_mm

    @cached_property
    def _crossed(self) -> Floats:
        """(u, v, 3) outward, as long as the cell is large: half the product of its diagonals. The right side is the
        left one's mirror image."""
        c = self.corners[:, : self.cells[1] // 2 + 1]
        one, other = c[1:, 1:] - c[:-1, :-1], c[1:, :-1] - c[:-1, 1:]
        left = np.cross(other, one) / 2
        return np.concatenate([left, left[:, ::-1] * MIRRORED], axis=1)

    @cached_property
    def areas_mm2(self) -> Floats:
        """(u, v)"""
        return np.linalg.norm(self._crossed, axis=-1)

    @property
    def area_mm2(self) -> float:
        """All of its skin, mm2."""
        return float(self.areas_mm2.sum())

    @cached_property
    def smooth_normals(self) -> Floats:
        """(u, v, 3), of unit length, without the relief."""
        return self._crossed / np.maximum(self.areas_mm2, LEAST)[..., None]

    @cached_property
    def girths_mm(self) -> Floats:
        """(u,) around each row of cells."""
        c = (self.corners[1:] + self.corners[:-1]) / 2
        return np.linalg.norm(np.diff(c, axis=1), axis=-1).sum(axis=1)

    @property
    def girth_mm(self) -> float:
        """Around it where it is thickest, mm."""
        return float(self.girths_mm.max())

    @cached_property
    def normals(self) -> Floats:
        """(u, v, 3) as the relief turns them."""
        height = self.height_mm
        if not height.any():
            return self.smooth_normals
        c = (self.corners[1:, 1:] + self.corners[:-1, :-1]) / 2
        along, around = np.gradient(c, axis=0), (np.roll(c, -1, 1) - np.roll(c, 1, 1)) / 2
        rise_u = np.gradient(height, axis=0)
        rise_v = (np.roll(height, -1, 1) - np.roll(height, 1, 1)) / 2
        found = self.smooth_normals
        half = self.cells[1] // 2
        for way, rise in ((along, rise_u), (around, rise_v)):
            length = np.maximum(np.linalg.norm(way, axis=-1, keepdims=True), LEAST)
            found = found - (rise[..., None] / length) * (way / length)
        left = (found / np.linalg.norm(found, axis=-1, keepdims=True))[:, :half]
        return np.concatenate([left, left[:, ::-1] * MIRRORED], axis=1)

    @cached_property
    def places(self) -> "Places":
        """The middles of its cells."""
        return Places.of(self, 1)

    @cached_property
    def fine_places(self) -> "Places":
        """For patterns that are finer than a cell."""
        return Places.of(self, FINE)

    @cached_property
    def height_mm(self) -> Floats:
        """(u, v) of the relief."""
        relief, at = self.relief, self.places
        height = np.zeros(self.cells)
        if relief.scale_mm and relief.height_mm:
            height += relief.height_mm * scales(at.along_mm, at.up_mm, relief.scale_mm)
        if relief.gill_u is not None and relief.gill_mm:
            # The plate rises towards its edge and falls off behind it.
            behind = (at.u - gill_arc(at.folded, relief.gill_u)) * self.length_mm
            wide = 0.05 * self.length_mm
            height += relief.gill_mm * np.where(
                behind < 0, np.clip(1 + behind / wide, 0, 1), np.exp(-behind / (0.1 * wide))
            )
        return height

    @cached_property
    def recess(self) -> Floats:
        """(u, v) 1 at the bottom of the relief, 0 on its heights; 1/2 where it is smooth."""
        height = self.height_mm
        span = float(np.ptp(height))
        return np.full(self.cells, 0.5) if span < LEAST else 1 - (height - height.min()) / span


def gill_arc(folded: Floats, gill_u: float) -> Floats:
    """u of a gill plate's edge: an arc that bulges towards the tail at the flank."""
    return gill_u - 0.05 * (2 * (2 * folded - 0.45)) ** 2


def scales(along_mm: Floats, up_mm: Floats, pitch_mm: float) -> Floats:
    """Height 0 to 1 of scales that overlap like tiles, rows shifted by a half: they rise towards the tail."""
    row = np.floor(up_mm / (0.62 * pitch_mm))
    shift = np.mod(row, 2) / 2
    x = np.mod(along_mm / pitch_mm + shift, 1.0)
    y = up_mm / (0.62 * pitch_mm) - row - 0.5
    edge = 1 - 1.4 * y**2  # where the scale ends, in its own length
    return np.where(x < edge, x / np.maximum(edge, 0.2), 0.0) * (1 - 1.2 * y**2)


@dataclass(frozen=True, eq=False)
class Places:
    """Where places of the skin are, in the terms of painters: (n, m) each."""

    u: Floats  # 0 nose to 1 tail
    v: Floats  # around the girth
    folded: Floats  # 0 spine to 0.5 belly, alike on both sides
    left: Floats  # 1 on the left side, 0 on the right
    along_mm: Floats  # from the nose
    up_mm: Floats  # along the skin, from the middle of the flank towards the spine
    girth_mm: Floats
    fine: int

    @classmethod
    def of(cls, surface: Surface, fine: int) -> "Places":
        """The middles of cells of a surface, so many times as fine."""
        count_u, count_v = (count * fine for count in surface.cells)
        u, v = (np.arange(count_u) + 0.5) / count_u, (np.arange(count_v) + 0.5) / count_v
        folded = np.minimum(v, v[::-1])  # to the cell, whatever rounding does
        girth = np.repeat(surface.girths_mm, fine)
        shape = (count_u, count_v)

        def whole(values: Floats, axis: int) -> Floats:
            return np.broadcast_to(values[:, None] if axis == 0 else values[None, :], shape)

        return cls(
            u=whole(u, 0),
            v=whole(v, 1),
            folded=whole(folded, 1),
            left=whole((v < 0.5).astype(np.float64), 1),
            along_mm=whole(u * surface.length_mm, 0),
            up_mm=whole(girth, 0) * (0.25 - whole(folded, 1)),
            girth_mm=whole(girth, 0),
            fine=fine,
        )

    def coarse(self, values: Floats) -> Floats:
        """The mean of each cell (u, v) of values at these places."""
        n, m = values.shape
        return values.reshape(n // self.fine, self.fine, m // self.fine, self.fine).mean(axis=(1, 3))
