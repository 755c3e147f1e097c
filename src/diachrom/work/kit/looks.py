"""How each paint on the shelf looks by itself: its bead and its small strip. Computed once a profile."""

from dataclasses import dataclass

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.prediction import Colour
from diachrom.core.mix.strip import Over, Strip, strip

SHELF_GROUNDS = ("white", "silver-foil", "black")
SHELF_COATS = 3
SHELF_FILM_UM = 8.0


@dataclass(frozen=True, eq=False)
class PaintLook:
    """A paint by itself: three light coats over three grounds; its bead is the last coat on white."""

    strip: Strip
    bead: Colour | None  # None for what has no colour


_looks: dict[tuple[object, ...], PaintLook] = {}
MOST_KEPT = 8192


def look(paint: Paint) -> PaintLook:
    """The paint's look, from memory when its profile was seen before."""
    optics = (paint.flake, paint.fluorescence, paint.glow)
    key = (paint.kind, paint.absorption.tobytes(), paint.scattering.tobytes(), *optics)
    found = _looks.get(key)
    if found is None:
        if len(_looks) >= MOST_KEPT:
            _looks.clear()
        one = shelf_strip(Cup((Pour(paint, 1),)))
        found = _looks[key] = PaintLook(one, None if paint.thins else _bead(paint, one))
    return found


def shelf_strip(cup: Cup) -> Strip:
    """A paint or a mix as the shelf shows it."""
    return strip(
        cup,
        film_um=SHELF_FILM_UM,
        coats=SHELF_COATS,
        over=[Over.bare(GROUNDS[key]) for key in SHELF_GROUNDS],
        sheen=CLEARED,
        under=light("D65"),
    )


def _bead(paint: Paint, one: Strip) -> Colour:
    """The last coat on white; what flakes is known by its glance over black, which is what the bottle shows."""
    if paint.flake is None:
        return one.columns[0].patches[-1].diffuse
    return one.columns[-1].patches[-1].at_angle[1]
