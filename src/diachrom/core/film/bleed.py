"""Dyes that migrate: an unsealed candy gives a share of its load to each coat that is laid on it."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.layer import Coat
from diachrom.core.light.bands import Floats

NOTHING_UM = 1e-6  # a film thinner than its smallest molecule takes nothing up


def bled(coats: Sequence[Coat]) -> list[Coat]:
    """The coats, bottom first, after what is dissolved in each has moved up as far as seals let it."""
    result: list[Coat] = []
    for coat in coats:
        if result and result[-1].mix.bleeding is not None and not result[-1].sealed:
            result[-1], coat = _moved(result[-1], coat)
        result.append(coat)
    return result


def _moved(below: Coat, above: Coat) -> tuple[Coat, Coat]:
    """What leaves `below` and arrives in `above`; the load, absorption times thickness, is kept."""
    bleeding = below.mix.bleeding
    if bleeding is None:
        return below, above
    under_um, over_um = (np.asarray(coat.film_um, dtype=np.float64)[..., None] for coat in (below, above))
    coats = np.where(over_um > NOTHING_UM, np.asarray(above.coats, dtype=np.float64)[..., None], 0.0)
    # Each coat takes the share of what is left, and `bleeding` is that share times the absorption.
    taken = np.minimum(coats * bleeding, below.mix.absorption) * under_um  # load
    arrived = np.divide(taken, over_um, out=np.zeros(np.broadcast(taken, over_um).shape), where=over_um > NOTHING_UM)
    left = np.divide(taken, under_um, out=np.zeros(np.broadcast(taken, under_um).shape), where=under_um > NOTHING_UM)
    given = replace(below.mix, absorption=below.mix.absorption - left)
    own: Floats | float = 0.0 if above.mix.bleeding is None else above.mix.bleeding
    share = np.divide(bleeding, below.mix.absorption, out=np.zeros_like(bleeding), where=below.mix.absorption > 0)
    taken_on = replace(above.mix, absorption=above.mix.absorption + arrived, bleeding=own + share * arrived)
    return replace(below, mix=given), replace(above, mix=taken_on)
