"""A plan: its page, and what is done to its layers; each change is answered in place."""

from collections.abc import Callable
from dataclasses import replace

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.bait.plan import UNMASK, Layer, Plan
from diachrom.errors import InvalidInput
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.plan.layer_form import changes_of, edges_of
from diachrom.web.plan.view import plan_page
from diachrom.words import say
from diachrom.work.kit.figures import whole
from diachrom.work.kit.opened import Store
from diachrom.work.plan import bringing, plans

router = APIRouter(include_in_schema=False)


def show(request: Request, store: Store, number: int, chosen: int | None, said: str = "") -> Response:
    """The page, or what of it has changed."""
    page = plan_page(store, plans.now(store, number), chosen=chosen, said=said)
    if is_fragment_wanted(request):
        return render("plan/body.html", page=page)
    return render("plan/page.html", page=page, frame=frame(request, store, "plan"))


def answered(request: Request, store: Store, number: int, chosen: int | None, said: str = "") -> Response:
    """After a change: a plain form goes back to the page."""
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/plan/{number}" + (f"?layer={chosen}" if chosen else ""), 303)
    return show(request, store, number, chosen, said)


@router.get("/plan/{number}")
def plan(request: Request, store: OpenStore, number: RowId, layer: int | None = None, drawn: str = "") -> Response:
    """A plan: its bait, its layers, and the one that is worked on."""
    return show(request, store, number, layer, bringing.told_of(store, "stencil", drawn) if drawn else "")


@router.post("/plan/{number}/name")
def name(request: Request, store: OpenStore, number: RowId, form: GivenForm, layer: int | None = None) -> Response:
    """Change its name and note."""

    def called(plan: Plan) -> Plan:
        return plan.named(name=" ".join(form.get("name", plan.name).splitlines()), note=form.get("note", plan.note))

    plans.change(store, number, called, did=say("its name or note"), at=clock.now())
    return answered(request, store, number, layer)


@router.post("/plan/{number}/layers")
def add(request: Request, store: OpenStore, number: RowId, source: Text = "", what: Text = "") -> Response:
    """Another layer on top, beneath the clear coat: of a recipe or a paint, or of a kind that needs none."""
    kind = what or ("recipe" if source.startswith("recipe:") else "paint")
    if not what and not source:
        raise InvalidInput(
            say("Choose what the layer is made of: a recipe, a paint, or another kind of layer."), field="source"
        )
    new = plans.layer_of(store, kind, source)

    def laid(plan: Plan) -> Plan:
        at = None if kind == "clear" else plan.beneath_clear
        return plan.with_layer(plan.taking_off() if kind == UNMASK else new, at=at)

    now = plans.change(store, number, laid, did="a layer more", at=clock.now()).plan
    made = max(layer.number for layer in now.layers)
    said = "" if now.layers[-1].number == made else say("It is under the clear coat.")
    return answered(request, store, number, made, said)


def at_layer(
    request: Request, store: Store, number: int, layer: int, how: Callable[[Plan], Plan], *, did: str, said: str = ""
) -> Response:
    """Change a layer, under what is to be undone by that name."""
    plans.change(store, number, how, did=say("{did} of layer {layer}", did=did, layer=layer), at=clock.now())
    return answered(request, store, number, layer, said)


@router.post("/plan/{number}/layers/{layer}")
def change(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """The figures that a form names; all others stay, be they changed in another window meanwhile."""
    stands = plans.now(store, number).plan

    def changed(one: Layer) -> Layer:
        return changes_of(store, one, form, stands.blank)

    return at_layer(request, store, number, layer, lambda plan: plan.changed(layer, changed), did="figures")


@router.post("/plan/{number}/layers/{layer}/edges")
def edges(request: Request, store: OpenStore, number: RowId, layer: RowId, form: GivenForm) -> Response:
    """Move the edges of a layer's region."""
    given = edges_of(form, plans.now(store, number).plan.blank)
    return at_layer(
        request,
        store,
        number,
        layer,
        lambda plan: plan.changed(layer, lambda one: plans.moved_edges(one, given, plan.blank)),
        did="edges",
    )


@router.post("/plan/{number}/layers/{layer}/edges/usual")
def usual_edges(request: Request, store: OpenStore, number: RowId, layer: RowId) -> Response:
    """Give a layer its region's own edges again."""
    return at_layer(
        request, store, number, layer, lambda plan: plan.changed(layer, lambda one: replace(one, box=None)), did="edges"
    )


@router.post("/plan/{number}/layers/{layer}/move")
def move(request: Request, store: OpenStore, number: RowId, layer: RowId, by: Text = "", to: Text = "") -> Response:
    """A step inwards or outwards, or to a place counted from 1."""

    def moved(plan: Plan) -> Plan:
        place = plan.place(layer) + whole(by, "By", key="by", least=-999) if by else whole(to, "To", key="to") - 1
        return plan.moved(layer, place)

    return at_layer(request, store, number, layer, moved, did="place")


@router.post("/plan/{number}/layers/{layer}/switch")
def switch(request: Request, store: OpenStore, number: RowId, layer: RowId) -> Response:
    """Switch a layer off, or on."""
    return at_layer(
        request,
        store,
        number,
        layer,
        lambda plan: plan.changed(layer, lambda one: replace(one, on=not one.on)),
        did=say("on or off"),
    )


@router.post("/plan/{number}/layers/{layer}/copy")
def copy_layer(request: Request, store: OpenStore, number: RowId, layer: RowId) -> Response:
    """Lay a layer once more."""
    return at_layer(request, store, number, layer, lambda plan: plan.copied(layer), did=say("a copy"))


@router.post("/plan/{number}/layers/{layer}/remove")
def remove(request: Request, store: OpenStore, number: RowId, layer: RowId) -> Response:
    """Take a layer away."""
    plans.change(
        store, number, lambda plan: plan.without(layer), did=say("layer {layer} removed", layer=layer), at=clock.now()
    )
    return answered(request, store, number, None, say("Removed; undo brings it back."))


@router.post("/plan/{number}/undo")
def undo(request: Request, store: OpenStore, number: RowId, layer: int | None = None) -> Response:
    """Take a step back."""
    did = plans.undo(store, number, at=clock.now())
    return answered(
        request, store, number, layer, say("Taken back: {did}.", did=did) if did else say("There is nothing to undo.")
    )


@router.post("/plan/{number}/redo")
def redo(request: Request, store: OpenStore, number: RowId, layer: int | None = None) -> Response:
    """Take it again."""
    did = plans.undo(store, number, back=False, at=clock.now())
    return answered(
        request, store, number, layer, say("Done again: {did}.", did=did) if did else say("There is nothing to redo.")
    )


@router.post("/plan/{number}/save")
def save(request: Request, store: OpenStore, number: RowId, layer: int | None = None) -> Response:
    """Save the plan as its next version."""
    saved = plans.save(store, number, at=clock.now())
    words = (
        say("Saved as version {version}.", version=saved.version)
        if saved.is_new
        else say("Nothing to save: it is version {version}.", version=saved.version)
    )
    return answered(request, store, number, layer, words)


@router.post("/plan/{number}/light")
def light(store: OpenStore, number: RowId, light: Text) -> Response:
    """Look at it in another light."""
    plans.look_at(store, number, light, at=clock.now())
    return Response(status_code=204)


@router.post("/plan/{number}/fog")
def fog(request: Request, store: OpenStore, number: RowId, seen: Text = "") -> Response:
    """Show what flies past free edges, or leave it out."""
    now = plans.set_fog(store, number, seen=bool(seen), at=clock.now())
    words = (
        say("Overspray is seen again.") if now.plan.fog else say("Without overspray: what free edges alone would do.")
    )
    return answered(request, store, number, None, words)


@router.post("/plan/{number}/copy")
def copy(request: Request, store: OpenStore, number: RowId) -> Response:
    """Begin another plan with the same layers."""
    return go(request, f"/plan/{plans.copy(store, number, at=clock.now())}")


@router.post("/plan/{number}/retire")
def retire(request: Request, store: OpenStore, number: RowId) -> Response:
    """Put a plan away."""
    plans.retire(store, number, retired=True)
    return go(request, f"/plan?put_away={number}")


@router.post("/plan/{number}/put-back")
def put_back(request: Request, store: OpenStore, number: RowId) -> Response:
    """Take a plan out again that was put away."""
    plans.retire(store, number, retired=False)
    return go(request, f"/plan/{number}")


@router.post("/plan/{number}/versions/{version}/take")
def take_up(request: Request, store: OpenStore, number: RowId, version: RowId) -> Response:
    """Go on from an older version."""
    plans.take_up(store, number, version, at=clock.now())
    return go(request, f"/plan/{number}")
