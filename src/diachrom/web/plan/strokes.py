"""Strokes of the airbrush that are drawn over the bait, or typed."""

import json
from collections.abc import Mapping
from dataclasses import replace

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.stroke import Stroke, drawn
from diachrom.core.bait.strokes import straight
from diachrom.errors import InvalidInput
from diachrom.units import MM
from diachrom.web.kit.answers import packed
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.plan.routes import answered, at_layer
from diachrom.words import say
from diachrom.work.kit.figures import figure
from diachrom.work.kit.opened import Store
from diachrom.work.plan import pictures, plans

router = APIRouter(include_in_schema=False)
LONGEST = 2_000_000  # letters of what is drawn at once
MOST_AT_ONCE = 40
ENDS = {
    "from_along": say("From, along"),
    "from_around": say("From, around"),
    "to_along": say("To, along"),
    "to_around": say("To, around"),
}


@router.post("/plan/{number}/strokes")
def first(request: Request, store: OpenStore, number: RowId, source: Text = "", points: Text = "") -> Response:
    """A layer more, with what was drawn of a paint or a recipe."""
    if not source:
        raise InvalidInput(say("Choose what to spray under Next layer, then draw."), field="source")
    made = replace(_begun(store, source), strokes=_drawn(points))

    def laid(plan: Plan) -> Plan:
        return plan.with_layer(made, at=plan.beneath_clear)

    now = plans.change(store, number, laid, did=say("a layer drawn by hand"), at=clock.now()).plan
    return answered(request, store, number, max(layer.number for layer in now.layers))


@router.post("/plan/{number}/layers/{layer}/strokes")
def more(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """Strokes more on a layer; one that was laid by its region is drawn by hand from then on."""
    stands = plans.now(store, number).plan
    strokes = _drawn(form["points"]) if "points" in form else (_typed(form, stands),)

    def struck(old: Layer) -> Layer:
        return replace(old.by_hand, strokes=(*old.strokes, *strokes))

    said = "" if stands.layer(layer).strokes else say("It is drawn by hand now. Undo gives its region back.")
    return at_layer(
        request, store, number, layer, lambda plan: plan.changed(layer, struck), did=say("a stroke"), said=said
    )


@router.post("/plan/{number}/layers/{layer}/strokes/fewer")
def fewer(request: Request, store: OpenStore, number: RowId, layer: RowId, every: Text = "") -> Response:
    """Without the last stroke, or without any: then it is laid by its region."""

    def left(old: Layer) -> Layer:
        return replace(old, strokes=() if every else old.strokes[:-1])

    return at_layer(request, store, number, layer, lambda plan: plan.changed(layer, left), did=say("strokes taken off"))


@router.get("/plan/{number}/ladder")
def ladder(request: Request, store: OpenStore, number: RowId, layer: int | None = None, source: str = "") -> Response:
    """What a page needs to show a stroke of a layer, or of a paint that is not on yet, while it is drawn."""
    plan = plans.now(store, number).plan
    if layer is None:
        plan = plan.with_layer(_begun(store, source), at=plan.beneath_clear)
        layer = max(one.number for one in plan.layers)
    return packed(request, pictures.ladder(store, plan, layer), "application/octet-stream", cache="no-store")


def _begun(store: Store, source: str) -> Layer:
    """A layer that is drawn by hand. Raises InvalidInput, NotFound."""
    return plans.layer_of(store, "recipe" if source.startswith("recipe:") else "paint", source).by_hand


def _drawn(text: str) -> tuple[Stroke, ...]:
    """Raises InvalidInput."""
    try:
        given = json.loads(text) if len(text) <= LONGEST else None
    except (ValueError, RecursionError):
        given = None
    if not isinstance(given, list) or not 1 <= len(given) <= MOST_AT_ONCE:
        raise InvalidInput(say("What was drawn did not arrive whole: draw it again."), field="points")
    return tuple(drawn(one if isinstance(one, list) else []) for one in given)


def _typed(form: Mapping[str, str], plan: Plan) -> Stroke:
    """A line of four figures. Raises InvalidInput."""
    surface = plan.blank.surface()
    most = {"along": surface.length_mm, "around": float(surface.girths_mm.max())}
    (u0, v0), (u1, v1) = (
        tuple(
            figure(form.get(f"{end}_{way}", ""), ENDS[f"{end}_{way}"], key=f"{end}_{way}", least=0, most=far, units=MM)
            for way, far in most.items()
        )
        for end in ("from", "to")
    )
    return straight(surface, (u0, v0), (u1, v1))
