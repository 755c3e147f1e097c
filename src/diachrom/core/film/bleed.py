"""Dyes that migrate: an unsealed candy gives a share of its load to the coat that is laid on it, and that to the
next."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.light.bands import Floats

NOTHING_UM = 1e-6  # a film thinner than its smallest molecule takes nothing up


def bled(coats: Sequence[Coat]) -> list[Coat]:
    """The coats, bottom first, after what is dissolved in each has moved up as far as seals let it.

    The coats of a candy wet each other and are one film, however they were written down. What is laid on it takes its
    dye up coat by coat. The numbers of coats may carry batch axes in the topmost layer.
    """
    if not any(coat.mix.bleeding is not None and not coat.sealed for coat in coats[:-1]):
        return list(coats)
    result: list[Coat] = []
    for coat in _joined(coats):
        for one in [replace(coat, coats=1)] if coat.mix.bleeding is not None else _singly(coat):
            if result and not result[-1].sealed:
                result[-1], one = _moved(result[-1], one)
            result.append(one)
    return result


def _joined(coats: Sequence[Coat]) -> list[Coat]:
    """Layers of one candy that lie on each other, as one."""
    result: list[Coat] = []
    for coat in coats:
        if result and not result[-1].sealed and _same_candy(result[-1].mix, coat.mix):
            coat = replace(coat, film_um=np.asarray(result.pop().film_um) + coat.film_um)
        result.append(coat)
    return result


def _same_candy(mix: Mix, other: Mix) -> bool:
    if mix is other:
        return mix.bleeding is not None
    if mix.bleeding is None or other.bleeding is None or mix.flakes or other.flakes:
        return False
    pairs = [(mix.absorption, other.absorption), (mix.scattering, other.scattering), (mix.bleeding, other.bleeding)]
    return all(np.array_equal(first, second) for first, second in pairs)


def _singly(coat: Coat) -> list[Coat]:
    """A layer as its coats; where the batch has fewer, those above are of no thickness. Only the last may be sealed."""
    count = np.asarray(coat.coats, dtype=np.float64)
    film_um = np.asarray(coat.film_um, dtype=np.float64)
    each = np.divide(film_um, count, out=np.zeros(np.broadcast(film_um, count).shape), where=count > 0)
    parts = [np.clip(count - index, 0, 1) for index in range(max(1, int(np.ceil(count.max()))))]
    singles = [Coat(coat.mix, each * part, part) for part in parts]
    singles[-1] = replace(singles[-1], sealed=coat.sealed)
    return singles


def _moved(below: Coat, above: Coat) -> tuple[Coat, Coat]:
    """What leaves `below` and arrives in `above`; the load, absorption times thickness, is kept.

    Only what is richer gives: of two candies with the same dye the weaker takes.
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
