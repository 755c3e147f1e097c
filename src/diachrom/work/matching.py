"""Answer a match document: paints from the shelf or given in place, through the search, back to a document."""

import sqlite3
import time
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from diachrom.core.film.paint import Paint, clear_paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.core.mixing.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML, USUAL_DROP_ML, Cup, Pour
from diachrom.core.mixing.layers import Layer, by_hand
from diachrom.core.mixing.matching import Found, Match, Search
from diachrom.core.mixing.spread import spread
from diachrom.core.mixing.where import DIFFUSE, Views, Where
from diachrom.errors import InvalidInput
from diachrom.store import hands, paints
from diachrom.store.bottles import Bottle
from diachrom.work import documents, match_documents
from diachrom.work.over import over
from diachrom.work.predicting import FindPaint, ground_of, paint_of
from diachrom.work.profiling import measured
from diachrom.work.shelf import at_hand

ANSWERED = 10
D65 = light("D65")


class Sprayed(Protocol):
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
    profiles = (
        paints.all_profiles(connection)
        if len(best) > 50
        else {bottle.paint_id: paints.profile(connection, bottle.paint_id) for bottle in best}
    )
    return [
        Candidate(one.paint_id, -1, profiles[one.paint_id], one.drop_ml, one)
        for one in best
        if not profiles[one.paint_id].problem
    ]


def for_a_target(shelf: Sequence[Candidate], views: Views, kept_in: Sequence[int] = ()) -> list[Candidate]:
    """Of the shelf, what a target is matched with: flakes are for what turns with the angle, or for who wants them."""
    return [
        one
        for one in shelf
        if views != DIFFUSE or one.paint.flake is None or (one.bottle is not None and one.bottle.id in kept_in)
    ]


def thinner_in_stock(connection: sqlite3.Connection, kind: str, volume_ml: float) -> tuple[Bottle, int] | None:
    """A bottle of this kind, and its drops that come nearest to a volume; None when the shelf has none."""
    found = next((bottle for bottle in at_hand(connection) if bottle.kind == kind), None)
    return None if found is None else (found, max(1, round(volume_ml / found.drop_ml)))


def thinner_ml(volume_ml: float, dilution: float) -> float:
    """So much reducer beside a volume of paint as makes it this share of the whole."""
    return volume_ml * dilution / (1 - dilution)


def where_sprayed(connection: sqlite3.Connection, how: Sprayed, views: Views = DIFFUSE) -> Where:
    """Coats over a ground, or over a recipe as sprayed. Raises what `over` raises."""
    seen = over(connection, how.ground)
    film_um = by_hand(how.film_um, hands.now(connection)) * how.coats
    return Where(seen.ground, film_um, how.sheen, D65, seen.below, views)


def given(request: match_documents.MatchRequest, find: FindPaint) -> list[Candidate]:
    """The paints that a document names. Raises PaintNotFound, naming the field."""
    found = []
    for at, one in enumerate(request.paints or ()):
        if isinstance(one, str):
            paint, drop_ml = find(one, f"paints.{at}")
            found.append(Candidate(one, at, paint, drop_ml))
        else:
            found.append(Candidate(one.name, at, paint_of(one), USUAL_DROP_ML))
    return found


def of_shelf(request: match_documents.MatchRequest, connection: sqlite3.Connection) -> list[Candidate]:
    """What is in stock and fit for the document's target."""
    return for_a_target(in_stock(connection), aim_of(request)[1])


def answer(request: match_documents.MatchRequest, candidates: Sequence[Candidate]) -> match_documents.MatchAnswer:
    """Match. Raises InvalidInput, naming the field."""
    start = time.perf_counter()
    point, views = aim_of(request)
    where = Where(
        ground_of(request.ground),
        request.film_um * request.coats,
        documents.sheen(request.clear_coat),
        D65,
        views=views,
    )
    search = Search(
        point,
        [one.paint for one in candidates],
        [one.drop_ml for one in candidates],
        where,
        most_paints=request.max_paints,
        most_drops=request.max_drops,
        dilution=request.dilution,
    )
    found = last(search)
    recipes = [_recipe(one, candidates, request, where) for one in found.matches[:ANSWERED]]
    return match_documents.MatchAnswer(recipes=recipes, evaluated=found.evaluated, seconds=time.perf_counter() - start)


def aim_of(request: match_documents.MatchRequest) -> tuple[Floats, Views]:
    """(view, 3), and the views. Raises InvalidInput."""
    target = request.target
    if isinstance(target, match_documents.MeasuredAngles):
        if len(target.angles) != len(target.labs):
            raise InvalidInput(f"{len(target.angles)} angles, but {len(target.labs)} colours.", field="target.labs")
        if request.angle is not None:
            raise InvalidInput("The target has its own angles; leave this one out.", field="angle")
        return np.array(target.labs), tuple(target.angles)
    point = lab(measured(target), under=D65) if isinstance(target, documents.MeasuredSpectrum) else point_of(target)
    return point[None], (request.angle,)


def point_of(target: documents.MeasuredLab | documents.MeasuredHex) -> Floats:
    """(3,) as it was said, not by way of a spectrum."""
    if isinstance(target, documents.MeasuredLab):
        return np.array(target.lab)
    point = hex_to_lab(target.srgb)
    if point is None:
        raise InvalidInput("A colour must be written as #rrggbb.", field="target.srgb")
    return point


def thinned(pours: Sequence[Pour], dilution: float) -> list[Pour]:
    """The same with so much reducer that it is this share of the volume, in drops of whatever size that takes."""
    volume = thinner_ml(sum(pour.volume_ml for pour in pours), dilution)
    count = max(1, round(volume / USUAL_DROP_ML))
    drop_ml = min(max(volume / count, SMALLEST_DROP_ML), LARGEST_DROP_ML)
    return [*pours, Pour(clear_paint("reducer", "reducer"), count, drop_ml)] if volume > 0 else list(pours)


def last(search: Search) -> Found:
    """Where the search ends."""
    *_, found = search.steps()
    return found


def _recipe(
    one: Match, candidates: Sequence[Candidate], request: match_documents.MatchRequest, where: Where
) -> match_documents.MatchRecipe:
    parts = [(candidates[at], drops) for at, drops in one.parts]
    cup = Cup(thinned([Pour(part.paint, drops, part.drop_ml) for part, drops in parts], request.dilution))
    sure = spread(
        [Layer(cup, request.film_um, request.coats)],
        over=where.ground,
        sheen=where.sheen,
        under=where.under,
        angle_deg=where.views[0],
    )
    return match_documents.MatchRecipe(
        parts=[
            match_documents.MatchPart(paint=part.key, index=part.index, drops=drops, drop_ml=part.drop_ml)
            for part, drops in parts
        ],
        delta_e=one.delta_e,
        lab=one.lab.tolist(),
        labs=one.labs.tolist(),
        srgb=shown(one.lab)[0].srgb,
        spread_delta_e=sure.delta_e,
    )
