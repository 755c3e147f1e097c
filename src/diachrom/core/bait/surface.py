"""A blank's skin as a grid of cells: where each lies, how large it is, where it faces.

Axes: x from nose to tail, y to the left, z up; mm. Cells are counted (u, v): u along the length, v around the girth
from the spine over the left flank.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from diachrom.core.bait.outline import Outline
from diachrom.core.bait.shapes import Landmarks
from diachrom.core.light.bands import Floats
from diachrom.words import say

FULL = (240, 96)
MIDDLE, ROUGH = (120, 48), (60, 24)
FINE = 3  # places a cell, each way, at which a pattern is looked at
LEAST = 1e-9
USUAL_MARKS = Landmarks()
SHRINKS = 0.45  # of a scale's size, from nose to tail
SCALE_HEIGHT = 0.10  # of a scale
GILL_HEIGHT, MOUTH_DEEP, LINE_DEEP = 0.003, 0.003, 0.0012  # of the length
SOCKET_DEEP = 0.05  # of the eye
FIN_HEIGHT, FIN_RAYS = 0.003, 3.5  # of the length; rays a half of a fin
RELIEFS = {
    "scales": say("scales"),
    "gill": say("gill cover"),
    "mouth": say("mouth"),
    "nostril": say("nostril"),
    "line": say("lateral line"),
    "socket": say("eye sockets"),
    "fins": say("pectoral fins"),
}
MIRRORED = np.array([1.0, -1.0, 1.0])


@dataclass(frozen=True)
class Relief:
    """What stands out of the skin, or is cut into it; lengths are shares of the bait's."""

    scales: float = 0.0  # from scale to scale before the flank's middle; 0 is smooth
    parts: tuple[str, ...] = ()  # keys of RELIEFS that it has
    marks: Landmarks = USUAL_MARKS

    def height(self, at: "Places") -> Floats:
        """(n, m) above the smooth skin, in lengths of the bait, at places of it."""
        found = np.zeros(at.u.shape)
        length = at.length_mm
        behind = at.u - gill_arc(at.folded, self.marks.gill_u)
        across = at.girth_mm / length
        if "scales" in self.parts and self.scales:
            # They get smaller towards the tail, as many in each row.
            along = -np.log1p(-SHRINKS * at.u) / SHRINKS
            rows = (0.25 - at.folded) * float(at.girth_mm.max()) / length
            how_large = (1 - SHRINKS * at.u) * _rising(behind / 0.03) * _rising((1 - at.u) / 0.05)
            found += SCALE_HEIGHT * self.scales * how_large * scales(along, rows, self.scales)
        if "gill" in self.parts:
            # The plate rises towards its edge and falls off behind it.
            found += GILL_HEIGHT * np.where(behind < 0, np.clip(1 + behind / 0.05, 0, 1), np.exp(-behind / 0.005))
        if "mouth" in self.parts:
            low = (at.folded - 0.27 - 0.5 * at.u) * across
            found -= MOUTH_DEEP * _groove(low, 0.0045) * _rising((1.7 * self.marks.mouth_u - at.u) / 0.012)
        if "nostril" in self.parts:
            found -= MOUTH_DEEP * _dimple(at, (0.5 * self.marks.eye_u, 0.8 * self.marks.eye_v), 0.005)
        if "line" in self.parts:
            low = (at.folded - self.marks.lateral_v + 0.03 * np.exp(-np.maximum(behind, 0) / 0.1)) * across
            found -= LINE_DEEP * _groove(low, 0.0035) * _rising(behind / 0.01) * _rising((0.97 - at.u) / 0.02)
        if "socket" in self.parts:
            size = self.marks.eye_size
            far = _from(at, (self.marks.eye_u, self.marks.eye_v)) / size
            found -= SOCKET_DEEP * size * np.exp(-(((far - 0.58) / 0.13) ** 2))
        if "fins" in self.parts:
            for fin in self.marks.fins:
                inside, ray = fin_fan(at, fin)
                rays = 1 + 0.2 * np.cos(2 * np.pi * FIN_RAYS * ray)
                found += FIN_HEIGHT * rays * _rising(inside / (0.08 * fin[2]))
        return found


def _rising(share: Floats) -> Floats:
    share = np.clip(share, 0, 1)
    return share * share * (3 - 2 * share)


def _groove(off: Floats, wide: float) -> Floats:
    return np.exp(-((off / wide) ** 2))


def _from(at: "Places", place: tuple[float, float]) -> Floats:
    """(n, m) how far from a place (u, v), in lengths of the bait."""
    return np.hypot(at.u - place[0], (at.folded - place[1]) * at.girth_mm / at.length_mm)


def _dimple(at: "Places", place: tuple[float, float], wide: float) -> Floats:
    return _groove(_from(at, place), wide)


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

    def girth_at(self, u: Floats | float) -> Floats:
        """mm around it, at shares of its length."""
        return np.asarray(np.interp(u, np.linspace(0, 1, len(self.girths_mm)), self.girths_mm))

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
        return self.relief.height(self.places) * self.length_mm

    @cached_property
    def recess(self) -> Floats:
        """(u, v) 1 at the bottom of the relief, 0 on its heights; 1/2 where it is smooth."""
        height = self.height_mm
        span = float(np.ptp(height))
        return np.full(self.cells, 0.5) if span < LEAST else 1 - (height - height.min()) / span


def fin_fan(at: "Places", fin: tuple[float, float, float]) -> tuple[Floats, Floats]:
    """A fan that opens from its root towards the tail.

    Parameters
    ----------
    at : places of the skin.
    fin : u and v of its root, and its length in lengths of the bait.

    Returns
    -------
    (n, m) how far places lie within its edge, in lengths of the bait, and on which ray, -1 to 1 from edge to edge.
    """
    u, v, size = fin
    along = (at.u - u) / size
    off = (at.folded - v) * at.girth_mm / (size * at.length_mm) - 0.25 * along
    half = 0.06 + 0.3 * along
    inside = np.minimum(np.minimum(along, 1 - along), half - np.abs(off))
    return inside * size, off / np.maximum(half, 0.06)


def gill_arc(folded: Floats, gill_u: float) -> Floats:
    """u of a gill plate's edge: an arc that bulges towards the tail at the flank."""
    return gill_u - 0.05 * (2 * (2 * folded - 0.45)) ** 2


def scales(along: Floats, up: Floats, pitch: float) -> Floats:
    """Height 0 to 1 of scales that overlap like tiles, rows shifted by a half: they rise towards the tail."""
    row = np.floor(up / (0.62 * pitch))
    shift = np.mod(row, 2) / 2
    x = np.mod(along / pitch + shift, 1.0)
    y = up / (0.62 * pitch) - row - 0.5
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
    length_mm: float
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
            length_mm=surface.length_mm,
            fine=fine,
        )

    def coarse(self, values: Floats) -> Floats:
        """The mean of each cell (u, v) of values at these places."""
        n, m = values.shape
        return values.reshape(n // self.fine, self.fine, m // self.fine, self.fine).mean(axis=(1, 3))
