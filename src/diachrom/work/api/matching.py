"""Answer a match document: paints from the shelf or given in place, through the search, back to a document."""

import sqlite3
import time
from collections.abc import Sequence

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.lab import lab
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.core.match.pourable import Pourable, Ranking, Wish
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import USUAL_DROP_ML, Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.spread import spread
from diachrom.core.mix.where import Views, Where
from diachrom.errors import InvalidInput
from diachrom.work.api import match_documents
from diachrom.work.api.predicting import Shelf
from diachrom.work.api.profiling import measured
from diachrom.work.kit import documents
from diachrom.work.kit.document_values import ground_of, paint_of
from diachrom.work.mix.candidates import D65, Candidate, for_a_target, in_stock, last, thinned

ANSWERED = 10


def given(request: match_documents.MatchRequest, shelf: Shelf) -> list[Candidate]:
    """The paints that a document names. Raises PaintNotFound, naming the field."""
    found = []
    for index, given_profile in enumerate(request.paints or ()):
        if isinstance(given_profile, str):
            paint, drop_ml = shelf.find(given_profile, f"paints.{index}")
            found.append(Candidate(given_profile, index, paint, drop_ml))
        else:
            found.append(Candidate(given_profile.name, index, paint_of(given_profile), USUAL_DROP_ML))
    return found


def of_shelf(request: match_documents.MatchRequest, connection: sqlite3.Connection) -> list[Candidate]:
    """What is in stock and fit for the document's target."""
    return for_a_target(in_stock(connection), aim_of(request)[1])


def answer(
    request: match_documents.MatchRequest, candidates: Sequence[Candidate], shelf: Shelf
) -> match_documents.MatchAnswer:
    """Match; in the shelf's dots where all paints are the shelf's. Raises InvalidInput, naming the field."""
    start = time.perf_counter()
    point, views = aim_of(request)
    where = Where(
        ground_of(request.ground),
        request.film_um * request.coats,
        documents.sheen(request.clear_coat),
        D65,
        views=views,
        droplet_um=shelf.hand.dots_um(request.film_um, thinned=request.dilution) if request.of_shelf else 0.0,
    )
    paints, wish = [candidate.paint for candidate in candidates], Wish(request.closeness)
    search = Search(
        point,
        paints,
        [one.drop_ml for one in candidates],
        where,
        most_paints=request.max_paints,
        most_drops=request.max_drops,
        dilution=request.dilution,
        reluctance=wish.reluctance(paints) if request.order == "pour" else None,
    )
    mixes, ranking = last(search), Ranking(search.judge, wish, coats=request.coats, most_drops=request.max_drops)
    ranked = ranking.of(mixes.matches) if request.order == "pour" else ranking.told(mixes.matches[:ANSWERED])
    recipes = [_recipe(one, candidates, request, where) for one in ranked[:ANSWERED]]
    return match_documents.MatchAnswer(recipes=recipes, evaluated=mixes.evaluated, seconds=time.perf_counter() - start)


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


def _recipe(
    ranked: Pourable, candidates: Sequence[Candidate], request: match_documents.MatchRequest, where: Where
) -> match_documents.MatchRecipe:
    one = ranked.match
    parts = [(candidates[index], drops) for index, drops in one.parts]
    cup = Cup(thinned([Pour(part.paint, drops, part.drop_ml) for part, drops in parts], request.dilution))
    sure = spread(
        [Layer(cup, request.film_um, request.coats, droplet_um=where.droplet_um)],
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
        one_drop_delta_e=ranked.smallest_drop,
        special=[candidates[at].paint.name for at in ranked.uncommon],
    )
