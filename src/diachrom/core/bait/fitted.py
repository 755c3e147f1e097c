"""What is fitted to a bait, drawn on its image: bill, tail, fins, eyes, eyelets, and the gaps of its joints. All of it
is grey unless it is painted: then it has the colour of the skin that it stands on."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.openings import inside
from diachrom.core.bait.shapes import Shape
from diachrom.core.bait.surface import Surface
from diachrom.core.bait.view import Drawn
from diachrom.core.film.cell_stacks import Cells
from diachrom.core.light.bands import Floats

STUFFS = {"hard": 196.0, "soft": 207.0, "metal": 148.0, "clear": 204.0}
SEEN_THROUGH = {"clear": 0.55}  # how much of it is seen; of all others all
GAP, WIRE = 40.0, 120.0
PUPIL, RING = np.array([14.0, 14.0, 16.0]), np.array([44.0, 42.0, 38.0])
BLACK, EDGE = 0.46, 0.93  # of an eye's radius: its pupil, and where its ring begins
SLIT = np.array([0.17, 0.66])  # half as wide and half as high as a pupil is that is a slit
GLINT = (-0.18, 0.42, 0.17)  # before and above the eye's middle, and how wide, in radii
EYELET, THICK = 0.0115, 0.0028  # of the length: an eyelet, half of its wire
FINE = 3  # places a pixel, each way, at which an outline is looked at
CUT = 0.2  # of a side, that is cut off each corner, and again


@dataclass(frozen=True)
class Eye:
    """How an eye looks: its iris, encoded sRGB of 0 to 255, and whether its pupil is a slit."""

    iris: tuple[float, float, float]
    slit: bool = False


USUAL_EYE = Eye((214.0, 182.0, 74.0))


def with_fittings(
    image: Drawn, shape: Shape, surface: Surface, *, side: str, eye: Eye | None = USUAL_EYE
) -> tuple[Floats, Floats]:
    """Bill, fins, tail and eyes drawn on a bait.

    Parameters
    ----------
    image : the bait, drawn.
    shape : whose fittings they are.
    surface : the bait's surface, mm.
    side : a key of SIDES.
    eye : how its eyes look; None for none.

    Returns
    -------
    (row, column, 3) encoded sRGB of 0 to 255, and (row, column) how much of each pixel is bait or fitted to it.
    """
    height, width = image.cover.shape
    pixel = image.frame.wide / width
    x = image.frame.start + (np.arange(width) + 0.5) * pixel
    if side == "right":
        x = x[::-1]
    rise = image.frame.high - (np.arange(height) + 0.5) * pixel
    rgb, cover = image.rgb.copy(), image.cover.copy()
    upright = side in ("left", "right")
    for fitting in shape.fittings:
        points = fitting.points if upright else tuple((along, across) for along, across, _ in fitting.plate)
        if len(points) < 3:
            continue
        colour = np.full(3, STUFFS.get(fitting.stuff, STUFFS["hard"]))
        if fitting.painted:
            colour = _of_skin(image, fitting.points[0])
        outline = np.array(_cut(points))
        box = _box(x, rise, outline.min(axis=0) - pixel, outline.max(axis=0) + pixel)
        seen_through = SEEN_THROUGH.get("" if fitting.painted else fitting.stuff, 1.0)
        behind = seen_through * _outlined(outline, x[box[1][0]], rise[box[0][:, 0]], pixel) * (1 - cover[box])
        whole = cover[box] + behind
        share = np.divide(cover[box], whole, out=np.zeros_like(whole), where=whole > 0)
        rgb[box], cover[box] = _over(colour, rgb[box], share), whole
    for joint in shape.joints:
        columns = np.flatnonzero(abs(image.cell_u[0] - joint) < 0.004 + pixel)
        gap = np.clip((0.004 - abs(image.cell_u[:, columns] - joint)) / pixel + 0.5, 0, 1) * image.cover[:, columns]
        rgb[:, columns] = _over(rgb[:, columns], np.full(3, GAP), gap)
    if not upright:
        return rgb, cover
    for at, high in shape.metal_eyelets:
        box = _around(x, rise, (at, high), EYELET + THICK + pixel)
        far = np.hypot(x[box[1]] - at, rise[box[0]] - high)
        wire = np.clip((THICK - abs(far - EYELET)) / pixel + 0.5, 0, 1) * (1 - image.cover[box])
        rgb[box], cover[box] = _over(rgb[box], np.full(3, WIRE), wire), np.maximum(cover[box], wire)
    if shape.eye_sockets and eye is not None:
        marks = shape.landmarks
        middle = float(surface.outline.section(np.array([marks.eye_u]), np.array([marks.eye_v]))[1][0, 0])
        radius = marks.eye_size / 2
        box = _around(x, rise, (marks.eye_u, middle), radius + pixel)
        off = np.stack(np.broadcast_arrays(x[box[1]] - marks.eye_u, rise[box[0]] - middle)) / radius
        rgb[box] = _eye(rgb[box], off, image.cover[box], pixel / radius, eye)
    return rgb, cover


def _of_skin(image: Drawn, at: tuple[float, float]) -> Floats:
    """(3,) of the skin nearest to where a fitting stands."""
    column = int(np.argmin(abs(image.cell_u[0] - np.clip(at[0], 0.03, 0.96))))
    rows = np.flatnonzero(image.cover[:, column] > 0.5)
    if not len(rows):
        return np.full(3, STUFFS["hard"])
    middle, edge = rows[len(rows) // 2], rows[min(2, len(rows) - 1) if at[1] > 0 else -min(3, len(rows))]
    return np.asarray(image.rgb[middle if abs(at[1]) < 0.03 else edge, column])


def _cut(points: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """The outline with its corners cut off, twice."""
    found = np.array(points)
    for _ in range(2):
        after = np.roll(found, -1, axis=0)
        found = np.stack([(1 - CUT) * found + CUT * after, CUT * found + (1 - CUT) * after], axis=1).reshape(-1, 2)
    return [(float(one), float(other)) for one, other in found]


Box = tuple[Cells, Cells]  # rows (n, 1) and columns (1, n) of an image


def _box(x: Floats, rise: Floats, low: Floats, high: Floats) -> Box:
    """The pixels between two corners."""
    rows, columns = np.ix_((rise > low[1]) & (rise < high[1]), (x > low[0]) & (x < high[0]))
    return rows, columns


def _around(x: Floats, rise: Floats, middle: tuple[float, float], reach: float) -> Box:
    return _box(x, rise, np.array(middle) - reach, np.array(middle) + reach)


def _over(below: Floats, colour: Floats, share: Floats) -> Floats:
    """Of two colours (..., 3), by the share (...) of the second."""
    return np.asarray(below * (1 - share[..., None]) + colour * share[..., None])


def _outlined(outline: Floats, x: Floats, rise: Floats, pixel: float) -> Floats:
    """(row, column) how much of each pixel lies in an outline (corner, 2)."""
    steps = ((np.arange(FINE) + 0.5) / FINE - 0.5) * pixel
    u, up = np.meshgrid((x[:, None] + steps).ravel(), (rise[:, None] + steps).ravel())
    corners = tuple((float(one), float(other)) for one, other in outline)
    fine = inside((corners,), u.ravel(), up.ravel()).reshape(len(rise), FINE, len(x), FINE)
    return np.asarray(fine.mean(axis=(1, 3)))


def _eye(rgb: Floats, off: Floats, cover: Floats, pixel: float, eye: Eye) -> Floats:
    """A ball with iris and pupil, lit from above, where `off` (2, row, column) is from its middle in radii."""
    far = np.hypot(*off)
    lit = np.clip(0.86 + 0.22 * off[1] - 0.18 * far, 0.3, 1.1)[..., None]
    iris = np.array(eye.iris)
    ball = np.where((far < BLACK + 0.5 * (EDGE - BLACK))[..., None], iris * 1.04, iris * 0.94) * lit
    inside = (1 - np.hypot(*(off / SLIT[:, None, None]))) * SLIT[0] if eye.slit else BLACK - far
    ball = _over(ball, PUPIL, np.clip(inside / pixel + 0.5, 0, 1))
    ball = _over(ball, RING, np.clip((far - EDGE) / pixel + 0.5, 0, 1))
    glint = np.hypot(off[0] - GLINT[0], off[1] - GLINT[1])
    ball = _over(ball, np.full(3, 250.0), 0.9 * np.clip((GLINT[2] - glint) / max(pixel, 0.08) + 0.5, 0, 1))
    share = np.clip((1 - far) / pixel + 0.5, 0, 1) * cover
    return _over(rgb, np.minimum(ball, 255.0), share)
