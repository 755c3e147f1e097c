"""The spray strip: one cup as sprayed on a spray-out card, coats growing downwards, grounds side by side."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import islice

import numpy as np

from diachrom.core.film import seen
from diachrom.core.film.bleed import bled
from diachrom.core.film.dots import dotted
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat, FilmLayer
from diachrom.core.film.layer import layer as solve
from diachrom.core.film.stack import Sprayed
from diachrom.core.film.streams import STREAMS
from diachrom.core.film.transport import Modes
from diachrom.core.light.bands import BANDS
from diachrom.core.light.lights import Light
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.layers import Layer, check_layers, coat
from diachrom.core.mix.prediction import ANGLES_DEG, Colour, check_angles, colours_of, in_cup

EDGE_COATS = 0.5


@dataclass(frozen=True, eq=False)
class Over:
    """What a cup is sprayed over: a ground, and what lies on it already."""

    ground: Ground
    below: tuple[Layer, ...] = ()
    key: str = ""
    words: str = ""

    @classmethod
    def bare(cls, ground: Ground) -> "Over":
        """A ground alone, without layers on it."""
        return cls(ground, (), ground.key, ground.words)


@dataclass(frozen=True, eq=False)
class Patch:
    """One field of the strip. Where the angle matters it has a colour an angle; anywhere else the same at all."""

    diffuse: Colour
    at_angle: tuple[Colour, ...]  # empty where the angle changes nothing


@dataclass(frozen=True, eq=False)
class Column:
    over: Over
    bare: Patch
    edge: Patch  # a faded edge: half of the first coat's film
    patches: tuple[Patch, ...]  # one a coat, the first coat first

    @property
    def has_direction(self) -> bool:
        """Whether what is seen in it depends on the angle."""
        return bool(self.patches[0].at_angle)

    def after(self, coats: int) -> Patch:
        """What lies there after so many coats, as far as the strip goes."""
        return self.patches[min(coats, len(self.patches)) - 1]


@dataclass(frozen=True, eq=False)
class Strip:
    cup: Colour | None
    angles_deg: tuple[float, ...]
    columns: tuple[Column, ...]

    def column(self, key: str) -> Column:
        """The column over the ground of this key; the last, which is the painter's own, when there is none."""
        return next((column for column in self.columns if column.over.key == key), self.columns[-1])


def strip(
    cup: Cup,
    *,
    film_um: float,
    coats: int,
    over: Sequence[Over],
    sheen: float,
    under: Light,
    droplet_um: float = 0.0,
    angles_deg: Sequence[float] = ANGLES_DEG,
) -> Strip:
    """Every field of a strip at once: coats side by side, a column a ground.

    Parameters
    ----------
    cup : the mix.
    film_um : a coat, µm.
    coats : how many at most.
    over : the grounds.
    sheen : share that the surface mirrors before any light enters.
    under : the light.
    droplet_um : thickness of a disc of mist, µm; 0 is an even film.
    angles_deg : aspecular angles, °.

    Returns
    -------
    Strip.

    Raises
    ------
    EmptyCup : there is nothing to spray.
    InvalidInput : amounts out of range.
    """
    top = Layer(cup, film_um, coats, droplet_um=droplet_um)
    angles = check_angles(angles_deg)
    counts = np.concatenate([[0.0, EDGE_COATS], np.arange(1.0, coats + 1)])  # (coat,), from none to all
    grown = Coat(cup.mix(), film_um * counts, counts, droplet_um=droplet_um)
    solver = _Solver()
    seen_at, turning = [], []
    for one in over:
        check_layers([*one.below, top])
        films = solver.sprayed([*(coat(layer) for layer in one.below), grown])
        diffuse = seen.diffuse(films, one.ground, sheen=sheen, under=under)  # (coat, band)
        bare = solver.sprayed([coat(layer) for layer in one.below])
        diffuse[0] = seen.diffuse(bare, one.ground, sheen=sheen, under=under)
        seen_at.append(diffuse)
        turning.append(seen.has_direction(films, one.ground, under=under))
        if turning[-1]:
            glance = seen.glance(films, one.ground, angles, under=under)  # (coat, angle, band)
            seen_at.append((diffuse[:, None, :] + glance).reshape(-1, BANDS))
    # All colours in one call: many small ones cost more than one large one.
    colours = iter(colours_of(np.concatenate(seen_at), under=under))
    columns = []
    for one, turns in zip(over, turning, strict=True):
        flat = list(islice(colours, len(counts)))
        turned = [tuple(islice(colours, len(angles))) if turns else () for _ in flat]
        patches = [Patch(colour, around) for colour, around in zip(flat, turned, strict=True)]
        columns.append(Column(one, patches[0], patches[1], tuple(patches[2:])))
    modes = solver.modes_of(grown)
    return Strip(in_cup(top, under=under, modes=modes), angles, tuple(columns))


class _Solver:
    """Solves each coat once, however many columns it stands in; what a dye has bled into is another coat."""

    def __init__(self) -> None:
        self.solved: dict[tuple[object, ...], FilmLayer] = {}

    def sprayed(self, coats: Sequence[Coat]) -> Sprayed:
        """These coats over what lies below."""
        each, blend = dotted(coats)
        return Sprayed([self._layer(one) for one in bled(each)], STREAMS, blend)

    def modes_of(self, one: Coat) -> Modes | None:
        """What was solved for a coat, if its mix was met as it is."""
        return next((layer.modes for layer in self.solved.values() if layer.coat.mix is one.mix), None)

    def _layer(self, one: Coat) -> FilmLayer:
        film_um = np.asarray(one.film_um)
        key = (id(one.mix), film_um.shape, film_um.tobytes(), one.sealed)
        if key not in self.solved:
            self.solved[key] = solve(one, STREAMS)  # which keeps the mix, so that its id stays its own
        return self.solved[key]
