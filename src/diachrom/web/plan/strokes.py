"""What is laid by hand over the bait: strokes of the airbrush and marks, drawn, typed or strewn."""

import json
from collections.abc import Mapping
from dataclasses import replace

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.stroke import LEAST_MM, MOST_MM, Stroke, drawn
from diachrom.core.bait.strokes import straight
from diachrom.errors import InvalidInput
from diachrom.units import MM
from diachrom.web.kit.answers import packed
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.plan.routes import answered, at_layer
from diachrom.words import say
from diachrom.work.kit.figures import figure, whole
from diachrom.work.kit.opened import Store
from diachrom.work.plan import hand_work, pictures, plans

router = APIRouter(include_in_schema=False)
LONGEST = 2_000_000  # letters of what is drawn at once
MOST_AT_ONCE = 40
FARTHEST_MM = 1000.0
ENDS = {
    "from_along": say("From, along"),
    "from_around": say("From, around"),
    "to_along": say("To, along"),
    "to_around": say("To, around"),
}


@router.post("/plan/{number}/strokes")
def first(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """A layer more, with what was drawn of a paint or a recipe."""
    if not form.get("source"):
        raise InvalidInput(say("Choose what to spray under Next layer, then draw."), field="source")
    made = replace(_begun(store, form["source"]), strokes=_drawn(form))

    def laid(plan: Plan) -> Plan:
        return plan.with_layer(made, at=plan.beneath_clear)

    now = plans.change(store, number, laid, did=say("a layer drawn by hand"), at=clock.now()).plan
    return answered(request, store, number, max(layer.number for layer in now.layers))


@router.post("/plan/{number}/layers/{layer}/strokes")
def more(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """Strokes more on a layer; one that was laid by its region is drawn by hand from then on."""
    stands = plans.now(store, number).plan
    strokes = _drawn(form) if "points" in form else (_typed(form, stands),)
    return _with(request, store, number, stands.layer(layer), strokes, did=say("a stroke"))


@router.post("/plan/{number}/layers/{layer}/strewn")
def strewn(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """Marks by the dozen: over the layer's region, or along a line of the blank."""
    stands = plans.now(store, number).plan
    strokes = (hand_work.many(stands, layer, form),)
    return _with(request, store, number, stands.layer(layer), strokes, did=say("marks"))


def _with(
    request: Request, store: Store, number: int, layer: Layer, strokes: tuple[Stroke, ...], *, did: str
) -> Response:
    def struck(old: Layer) -> Layer:
        return replace(old.by_hand, strokes=(*old.strokes, *strokes))

    said = "" if layer.strokes else say("It is drawn by hand now. Undo gives its region back.")
    return at_layer(
        request, store, number, layer.number, lambda plan: plan.changed(layer.number, struck), did=did, said=said
    )


@router.post("/plan/{number}/layers/{layer}/strokes/change")
def change(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """One of its strokes: moved, turned, sized, trimmed, copied, mirrored, taken off."""
    which = whole(form.get("stroke", ""), say("Which stroke"), key="stroke", most=10_000) - 1
    how = hand_work.change_of(form)

    def struck(plan: Plan) -> Plan:
        surface = plan.blank.surface()
        return plan.changed(layer, lambda old: replace(old, strokes=how(old.strokes, which, surface)))

    return at_layer(request, store, number, layer, struck, did=say("a stroke"))


@router.post("/plan/{number}/layers/{layer}/strokes/again")
def again(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """Another layer with the same marks at the same places, of another paint and smaller: a spot on each spot."""
    share = figure(form.get("share", ""), say("As large as those, %"), key="share", least=5, most=200) / 100
    if not form.get("source"):
        raise InvalidInput(say("Choose the paint of the spots on these spots."), field="source")
    made = _begun(store, form["source"])

    def laid(plan: Plan) -> Plan:
        own = plan.layer(layer)
        if not own.strokes:
            raise InvalidInput(say("There are no marks yet to set others on."), field="source")
        strokes = tuple(one.scaled(share) for one in own.strokes if one.tool)
        if not strokes:
            raise InvalidInput(say("Spots are set on marks, and this layer has strokes alone."), field="source")
        new = replace(made, strokes=strokes, sides=own.sides, mirrored=own.mirrored)
        return plan.with_layer(new, at=plan.place(layer) + 1)

    now = plans.change(store, number, laid, did=say("spots on spots"), at=clock.now()).plan
    return answered(request, store, number, max(one.number for one in now.layers))


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


def _drawn(form: Mapping[str, str]) -> tuple[Stroke, ...]:
    """Raises InvalidInput."""
    text = form.get("points", "")
    try:
        given = json.loads(text) if len(text) <= LONGEST else None
    except (ValueError, RecursionError):
        given = None
    if not isinstance(given, list) or not 1 <= len(given) <= MOST_AT_ONCE:
        raise InvalidInput(say("What was drawn did not arrive whole: draw it again."), field="points")
    tool, size_mm = _tool(form)
    turn = figure(form.get("turn_deg") or "0", say("Turned, °"), key="turn_deg", least=-360, most=360)
    return tuple(drawn(one if isinstance(one, list) else [], tool, size_mm=size_mm, turn_deg=turn) for one in given)


def _tool(form: Mapping[str, str]) -> tuple[str, float | None]:
    """What it is laid with, and how large; None is as large as usual. Raises InvalidInput."""
    text = form.get("size_mm", "").strip()
    size = figure(text, say("Size"), key="size_mm", least=LEAST_MM, most=MOST_MM, units=MM) if text else None
    return form.get("tool", ""), size


def _typed(form: Mapping[str, str], plan: Plan) -> Stroke:
    """A line of four figures; a mark needs but the first two. Raises InvalidInput."""
    surface = plan.blank.surface()
    most = {"along": surface.length_mm, "around": float(surface.girths_mm.max())}
    alone = form.get("tool") and not any(form.get(f"to_{way}", "").strip() for way in most)
    (u0, v0), (u1, v1) = (
        tuple(
            figure(form.get(f"{end}_{way}", ""), ENDS[f"{end}_{way}"], key=f"{end}_{way}", least=0, most=far, units=MM)
            for way, far in most.items()
        )
        for end in ("from", "from" if alone else "to")
    )
    return straight(surface, (u0, v0), (u1, v1), *_tool(form))
