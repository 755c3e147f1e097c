"""What lies at a place of a bait, layer by layer; what is seen there, how sure that is, what would change it most."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.picture import ANGLES
from diachrom.core.bait.plan import WHATS, Plan
from diachrom.core.film import seen, stack
from diachrom.core.film.grounds import Ground
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import clear_paint
from diachrom.core.film.paint import mix as mixed
from diachrom.core.film.streams import STREAMS as MOST_STREAMS
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.light.lights import Light, light
from diachrom.core.light.words import SAME, difference
from diachrom.core.mix.prediction import Colour, colours_of
from diachrom.core.mix.spread import COAT_SIGMA, NINETY_PERCENT
from diachrom.core.mix.where import waves
from diachrom.words import quantity, say
from diachrom.work.plan.painting import LaidLayer, coated_bait, laid, sheen_of

STREAMS = 4  # differences need fewer streams than colours do
THINNEST_UM = 0.02


@dataclass(frozen=True, eq=False)
class Lying:
    """A layer at the place."""

    place: int
    name: str
    film_um: float
    left: Colour  # what is seen when it is the last
    changes: float  # dE of what is seen with a coat more of it


@dataclass(frozen=True, eq=False)
class Here:
    """What there is at a place."""

    u: float
    v: float
    ground: str
    layers: Sequence[Lying]
    seen: Colour
    glance: Colour | None  # where it turns
    spread: float  # dE that nine in ten stay within
    most: str  # what would change it most, in words


def here(connection: sqlite3.Connection, plan: Plan, u: float, v: float, *, light_key: str = "D65") -> Here:
    """Reckoned by the exact stack. Raises UnknownLight."""
    under = light(light_key)
    at = stack_at(connection, plan, u, v)
    stackable, ground, sheen = at.coats, at.ground, at.sheen
    seen_here = colours(stackable, ground, sheen, under)
    rows, told = [], []
    for place, (number, one, um) in enumerate(at.there):
        left = colours(stackable[: place + 1], ground, sheen, under)[0]
        more = [
            replace(c, film_um=um + um / max(one.layer.coats, 1)) if k == place else c for k, c in enumerate(stackable)
        ]
        lab_more = _lab(more, ground, sheen, under)
        step = float(delta_e(lab_more, _lab(stackable, ground, sheen, under)))
        rows.append(Lying(number, one.layer.name or one.words, um, left, step))
        told.append((step, number, one, difference(seen_here[0].lab, lab_more)))
    return Here(
        u=u,
        v=v,
        ground=ground.words,
        layers=rows,
        seen=seen_here[0],
        glance=seen_here[1],
        spread=_spread(stackable, ground, sheen, under),
        most=_most(told),
    )


@dataclass(frozen=True, eq=False)
class StackAt:
    """What lies at a place, from the inside out."""

    ground: Ground
    there: Sequence[tuple[int, LaidLayer, float]]  # place in the plan, layer, um
    sheen: float

    @property
    def coats(self) -> list[Coat]:
        """The same as light meets it."""
        return [coat(one, um) for _, one, um in self.there]


def stack_at(connection: sqlite3.Connection, plan: Plan, u: float, v: float) -> StackAt:
    """What lies at a place of a plan's bait."""
    lies = coated_bait(connection, plan)
    cells_u, cells_v = lies.ground_at.shape
    at = min(int(u * cells_u), cells_u - 1), int(v * cells_v) % cells_v
    lying = [
        (place, one, float(lies.films_um[(place - 1, *at)]))
        for place, one in enumerate(laid(connection, plan.layers), start=1)
    ]
    there = [(place, one, um) for place, one, um in lying if one.painted.mix is not None and um > THINNEST_UM]
    return StackAt(lies.grounds[int(lies.ground_at[at])], there, sheen_of(plan))


def coat(one: LaidLayer, film_um: float) -> Coat:
    """So much of a layer."""
    mix = one.painted.mix or mixed([clear_paint("nothing", "medium")], np.ones(1))
    return Coat(mix, film_um, max(1, one.layer.coats), one.painted.sealed, one.painted.droplet_um)


def _lab(coats: Sequence[Coat], ground: Ground, sheen: float, under: Light) -> Floats:
    films = stack.sprayed(coats, STREAMS)
    return lab_of_radiance(seen.diffuse(films, ground, sheen=sheen, under=under), under=under)


def colours(
    coats: Sequence[Coat], ground: Ground, sheen: float, under: Light, count: int = MOST_STREAMS
) -> tuple[Colour, Colour | None]:
    """Without a direction, and at the glance where that differs."""
    films = stack.sprayed(coats, count)
    diffuse = seen.diffuse(films, ground, sheen=sheen, under=under)
    rows = [diffuse]
    turns = seen.has_direction(films, ground, under=under)
    if turns:
        flash = seen.glance(films, ground, [ANGLES[1]], under=under, orders=waves(count))
        rows.append(diffuse + flash[0])
    colours = colours_of(np.stack(rows), under=under)
    return colours[0], colours[1] if turns else None


def _spread(coats: Sequence[Coat], ground: Ground, sheen: float, under: Light) -> float:
    """Of an uneven hand in each layer by itself."""
    whole = _lab(coats, ground, sheen, under)
    squares = 0.0
    for place in range(len(coats)):
        for side in (-1, 1):
            by = float(np.exp(side * NINETY_PERCENT * COAT_SIGMA))
            moved = [replace(c, film_um=c.film_um * by) if k == place else c for k, c in enumerate(coats)]
            squares += float(delta_e(_lab(moved, ground, sheen, under), whole)) ** 2 / 2
    return float(np.sqrt(squares))


def _most(told: Sequence[tuple[float, int, LaidLayer, str]]) -> str:
    if not told:
        return say("Nothing is here yet: any layer would change it.")
    step, number, one, words = max(told, key=lambda row: row[0])
    name = one.layer.name or one.words or WHATS[one.layer.what].words
    if step < SAME:
        return say(
            "No further coat of any layer would be seen; most of {name}, layer {number} (dE {step}).",
            name=name,
            number=number,
            step=quantity(step, ".1f"),
        )
    return say(
        "Layer {number}, {name}: a coat more makes it {words} (dE {step}).",
        number=number,
        name=name,
        words=words,
        step=quantity(step, ".1f"),
    )
