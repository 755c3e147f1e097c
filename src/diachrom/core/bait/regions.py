"""Where a layer goes: regions named by a blank's landmarks, whose edges can be moved, soft or hard."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.shapes import Landmarks
from diachrom.core.bait.surface import Places, fin_fan, gill_arc
from diachrom.core.light.bands import Floats
from diachrom.words import say

HARD_MM = 0.25  # as sharp as an edge is
OPEN_U, OPEN_V = (0.0, 1.0), (0.0, 0.5)


@dataclass(frozen=True)
class Box:
    """The edges of a region: u from nose to tail, v from spine 0 to belly 0.5. An edge at the end of the skin is
    open."""

    u0: float
    u1: float
    v0: float
    v1: float

    def within(self) -> bool:
        """Within the bounds that a box has."""
        return 0 <= self.u0 < self.u1 <= 1 and 0 <= self.v0 < self.v1 <= 0.5


@dataclass(frozen=True)
class Region:
    """A named region: its usual edges on a blank, and its form."""

    key: str
    words: str
    box: Callable[[Landmarks], Box]
    form: str = "box"  # box, oval, gill (its tail edge is the gill plate's arc), fin

    def depth_mm(self, at: Places, box: Box, marks: Landmarks) -> Floats:
        """How far inside the region a place lies, in mm; less than nothing outside."""
        length = float(at.along_mm.max())
        if self.form == "oval":
            u, v = (box.u0 + box.u1) / 2, (box.v0 + box.v1) / 2
            wide, high = (box.u1 - box.u0) / 2 * length, (box.v1 - box.v0) / 2 * at.girth_mm
            x, y = (at.u - u) * length, (at.folded - v) * at.girth_mm
            return (1 - np.hypot(x / wide, y / np.maximum(high, 1e-6))) * np.minimum(wide, high)
        if self.form == "fins":
            far = np.full(at.u.shape, -1e9)
            for fin in marks.fins:
                far = np.maximum(far, fin_fan(at, fin)[0] * length)
            return far
        far = np.full(at.u.shape, 1e9)
        tail_edge = gill_arc(at.folded, box.u1) if self.form == "gill" else box.u1
        for open_at, edge in ((box.u0 <= OPEN_U[0], at.u - box.u0), (box.u1 >= OPEN_U[1], tail_edge - at.u)):
            if not open_at:
                far = np.minimum(far, edge * length)
        for open_at, edge in ((box.v0 <= OPEN_V[0], at.folded - box.v0), (box.v1 >= OPEN_V[1], box.v1 - at.folded)):
            if not open_at:
                far = np.minimum(far, edge * at.girth_mm)
        return far

    def share(self, at: Places, box: Box, marks: Landmarks, soft_mm: float) -> Floats:
        """How far places belong to a region.

        Parameters
        ----------
        at : (n, m) places of the skin.
        box : its edges, u and v.
        marks : landmarks of the blank, for regions that follow them.
        soft_mm : width of its edge, mm.

        Returns
        -------
        (n, m) 1 inside, 0 outside.
        """
        return soft(self.depth_mm(at, box, marks), soft_mm)


def soft(depth_mm: Floats, soft_mm: float) -> Floats:
    """An edge that runs out over some mm around where it lies."""
    t = np.clip(depth_mm / max(soft_mm, HARD_MM) + 0.5, 0, 1)
    return t * t * (3 - 2 * t)


def _eye(marks: Landmarks) -> Box:
    size = 0.75 * marks.eye_size
    return Box(max(0.0, marks.eye_u - size), marks.eye_u + size, max(0.0, marks.eye_v - 0.09), marks.eye_v + 0.09)


REGIONS = {
    region.key: region
    for region in (
        Region("all", say("all over"), lambda m: Box(0, 1, 0, 0.5)),
        Region("back", say("back"), lambda m: Box(0, 1, 0, 0.13)),
        Region("spine", say("spine"), lambda m: Box(0, 1, 0, 0.05)),
        Region("shoulder", say("shoulder"), lambda m: Box(m.gill_u - 0.04, 0.55, 0.04, 0.19)),
        Region("flank", say("flank"), lambda m: Box(m.gill_u - 0.06, m.tail_u, 0.13, 0.34)),
        Region("sides", say("both flanks, nose to tail"), lambda m: Box(0, 1, 0.11, 0.39)),
        Region(
            "lateral", say("lateral line"), lambda m: Box(m.gill_u, m.tail_u, m.lateral_v - 0.015, m.lateral_v + 0.015)
        ),
        Region("belly", say("belly"), lambda m: Box(0, 1, 0.35, 0.5)),
        Region("throat", say("throat"), lambda m: Box(m.mouth_u, m.gill_u + 0.03, 0.36, 0.5)),
        Region("head", say("head"), lambda m: Box(0, m.gill_u, 0, 0.5), "gill"),
        Region("nose", say("nose"), lambda m: Box(0, 0.9 * m.mouth_u + 0.02, 0, 0.5)),
        Region("cheek", say("cheek"), lambda m: Box(m.eye_u, m.gill_u - 0.01, 0.2, 0.38), "gill"),
        Region("gill", say("gill plate"), lambda m: Box(m.gill_u - 0.075, m.gill_u, 0.13, 0.4), "gill"),
        Region("eye", say("around the eye"), _eye, "oval"),
        Region("fins", say("fins"), lambda m: Box(0, 1, 0, 0.5), "fins"),
        Region("tail", say("tail"), lambda m: Box(m.tail_u, 1, 0, 0.5)),
        Region("wrist", say("before the tail"), lambda m: Box(m.tail_u - 0.14, m.tail_u + 0.02, 0, 0.5)),
    )
}
