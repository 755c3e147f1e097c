"""Usual paints of the kinds that one colour cannot describe: flakes, fluorescent dyes, glow powders. A bottle of such a
kind that was never measured is taken for the nearest of them. The figures are this project's own judgement."""

from collections.abc import Callable
from functools import lru_cache

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.flakes import Flake
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Fluorescence, Glow, Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.light.bands import BANDS, WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light

UNCERTAINTY = 0.45  # of strength
FILM_UM, GLANCE_DEG = 24.0, 25.0
_HAZE = 0.0015 * (550 / WAVELENGTHS_NM) ** 1.2  # (band,) 1/um of the binder and the flakes' edges


def _flaked(kind: str, flake: Flake) -> Paint:
    return Paint("", kind, np.full(BANDS, 1e-5), _HAZE, UNCERTAINTY, flake)


def _shining(absorbs_nm: float, emits_nm: float) -> Paint:
    dye = Fluorescence(absorbs_nm, 32.0, 0.2, emits_nm, 21.0, 0.5)
    own = dye.absorption(np.full(BANDS, 1.0)) + 1e-4
    return Paint("", "fluorescent", own, 20 * _HAZE, UNCERTAINTY, fluorescence=dye)


def _glowing(emits_nm: float) -> Paint:
    glow = Glow(emits_nm, 34.0, 0.012, 1.0, 1.5)
    return Paint("", "glow", np.full(BANDS, 1e-4), 60 * _HAZE, UNCERTAINTY, glow=glow)


USUAL: dict[str, Callable[[], list[Paint]]] = {
    "pearl": lambda: [_flaked("pearl", Flake("pearl", 0.055, nm)) for nm in (50.0, 75.0, 95.0, 108.0, 120.0, 145.0)],
    "metallic": lambda: [_flaked("metallic", Flake(key, 0.07)) for key in ("aluminium", "bronze", "copper")],
    "shift": lambda: [_flaked("shift", Flake("shift", 0.08, nm, 9.0)) for nm in (300.0, 340.0, 380.0, 420.0, 460.0)],
    "glitter": lambda: [_flaked("glitter", Flake("aluminium", 0.012, 0.0, 10.0, sparkle=True))],
    "fluorescent": lambda: [
        _shining(absorbs, emits) for absorbs, emits in ((445.0, 518.0), (480.0, 560.0), (518.0, 598.0), (545.0, 615.0))
    ],
    "glow": lambda: [_glowing(nm) for nm in (520.0, 490.0, 460.0)],
}


@lru_cache(maxsize=len(USUAL))
def _known(kind: str) -> tuple[list[Paint], Floats]:
    """The usual paints of a kind, and what each is known by (paint, 3)."""
    paints = USUAL[kind]()
    return paints, np.stack([_known_by(paint) for paint in paints])


def _known_by(paint: Paint) -> Floats:
    """(3,) Lab: of flakes the glance over black, which is what the bottle shows; of the others three coats on white."""
    films = sprayed([Coat(mix([paint], np.ones(1)), FILM_UM)])
    over, day = GROUNDS["black" if paint.flake else "white"], light("D65")
    factor = seen.diffuse(films, over, clear_coat=True, under=day)
    if paint.flake:
        factor = factor + seen.glance(films, over, [GLANCE_DEG], under=day)[0]
    return lab(factor, under=day)


def nearest_usual(kind: str, colour: Floats | None) -> Paint:
    """The usual paint of a kind that is nearest to a Lab (3,); the first without one."""
    paints, labs = _known(kind)
    return paints[0] if colour is None else paints[int(np.argmin(delta_e(labs, colour)))]
