"""Strips of one mix in dots of several sizes, side by side, and how a mist coat lies."""

import random
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from math import exp, pi

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import COATS_UM
from diachrom.core.mix.prediction import Colour
from diachrom.core.mix.strip import Over, Strip, strip
from diachrom.store import mist
from diachrom.words import say
from diachrom.work.mix.candidates import in_stock
from diachrom.work.mix.contents import contents, cup_of

COATS = 4
SIDE_UM = 1000.0  # of the drawing
MOST_DOTS, SEED = 700, 7


@dataclass(frozen=True, eq=False)
class Beside:
    """One mix in mist coats over white and black."""

    name: str
    strips: Sequence[tuple[str, Strip]]  # as an even film, then in dots


def beside(connection: sqlite3.Connection, sizes: Sequence[tuple[str, float]]) -> Beside | None:
    """The cup on the bench, or a bottle at hand, in dots of these sizes (words, µm); None where nothing colours."""
    held = contents(connection)
    cup, name = cup_of(held), held.draft.name or say("the cup")
    if cup.empty or cup.only_thinner:
        able = [one for one in in_stock(connection) if not one.paint.thins]
        dark = max(able, key=lambda one: float(one.paint.absorption.max()), default=None)
        if dark is None:
            return None
        cup, name = Cup([Pour(dark.paint, 1)]), dark.paint.name
    film_um = mist.hand(connection).film_um(COATS_UM["mist"])
    over = [Over.bare(GROUNDS[key]) for key in ("white", "black")]
    strips = [
        (
            words,
            strip(
                cup, film_um=film_um, coats=COATS, over=over, sheen=CLEARED, under=light("D65"), droplet_um=droplet_um
            ),
        )
        for words, droplet_um in sizes
    ]
    return Beside(name, strips)


def one_disc(own: Beside, droplet_um: float) -> Colour:
    """What white shows through about one dot."""
    return own.strips[0][1].columns[0].after(1).diffuse


def scattered(film_um: float, droplet_um: float, across_um: float) -> list[tuple[float, float, float]]:
    """Dots (x, y, radius) in parts of a square a millimetre wide, as such a coat lays them; none of an even film."""
    if not droplet_um:
        return []
    radius = across_um / 2 / SIDE_UM
    mean = film_um / droplet_um / (pi * radius**2)
    if mean > MOST_DOTS:
        return []
    chance = random.Random(SEED)
    count, left = 0, chance.expovariate(1)
    while left < mean:  # Poisson's law, by the waits between
        count, left = count + 1, left + chance.expovariate(1)
    return [(chance.random(), chance.random(), radius * exp(0.2 * chance.gauss(0, 1))) for _ in range(count)]
