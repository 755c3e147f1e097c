"""The bench: sessions, and what happens in one, press by press."""

from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.errors import InvalidInput
from diachrom.store.sessions import Session
from diachrom.web.bench.ahead import of_the_same
from diachrom.web.bench.view import bench_page
from diachrom.web.kit.answers import go, own_address
from diachrom.web.kit.dependencies import GivenForm, MaybeFormRowId, OpenStore, RowId, Text
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.guard import device_name
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.qr import qr
from diachrom.words import say
from diachrom.work.bench import sessions
from diachrom.work.bench.pressed import event_of, moment_of
from diachrom.work.kit.opened import Store
from diachrom.work.log import filling
from diachrom.work.orders import orders
from diachrom.work.plan import bringing, sources

router = APIRouter(include_in_schema=False)
Bait = Annotated[int, Form(ge=-1, le=10_000)]
Few = Annotated[int, Form()]


@router.get("/bench")
def every(request: Request, store: OpenStore) -> Response:
    """The sessions, those under way first, and what a new one can go through."""
    painted = sessions.with_a_bait(store)
    rows = [(one, day(one.at), one.number in painted) for one in sessions.every(store)]
    own = [one for one in orders.listed(store) if one.schedule is not None and one.anything_left]
    open_orders = [(one.order.number, one.order.name) for one in own]
    plans = [
        (one.now.number, one.now.plan.name or say("Plan {number}", number=one.now.number))
        for one in bringing.listed(store, "")
    ]
    recipes = [
        (key.split(":")[1], words) for key, words in sources.offered(store)["Recipes"] if key.startswith("recipe:")
    ]
    begun = {"orders": open_orders, "plans": plans, "recipes": recipes}
    return render("bench/sessions.html", rows=rows, begun=begun, frame=frame(request, store, "bench"))


@router.post("/bench")
def begin(
    request: Request,
    store: OpenStore,
    order: MaybeFormRowId = None,
    plan: MaybeFormRowId = None,
    recipe: Text = "",
    baits: Few = 1,
    times: Few = 1,
    way: Text = "",
) -> Response:
    """A session over an order, of which the one that is under way goes on; over a plan; or over a cup."""
    at = clock.now()
    if order is not None:
        number = sessions.begin(store, order, at=at)
    elif plan is not None:
        number = sessions.begin_plan(store, plan, baits=baits, one_by_one=way == "bait", at=at)
    else:
        wanted = recipe.strip()
        if wanted and not (wanted.isdecimal() and len(wanted) < 15):
            raise InvalidInput(say("'{wanted}' is no recipe's number.", wanted=wanted[:20]), field="recipe")
        number = sessions.begin_cup(store, int(wanted) if wanted else None, times=times, at=at)
    return go(request, f"/bench/{number}")


def answer(request: Request, store: Store, session: Session) -> Response:
    """The step that changed for htmx; the whole page otherwise."""
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/bench/{session.number}", 303)
    return fragment(store, session)


def fragment(store: Store, session: Session) -> Response:
    """The session's part of the page, with how far it is: an older answer that comes late is not shown."""
    answered = render("bench/step.html", page=bench_page(store, session))
    answered.headers["X-Bench-Seq"] = str(session.seq)
    return answered


@router.get("/bench/{number}")
def show(request: Request, store: OpenStore, number: RowId, seen: int | None = None) -> Response:
    """The session as it stands; nothing where it stands as it was `seen`, so that two at it see the same."""
    session = sessions.session(store, number)
    if seen == session.seq:
        return Response(status_code=204, headers={"X-Bench-Now": f"{session.state.now(clock.monotonic_epoch()):.3f}"})
    if is_fragment_wanted(request):
        return fragment(store, session)
    page = bench_page(store, session)
    address = f"{own_address(request)}bench/{number}"
    return render("bench/page.html", page=page, address=address, code=qr(address), frame=frame(request, store, "bench"))


@router.post("/bench/{number}/happen")
def happen(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """Anything that happens at the bench; each press carries an id and is counted once. What goes wrong has a place: as
    it is kept, or where the picture was touched, in shares of it."""
    of_the_same(sessions.session(store, number), request.headers.get("X-Began", ""))
    at = moment_of(request.headers.get("X-Ago", 0))
    event = event_of(store, number, form, at=at, by=device_name(request))
    return answer(request, store, sessions.record_event(store, number, event, at=clock.iso(at)))


@router.post("/bench/{number}/end")
def end(request: Request, store: OpenStore, number: RowId, again: Annotated[bool, Form()] = False) -> Response:
    """It has ended; or is taken up again."""
    of_the_same(sessions.session(store, number), request.headers.get("X-Began", ""))
    if again:
        sessions.end(store, number, at="")
        return go(request, f"/bench/{number}")
    made = filling.end(store, number, at=clock.iso(moment_of(request.headers.get("X-Ago", 0))))
    return go(request, f"/log/{made[0]}" if made else "/bench")
