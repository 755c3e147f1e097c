"""What lies on every cell of a bait's skin: which ground, and how much of each layer."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.deposit import Remember, Skin, films, foiled, share
from diachrom.core.bait.plan import Plan, worn
from diachrom.core.film.cell_stacks import Cells
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.grounds import laid as foil_laid
from diachrom.core.film.paint import Mix
from diachrom.core.light.bands import Floats


@dataclass(frozen=True, eq=False)
class Painted:
    """What a layer of a plan is to light: a mix, or another ground; neither for what only takes away or seals."""

    mix: Mix | None = None
    ground: Ground | None = None
    sealed: bool = False
    digest: bytes = b""  # the same for what is the same to light
    droplet_um: float = 0.0  # thickness of a disc of its mist; 0 is an even film


@dataclass(frozen=True, eq=False)
class Coated:
    films_um: Floats  # (layer, u, v)
    grounds: list[Ground]
    ground_at: Cells  # (u, v) which of them


def coated(plan: Plan, painted: Sequence[Painted], skin: Skin, remember: Remember) -> Coated:
    """A plan's films, cell by cell, and what has bled from one into the next.

    Parameters
    ----------
    plan : the plan.
    painted : what each layer is made of, in their order.
    skin : the surface that they lie on.
    remember : has films that were laid before.

    Returns
    -------
    Coated.
    """
    laid = films(plan.layers, skin, remember, fog=plan.fog)
    grounds, ground_at = _grounds(plan, painted, skin, laid)
    for index, one in enumerate(painted):
        if one.mix is None:
            laid[index] = np.zeros_like(laid[index])
    return Coated(np.stack(laid) if laid else np.zeros((0, *skin.surface.cells)), grounds, ground_at)


def _grounds(plan: Plan, painted: Sequence[Painted], skin: Skin, laid: list[Floats]) -> tuple[list[Ground], Cells]:
    """The grounds that there are, and which each cell has. Foil laid as a layer hides what lies beneath it."""
    state = plan.blank.comes
    grounds = [foil_laid(state.ground, skin.foil_deg)]
    at = np.zeros(skin.surface.cells, dtype=np.intp)
    if state.foil and plan.blank.foil_on != "all":
        grounds.append(GROUNDS["white"])
        at = np.where(foiled(plan.blank.foil_on, skin) > 0.5, 0, 1)
    for place, (layer, one, over) in enumerate(zip(plan.layers, painted, worn(plan.layers), strict=True)):
        if one.ground is None or not layer.on:
            continue
        here = share(replace(layer, origin="around", soft_mm=0.0, distance_mm=40.0), skin, over) > 0.5
        grounds.append(foil_laid(one.ground.key, skin.foil_deg))
        at = np.where(here, len(grounds) - 1, at)
        for below in range(place):
            laid[below] = np.where(here, 0.0, laid[below])
    return grounds, at
