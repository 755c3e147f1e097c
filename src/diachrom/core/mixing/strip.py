"""The spray strip: one cup as sprayed on a test card, coats growing downwards, grounds side by side."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

import numpy as np

from diachrom.core.film import stack, transport
from diachrom.core.film.grounds import Ground
from diachrom.core.light.bands import BANDS
from diachrom.core.light.lights import Light
from diachrom.core.mixing.cup import Cup
from diachrom.core.mixing.layers import Layer
from diachrom.core.mixing.prediction import ANGLES_DEG, Colour, check_angles, colours, in_cup


@dataclass(frozen=True, eq=False)
class Patch:
    """One field of the strip. A ground with a direction has a colour an angle; any other has the same at all."""

    diffuse: Colour
    at_angle: tuple[Colour, ...]  # empty where the angle changes nothing


@dataclass(frozen=True, eq=False)
class Column:
    ground: Ground
    bare: Patch
    patches: tuple[Patch, ...]  # one a coat, the first coat first


@dataclass(frozen=True, eq=False)
class Strip:
    cup: Colour | None
    angles_deg: tuple[float, ...]
    columns: tuple[Column, ...]


def strip(
    cup: Cup,
    *,
    film_um: float,
    coats: int,
    grounds: Sequence[Ground],
    clear_coat: bool,
    under: Light,
    angles_deg: Sequence[float] = ANGLES_DEG,
) -> Strip:
    """Predict every field at once. Raises EmptyCup, and InvalidInput for amounts out of range."""
    layer = Layer(cup, film_um, coats)
    angles = check_angles(angles_deg)
    modes = transport.modes(cup.mix())
    films = stack.sprayed([(modes, film_um * np.arange(coats + 1.0))])  # (coat,), from none to all
    factors = []
    for over in grounds:
        diffuse = stack.diffuse(films, over, clear_coat=clear_coat)  # (coat, band)
        diffuse[0] = stack.diffuse(stack.sprayed([]), over, clear_coat=clear_coat)
        factors.append(diffuse)
        if over.mirror is not None:
            glance = stack.glance(films, over, angles)  # (coat, angle, band)
            factors.append((diffuse[:, None, :] + glance).reshape(-1, BANDS))
    # All colours in one call: many small ones cost more than one large one.
    seen = iter(colours(np.concatenate(factors), under=under))
    columns = []
    for over in grounds:
        flat = list(islice(seen, coats + 1))
        turned = [tuple(islice(seen, len(angles))) if over.mirror else () for _ in flat]
        patches = [Patch(colour, around) for colour, around in zip(flat, turned, strict=True)]
        columns.append(Column(over, patches[0], tuple(patches[1:])))
    return Strip(in_cup(layer, under=under), angles, tuple(columns))
