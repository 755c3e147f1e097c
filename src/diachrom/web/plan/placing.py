"""Stencils and masks in their place on the bait, and paints by how they would look there."""

import json

from fastapi import APIRouter, Request
from fastapi.responses import JSONResponse, Response

from diachrom import clock
from diachrom.core.bait.masks import MOST_MOVED_MM
from diachrom.core.bait.plan import Plan
from diachrom.units import MM
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text, WholeNumber
from diachrom.web.kit.pages import render
from diachrom.web.kit.swatches import swatch
from diachrom.web.plan.pictures import Place
from diachrom.web.plan.routes import answered, at_layer
from diachrom.words import say
from diachrom.work.kit.figures import figure
from diachrom.work.plan import by_look, placing, plans

router = APIRouter(include_in_schema=False)
LONGEST = 200_000  # letters of an outline


@router.get("/plan/{number}/layers/{layer}/lies")
def lies(store: OpenStore, number: RowId, layer: RowId) -> Response:
    """What of a layer can be dragged."""
    return JSONResponse(
        placing.lies(store, plans.now(store, number).plan, layer), headers={"Cache-Control": "no-store"}
    )


@router.get("/plan/{number}/layers/{layer}/covered")
def covered(store: OpenStore, number: RowId, layer: RowId) -> Response:
    """Where masks lie while a layer is laid."""
    made = placing.covered(store, plans.now(store, number).plan, layer)
    return Response(made, media_type="application/octet-stream", headers={"Cache-Control": "no-store"})


@router.post("/plan/{number}/layers/{layer}/place")
def place(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """A mask moved by so many mm, turned by so much, so many times as large."""
    along, down = (
        figure(form.get(key) or "0", words, key=key, least=-MOST_MOVED_MM, most=MOST_MOVED_MM, units=MM)
        for key, words in (("along_mm", say("Along")), ("down_mm", say("Down")))
    )
    turn = figure(form.get("turn_deg") or "0", say("Turned, °"), key="turn_deg", least=-360, most=360)
    times = figure(form.get("times") or "1", say("Times as large"), key="times", least=0.01, most=100)
    return at_layer(
        request,
        store,
        number,
        layer,
        lambda plan: plan.changed(layer, lambda one: placing.moved(one, along, down, turn, times)),
        did=say("its stencil's place"),
    )


@router.post("/plan/{number}/layers/{layer}/shifted")
def shifted(request: Request, store: OpenStore, number: RowId, layer: RowId, step_mm: Text = "") -> Response:
    """The layer once more, its mask shifted by a step towards the tail: a rim of the first stays."""
    step = figure(step_mm, say("A step"), key="step_mm", least=-60, most=60, units=MM)
    did = say("a shifted copy of layer {layer}", layer=layer)

    def again(plan: Plan) -> Plan:
        copied = plan.copied(layer)
        made = max(one.number for one in copied.layers)
        return copied.changed(made, lambda one: placing.moved(one, step, 0.0, 0.0, 1.0))

    now = plans.change(store, number, again, did=did, at=clock.now())
    return answered(request, store, number, max(one.number for one in now.plan.layers))


@router.post("/plan/{number}/layers/{layer}/outline")
def outline(
    request: Request, store: OpenStore, number: RowId, layer: RowId, points: Text = "", name: Text = ""
) -> Response:
    """A stencil drawn on the bait."""
    try:
        given = json.loads(points) if len(points) <= LONGEST else []
    except (ValueError, RecursionError):
        given = []
    title = placing.outline(store, number, layer, given if isinstance(given, list) else [], name, at=clock.now())
    return answered(request, store, number, layer, say("“{title}” is among my stencils now.", title=title))


@router.get("/plan/{number}/looks")
def looks(store: OpenStore, number: RowId, u: Place = 0.45, v: Place = 0.2, first: WholeNumber = 0) -> Response:
    """Some recipes and paints as they would look at a place."""
    found, following = by_look.looks(store, plans.now(store, number).plan, u, v, first=max(first, 0))
    seen = [(one, swatch(one.seen), None if one.glance is None else swatch(one.glance)) for one in found]
    return render("plan/looks.html", number=number, looks=seen, following=following, u=u, v=v)
