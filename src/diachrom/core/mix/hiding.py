"""Coats until a paint hides what lies beneath it: until more of it changes nothing that an eye would see."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import THICKEST_COAT_UM
from diachrom.core.mix.strip import Over, strip

OVER = ("white", "grey", "primer-grey", "black", "silver-foil", "clear-body")
HIDDEN = 1.5  # dE from a coat without end: beside each other they are the same
MOST = 20  # coats


@dataclass(frozen=True, eq=False)
class Hides:
    """One ground under a paint."""

    ground: str
    words: str
    coats: int | None  # None where MOST do not hide it
    labs: Floats  # (coat, 3), none first


def coats_until_hidden(
    paint: Paint, film_um: float, *, droplet_um: float = 0.0, grounds: Sequence[str] = OVER
) -> list[Hides]:
    """How many coats hide each ground.

    Parameters
    ----------
    paint : as it comes.
    film_um : a wet coat, µm.
    droplet_um : thickness of a disc of mist, µm; 0 is an even film.
    grounds : keys of GROUNDS.

    Returns
    -------
    Of each ground, the first coat that is within HIDDEN of a film without end, and the colours on the way there.
    """
    cup, day = Cup([Pour(paint, 1)]), light("D65")
    over = [Over.bare(GROUNDS[key]) for key in grounds]
    how = {"over": over, "sheen": CLEARED, "under": day}
    grown = strip(cup, film_um=film_um, droplet_um=droplet_um, coats=MOST, **how)  # type: ignore[arg-type]
    end = strip(cup, film_um=THICKEST_COAT_UM, coats=MOST, **how)  # type: ignore[arg-type]
    found = []
    for column, last in zip(grown.columns, end.columns, strict=True):
        labs = np.stack([column.bare.diffuse.lab, *(patch.diffuse.lab for patch in column.patches)])
        far = delta_e(labs[1:], last.patches[-1].diffuse.lab)
        hidden = np.flatnonzero(far <= HIDDEN)
        found.append(Hides(column.over.key, column.over.words, int(hidden[0]) + 1 if len(hidden) else None, labs))
    return found
