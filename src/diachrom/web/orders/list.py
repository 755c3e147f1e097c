"""The list of orders, the drawer of painted baits, and how this bench works: hours, places, ways, how paint dries."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields, replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.mix.drying import LAWS, TABLE, Dries
from diachrom.core.schedule.steps import PACE_WORDS, Pace
from diachrom.errors import InvalidInput
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import FormRowId, GivenForm, OpenStore, WholeNumber
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.orders.view import moment_words
from diachrom.words import listed, quantity, say, say_count, when
from diachrom.work.kit.figures import figure, whole
from diachrom.work.orders import bench, orders, paint
from diachrom.work.orders.bench import DAYS, BenchTime
from diachrom.work.orders.orders import Listed
from diachrom.work.plan import bringing, drying

router = APIRouter(include_in_schema=False)
Number = Annotated[int, Form()]


@dataclass(frozen=True)
class OrderRow:
    number: int
    name: str
    what: str
    due: str
    ready: str
    late: bool
    price: str
    plans: Sequence[int]
    customer: str
    painted: str  # "4 of 7 baits painted", once something is done
    to_hand_over: bool


@dataclass(frozen=True)
class DrawerRow:
    plan: int
    version: int
    name: str
    count: int
    note: str


@dataclass(frozen=True)
class OrdersPage:
    open: Sequence[OrderRow]
    done: Sequence[OrderRow]
    drawer: Sequence[DrawerRow]
    plans: Sequence[tuple[int, str]]
    said: str


@dataclass(frozen=True)
class DryingRow:
    kind: str
    words: str
    law: str
    film_um: float
    flash: int
    touch: int
    through_h: str
    window: tuple[str, str] | None
    learned: str
    changed: bool


@dataclass(frozen=True)
class BenchPage:
    own: BenchTime
    days: Sequence[tuple[str, tuple[str, str]]]
    paces: Sequence[tuple[str, str, int]]
    drying: Sequence[DryingRow]


@router.get("/orders")
def every(request: Request, store: OpenStore, finished: WholeNumber = 0, over: WholeNumber = 0) -> Response:
    """The orders, those that are due first before others, and the drawer."""
    said = ""
    if finished:
        said = say("Order {finished} is finished.", finished=finished)
        if over:
            kept = say_count(
                over,
                "{count} bait more than ordered: it is in the drawer.",
                "{count} baits more than ordered: they are in the drawer.",
            )
            said = listed([said, kept], " ")
    names = {
        one.now.number: one.now.plan.name or say("Plan {number}", number=one.now.number)
        for one in bringing.listed(store)
    }
    page = OrdersPage(
        open=[_row(one, names) for one in orders.listed(store)],
        done=[_row(one, names) for one in orders.listed(store, "done")][-20:],
        drawer=[DrawerRow(one.plan, one.version, name, one.count, one.note) for one, name in orders.drawer(store)],
        plans=list(names.items()),
        said=said,
    )
    return render("orders/orders.html", page=page, frame=frame(request, store, "orders"))


def _row(own: Listed, names: Mapping[int, str]) -> OrderRow:
    order, found = own.order, own.schedule
    told = [f"{line.ordered} × {names.get(line.plan, f'plan {line.plan}')}" for line in own.lines]
    painted = say(
        "{baits_done} of {baits} painted",
        baits_done=own.baits_done,
        baits=say_count(sum(one.baits for one in own.lines), "{count} bait", "{count} baits"),
    )
    due = clock.moment(order.due)
    return OrderRow(
        number=order.number,
        name=order.name,
        what=listed(told) or say("nothing on it yet"),
        due=moment_words(order.due) if order.due else "",
        ready="" if found is None else when(found.ends_at.astimezone(), "short weekday, day and time"),
        late=found is not None and due is not None and found.ends_at > due,
        price="" if order.price is None else quantity(order.price, "g", "money"),
        plans=[one.plan for one in own.lines][:3],
        customer=order.customer,
        painted=painted if own.steps_done and order.state == "open" else "",
        to_hand_over=own.to_hand_over,
    )


@router.post("/orders")
def new(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """An order, with a first plan where one is chosen."""
    at = clock.now()
    plan, baits = form.get("plan", ""), form.get("baits", "1").strip() or "1"
    if plan and not (plan.isdecimal() and len(plan) < 12 and baits.isdecimal() and len(baits) < 6):
        raise InvalidInput(say("Baits: a whole number, not '{baits}'.", baits=baits[:20]), field="baits")
    made = orders.new_with(store, form, plan=int(plan) if plan else None, baits=int(baits), at=at)
    paint.tell_list(store, made)
    return go(request, f"/orders/{made}")


@router.post("/orders/of-plan")
def of_plan(request: Request, store: OpenStore, plan: FormRowId) -> Response:
    """A plan's own baits as an order."""
    made = orders.of_plan(store, plan, at=clock.now())
    paint.tell_list(store, made)
    return go(request, f"/orders/{made}")


@router.post("/orders/drawer")
def out_of_drawer(
    request: Request, store: OpenStore, plan: FormRowId, version: FormRowId, count: Number = 1
) -> Response:
    """Take baits out of the drawer, or put some in."""
    orders.take_out(store, plan, version, count, at=clock.now())
    return go(request, "/orders")


@router.get("/orders/bench")
def bench_page(request: Request, store: OpenStore) -> Response:
    """How this bench works: hours, places, pace, and how paint dries."""
    bench_time = bench.bench_time(store)
    days = list(zip(DAYS, bench_time.hours, strict=True))
    paces = [(one.name, PACE_WORDS[one.name], getattr(bench_time.pace, one.name)) for one in fields(Pace)]
    learned = drying.drying_learned(store)
    rows = []
    for kind, one in drying.drying_table(store).items():
        words = ""
        if kind in learned:
            words = say(
                "× {factor}, from {waits}",
                factor=quantity(learned[kind].factor, ".2f"),
                waits=say_count(learned[kind].seen, "{count} wait", "{count} waits"),
            )
        window = None if one.window is None else (quantity(one.window[0] / 60, "g"), quantity(one.window[1] / 60, "g"))
        rows.append(
            DryingRow(
                kind=kind,
                words=one.words,
                law=LAWS[one.law],
                film_um=one.film_um,
                flash=one.flash,
                touch=one.touch,
                through_h=quantity(one.through / 60, "g"),
                window=window,
                learned=words,
                changed=one != TABLE[kind],
            )
        )
    return render(
        "orders/bench.html", page=BenchPage(bench_time, days, paces, rows), frame=frame(request, store, "orders")
    )


@router.post("/orders/bench")
def keep_bench(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """Keep hours, places and pace."""
    old = bench.bench_time(store)
    hours = [
        (form.get(f"from-{day.lower()}", first).strip(), form.get(f"until-{day.lower()}", last).strip())
        for day, (first, last) in zip(DAYS, old.hours, strict=True)
    ]

    def whole_of(key: str, words: str, now: int) -> int:
        return whole(form.get(key, str(now)), words, key=key, least=-999_999)

    pace = {one.name: whole_of(one.name, PACE_WORDS[one.name], getattr(old.pace, one.name)) for one in fields(Pace)}
    wanted = BenchTime(
        hours=hours,
        airbrushes=whole_of("airbrushes", say("Airbrushes"), old.airbrushes),
        rack=whole_of("rack", say("Places on the rack"), old.rack),
        turner=whole_of("turner", say("Places on the turner"), old.turner),
        warm_air=form.get("warm_air", "yes" if old.warm_air else "no") == "yes",
        signs=form.get("signs", "yes" if old.signs else "no") == "yes",
        premixed=form.get("premixed", "yes" if old.premixed else "no") == "yes",
        pace=Pace(**pace),
    )
    bench.keep(store, wanted)
    return go(request, "/orders/bench")


@router.post("/orders/drying")
def keep_drying(request: Request, store: OpenStore, form: GivenForm) -> Response:
    """Keep how a kind of paint dries here."""
    kind = form.get("kind", "")[:30]
    table = drying.drying_table(store)
    if kind not in table:
        raise InvalidInput(say("There is no kind of paint called '{kind}'.", kind=kind), field="kind")
    if form.get("usual"):
        wanted: Dries = TABLE[kind]
    else:
        old = table[kind]
        window = old.window
        if window is not None:
            window = (
                _minutes(form, "opens", say("{words}: its window opens", words=old.words), 60),
                _minutes(form, "closes", say("{words}: its window closes", words=old.words), 60),
            )
        wanted = replace(
            old,
            flash=_minutes(form, "flash", f"{old.words}: before its next coat", 1),
            touch=_minutes(form, "touch", f"{old.words}: before other paint", 1),
            through=_minutes(form, "through", f"{old.words}: until dry through", 60),
            window=window,
        )
    drying.keep_drying(store, kind, wanted)
    return go(request, "/orders/bench#drying")


def _minutes(form: GivenForm, key: str, words: str, unit: int) -> int:
    return round(figure(form.get(key, ""), words, key=key, least=0, most=99_999) * unit)
