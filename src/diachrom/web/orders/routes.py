"""An order: its page, its lines, its schedule, what is done of it."""

from datetime import datetime
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.errors import InvalidInput
from diachrom.units import ML
from diachrom.web.kit.answers import file, go
from diachrom.web.kit.dependencies import Background, FormRowId, GivenForm, OpenStore, RowId, Text, WholeNumber
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.orders.view import order_page, paint_view, schedule_part
from diachrom.words import quantity, say
from diachrom.work.kit import schedules
from diachrom.work.kit.figures import figure
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.orders import dragging, orders, paint, scheduling, stand_ins, waiting, work_evenings
from diachrom.work.plan import bringing

router = APIRouter(include_in_schema=False)
Number = Annotated[int, Form()]


def _answer(request: Request, store: Store, tasks: Tasks, number: int, said: str = "") -> Response:
    """The schedule as it is by now; a plain form goes back to the page."""
    if not is_fragment_wanted(request):
        return RedirectResponse(f"/orders/{number}", 303)
    part = schedule_part(store, tasks, orders.order(store, number), said=said)
    return render("orders/schedule.html", part=part)


@router.get("/orders/{number}")
def show(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """An order: its baits, its time, its paint."""
    page = order_page(store, tasks, number)
    plans = [
        (one.now.number, one.now.plan.name or say("Plan {number}", number=one.now.number))
        for one in bringing.listed(store)
    ]
    return render("orders/page.html", page=page, plans=plans, frame=frame(request, store, "orders"))


@router.post("/orders/{number}")
def change(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """Change its name, customer, wish, day."""
    orders.set_order(store, number, form, at=clock.now())
    return go(request, f"/orders/{number}")


def _other_lines(request: Request, store: Store, number: int) -> Response:
    """Back to the order, of which the shopping list has heard."""
    paint.tell_list(store, number)
    return go(request, f"/orders/{number}")


@router.post("/orders/{number}/lines")
def add_line(request: Request, store: OpenStore, number: RowId, plan: FormRowId, baits: Number = 1) -> Response:
    """Add a plan to it."""
    orders.add_line(store, number, plan, baits, at=clock.now())
    return _other_lines(request, store, number)


@router.post("/orders/{number}/lines/{line}")
def change_line(
    request: Request, store: OpenStore, number: RowId, line: RowId, ordered: Number, baits: Number
) -> Response:
    """Change how many baits of a plan."""
    orders.change_line(store, number, line, ordered=ordered, baits=baits, at=clock.now())
    return _other_lines(request, store, number)


@router.post("/orders/{number}/lines/{line}/remove")
def remove_line(request: Request, store: OpenStore, number: RowId, line: RowId) -> Response:
    """Take a plan off it."""
    orders.remove_line(store, number, line, at=clock.now())
    return _other_lines(request, store, number)


@router.post("/orders/{number}/lines/{line}/newest")
def newest(request: Request, store: OpenStore, number: RowId, line: RowId) -> Response:
    """Take the newest version of a plan."""
    orders.take_newest(store, number, line, at=clock.now())
    return _other_lines(request, store, number)


@router.post("/orders/{number}/lines/{line}/drawer")
def from_drawer(request: Request, store: OpenStore, number: RowId, line: RowId) -> Response:
    """Take baits of a plan out of the drawer."""
    orders.from_drawer(store, number, line, at=clock.now())
    return _other_lines(request, store, number)


@router.get("/orders/{number}/schedule")
def schedule(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Its time, evening by evening."""
    return _answer(request, store, tasks, number)


@router.post("/orders/{number}/schedule")
def find(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Look for the best order of work; the first answer comes at once, the best within two seconds."""
    orders.order(store, number)
    task = scheduling.start(tasks, number, at=clock.now())
    if task is not None:
        task.wait(0.05)
    return _answer(request, store, tasks, number)


@router.post("/orders/{number}/schedule/stop")
def stop(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Stop planning; the best so far stays."""
    task = scheduling.running(tasks, number)
    if task is not None:
        task.stop()
        task.wait(2)
    return _answer(request, store, tasks, number)


@router.post("/orders/{number}/drag")
def drag(
    request: Request, store: OpenStore, tasks: Background, number: RowId, block: Text, not_before: Text = ""
) -> Response:
    """Let a block begin no earlier than a time; without one it is let go."""
    if not_before:
        try:
            not_before = datetime.fromisoformat(not_before).astimezone().isoformat(timespec="seconds")
        except (ValueError, OverflowError):
            raise InvalidInput(
                say("'{not_before}' is no time.", not_before=not_before[:40]), field="not_before"
            ) from None
    said = dragging.drag(store, number, block[:200], not_before, at=clock.now())
    return _answer(request, store, tasks, number, said)


@router.post("/orders/{number}/drag/let-go")
def let_go(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Forget what was dragged, and plan the time anew."""
    dragging.let_go(store, number)
    return find(request, store, tasks, number)


@router.post("/orders/{number}/done")
def done(
    request: Request, store: OpenStore, tasks: Background, number: RowId, block: Text, beneath: Text = ""
) -> Response:
    """Enter that a block is done."""
    waiting.done(store, number, block[:200], beneath=beneath[:10], at=clock.now())
    return _answer(request, store, tasks, number, say("Done. Schedule again to plan the rest from here."))


@router.post("/orders/{number}/not-done")
def not_done(request: Request, store: OpenStore, tasks: Background, number: RowId, block: Text) -> Response:
    """Enter that a block is to be done again."""
    waiting.not_done(store, number, block[:200])
    return _answer(request, store, tasks, number, say("It is to be done again."))


@router.post("/orders/{number}/take-back")
def take_back(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """What was done last, also where it is not on the schedule any more."""
    taken = waiting.take_back_last(store, number)
    said = say("It is back on the list: schedule again.") if taken else say("Nothing was done yet.")
    return _answer(request, store, tasks, number, said)


@router.get("/orders/{number}/paint")
def its_paint(store: OpenStore, number: RowId) -> Response:
    """The paint of the whole order."""
    return _paint(store, number)


def _paint(store: Store, number: int, said: str = "") -> Response:
    return render(
        "orders/paint.html",
        view=paint_view(paint.paint(store, number), orders.order(store, number)),
        number=number,
        said=said,
    )


@router.get("/orders/{number}/stand-in")
def stand_in(store: OpenStore, number: RowId, paint: Annotated[str, Query(max_length=200)]) -> Response:
    """What stands in for a paint that is gone or short, and how it looks on these baits."""
    found = stand_ins.stand_in(store, number, paint)
    return render("orders/stand_in.html", found=found, number=number)


@router.get("/orders/{number}/stand-in.png")
def stand_in_picture(
    store: OpenStore, number: RowId, line: WholeNumber, paint: Annotated[str, Query(max_length=200)], key: str = ""
) -> Response:
    """A bait with a stand-in for a paint that is missing."""
    made = stand_ins.picture(store, number, line, paint=paint, key=key[:200])
    return Response(made, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.post("/orders/{number}/used")
def used(store: OpenStore, number: RowId, key: Text, used_ml: Text = "") -> Response:
    """Enter what a mix really took."""
    ml = figure(used_ml, say("Really used, ml"), key="used_ml", least=0, most=1e4, units=ML)
    share = paint.used(store, number, key[:200], ml, at=clock.now())
    return _paint(
        store, number, say("{share} % of it missed the baits; that is learned.", share=quantity(100 * share, ".0f"))
    )


@router.get("/orders/{number}/calendar.ics")
def calendar(store: OpenStore, number: RowId) -> Response:
    """Its evenings as a calendar's file."""
    order = orders.order(store, number)
    found = schedules.read(order.schedule)
    if found is None:
        raise InvalidInput(say("Schedule it first: there is nothing to put into a calendar yet."), field="schedule")
    made = clock.moment(clock.now()) or found.start
    return file(work_evenings.as_ics(order, found, made=made), f"order-{number}.ics", "text/calendar; charset=utf-8")


@router.get("/orders/{number}/print")
def on_paper(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Its time and paint, for the printer."""
    page = order_page(store, tasks, number)
    view = paint_view(paint.paint(store, number), orders.order(store, number)) if page.lines else None
    return render("orders/print.html", page=page, view=view, frame=frame(request, store, "orders"))


@router.post("/orders/{number}/finish")
def finish(request: Request, store: OpenStore, number: RowId, form: GivenForm) -> Response:
    """It is handed over; what is over goes into the drawer."""
    painted = {}
    for key, value in form.items():
        line = key.removeprefix("painted-")
        if line != key and line.isdecimal() and len(line) < 12:
            if not value.strip().isdecimal() or len(value) > 6:
                raise InvalidInput(
                    say("Baits painted: a whole number, not '{value}'.", value=value[:20]), field="painted"
                )
            painted[int(line)] = int(value)
    over = orders.finish(store, number, painted, at=clock.now())
    return go(request, f"/orders?finished={number}&over={over}")


@router.post("/orders/{number}/state")
def state(request: Request, store: OpenStore, number: RowId, state: Text) -> Response:
    """Archive an order, or bring it back among the open ones."""
    if state not in ("open", "away"):
        raise InvalidInput(say("An order is open, or archived."), field="state")
    orders.order(store, number)
    orders.set_state(store, number, state)
    return go(request, "/orders" if state == "away" else f"/orders/{number}")
