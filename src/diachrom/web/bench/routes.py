"""The bench: sessions, and what happens in one, press by press."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.session.state import LONGEST_NOTE, Event
from diachrom.web.bench.view import bench_page
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import FormRowId, OpenStore, RowId
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.work.bench import sessions
from diachrom.work.kit.opened import Store
from diachrom.work.orders import orders

router = APIRouter(include_in_schema=False)
Text = Annotated[str, Form()]


@router.get("/bench")
def every(request: Request, store: OpenStore) -> Response:
    rows = [(one, day(one.at)) for one in sessions.every(store)]
    open_orders = [(one.number, one.name) for one, _ in orders.every(store) if one.schedule]
    return render("bench/sessions.html", rows=rows, orders=open_orders, frame=frame(request, store, "bench"))


@router.post("/bench")
def begin(request: Request, store: OpenStore, order: FormRowId) -> Response:
    """A session over an order; the one that is under way goes on."""
    return go(request, f"/bench/{sessions.begin(store, order, at=clock.now())}")


def _answer(request: Request, store: Store, number: int, *, slip: str = "", said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/bench/{number}", 303)
    page = bench_page(store, sessions.session(store, number), slip=slip, said=said)
    return render("bench/step.html", page=page)


@router.get("/bench/{number}")
def show(request: Request, store: OpenStore, number: RowId) -> Response:
    page = bench_page(store, sessions.session(store, number))
    if is_fragment_wanted(request):
        return render("bench/step.html", page=page)
    return render("bench/page.html", page=page, frame=frame(request, store, "bench"))


@router.post("/bench/{number}/happen")
def happen(
    request: Request,
    store: OpenStore,
    number: RowId,
    kind: Text,
    step: Text = "",
    bottle: FormRowId = 0,
    what: Text = "",
    value: Text = "",
    note: Text = "",
) -> Response:
    """Anything that happens at the bench; each press carries an id and is counted once."""
    at = clock.now()
    event = Event(
        kind=kind[:20],
        at=sessions.seconds(at),
        step=step[:80],
        bottle=bottle,
        what=what[:80],
        value=value[:80],
        note=note[: LONGEST_NOTE + 1],
    )
    sessions.happen(store, number, event, at=at)
    return _answer(request, store, number, slip=event.what if event.kind == "slip" else "")


@router.post("/bench/{number}/end")
def end(request: Request, store: OpenStore, number: RowId) -> Response:
    sessions.end(store, number, at=clock.now())
    return go(request, "/bench")
