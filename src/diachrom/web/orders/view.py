"""What the pages of an order show."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from diachrom import clock
from diachrom.core.mix.rinse import CLEAN, FOLLOWS, RINSE
from diachrom.store.orders import Order
from diachrom.web.orders.timeline import Timeline, timeline
from diachrom.words import listed, quantity, say, say_count, when
from diachrom.work.kit import schedules
from diachrom.work.kit.opened import Store
from diachrom.work.kit.schedules import Schedule
from diachrom.work.kit.tasks import Tasks
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.dragging import span
from diachrom.work.orders.orders import LineNow
from diachrom.work.orders.paint import Paint
from diachrom.work.orders.work_evenings import sessions
from diachrom.work.plan.job import Poured

TOUCHES = (
    "spray",
    "mask",
    "pattern",
    say("by hand"),
    "wash",
    "wipe",
    "rub",
    "clear",
)  # what tells whether a coat is dry
BEFORE = {
    "": "",
    FOLLOWS: say("follows without cleaning"),
    RINSE: say("after a rinse"),
    CLEAN: say("in a clean airbrush"),
}


@dataclass(frozen=True)
class LineView:
    id: int
    plan: int
    version: int
    name: str
    ordered: int
    baits: int
    changed: Sequence[str]
    newest: int
    in_stock: int


@dataclass(frozen=True)
class RowView:
    """A line of a session."""

    time: str
    words: str
    block: str  # "" where nothing is to be done
    done: bool
    waits: bool  # whether it can be told if the coat beneath was dry
    pinned: bool


@dataclass(frozen=True)
class SessionView:
    words: str
    hands: str
    rows: Sequence[RowView]
    after: str


@dataclass(frozen=True)
class SchedulePart:
    """What is found of the schedule so far."""

    number: int
    going_on: bool
    progress: float
    problem: str
    ready: str  # the figure
    ready_words: str
    quality: str
    notes: Sequence[str]
    timeline: Timeline | None
    sessions: Sequence[SessionView]
    pinned: bool
    steps_done: int
    said: str
    to_hand_over: bool  # nothing is left to do


@dataclass(frozen=True)
class OrderPage:
    number: int
    name: str
    wish: str
    price: str
    due: str
    starts: str
    ready_by: bool
    state: str
    lines: Sequence[LineView]
    schedule: SchedulePart
    customer: str

    @property
    def to_hand_over(self) -> bool:
        """Whether all is painted as far as it was planned for."""
        return self.schedule.to_hand_over


def moment_words(at: str) -> str:
    """A day and an hour: "Fri 4 Dec, 19:53"."""
    found = clock.moment(at)
    return at[:20] if found is None else when(found, "short weekday, date and time")


def field_value(at: str) -> str:
    """A time for a field of day and hour."""
    found = clock.moment(at)
    return "" if found is None else f"{found:%Y-%m-%dT%H:%M}"


def order_page(store: Store, tasks: Tasks, number: int, *, said: str = "") -> OrderPage:
    """An order with its lines and its schedule."""
    order = orders.order(store, number)
    return OrderPage(
        number=number,
        name=order.name,
        wish=order.wish,
        price="" if order.price is None else quantity(order.price, "g"),
        due=field_value(order.due),
        starts=field_value(order.starts),
        ready_by=order.ready_by,
        state=order.state,
        lines=[_line(line) for line in orders.lines_now(store, number)],
        schedule=schedule_part(store, tasks, order, said=said),
        customer=order.customer,
    )


def _line(one: LineNow) -> LineView:
    line = one.line
    return LineView(
        id=line.id,
        plan=line.plan,
        version=line.version,
        name=one.plan.name or say("Plan {plan}", plan=line.plan),
        ordered=line.ordered,
        baits=line.baits,
        changed=one.changed,
        newest=one.newest,
        in_stock=one.in_stock,
    )


def schedule_part(store: Store, tasks: Tasks, order: Order, *, said: str = "") -> SchedulePart:
    """Its time, as far as it was planned."""
    task = scheduling.running(tasks, order.number)
    schedule = schedules.read(order.schedule)
    going_on = task is not None and task.going_on
    done = orders.blocks_done(store, order.number, schedule)
    pins = frozenset(order.pins)
    return SchedulePart(
        number=order.number,
        going_on=going_on,
        progress=0.0 if task is None else 100 * task.done / max(task.total, 1),
        problem="" if task is None else task.problem,
        ready="" if schedule is None else when(schedule.ends_at.astimezone(), "short weekday, day and time"),
        ready_words="" if schedule is None else ready_words(schedule, order),
        quality="" if schedule is None else _quality(schedule),
        notes=[]
        if schedule is None
        else _notes(schedule, orders.inputs_of(order, orders.lines_now(store, order.number))),
        timeline=None if schedule is None else timeline(schedule, done=done, pinned=pins),
        sessions=[] if schedule is None else _sessions(schedule, done, pins),
        pinned=bool(pins),
        steps_done=orders.steps_done(store, order.number),
        said=said,
        to_hand_over=orders.to_hand_over(store, order),
    )


def ready_words(found: Schedule, order: Order) -> str:
    """Against its day."""
    due = clock.moment(order.due)
    if due is None:
        return ""
    left = due - found.ends_at
    if left < timedelta(0):
        return say("{time} late, due {moment_words}", time=span(-left), moment_words=moment_words(order.due))
    return say("{time} early, due {moment_words}", time=span(left), moment_words=moment_words(order.due))


def _quality(found: Schedule) -> str:
    hands = sum(block.end - block.start for block in found.visits)
    told = say(
        "{time} at the bench, {minutes} of it cleaning.",
        time=span(timedelta(minutes=hands)),
        minutes=say_count(found.cleaning, "{count} minute", "{count} minutes"),
    )
    if found.proven:
        return listed([told, say("No other order of work is ready earlier.")], " ")
    if found.bound <= 0:
        return told
    bound = when(found.at(found.bound).astimezone(), "short weekday, day and time")
    return listed([told, say("No other order of work is ready before {bound}.", bound=bound)], " ")


def _notes(found: Schedule, inputs: str) -> list[str]:
    told = list(found.notes)
    if inputs != found.inputs:
        told.insert(0, say("This order has changed since: schedule again."))
    if found.missed:
        which = listed(found.missed[:4]) + (" and more" if len(found.missed) > 4 else "")
        told.append(say("The recoat window of {which} has closed: let it cure, sand it, and go on.", which=which))
    change = clock_change(found.start, found.ends_at)
    if change:
        told.append(say("The clocks change on {change}: bench hours follow the clock, drying does not.", change=change))
    return told


def clock_change(start: datetime, end: datetime) -> str:
    """The day on which the clocks of this place change in between, "" where they do not."""
    at = start
    while at < end:
        following = min(at + timedelta(days=1), end)
        if at.astimezone().utcoffset() != following.astimezone().utcoffset():
            return when(following.astimezone(), "weekday and day")
        at = following
    return ""


def _sessions(found: Schedule, done: frozenset[str], pins: frozenset[str]) -> list[SessionView]:
    dried = {(one.line, one.step) for one in found.visits if one.dries > 0}
    steps = [(one.line, one.step) for one in found.visits if one.what == "work"]
    order = {key: index for index, key in enumerate(dict.fromkeys(steps))}
    views = []
    for session in sessions(found):
        rows = []
        for row in session.rows:
            visit = row.visit
            block = "" if visit is None or visit.what == "clean" else visit.block
            waits = (
                visit is not None
                and visit.kind in TOUCHES
                and any(
                    line == visit.line and order[line, step] < order.get((visit.line, visit.step), 0)
                    for line, step in dried
                )
            )
            rows.append(
                RowView(
                    time=f"{row.start.astimezone():%H:%M}",
                    words=row.words,
                    block=block,
                    done=block in done,
                    waits=waits,
                    pinned=bool(block) and visit is not None and visit.held_by(pins),
                )
            )
        begin, end = session.start.astimezone(), session.end.astimezone()
        hands = span(timedelta(minutes=session.hands_min))
        views.append(
            SessionView(
                say(
                    "{day}, {begin} to {end}",
                    day=when(begin, "weekday and day"),
                    begin=f"{begin:%H:%M}",
                    end=f"{end:%H:%M}",
                ),
                hands,
                rows,
                session.after,
            )
        )
    return views


@dataclass(frozen=True)
class PaintView:
    """The paint of an order."""

    paint: Paint
    poured: Sequence[tuple[Poured, str]]  # in the order of the layers, with why and what comes before
    waste_words: str
    price: str
    leaves: str  # of the order's own price
    baits: str


def paint_view(found: Paint, order: Order) -> PaintView:
    """The paint of an order: each mix with its bottles, and what is short."""
    cost = found.job.price
    return PaintView(
        paint=found,
        poured=_poured(found),
        waste_words=found.waste.words,
        price="" if cost is None else quantity(cost, ".2f", "money"),
        leaves="" if cost is None or order.price is None else _leaves(order.price - cost, order),
        baits=say_count(sum(laid_plan.plan.baits for laid_plan in found.plans), "{count} bait", "{count} baits"),
    )


def _poured(found: Paint) -> list[tuple[Poured, str]]:
    turns = {one.key: (place, one) for place, one in enumerate(found.order)}
    poured = sorted(found.job.poured, key=lambda one: turns[one.key][0] if one.key in turns else len(turns))
    views = []
    for one in poured:
        _, turn = turns.get(one.key, (0, None))
        if turn is None:
            views.append((one, ""))
            continue
        why = say("for layer {layer} of {plan}", layer=turn.layer, plan=turn.plan or say("the plan"))
        before = BEFORE[turn.before]
        views.append((one, listed([why, before]) if before else why))
    return views


def _leaves(left: float, order: Order) -> str:
    """What the price leaves beside the paint, and an hour at the bench of it."""
    schedule = schedules.read(order.schedule)
    hands = 0 if schedule is None else sum(block.end - block.start for block in schedule.visits)
    if not hands:
        return say("Of its price it leaves {left}.", left=quantity(left, ".2f", "money"))
    return say(
        "Of its price it leaves {left}, {hourly} an hour at the bench.",
        left=quantity(left, ".2f", "money"),
        hourly=quantity(60 * left / hands, ".2f"),
    )
