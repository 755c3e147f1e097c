"""Baits painted with the bench's paints, for tests."""

from dataclasses import replace

import numpy as np

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.coated import Painted
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.picture import picture
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.tabled import Kept
from diachrom.core.film.cell_stacks import seen_weights
from diachrom.core.film.paint import clear_paint, mix
from diachrom.core.light.lab import lab_of_radiance, lch
from diachrom.core.light.lights import light
from diachrom.demo.paints import PAINTS

PROFILES = {paint.id: paint.profile() for paint in PAINTS}
SMALL = (120, 48)
GLANCE, FACING, AWAY = 0, 2, 4
D65 = light("D65")


def paint(**drops):
    """A mix of paints by their ids, `_` for `-`, as a layer is made of it; `sealed=True` seals it."""
    sealed = bool(drops.pop("sealed", False))
    ids = [key.replace("_", "-") for key in drops]
    shares = np.array(list(drops.values()), dtype=float)
    own = mix([PROFILES[key] for key in ids], shares / shares.sum())
    return Painted(own, sealed=sealed, digest=repr(sorted(drops.items())).encode())


CLEAR = Painted(mix([clear_paint("clear", "medium")], np.ones(1)), sealed=True, digest=b"clear")


def through(kind, **figures):
    return replace(MASKS[kind].usual(), **figures)


def painted(state, *layers, shape="minnow", cells=SMALL, length_mm=110.0, kept=None, **blank):
    """A bait with layers on it, (Layer, Painted) each: its picture and its skin."""
    own = Blank(shape, length_mm, state=state, **blank)
    plan = Plan(blank=own)
    for layer, _ in layers:
        plan = plan.with_layer(layer)
    skin = Skin(own.surface(cells), own.form.landmarks, {})
    return picture(plan, [one for _, one in layers], skin, kept or Kept()), skin


def on(region="all", origin="around", **more):
    return Layer(0, region=region, origin=origin, **more)


def labs(seen, angle=FACING):
    """(u, v, 3) in daylight, glossy."""
    factors = np.moveaxis(seen.factors[angle], 0, -1) @ seen_weights().T
    radiance = factors * D65.power
    for dye in seen.dyes:
        radiance = radiance + np.moveaxis(dye.made, 0, -1) @ seen_weights().T
    return lab_of_radiance(radiance, under=D65)


def at(seen, u, v, angle=FACING):
    """Lab (3,) at a place."""
    count_u, count_v = seen.cells
    return labs(seen, angle)[int(u * count_u), int(v * count_v)]


def polar(lab):
    return lch(np.asarray(lab)).tolist()
