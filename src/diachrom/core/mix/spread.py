"""How sure a predicted colour is: what an uneven hand, a fat drop and a vague profile would change.

Each cause is moved to both sides as far as nine in ten stay, one at a time; of the two colour differences the mean
square is taken, and those of all causes add up. The less sure a profile is, the more it may be of another hue and
hide otherwise.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import GUESSED, Paint, mix
from diachrom.core.film.stack import sprayed
from diachrom.core.light.bands import WAVELENGTHS_NM, Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import Light
from diachrom.core.mix.layers import Layer, check_layers
from diachrom.words import say

COAT_SIGMA = 0.20  # of a coat's thickness
DROP_SIGMA = 0.08  # of a drop's volume
NINETY_PERCENT = 1.645  # standard deviations
SIDES = (-NINETY_PERCENT, NINETY_PERCENT)
STREAMS = 4  # differences need fewer streams than colours do
HIDING_SIGMA, HUE_SIGMA, FLAKE_SIGMA = 1.2, 0.3, 0.06  # of a guess: ln scattering, tilt, thickness of what flakes have
YIELD_SIGMA = 0.5  # of a guessed dye's, in the logarithm
EVEN = (WAVELENGTHS_NM - 555) / 175  # (band,), -1 to 1: along it a hue tilts


@dataclass(frozen=True)
class Spread:
    """The difference that nine of ten results stay within, and what causes most of it."""

    delta_e: float
    cause: str


@dataclass(frozen=True, eq=False)
class _Change:
    """One cause moved to one side, in one layer."""

    layer: int
    cause: str
    volumes: Floats  # (paint,) of each paint of the layer, those that it might be instead included
    strength: Floats  # (paint,) that its share counts
    thickness: float = 1.0
    dots: float = 1.0  # times as thick


def _might_be(paint: Paint) -> Iterator[tuple[Callable[[str], str], Paint, Paint]]:
    """What a paint might be instead, to both sides, as far as its profile is unsure."""
    if paint.uncertainty <= 0:
        return
    vague = min(1.0, paint.uncertainty / GUESSED)

    def both(words: Callable[[str], str], move: Callable[[float], Paint]) -> tuple[Callable[[str], str], Paint, Paint]:
        return words, move(SIDES[0]), move(SIDES[1])

    def hue(name: str) -> str:
        return say("the hue of {name}", name=name)

    def hiding(side: float) -> Paint:
        return replace(paint, scattering=paint.scattering * np.exp(side * vague * HIDING_SIGMA))

    def tilted(side: float) -> Paint:
        return replace(paint, absorption=paint.absorption * np.exp(side * vague * HUE_SIGMA * EVEN))

    yield both(lambda name: say("how well {name} hides", name=name), hiding)
    yield both(hue, tilted)
    dye = paint.fluorescence
    if dye is not None:
        amount = dye.quantum_yield
        yield both(
            lambda name: say("how much {name} shines", name=name),
            lambda side: replace(
                paint,
                fluorescence=replace(dye, quantum_yield=min(1.0, amount * float(np.exp(side * vague * YIELD_SIGMA)))),
            ),
        )
    flake = paint.flake
    if flake is not None and flake.thickness_nm:
        nm = flake.thickness_nm
        yield both(
            hue,
            lambda side: replace(paint, flake=replace(flake, thickness_nm=nm * (1 + side * vague * FLAKE_SIGMA))),
        )


class _Moved:
    """A layer with everything that it might be instead."""

    def __init__(self, at: int, layer: Layer) -> None:
        self.layer = layer
        pours = layer.cup.pours
        poured = np.array([pour.volume_ml for pour in pours])
        instead = [(which, *one) for which, pour in enumerate(pours) for one in _might_be(pour.paint)]
        self.paints = [*(pour.paint for pour in pours), *(paint for one in instead for paint in one[2:])]
        count = len(self.paints)
        self.volumes = np.concatenate([poured, np.zeros(count - len(pours))])
        one = np.eye(count)
        even = np.ones(count)
        self.changes: list[_Change] = []
        for side in SIDES:
            coat = float(np.exp(side * COAT_SIGMA))
            self.changes.append(_Change(at, say("the coat's thickness"), self.volumes, even, coat))
            if layer.droplet_um and layer.droplet_off:
                dots = float(np.exp(side * layer.droplet_off))
                self.changes.append(_Change(at, say("the dots of the mist"), self.volumes, even, dots=dots))
            for which, pour in enumerate(pours):
                fat, strong = (np.exp(side * sigma * one[which]) for sigma in (DROP_SIGMA, pour.paint.uncertainty))
                self.changes.append(
                    _Change(at, say("the drops of {name}", name=pour.paint.name), self.volumes * fat, even)
                )
                if pour.paint.uncertainty > 0:
                    self.changes.append(
                        _Change(at, say("the profile of {name}", name=pour.paint.name), self.volumes, strong)
                    )
        for place, (which, words, *_) in enumerate(instead):
            for side in range(2):
                moved = self.volumes.copy()
                moved[which], moved[len(pours) + 2 * place + side] = 0.0, self.volumes[which]
                self.changes.append(_Change(at, words(pours[which].paint.name), moved, even))

    def coat(self, at: int, changes: Sequence[_Change]) -> Coat:
        """A row for the recipe itself, then one for each change of any layer."""
        own = [change if change.layer == at else None for change in changes]
        plain = self.volumes / self.volumes.sum()
        rows = [plain, *(plain if one is None else one.volumes / one.volumes.sum() * one.strength for one in own)]
        thickness = np.array([1.0, *(1.0 if one is None else one.thickness for one in own)])
        dots = np.array([1.0, *(1.0 if one is None else one.dots for one in own)])
        layer = self.layer
        return Coat(
            mix(self.paints, np.stack(rows)),
            layer.total_um * thickness,
            layer.coats,
            layer.sealed,
            layer.droplet_um * dots if layer.droplet_um else 0.0,
        )


def spread(
    layers: Sequence[Layer], *, over: Ground, sheen: float, under: Light, angle_deg: float | None = None
) -> Spread:
    """How far the colour may lie off what is predicted, at 90 %.

    Parameters
    ----------
    layers : bottom first.
    over : the ground.
    sheen : share that the surface mirrors before any light enters.
    under : the light.
    angle_deg : aspecular angle, °; diffusely where it is None.

    Returns
    -------
    Spread, dE and what causes it.

    Raises
    ------
    InvalidInput : a layer that cannot be sprayed.
    """
    check_layers(layers)
    moved = [_Moved(index, layer) for index, layer in enumerate(layers)]
    changes = [change for one in moved for change in one.changes]
    if not changes:
        return Spread(0.0, "nothing")
    films = sprayed([one.coat(at, changes) for at, one in enumerate(moved)], STREAMS)
    radiance = seen.diffuse(films, over, sheen=sheen, under=under)  # (change, band)
    if angle_deg is not None:
        radiance = radiance + seen.glance(films, over, [angle_deg], under=under, orders=1)[..., 0, :]
    points = lab_of_radiance(radiance, under=under)
    squares: dict[str, float] = {}
    for change, step in zip(changes, delta_e(points[1:], points[0]).tolist(), strict=True):
        squares[change.cause] = squares.get(change.cause, 0.0) + step**2 / len(SIDES)
    return Spread(float(np.sqrt(sum(squares.values()))), max(squares, key=lambda cause: squares[cause]))
