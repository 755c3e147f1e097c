"""What is fitted to a bait, drawn on its image: bill, tail, fins, eyes, eyelets, and the gaps of its joints. All of it
is grey unless it is painted: then it has the colour of the skin that it stands on."""

import numpy as np

from diachrom.core.bait.openings import inside
from diachrom.core.bait.shapes import Shape
from diachrom.core.bait.surface import Surface
from diachrom.core.bait.view import Drawn
from diachrom.core.light.bands import Bools, Floats

STUFFS = {"hard": 176.0, "soft": 198.0, "metal": 148.0, "clear": 222.0}
EDGE, PUPIL, IRIS, GAP = 96.0, 24.0, 206.0, 52.0
EYELET = 0.012  # of the length


def with_fittings(image: Drawn, shape: Shape, surface: Surface, *, side: str) -> tuple[Floats, Bools]:
    """Bill, fins and tail drawn beside a bait.

    Parameters
    ----------
    image : the bait, drawn.
    shape : whose fittings they are.
    surface : the bait's surface, mm.
    side : a key of SIDES.

    Returns
    -------
    (row, column, 3) encoded sRGB of 0 to 255, and (row, column) what of it is bait or fitted to it.
    """
    rgb, there = image.rgb.copy(), image.there.copy()
    height, width, _ = rgb.shape
    pixel = image.frame.wide / width
    x = image.frame.start + (np.arange(width) + 0.5) * pixel
    if side == "right":
        x = x[::-1]
    rise = image.frame.high - (np.arange(height) + 0.5) * pixel
    u, up = (each.ravel() for each in np.meshgrid(x, rise))
    free = ~image.there
    upright = side in ("left", "right")
    for fitting in shape.fittings:
        points = fitting.points if upright else tuple((along, across) for along, across, _ in fitting.plate)
        if not points:
            continue
        here = inside((points,), u, up).reshape(height, width) & free
        # Of the skin nearest to where it stands.
        if not fitting.painted:
            rgb[here] = STUFFS.get(fitting.stuff, STUFFS["hard"])
        else:
            start = np.clip(fitting.points[0][0], 0.03, 0.96)
            column = int(np.argmin(abs(image.cell_u[0] - start)))
            rows = np.flatnonzero(image.there[:, column])
            if not len(rows):
                rgb[here] = STUFFS["hard"]
            else:
                row = (
                    rows[len(rows) // 2]
                    if abs(fitting.points[0][1]) < 0.03
                    else rows[2 if fitting.points[0][1] > 0 else -3]
                )
                rgb[here] = np.asarray(image.rgb[row, column])
        rgb[here & _border(here | image.there)] = EDGE
        there |= here
    if not upright:
        return _gaps(rgb, image, shape), there
    for at, high in shape.metal_eyelets:
        far = np.hypot(u - at, up - high).reshape(height, width)
        ring = (abs(far - EYELET) < 0.3 * EYELET) & free
        rgb[ring] = STUFFS["metal"] / 2
        there |= ring
    rgb = _gaps(rgb, image, shape)
    if shape.eye_sockets:
        marks = shape.landmarks
        eye = float(surface.outline.section(np.array([marks.eye_u]), np.array([marks.eye_v]))[1][0, 0])
        far = np.hypot(u - marks.eye_u, up - eye).reshape(height, width) / (marks.eye_size / 2)
        for reach, grey in ((1.12, EDGE), (1.0, IRIS), (0.55, PUPIL)):
            rgb[(far < reach) & image.there] = grey
    return rgb, there


def _gaps(rgb: Floats, image: Drawn, shape: Shape) -> Floats:
    for joint in shape.joints:
        rgb[(abs(image.cell_u - joint) < 0.004) & image.there] = GAP
    return rgb


def _border(shape: Bools) -> Bools:
    """Places whose neighbours are not all part of it."""
    kept = shape.copy()
    for step, axis in ((1, 0), (-1, 0), (1, 1), (-1, 1)):
        kept &= np.roll(shape, step, axis)
    return ~kept
