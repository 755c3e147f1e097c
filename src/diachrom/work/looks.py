"""How each paint on the shelf looks by itself: its bead and its small strip. Computed once a profile."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.light.lights import light
from diachrom.core.mixing.cup import Cup, Pour
from diachrom.core.mixing.prediction import Colour
from diachrom.core.mixing.strip import Strip, strip

SHELF_GROUNDS = ("white", "silver-foil", "black")
SHELF_COATS = 3
SHELF_FILM_UM = 8.0


@dataclass(frozen=True, eq=False)
class PaintLook:
    """A paint by itself: three light coats over three grounds; its bead is the last coat on white."""

    strip: Strip
    bead: Colour | None  # None for what has no colour


@lru_cache(maxsize=8192)
def _look(kind: str, absorption: bytes, scattering: bytes) -> PaintLook:
    paint = Paint("", kind, np.frombuffer(absorption), np.frombuffer(scattering))
    one = strip(
        Cup((Pour(paint, 1),)),
        film_um=SHELF_FILM_UM,
        coats=SHELF_COATS,
        grounds=[GROUNDS[key] for key in SHELF_GROUNDS],
        clear_coat=True,
        under=light("D65"),
    )
    return PaintLook(one, None if paint.thins else one.columns[0].patches[-1].diffuse)


def look(paint: Paint) -> PaintLook:
    """The paint's look, from memory when its profile was seen before."""
    return _look(paint.kind, paint.absorption.tobytes(), paint.scattering.tobytes())
