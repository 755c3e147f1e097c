"""Each recipe and paint of the bench as it would look here: over what lies at a place of the bait."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.prediction import Colour
from diachrom.errors import DiachromError
from diachrom.work.plan import plans, reference, sources
from diachrom.work.plan.here import STREAMS, coat, colours, stack_at
from diachrom.work.plan.painting import laid, recipe_numbers

AT_ONCE = 12  # that are looked at for one answer


@dataclass(frozen=True, eq=False)
class Look:
    """A recipe or a paint, as it would look."""

    key: str
    name: str
    seen: Colour
    glance: Colour | None  # where it turns
    far: float | None  # dE from what the reference shows there


def looks(connection: sqlite3.Connection, plan: Plan, u: float, v: float, *, first: int) -> tuple[Sequence[Look], int]:
    """Some of them, as the next layer in their usual coats, under the clear: recipes before paints, counted from
    `first`. And which one is the next after these; 0 when there is none.

    Where a zone of the reference lies there, each tells how far it is from what that shows."""
    rows = [row for group in sources.offered(connection).values() for row in group]
    layers: list[tuple[str, Layer]] = []
    for key, name in rows[first : first + AT_ONCE]:
        try:
            own = plans.layer_of(connection, "recipe" if recipe_numbers(key) else "paint", key)
        except DiachromError:
            continue
        layers.append((name, replace(own, number=len(layers) + 1)))
    made = laid(connection, [layer for _, layer in layers])
    here, aim = stack_at(connection, plan, u, v), _aim(connection, plan, u, v)
    above = next((at for at, (place, _, _) in enumerate(here.there) if place > plan.beneath_clear), len(here.there))
    found, day = [], light("D65")
    for (name, layer), one in zip(layers, made, strict=True):
        if one.painted.mix is None:
            continue
        coats = [*here.coats[:above], coat(one, layer.coats * layer.film_um), *here.coats[above:]]
        seen, glance = colours(coats, here.ground, here.sheen, day, STREAMS)
        far = None if aim is None else float(delta_e(np.array(seen.lab), aim))
        found.append(Look(layer.source, name, seen, glance, far))
    following = first + AT_ONCE
    return found, following if following < len(rows) else 0


def _aim(connection: sqlite3.Connection, plan: Plan, u: float, v: float) -> Floats | None:
    """(3,) Lab that the reference has at a place: of the smallest zone that lies there."""
    if plan.reference is None:
        return None
    marks, folded = plan.blank.form.landmarks, min(v % 1.0, 1 - v % 1.0)
    here = []
    for zone in reference.of_plan(connection, plan).zones:
        box = REGIONS[zone.region].box(marks)
        if box.u0 <= u <= box.u1 and box.v0 <= folded <= box.v1:
            here.append(((box.u1 - box.u0) * (box.v1 - box.v0), zone.lab))
    return np.array(min(here)[1]) if here else None
