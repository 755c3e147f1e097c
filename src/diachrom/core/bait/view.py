"""A bait drawn from a side, from above or from below, as a lamp and an eye in front of it see it: for paper, files and
lists. A page draws the same by itself."""

from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.picture import ANGLES, Picture
from diachrom.core.bait.shading import LAMP, TURNED, lit, rolled
from diachrom.core.bait.shapes import Shape
from diachrom.core.bait.surface import Surface
from diachrom.core.film.cell_stacks import Cells
from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import encode
from diachrom.words import say

MARGIN = 0.04  # of the length
GRAIN = (1.35, 0.72)  # how much a tilt along and across the lines of foil counts
PAPER = 255.0
AT_ONCE = 1 << 15  # places of an image that are shaded together: they stay in the cache


@dataclass(frozen=True)
class Side:
    """A way to look: which way is towards the eye, and which is up on the paper."""

    key: str
    words: str
    eye: tuple[float, float, float]
    up: tuple[float, float, float]
    turned: bool = False  # the nose points right


SIDES = {
    side.key: side
    for side in (
        Side("left", say("left side"), (0, 1, 0), (0, 0, 1)),
        Side("right", say("right side"), (0, -1, 0), (0, 0, 1), turned=True),
        Side("back", say("back"), (0, 0, 1), (0, -1, 0)),
        Side("belly", say("belly"), (0, 0, -1), (0, 1, 0)),
    )
}


@dataclass(frozen=True)
class Frame:
    """What an image shows, in lengths of the bait: along it from its nose, and above its axis."""

    start: float
    end: float
    low: float
    high: float

    @property
    def wide(self) -> float:
        """How wide it is, in lengths of the bait."""
        return self.end - self.start

    @property
    def tall(self) -> float:
        """How high it is."""
        return self.high - self.low


def framed(shape: Shape, surface: Surface, side: str) -> Frame:
    """The body with what is fitted to it, and a margin."""
    rise = surface.corners @ np.array(SIDES[side].up, float) / surface.length_mm
    points = [(0.0, float(rise.min())), (1.0, float(rise.max()))]
    if side in ("left", "right"):
        points += [point for fitting in shape.fittings for point in fitting.points]
    else:
        points += [(u, across) for one in shape.fittings for u, across, _ in one.plate]
    along, up = zip(*points, strict=True)
    return Frame(min(along) - MARGIN, max(along) + MARGIN, min(up) - MARGIN, max(up) + MARGIN)


@dataclass(frozen=True, eq=False)
class Drawn:
    """An image: encoded sRGB (row, column, 3) of 0 to 255, and how much of each pixel is bait (row, column)."""

    frame: Frame

    rgb: Floats
    cover: Floats
    cell_u: Floats  # (row, column) where on the skin each place is
    cell_v: Floats


def drawn(
    picture: Picture, colours: Floats, surface: Surface, frame: Frame, *, side: str = "left", width: int = 600
) -> Drawn:
    """Draw a bait, nose to the left unless it is seen from its right.

    Parameters
    ----------
    picture : the bait's cells.
    colours : (angle, u, v, 3) linear light.
    surface : its surface, mm.
    frame : from where it is seen, and in which light.
    side : a key of SIDES.
    width : pixels.

    Returns
    -------
    Drawn.
    """
    look = SIDES[side]
    u, v, cover = _seen_places(surface, look, frame, width)
    up, eye = np.array(look.up, float), np.array(look.eye, float)
    lamp = LAMP[0] * np.array([1.0, 0, 0]) + LAMP[1] * up + LAMP[2] * eye
    finer = _halved(_halved(colours, 1), 2)
    cells = picture.cells[0] * 2, picture.cells[1] * 2
    flat = finer.reshape(len(colours), -1, 3)
    image = np.full((*cover.shape, 3), PAPER)
    rows, columns = np.nonzero(cover)
    for start in range(0, len(rows), AT_ONCE):
        at = rows[start : start + AT_ONCE], columns[start : start + AT_ONCE]
        around = _around(u[at], v[at], picture.cells)
        normals = _between(surface.normals.reshape(-1, 3), around)  # (place, 3)
        normals = normals / np.maximum(np.linalg.norm(normals, axis=-1, keepdims=True), 1e-9)
        # (place, 3) along the lines of foil, on the skin.
        along = np.array([1.0, 0, 0]) - normals[..., :1] * normals
        along = along / np.maximum(np.linalg.norm(along, axis=-1, keepdims=True), 1e-9)
        across = np.cross(normals, along)
        direction = (
            across
            if picture.grain == "around"
            else (along + across) / np.sqrt(2)
            if picture.grain == "slant"
            else along
        )
        grain = direction * _between(picture.foil.reshape(-1, 1), around)
        shaded = _shaded(flat, _around(u[at], v[at], cells), normals, (lamp, eye, up), grain=grain)
        image[at] = 255 * encode(rolled(shaded))
    return Drawn(frame, image, cover, u, v)


def _halved(colours: Floats, axis: int) -> Floats:
    """Colours (angle, u, v, 3) of cells half as long on an axis, between those of their neighbours: the edge of a mask
    that runs aslant has no steps then."""
    before, after = np.roll(colours, 1, axis), np.roll(colours, -1, axis)
    if axis == 1:  # nose and tail have no neighbour
        before[:, 0], after[:, -1] = colours[:, 0], colours[:, -1]
    found = np.stack([0.75 * colours + 0.25 * before, 0.75 * colours + 0.25 * after], axis=axis + 1)
    shape = list(colours.shape)
    shape[axis] *= 2
    return found.reshape(shape)


Around = list[tuple[Cells, Floats]]  # cells counted along the skin (place,), with their weights (place, 1)


def _around(u: Floats, v: Floats, cells: tuple[int, int]) -> Around:
    """The four cells whose middles lie around each place, with their weights."""
    x = np.clip(u * cells[0] - 0.5, 0, cells[0] - 1)
    y = v * cells[1] - 0.5
    i, j = np.floor(x).astype(np.intp), np.floor(y).astype(np.intp)
    fx, fy = x - i, y - j
    after = np.minimum(i + 1, cells[0] - 1)
    return [
        (row * cells[1] + np.mod(column, cells[1]), (a * b)[:, None])
        for row, a in ((i, 1 - fx), (after, fx))
        for column, b in ((j, 1 - fy), (j + 1, fy))
    ]


def _between(values: Floats, around: Around, first: Cells | int = 0) -> Floats:
    """(place, n) of values (cell, n), between the middles of the cells; counted from the cell `first`."""
    return np.asarray(sum(values[first + cell] * weight for cell, weight in around))


def _shaded(
    colours: Floats, around: Around, normals: Floats, seen: tuple[Floats, Floats, Floats], *, grain: Floats
) -> Floats:
    """(place, 3) linear light of colours (angle, cell, 3): what falls on each place, by the angle from its mirror image
    of the lamp. Foil throws light farther across its lines than along them."""
    lamp, eye, up = seen
    falls = normals @ lamp
    half = (lamp + eye) / np.linalg.norm(lamp + eye)
    rises = np.maximum(normals @ half, 1e-6)
    tilt = half - rises[..., None] * normals
    length = np.linalg.norm(grain, axis=-1)
    along = (tilt * grain).sum(axis=-1)
    across = np.maximum((tilt**2).sum(axis=-1) - along**2, 0)
    off = np.sqrt((1 + length * (GRAIN[0] - 1)) ** 2 * along**2 + (1 + length * (GRAIN[1] - 1)) ** 2 * across)
    aspecular = np.degrees(2 * np.arctan2(off, rises))
    place = np.interp(aspecular, ANGLES, np.arange(len(ANGLES)))
    low = np.minimum(place.astype(int), len(ANGLES) - 2)
    part = (place - low)[..., None]
    count, all_angles = colours.shape[1], colours.reshape(-1, 3)
    at = _between(all_angles, around, low * count) * (1 - part) + _between(all_angles, around, (low + 1) * count) * part
    return lit(at, _between(colours[TURNED], around), falls, normals @ up)


def _seen_places(surface: Surface, look: Side, frame: Frame, width: int) -> tuple[Floats, Floats, Floats]:
    """Where on the skin each pixel of an image is: u and v (row, column), and how much of it is on it at all."""
    length = surface.length_mm
    across = np.array(look.up, float)
    pixel = frame.wide / width
    height = int(np.ceil((frame.high - frame.low) / pixel))
    u = frame.start + (np.arange(width) + 0.5) * pixel
    y = length * (frame.high - (np.arange(height) + 0.5) * pixel)
    if look.turned:
        u = u[::-1]
    inside = (u > 0) & (u < 1)
    v = np.linspace(0, 1, 385)
    columns_y, columns_z = surface.outline.section(np.clip(u, 1e-4, 1 - 1e-4), v)
    points = np.stack([columns_y, columns_z], axis=-1) * length  # (column, point, 2)
    rise = points @ across[1:]
    depth = points @ np.array(look.eye, float)[1:]
    found = np.zeros((height, width))
    cover, high = np.zeros((height, width)), pixel * length
    for column in np.flatnonzero(inside):
        front = _front(rise[column], depth[column])
        if len(front) < 2:
            continue
        order = front[np.argsort(rise[column][front], kind="stable")]
        heights = rise[column][order]
        share = np.clip((heights[-1] - y) / high + 0.5, 0, 1) * np.clip((y - heights[0]) / high + 0.5, 0, 1)
        rows = share > 0
        # Around the spine v jumps from 1 to 0: it is unwound there.
        around = np.unwrap(v[order], period=1.0)
        found[rows, column] = np.mod(np.interp(y[rows], heights, around), 1.0)
        cover[:, column] = share
    return np.broadcast_to(u, (height, width)), found, cover


def _front(rise: Floats, depth: Floats) -> Cells:
    """Points of a section that an eye sees: those before the line from its highest to its lowest point."""
    high, low = int(np.argmax(rise)), int(np.argmin(rise))
    span = max(float(rise[high] - rise[low]), 1e-9)
    line = depth[low] + (rise - rise[low]) / span * (depth[high] - depth[low])
    return np.flatnonzero(depth >= line - 1e-9)
