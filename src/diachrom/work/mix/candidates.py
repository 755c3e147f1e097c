"""What may be mixed and how it is sprayed, for who looks for a mix."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

from diachrom.core.film.paint import Paint, clear_paint
from diachrom.core.light.lights import light
from diachrom.core.match.search import FoundMixes, Search
from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, USUAL_DROP_ML, Pour
from diachrom.core.mix.where import DIFFUSE, Views, Where
from diachrom.store import mist, paints
from diachrom.store.bottles import Bottle
from diachrom.work.mix.sprayed_over import over
from diachrom.work.shelf.on_shelf import at_hand

D65 = light("D65")


class HowSprayed(Protocol):
    """What says how something is sprayed: a draft, or how a target is matched."""

    @property
    def ground(self) -> str: ...
    @property
    def film_um(self) -> float: ...
    @property
    def coats(self) -> int: ...
    @property
    def sheen(self) -> float: ...


@dataclass(frozen=True, eq=False)
class Candidate:
    """A paint that may be matched with."""

    key: str  # its id, or the name that it was given
    index: int
    paint: Paint
    drop_ml: float
    bottle: Bottle | None = None


def in_stock(connection: sqlite3.Connection) -> list[Candidate]:
    """One bottle of every paint that can be poured."""
    best = at_hand(connection)
    profiles = paints.profiles(connection, [bottle.paint_id for bottle in best])
    return [
        Candidate(one.paint_id, -1, profiles[one.paint_id], one.drop_ml, one)
        for one in best
        if not profiles[one.paint_id].problem
    ]


def for_a_target(shelf: Sequence[Candidate], views: Views, kept_in: Sequence[int] = ()) -> list[Candidate]:
    """Of the shelf, what a target is matched with: flakes are for what turns with the angle, or for who wants them."""
    return [
        candidate
        for candidate in shelf
        if views != DIFFUSE
        or candidate.paint.flake is None
        or (candidate.bottle is not None and candidate.bottle.id in kept_in)
    ]


def thinner_in_stock(connection: sqlite3.Connection, kind: str, volume_ml: float) -> tuple[Bottle, int] | None:
    """A bottle of this kind, and its drops that come nearest to a volume; None when the shelf has none."""
    found = next((bottle for bottle in at_hand(connection) if bottle.kind == kind), None)
    return None if found is None else (found, max(1, round(volume_ml / found.drop_ml)))


def thinner_ml(volume_ml: float, dilution: float) -> float:
    """So much reducer beside a volume of paint as makes it this share of the whole."""
    return volume_ml * dilution / (1 - dilution)


def where_sprayed(connection: sqlite3.Connection, how: HowSprayed, views: Views = DIFFUSE) -> Where:
    """Coats over a ground, or over a recipe as sprayed. Raises what `over` raises."""
    seen = over(connection, how.ground)
    hand = mist.hand(connection)
    return Where(
        ground=seen.ground,
        film_um=hand.film_um(how.film_um) * how.coats,
        sheen=how.sheen,
        under=D65,
        below=seen.below,
        views=views,
        droplet_um=hand.dots_um(how.film_um),
    )


def thinned(pours: Sequence[Pour], dilution: float) -> list[Pour]:
    """The same with so much reducer that it is this share of the volume, in drops of whatever size that takes."""
    volume = thinner_ml(sum(pour.volume_ml for pour in pours), dilution)
    count = max(1, round(volume / USUAL_DROP_ML))
    drop_ml = min(max(volume / count, SMALLEST_DROP_ML), LARGEST_DROP_ML)
    return [*pours, Pour(clear_paint("reducer", "reducer"), count, drop_ml)] if volume > 0 else list(pours)


def last(search: Search) -> FoundMixes:
    """Where the search ends."""
    *_, mixes = search.steps()
    return mixes
