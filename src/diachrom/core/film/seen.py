"""The light that comes to the eye from a stack: reflected, mirrored, made. All of it are radiances under a light, in
the units of its power: a radiance factor says nothing where the light has no power and a paint shines."""

from collections.abc import Sequence

import numpy as np

from diachrom.core.film import emission, stack, transport
from diachrom.core.film.dots import STRAIGHT
from diachrom.core.film.facets import ORDERS
from diachrom.core.film.grounds import GROUNDS, Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import Mix
from diachrom.core.film.stack import Sprayed, sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.film.surface import CLEARED
from diachrom.core.film.transport import Modes
from diachrom.core.light.bands import Floats
from diachrom.core.light.lights import Light

CUP_UM = 800.0  # as deep as a cup needs to be for what flakes or shines
CUP_VIEW_DEG = 45.0


def diffuse(films: Sprayed, over: Ground, *, sheen: float, under: Light) -> Floats:
    """What is seen without a direction.

    Parameters
    ----------
    films : laid on the ground.
    over : the ground.
    sheen : share that the surface mirrors before any light enters.
    under : the light.

    Returns
    -------
    (..., band) radiance.
    """
    if under.dark_minutes is not None:
        return films.blend.seen(emission.glow(films, over, minutes=under.dark_minutes), STRAIGHT)
    seen = under.power * stack.diffuse_each(films, over)
    if any(one.coat.mix.dyes for one in films.layers):
        seen = seen + emission.fluorescence(films, over, under.power)
    return stack.from_afar(films, over, seen, sheen=sheen * under.power)


def glance(films: Sprayed, over: Ground, angles_deg: Sequence[float], *, under: Light, orders: int = ORDERS) -> Floats:
    """What the angle adds: nothing when the light is out.

    Parameters
    ----------
    films : laid on the ground.
    over : the ground.
    angles_deg : aspecular angles, °.
    under : the light.
    orders : Fourier orders of the azimuth; fewer do for small differences.

    Returns
    -------
    (..., angle, band) radiance.
    """
    added = stack.glance(films, over, angles_deg, orders=orders)
    return under.power * added if under.dark_minutes is None else np.zeros_like(added)


def has_direction(films: Sprayed, over: Ground, *, under: Light) -> bool:
    """Whether what is seen depends on the angle."""
    return under.dark_minutes is None and (over.has_direction or films.has_flakes)


def cup(mix: Mix, *, under: Light, modes: Modes | None = None, count: int = STREAMS) -> Floats:
    """The wet cup: endlessly deep and glossy.

    Parameters
    ----------
    mix : what is in it.
    under : the light.
    modes : of the mix, if they are known already.
    count : streams.

    Returns
    -------
    (band,) radiance.
    """
    if not (mix.flakes or mix.shines) and under.dark_minutes is None:
        known = modes or transport.modes(mix, count)
        return under.power * transport.out_of_surface(transport.endless(known))
    films, black = sprayed([Coat(mix, CUP_UM)], count), GROUNDS["black"]
    seen = diffuse(films, black, sheen=CLEARED, under=under)
    return seen + glance(films, black, [CUP_VIEW_DEG], under=under)[0]
