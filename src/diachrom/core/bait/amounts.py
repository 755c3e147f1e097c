"""How much paint each layer of a plan takes, from where it really lands on this shape."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.fittings import Fitting
from diachrom.core.bait.surface import Surface
from diachrom.core.light.bands import Floats
from diachrom.core.mix.amount import MISSES, STAYS_ML


@dataclass(frozen=True)
class Amount:
    """Of one layer, for so many baits."""

    covers_mm2: float  # of one bait, where it lies half as thick as at its thickest or more
    on_baits_ml: float
    volume_ml: float  # that has to be mixed


NONE = Amount(0.0, 0.0, 0.0)


def amount(
    film_um: Floats,
    surface: Surface,
    *,
    baits: int,
    misses: float = MISSES,
    stays_ml: float = STAYS_ML,
    fittings: Sequence[Fitting] = (),
) -> Amount:
    """What a layer takes of paint: what lies on the skin, on what is fitted and painted, what is blown past, what
    stays behind.

    Parameters
    ----------
    film_um : (u, v) wet thickness of all coats, µm.
    surface : the skin that it lies on.
    baits : how many are painted.
    misses : share of the spray that lands beside the mask and the bait, 0 to below 1.
    stays_ml : what stays in cup and airbrush, ml.
    fittings : what stands out of the body; what of it is painted takes its share.

    Returns
    -------
    Amount, ml for all baits.
    """
    areas = surface.areas_mm2
    on_one = float((film_um * areas).sum()) * 1e-6  # um x mm2 -> ml
    # What lands on the fins, tails and bills of one bait that are painted: on both faces, as thick as where they
    # stand.
    rows, columns = film_um.shape
    found = 0.0
    for fitting in fittings:
        if fitting.painted:
            u, v = fitting.stands_at
            film = float(film_um[min(int(u * rows), rows - 1), min(int(v * columns), columns - 1)])
            found += film * fitting.area * surface.length_mm**2 * 1e-6
    on_one += found
    most = float(film_um.max(initial=0.0))
    covers = float(areas[film_um > most / 2].sum()) if most > 0 else 0.0
    whole = on_one * baits / (1 - misses) + (stays_ml if on_one > 0 else 0.0)
    return Amount(covers, on_one * baits, whole)


def masked_away(film_um: Floats, open_film_um: Floats, surface: Surface) -> float:
    """The share of what would land without the mask that its mask takes: it is sprayed all the same."""
    areas = surface.areas_mm2
    whole = float((open_film_um * areas).sum())
    return float(np.clip(1 - float((film_um * areas).sum()) / whole, 0, 0.97)) if whole > 0 else 0.0
