"""Where few dots lie they are seen: at the edge of a fade a place has by chance more of them, or fewer."""

from collections.abc import Sequence

import numpy as np

from diachrom.core.bait.coated import Painted
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.plan import Plan
from diachrom.core.light.bands import Floats

ACROSS_MM = 0.06  # of a dot
CLOSED = 4.0  # discs on each other in the mean, where none is told from the others any more


def grained(films_um: Floats, plan: Plan, painted: Sequence[Painted], skin: Skin) -> Floats:
    """Films (layer, u, v) with the number of dots that fell on each cell by chance; both sides alike where they were.
    A layer's number is its seed."""
    found, half = films_um.copy(), skin.surface.cells[1] // 2
    places = np.maximum(skin.surface.areas_mm2, 1e-3) / (np.pi * ACROSS_MM**2 / 4)  # dots that cover a cell once
    for index, (layer, one) in enumerate(zip(plan.layers, painted, strict=True)):
        if not one.droplet_um or not found[index].any():
            continue
        discs = films_um[index] / one.droplet_um
        chance = np.random.default_rng([layer.number, layer.mask.seed, 37])
        luck = chance.standard_normal((skin.surface.cells[0], half))
        luck = np.concatenate([luck, luck[:, ::-1]], axis=1)
        apart = np.clip(1 - discs / CLOSED, 0, 1) / np.sqrt(np.maximum(discs * places, 1.0))
        found[index] *= np.clip(1 + apart * luck, 0, 3)
    return found
