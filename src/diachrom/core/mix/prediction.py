"""The colour of a stack of coats: at every angle, diffuse, in the cup, and how sure it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import seen, stack
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.transport import Modes
from diachrom.core.light.bands import BANDS, Floats
from diachrom.core.light.lab import lab, lab_of_radiance, lch
from diachrom.core.light.lights import Light, light, xyz
from diachrom.core.light.screen import Shown, shown
from diachrom.core.mix.layers import Layer, spray
from diachrom.core.mix.spread import Spread, spread
from diachrom.errors import InvalidInput, NotPredictable
from diachrom.words import quantity, say

ANGLES_DEG = (15.0, 25.0, 45.0, 75.0, 110.0)  # aspecular; 15 is the glance, 110 fully turned away
LARGEST_ANGLE_DEG = 160.0


@dataclass(frozen=True, eq=False)
class Colour:
    """A radiance factor and what it is to the eye."""

    radiance_factor: Floats  # (band,) 0 where the light has no power: there is none
    lab: Floats  # (3,)
    lch: tuple[float, float, float]  # L*, C*, h in degrees
    shown: Shown


@dataclass(frozen=True, eq=False)
class Prediction:
    angles_deg: tuple[float, ...]
    at_angle: tuple[Colour, ...]
    diffuse: Colour
    cup: Colour | None  # None when nothing in the top layer's cup colours
    contrast_ratio: float
    spread: Spread


def colours(radiance_factor: Floats, *, under: Light) -> list[Colour]:
    """(n, band) radiance factors -> n colours. Raises NotPredictable: nothing that is no number leaves the core."""
    return _colours(radiance_factor, lab(radiance_factor, under=under))


def colours_of(radiance: Floats, *, under: Light) -> list[Colour]:
    """(n, band) radiances as `film.seen` has them -> n colours. Raises NotPredictable."""
    return _colours(under.factor(radiance), lab_of_radiance(radiance, under=under))


def _colours(radiance_factor: Floats, values: Floats) -> list[Colour]:
    if not np.isfinite(values).all():
        raise NotPredictable
    polar = [(row[0], row[1], row[2]) for row in lch(values).tolist()]
    rows = zip(radiance_factor, values, polar, shown(values), strict=True)
    return [Colour(*row) for row in rows]


def check_angles(angles_deg: Sequence[float]) -> tuple[float, ...]:
    """Raises InvalidInput for an angle that no eye can stand at."""
    for angle in angles_deg:
        if not 0 <= angle <= LARGEST_ANGLE_DEG:
            raise InvalidInput(
                say(
                    "An angle must be 0 to {largest_angle_deg} degrees from the mirror direction, not {angle}.",
                    largest_angle_deg=quantity(LARGEST_ANGLE_DEG, ".0f"),
                    angle=quantity(angle, "g"),
                ),
                field="angles",
            )
    return tuple(float(angle) for angle in angles_deg)


def predict(
    layers: Sequence[Layer],
    *,
    over: Ground,
    sheen: float,
    under: Light,
    angles_deg: Sequence[float] = ANGLES_DEG,
) -> Prediction:
    """What layers look like over a ground.

    Parameters
    ----------
    layers : bottom first.
    over : the ground.
    sheen : share that the surface mirrors before any light enters.
    under : the light.
    angles_deg : aspecular angles, °.

    Returns
    -------
    Prediction, diffuse and at each angle.

    Raises
    ------
    InvalidInput : a layer that cannot be sprayed.
    EmptyCup : a layer of nothing.
    """
    angles = check_angles(angles_deg)
    films = spray(layers)
    diffuse = seen.diffuse(films, over, sheen=sheen, under=under)  # (band,)
    angled = diffuse + seen.glance(films, over, angles, under=under)  # (angle, band)
    # Luminance over black against luminance over white, in daylight: 0 hides nothing, 1 hides all.
    black, white = (
        float(xyz(stack.diffuse(films, GROUNDS[key], sheen=sheen), under=light("D65"))[1]) for key in ("black", "white")
    )
    return Prediction(
        angles_deg=angles,
        at_angle=tuple(colours_of(angled, under=under)),
        diffuse=colours_of(diffuse[None], under=under)[0],
        cup=in_cup(layers[-1], under=under) if layers else None,
        contrast_ratio=black / white if white > 0 else 1.0,
        spread=spread(layers, over=over, sheen=sheen, under=under),
    )


def in_cup(layer: Layer, *, under: Light, modes: Modes | None = None) -> Colour | None:
    """The layer's mix in the cup, wet and endlessly deep; None when nothing in it colours."""
    if layer.cup.only_thinner:
        return None
    return colours_of(seen.cup(layer.cup.mix(), under=under, modes=modes)[None], under=under)[0]


def colour_of(values: Sequence[float]) -> Colour:
    """A Lab as a colour that a page can show."""
    own = np.array(values, dtype=np.float64)
    lightness, chroma, hue = lch(own).tolist()
    return Colour(np.zeros(BANDS), own, (lightness, chroma, hue), shown(own)[0])
