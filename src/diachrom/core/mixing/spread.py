"""How sure a predicted colour is: what an uneven hand, a fat drop and a vague profile would change.

Each cause is moved by one standard deviation, one at a time, and the colour differences add as squares.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.film.stack import sprayed
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import Light
from diachrom.core.mixing.layers import Layer, check_layers

COAT_SIGMA = 0.20  # of a coat's thickness
DROP_SIGMA = 0.08  # of a drop's volume
NINETY_PERCENT = 1.645  # standard deviations
STREAMS = 4  # differences need fewer streams than colours do


@dataclass(frozen=True)
class Spread:
    """The difference that nine of ten results stay within, and what causes most of it."""

    delta_e: float
    cause: str


@dataclass(frozen=True, eq=False)
class _Change:
    """One cause moved by one standard deviation, in one layer."""

    layer: int
    cause: str
    shares: Floats  # (pour,) of each paint in the mix, times its strength
    thickness: float = 1.0


def _changes(at: int, layer: Layer) -> Iterator[_Change]:
    pours = layer.cup.pours
    volumes = np.array([pour.volume_ml for pour in pours])
    shares = volumes / volumes.sum()
    yield _Change(at, "the coat's thickness", shares, 1 + COAT_SIGMA)
    for which, pour in enumerate(pours):
        one = np.eye(len(pours))[which]
        fatter = volumes * (1 + DROP_SIGMA * one)
        yield _Change(at, f"the drops of {pour.paint.name}", fatter / fatter.sum())
        if pour.paint.uncertainty > 0:
            yield _Change(at, f"the profile of {pour.paint.name}", shares * (1 + pour.paint.uncertainty * one))


def _coat(layer: Layer, shares: Floats, thickness: Floats) -> Coat:
    """(change, pour) shares and (change,) thickness -> the coat with a row a change."""
    mixed = mix([pour.paint for pour in layer.cup.pours], shares)
    return Coat(mixed, layer.total_um * thickness, layer.coats, layer.sealed)


def spread(
    layers: Sequence[Layer], *, over: Ground, sheen: float, under: Light, angle_deg: float | None = None
) -> Spread:
    """The spread of the colour at 90 %, seen at an aspecular angle or, without one, diffusely.

    Raises what checking the layers raises.
    """
    check_layers(layers)
    changes = [change for at, layer in enumerate(layers) for change in _changes(at, layer)]
    if not changes:
        return Spread(0.0, "nothing")
    built = []
    for at, layer in enumerate(layers):
        # Row 0 is the recipe itself, row i the i-th change.
        rows = [layer.cup.fractions, *(c.shares if c.layer == at else layer.cup.fractions for c in changes)]
        factors = np.array([1.0, *(c.thickness if c.layer == at else 1.0 for c in changes)])
        built.append(_coat(layer, np.stack(rows), factors))
    films = sprayed(built, STREAMS)
    radiance = seen.diffuse(films, over, sheen=sheen, under=under)  # (change, band)
    if angle_deg is not None:
        radiance = radiance + seen.glance(films, over, [angle_deg], under=under)[..., 0, :]
    points = lab_of_radiance(radiance, under=under)
    steps = delta_e(points[1:], points[0])
    return Spread(NINETY_PERCENT * float(np.sqrt(np.sum(steps**2))), _largest(changes, steps))


def _largest(changes: Sequence[_Change], steps: Floats) -> str:
    squares: dict[str, float] = {}
    for change, step in zip(changes, steps, strict=True):
        squares[change.cause] = squares.get(change.cause, 0.0) + float(step) ** 2
    return max(squares, key=lambda cause: squares[cause])
