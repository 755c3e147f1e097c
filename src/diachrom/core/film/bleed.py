"""Dyes that migrate: an unsealed candy gives a share of its load to the coat that is laid on it, and that to the
next."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.layer import Coat
from diachrom.core.light.bands import Floats

NOTHING_UM = 1e-6  # a film thinner than its smallest molecule takes nothing up


def bled(coats: Sequence[Coat]) -> list[Coat]:
    """The coats, bottom first, after what is dissolved in each has moved up as far as seals let it.

    Where something bleeds, layers come apart into their single coats, however they were written down. The numbers of
    coats may carry batch axes in the topmost layer.
    """
    if not any(coat.mix.bleeding is not None and not coat.sealed for coat in coats[:-1]):
        return list(coats)
    result: list[Coat] = []
    for coat in coats:
        for one in _singly(coat):
            if result and not result[-1].sealed:
                result[-1], one = _moved(result[-1], one)
            result.append(one)
    return result


def _singly(coat: Coat) -> list[Coat]:
    """A layer as its coats; where the batch has fewer, those above are of no thickness. Only the last may be sealed."""
    count = np.asarray(coat.coats, dtype=np.float64)
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    each = np.divide(film_um, count, out=np.zeros(np.broadcast(film_um, count).shape), where=count > 0)
    parts = [np.clip(count - at, 0, 1) for at in range(max(1, int(np.ceil(count.max()))))]
    singles = [Coat(coat.mix, each * part, part) for part in parts]
    singles[-1] = replace(singles[-1], sealed=coat.sealed)
    return singles


def _moved(below: Coat, above: Coat) -> tuple[Coat, Coat]:
    """What leaves `below` and arrives in `above`; the load, absorption times thickness, is kept.

    Only what is richer gives: between two coats of one candy as much goes up as comes down.
    """
    if below.mix.bleeding is None:
        return below, above
    under_um, over_um = (np.asarray(coat.film_um, dtype=np.float64)[..., None] for coat in (below, above))
    own: Floats | float = 0.0 if above.mix.bleeding is None else above.mix.bleeding
    coats = np.where(over_um > NOTHING_UM, np.asarray(above.coats, dtype=np.float64)[..., None], 0.0)
    # `bleeding` is the share times the absorption.
    taken = coats * np.maximum(below.mix.bleeding - own, 0) * under_um  # load
    arrived = np.divide(taken, over_um, out=np.zeros(np.broadcast(taken, over_um).shape), where=over_um > NOTHING_UM)
    left = np.divide(taken, under_um, out=np.zeros(np.broadcast(taken, under_um).shape), where=under_um > NOTHING_UM)
    dye, share = below.mix.absorption, np.zeros(np.broadcast(below.mix.bleeding, below.mix.absorption).shape)
    share = np.divide(below.mix.bleeding, dye, out=share, where=dye > 0)
    given = replace(below.mix, absorption=dye - left, bleeding=below.mix.bleeding - share * left)
    taken_on = replace(above.mix, absorption=above.mix.absorption + arrived, bleeding=own + share * arrived)
    return replace(below, mix=given), replace(above, mix=taken_on)
