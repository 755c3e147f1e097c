"""The list of plans by their pictures, a new plan by its blank, versions beside each other, documents out and in."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import zip_longest

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.bodies import BODIES
from diachrom.core.bait.surface import RELIEFS
from diachrom.errors import BadFile
from diachrom.units import MM
from diachrom.web.kit.answers import file, go
from diachrom.web.kit.dependencies import GivenForm, MaybeFormRowId, MaybeRowId, OpenStore, RowId, Text, Upload
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.plan.blank_view import blank_page
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.figures import figure
from diachrom.work.kit.opened import Store
from diachrom.work.plan import bodies, bringing, plans, sources

router = APIRouter(include_in_schema=False)
MOST_DOCUMENT = 2_000_000


@dataclass(frozen=True)
class PlanRow:
    number: int
    name: str
    detail: str
    revision: int


@dataclass(frozen=True)
class PlansPage:
    plans: Sequence[PlanRow]
    query: str
    put_away: int | None
    empty_words: str


@dataclass(frozen=True)
class VersionRow:
    version: int
    detail: str
    note: str
    changes: Sequence[str]  # against the one before
    layers: Sequence[str]


@dataclass(frozen=True)
class VersionsPage:
    number: int
    name: str
    versions: Sequence[VersionRow]
    since: Sequence[str]  # what stands changed since the newest


@router.get("/plan")
def every(request: Request, store: OpenStore, q: str = "", put_away: int | None = None) -> Response:
    """The plans, by their pictures."""
    query = q[:200]
    rows = []
    for one in bringing.listed(store, query):
        plan = one.now.plan
        saved = say("version {version}", version=one.version) if one.version else say("not saved yet")
        layers = say_count(len(plan.layers), "{count} layer", "{count} layers")
        blank = plans.blank_words(plan.blank)
        detail = say("{blank} · {layers} · {saved}, {day}", blank=blank, layers=layers, saved=saved, day=day(one.at))
        rows.append(
            PlanRow(
                one.now.number,
                plan.name or say("Plan {number}, without a name", number=one.now.number),
                detail,
                one.now.revision,
            )
        )
    empty = say("No plan yet. Choose a blank: its picture grows with every layer.")
    if query:
        empty = say("No plan has “{query}” in its name, note, blank or layers.", query=query)
    page = PlansPage(rows, query, put_away, empty)
    template = "plan/list.html" if is_fragment_wanted(request) else "plan/plans.html"
    return render(template, page=page, frame=frame(request, store, "plan"))


@router.get("/plan/blanks")
def blanks(request: Request, store: OpenStore, plan: MaybeRowId = None, drawn: str = "") -> Response:
    """Choose a blank: for a new plan, or in place of another."""
    told = bringing.told_of(store, "blank", drawn) if drawn else ""
    stands = None if plan is None else plans.now(store, plan)
    page = blank_page(store, Blank() if stands is None else stands.plan.blank)
    return render(
        "plan/blanks.html",
        page=page,
        plan=stands,
        told=told,
        bodies=BODIES.values(),
        frame=frame(request, store, "plan"),
    )


def _blank(store: Store, form: GivenForm, old: Blank) -> Blank:
    """Raises InvalidInput."""
    key = form.get("shape", old.shape)[:40]
    shape = old.own if key == "own" else sources.shape_of(store, key)
    typed = form.get("length_mm", quantity(old.length_mm, "g"))
    fittings = form.get("fittings", "")
    return Blank(
        shape="minnow" if shape is not None else key,
        length_mm=figure(typed, say("Length, mm"), key="length_mm", least=0, most=10_000, units=MM),
        material=form.get("material", old.material)[:20],
        state=form.get("state", old.state)[:20],
        foil_on=form.get("foil_on", old.foil_on)[:20],
        foil_direction=form.get("foil_direction", old.foil_direction)[:20],
        tail_painted={"painted": True, "bare": False}.get(fittings),
        smooth=tuple(key for key in RELIEFS if f"relief_{key}" not in form) if "reliefs" in form else old.smooth,
        own=shape,
    )


@router.post("/plan/new")
def new(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """Begin a plan on a blank."""
    number = plans.new(store, _blank(store, form, Blank()), name=" ".join(form.get("name", "").split()), at=clock.now())
    return go(request, f"/plan/{number}")


@router.post("/plan/body")
def from_body(request: Request, store: OpenStore, body: Text) -> Response:
    """A plan that starts from a template of steps."""
    return go(request, f"/plan/{bodies.begin(store, body[:20], at=clock.now())}")


@router.post("/plan/{number}/eyes")
def paint_eyes(request: Request, store: OpenStore, number: RowId) -> Response:
    """Paint the eyes by layers of their own."""
    bodies.paint_eyes(store, number, at=clock.now())
    return go(request, f"/plan/{number}")


@router.post("/plan/{number}/blank")
def on_blank(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """Lay the same layers on another blank."""
    wanted = _blank(store, form, plans.now(store, number).plan.blank)
    scaled = form.get("elements", "kept") == "scaled"
    plans.change(store, number, lambda plan: plan.on_blank(wanted, scaled=scaled), did=say("the blank"), at=clock.now())
    return go(request, f"/plan/{number}")


@router.get("/plan/{number}/versions")
def versions(request: Request, store: OpenStore, number: RowId) -> Response:
    """The versions of a plan, with what changed."""
    plan_versions, now = plans.versions(store, number), plans.now(store, number)
    since = plans.differences(plan_versions[0].document, now.plan) if plan_versions else []
    rows = []
    for one, before in zip_longest(plan_versions, plan_versions[1:]):
        plan = one.document
        rows.append(
            VersionRow(
                version=one.version,
                detail=say(
                    "{day} · {blank} · {layers}",
                    day=day(one.at),
                    blank=plans.blank_words(plan.blank),
                    layers=say_count(len(plan.layers), "{count} layer", "{count} layers"),
                ),
                note=listed((part for part in (plan.note, one.problem) if part), " "),
                changes=[] if before is None else plans.differences(before.document, plan),
                layers=[layer.name or layer.what for layer in plan.layers],
            )
        )
    page = VersionsPage(number, now.plan.name or say("Plan {number}", number=number), rows, since)
    return render("plan/versions.html", page=page, frame=frame(request, store, "plan"))


@router.get("/plan/{number}/document.json")
def document(store: OpenStore, number: RowId) -> Response:
    """A plan as a document."""
    plan = plans.now(store, number).plan
    told = json.dumps(plans.document(store, plan), ensure_ascii=False, indent=1)
    return file(told.encode(), f"plan-{number}.json", "application/json")


@router.post("/plan/bring")
def bring(request: Request, store: OpenStore, document: Upload) -> Response:
    """Bring a plan's document."""
    name = (document.filename or "plan")[:80]
    content = document.file.read(MOST_DOCUMENT + 1)
    if len(content) > MOST_DOCUMENT:
        raise BadFile(name, say("it has more than 2 MB: that is no plan."))
    number, _ = bringing.plan(store, name, content, at=clock.now())
    return go(request, f"/plan/{number}")


@router.post("/plan/drawings")
def drawing(
    request: Request,
    store: OpenStore,
    drawing: Upload,
    kind: Text,
    plan: MaybeFormRowId = None,
    layer: MaybeFormRowId = None,
) -> Response:
    """A stencil or a blank of one's own, out of an SVG."""
    content = drawing.file.read(bringing.MOST_DRAWING + 1)
    name = (drawing.filename or "drawing")[:80]
    key = bringing.drawing(store, kind[:20], name, content, at=clock.now())
    if kind == "stencil" and plan is not None and layer is not None:
        bringing.through_it(store, plan, layer, key, at=clock.now())
        return go(request, f"/plan/{plan}?layer={layer}&drawn={key}")
    return go(request, f"/plan/blanks?drawn={key}" + (f"&plan={plan}" if plan is not None else ""))
