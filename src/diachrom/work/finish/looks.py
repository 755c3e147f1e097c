"""A plan's bait before its clear and after it."""

import sqlite3
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.screened import linear
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.light.screen import linear_to_lab
from diachrom.core.light.words import difference
from diachrom.words import quantity, say
from diachrom.work.plan import pictures, plans
from diachrom.work.plan.painting import painted_bait, sheen_of

FACING = 2  # of the angles of a picture
CLEAR = Layer(10_000, what="clear", coats=1, film_um=60.0)


@dataclass(frozen=True)
class Deepened:
    words: str


def _both(plan: Plan) -> tuple[Plan, Plan]:
    bare = replace(plan, layers=tuple(layer for layer in plan.layers if layer.what != "clear"))
    if any(one.what == "clear" and one.on for one in plan.layers):
        return bare, plan
    return bare, replace(bare, layers=(*bare.layers, CLEAR))


def picture(connection: sqlite3.Connection, number: int, *, cleared: bool, width: int = 560) -> bytes:
    """A PNG. Raises NotFound."""
    return pictures.image(connection, _both(plans.now(connection, number).plan)[cleared], width=width)


def deepened(connection: sqlite3.Connection, number: int) -> Deepened:
    """What the clear does to the colours, in words. Raises NotFound."""
    before, after = (_seen(connection, one) for one in _both(plans.now(connection, number).plan))
    apart = delta_e(before, after)
    most = apart >= np.quantile(apart, 0.9)
    told = difference(before[most].mean(axis=0), after[most].mean(axis=0))
    return Deepened(
        say(
            "Under clear it is {told} where that tells most, dE {median}.",
            told=told,
            median=quantity(np.median(apart[most]), ".1f"),
        )
    )


def _seen(connection: sqlite3.Connection, plan: Plan) -> Floats:
    found, _ = painted_bait(connection, plan, cells=ROUGH)
    colours = linear(found, light("D65"), sheen=sheen_of(plan))
    facing = colours[min(FACING, len(colours) - 1)]
    return linear_to_lab(facing.reshape(-1, 3))
