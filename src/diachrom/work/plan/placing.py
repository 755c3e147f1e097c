"""Stencils in their place on a bait, and what lies there by hand: where it is, and what is done when it is dragged."""

import sqlite3
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from diachrom.core.bait.deposit import open_at
from diachrom.core.bait.mask import FREE, Mask
from diachrom.core.bait.masks import ANCHORED, MASKS, placed
from diachrom.core.bait.openings import outlined
from diachrom.core.bait.plan import MASK, Layer, Plan
from diachrom.core.bait.surface import MIDDLE
from diachrom.errors import InvalidInput
from diachrom.exchange import drawings
from diachrom.store import plans as store
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.plan import plans
from diachrom.work.plan.painting import OWN_STENCIL, skin_of

LEAST_POINTS, MOST_POINTS = 3, 400
LEAST_WIDE_MM = 1.0
HALF_TURN = 180.0


def lies(connection: sqlite3.Connection, plan: Plan, number: int) -> dict[str, Any]:
    """What of a layer can be dragged: its strokes, and its stencil's outlines. Raises NotFound."""
    layer, skin = plan.layer(number), skin_of(connection, plan, MIDDLE)
    way = layer.mask
    found: dict[str, Any] = {"strokes": [one.points for one in layer.strokes], "outlines": []}
    if way.kind == "stencil":
        box = placed(way, layer.edges(skin.landmarks), skin.landmarks, skin.surface.length_mm)
        polygons = skin.stencils.get(way.stencil, ())
        surface = skin.surface
        u = (box.u0 + box.u1) / 2 + way.along_mm / surface.length_mm
        v = (box.v0 + box.v1) / 2 + way.down_mm / float(surface.girth_at(u))
        outlines = outlined(way, polygons, box, surface.girths_mm, surface.length_mm)
        found |= {"outlines": outlines, "at": [u, v], "size_mm": way.size_mm, "angle_deg": way.angle_deg}
    return found


def covered(connection: sqlite3.Connection, plan: Plan, number: int) -> bytes:
    """How far masks cover the bait while a layer is laid, that layer's own with them: a byte a cell. Raises
    NotFound."""
    layer, skin = plan.layer(number), skin_of(connection, plan, MIDDLE)
    open_ = np.ones(skin.surface.fine_places.u.shape)
    own = (layer,) if layer.what == MASK else ()
    for one in (*plan.worn(number), *own):
        open_ = open_ * open_at(one, skin)
    return np.round(255 * (1 - skin.surface.fine_places.coarse(open_))).astype(np.uint8).tobytes()


def moved(layer: Layer, along_mm: float, down_mm: float, turn_deg: float, times: float) -> Layer:
    """Its mask dragged so far, turned so much more, so many times as large. Raises InvalidInput."""
    way = layer.mask
    if way.kind == FREE.kind:
        raise InvalidInput(say("There is no stencil on this layer to move."), field="kind")
    field = next((one for one in MASKS[way.kind].fields if one.key == "size_mm"), None)
    size = way.size_mm * times if field is None else min(max(way.size_mm * times, field.least), field.most)
    turned = (way.angle_deg + turn_deg + HALF_TURN) % (2 * HALF_TURN) - HALF_TURN
    angles = next((one for one in MASKS[way.kind].fields if one.key == "angle_deg"), None)
    angle = way.angle_deg if angles is None else min(max(turned, angles.least), angles.most)
    mask = replace(
        way,
        along_mm=round(way.along_mm + along_mm, 2),
        down_mm=round(way.down_mm + down_mm, 2),
        size_mm=round(size, 2),
        angle_deg=round(angle, 1),
    )
    return replace(layer, mask=mask)


def stencilled(mask: Mask, key: str) -> Mask:
    """A mask that is this stencil now: where it belongs and as large as it was drawn, if it is of the library."""
    if mask.kind == "stencil" and mask.stencil == key:
        return mask
    base = mask if mask.kind == "stencil" else replace(MASKS["stencil"].usual(), seed=mask.seed)
    ready, anchor = drawings.library().get(key), ANCHORED.get(key, "")
    size = ready.width_mm if ready is not None and anchor else base.size_mm
    return replace(base, stencil=key, anchor=anchor, size_mm=size, along_mm=0.0, down_mm=0.0)


def outline(
    connection: sqlite3.Connection, number: int, layer: int, points: Sequence[Sequence[float]], name: str, *, at: str
) -> str:
    """A stencil of one's own out of what was drawn around on the bait; the layer goes through it. Returns its name.
    Raises InvalidInput."""
    plan = plans.now(connection, number).plan
    plan.layer(layer)
    try:
        drawn = np.array(points, dtype=np.float64).reshape(-1, np.shape(points)[-1])[:, :2]
    except (ValueError, TypeError, OverflowError, IndexError):
        drawn = np.zeros((0, 2))
    if len(drawn) < LEAST_POINTS or not np.isfinite(drawn).all() or abs(drawn).max() > 3:
        raise InvalidInput(say("Draw around what is to be open: the line closes by itself."), field="points")
    if len(drawn) > MOST_POINTS:
        drawn = drawn[np.unique(np.linspace(0, len(drawn) - 1, MOST_POINTS).astype(int))]
    surface = plan.blank.surface()
    u, v = drawn[:, 0], np.unwrap(drawn[:, 1], period=1.0)
    v = v - np.floor(v.mean())
    v = np.where(v.mean() > 0.5, 1 - v, v)  # drawn on the right: the same on the left
    girths = surface.girth_at(u)
    x, y = u * surface.length_mm, (v - 0.25) * girths
    if np.ptp(x) < LEAST_WIDE_MM or np.ptp(y) < LEAST_WIDE_MM:
        raise InvalidInput(say("That is smaller than 1 mm: draw around more."), field="points")
    middle_x, middle_y = (x.max() + x.min()) / 2, (y.max() + y.min()) / 2
    outlines = [[(round(float(a - middle_x), 2), round(float(b - middle_y), 2)) for a, b in zip(x, y, strict=True)]]
    title = " ".join(name.split())[:80] or say("drawn on plan {number}", number=number)
    with writing(connection):
        own = store.add_drawing(connection, "stencil", title, {"outlines": outlines}, at=at)

    def through(old: Layer) -> Layer:
        mask = replace(
            MASKS["stencil"].usual(),
            stencil=f"{OWN_STENCIL}{own}",
            size_mm=round(float(np.ptp(x)), 2),
            along_mm=round(float(middle_x - surface.length_mm / 2), 2),
            down_mm=round(float(middle_y), 2),
        )
        return replace(old, mask=mask, region="all", box=None)

    plans.change(connection, number, lambda plan: plan.changed(layer, through), did=say("a stencil drawn"), at=at)
    return title
