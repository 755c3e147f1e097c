"""Marks by the dozen: strewn over a region by density, or set along a line. Where each lies is kept, so that one of
them can be moved or taken away."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.regions import REGIONS, Box
from diachrom.core.bait.shapes import Landmarks
from diachrom.core.bait.stroke import MOST_MARKS, Stroke, drawn
from diachrom.core.bait.surface import Surface, gill_arc
from diachrom.errors import InvalidInput
from diachrom.words import say

TRIES = 24  # places looked at for each mark: the one that lies farthest from all others is taken
MOST_DENSE = 30.0  # a cm2
KEPT_FREE = {
    "midline": say("the midline"),
    "belly": say("the belly"),
    "back": say("the back"),
    "head": say("the head"),
    "eye": say("around the eye"),
}
LINES = {
    "line": say("along the lateral line"),
    "back": say("along the back"),
    "belly": say("along the belly's edge"),
    "gill": say("around the gill plate"),
}
MIDLINE_MM = 2.0  # to either side of it


@dataclass(frozen=True)
class Strewing:
    """How marks are strewn."""

    tool: str = "dot"
    size_mm: float = 2.0
    per_cm2: float = 2.0
    free: tuple[str, ...] = ()  # keys of KEPT_FREE
    varies: float = 0.35  # of their size, either way
    thins: float = 0.5  # smaller and fewer towards the lower edge
    seed: int = 1


def strewn(how: Strewing, region: str, box: Box, surface: Surface, marks: Landmarks) -> Stroke:
    """Marks over a region of the left side, evenly and without a pattern. Raises InvalidInput.

    Parameters
    ----------
    region : a key of REGIONS.
    box : its edges.
    marks : landmarks of the blank.
    """
    if not 0 < how.per_cm2 <= MOST_DENSE:
        raise InvalidInput(
            say("Marks are strewn at more than 0 and at most {most} a cm².", most=f"{MOST_DENSE:g}"), field="per_cm2"
        )
    at, half = surface.places, surface.cells[1] // 2
    there = REGIONS[region].depth_mm(at, box, marks) > how.size_mm / 2
    for key in how.free:
        if key == "midline":
            off = np.abs(at.folded - marks.lateral_v) * at.girth_mm
            there = there & (off > MIDLINE_MM + how.size_mm / 2)
        else:
            zone = REGIONS[key]
            there = there & (zone.depth_mm(at, zone.box(marks), marks) < -how.size_mm / 2)
    area = np.where(there, surface.areas_mm2, 0.0)[:, :half]
    count = round(float(area.sum()) / 100 * how.per_cm2)
    if not count:
        raise InvalidInput(say("There is no room for marks there: more of them, or less kept free."), field="per_cm2")
    if count > MOST_MARKS:
        raise InvalidInput(
            say("That would be {count} marks; {most} are laid at once: strew fewer.", count=count, most=MOST_MARKS),
            field="per_cm2",
        )
    chance = np.random.default_rng([how.seed, 39])
    cells = chance.choice(area.size, size=count * TRIES, p=(area / area.sum()).ravel())
    u = (cells // half + chance.random(len(cells))) / surface.cells[0]
    v = (cells % half + chance.random(len(cells))) / surface.cells[1]
    girth = surface.girths_mm[cells // half]
    x, y = u * surface.length_mm, v * girth
    taken: list[int] = []
    for first in range(0, len(cells), TRIES):
        some = np.arange(first, first + TRIES)
        if taken:
            far = np.hypot(x[some, None] - x[taken], y[some, None] - y[taken]).min(axis=1)
            taken.append(int(some[far.argmax()]))
        else:
            taken.append(first)
    down = np.clip((v[taken] - box.v0) / max(box.v1 - box.v0, 1e-6), 0, 1) * how.thins
    kept = chance.random(count) >= 0.8 * down
    times = (1 + how.varies * chance.uniform(-1, 1, count)) * (1 - 0.6 * down)
    places = np.stack([u[taken], v[taken], times], axis=1)[kept]
    return drawn((places if len(places) else np.array([[u[0], v[0], 1.0]])).tolist(), how.tool, size_mm=how.size_mm)


def along(line: str, count: int, surface: Surface, marks: Landmarks, *, tool: str, size_mm: float) -> Stroke:
    """So many marks along a line of the blank, as far from each other; they swell towards its middle. Raises
    InvalidInput."""
    if line not in LINES:
        raise InvalidInput(say("There is no line called '{line}'.", line=line[:30]), field="line")
    if not 1 <= count <= MOST_MARKS:
        raise InvalidInput(say("1 to {most} marks lie along a line.", most=MOST_MARKS), field="count")
    part = (np.arange(count) + 0.5) / count
    if line == "gill":
        # Around the plate's edge, from above to below.
        v = 0.13 + 0.27 * part
        u = gill_arc(v, marks.gill_u)
    else:
        u = marks.gill_u + 0.02 + (marks.tail_u - marks.gill_u - 0.04) * part
        v = np.full(count, {"line": marks.lateral_v, "back": 0.06, "belly": 0.36}[line])
    times = 0.65 + 0.35 * np.sin(np.pi * part)
    return drawn(np.stack([u, v, times], axis=1).tolist(), tool, size_mm=size_mm)
