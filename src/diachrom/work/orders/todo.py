"""What there is to do for an order: its steps and mixes, how far it is, and what other orders leave of the bench."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from diachrom import clock
from diachrom.core.mix.drying import bad_air
from diachrom.core.schedule.hours import Hours
from diachrom.core.schedule.steps import steps
from diachrom.core.schedule.work import Bench, Line, Stands, Step, Work
from diachrom.errors import InvalidInput
from diachrom.store import orders
from diachrom.store.orders import DoneStep, Order
from diachrom.words import say
from diachrom.work.kit import schedules
from diachrom.work.orders.airbrush import loaded
from diachrom.work.orders.bench import bench_time, hours_from, ways
from diachrom.work.orders.laying import (
    CupOf,
    LaidPlan,
    all_cups,
    cleaning,
    following,
    laid_plan,
    mixes,
    read_plans_at_once,
)
from diachrom.work.orders.orders import inputs_of, lines_now


@dataclass(frozen=True, eq=False)
class ToDo:
    """The work of an order, and the moment from which its minutes count."""

    order: Order
    work: Work
    start: datetime
    plans: Mapping[int, LaidPlan]  # by line
    cups: Mapping[str, CupOf]
    rinse_min: int
    inputs: str
    notes: Sequence[str]  # that are said beside it


def to_do(connection: sqlite3.Connection, number: int, *, at: str, dragged: tuple[str, str] | None = None) -> ToDo:
    """What there is to do; with one more block `dragged` (block, not before; "" lets it go). Raises NotFound,
    InvalidInput."""
    order = orders.order(connection, number)
    rows = [line for line in lines_now(connection, number) if line.line.baits]
    if not rows:
        raise InvalidInput(say("Nothing is to be painted on this order: add a plan and how many baits."), field="lines")
    read_plans_at_once(connection, [row.plan for row in rows])
    plans = {one.line.id: laid_plan(connection, one.plan, one.line.baits) for one in rows}
    time, how = bench_time(connection), ways(connection)
    start = max(one for one in (clock.moment(at), clock.moment(order.starts)) if one is not None).astimezone(UTC)
    start = start.replace(second=0, microsecond=0)
    done = orders.done(connection, [number])[number]
    # The steps of each line, and how far its baits are. Raises InvalidInput.
    lines = []
    for line in rows:
        laid = plans[line.line.id]
        own = steps(laid.plan, laid.laid, how)
        if not own:
            raise InvalidInput(
                say("{name} has no work on it: add at least one layer.", name=laid.plan.name), field="lines"
            )
        begun = _stands(own, [each for each in done if each.line == line.line.id], start)
        lines.append(Line(str(line.line.id), laid.plan.name, own, line.line.baits, begun))
    notes = [words for laid in plans.values() for words in _air(laid)]
    cups = all_cups(list(plans.values()))
    made = {each.step: minute_of(each.at, start) for each in done if each.line == 0}
    every = {
        key: replace(mix, ready=made[key] + mix.rests if key in made else None)
        for key, mix in mixes(list(plans.values()), time.pace).items()
    }
    hours, taken = _beside(connection, order, start, hours_from(time.hours, start))
    moment = clock.moment(at)
    held_now = () if moment is None else loaded(connection, moment.timestamp())[: time.airbrushes]
    bench = Bench(hours, airbrushes=time.airbrushes, rack=time.rack, turner=time.turner, taken=taken, loaded=held_now)
    held = dict([*order.pins.items(), dragged] if dragged else order.pins)
    pins = {block: minute_of(when, start) for block, when in held.items() if when}
    table = cleaning(following(cups), time.pace)
    work = Work(lines, every, bench, table, premixed=time.premixed, pins=pins)
    return ToDo(
        order=order,
        work=work,
        start=start,
        plans=plans,
        cups=cups,
        rinse_min=time.pace.rinse,
        inputs=inputs_of(order, rows),
        notes=list(dict.fromkeys(notes)),
    )


def _air(laid: LaidPlan) -> list[str]:
    air = (laid.plan.temperature_c, laid.plan.humidity_percent)
    told = {bad_air(law, air) for law in ("water", "two-part")}
    return [f"{laid.plan.name}: {one}." for one in sorted(told) if one]


def minute_of(at: str, start: datetime) -> int:
    """Minutes from the start to a moment."""
    found = clock.moment(at)
    return 0 if found is None else int((found - start).total_seconds() // 60)


def _stands(own: Sequence[Step], done: Sequence[DoneStep], start: datetime) -> dict[int, Stands]:
    """How far each bait is, by the last of its steps that was done."""
    places = {step.key: at for at, step in enumerate(own)}
    found: dict[int, Stands] = {}
    for done_step in done:
        index = places.get(done_step.step)
        if index is None or (done_step.bait in found and found[done_step.bait].step > index + 1):
            continue
        ended, step = minute_of(done_step.at, start), own[index]
        closes = None if step.closes is None else ended + step.closes
        found[done_step.bait] = Stands(index + 1, ended + step.dries, closes)
    return found


def _beside(
    connection: sqlite3.Connection, order: Order, start: datetime, hours: Hours
) -> tuple[Hours, list[tuple[str, int, int]]]:
    """The hours and places that other orders leave: those that were planned, and are not done yet."""
    busy, taken = [], []
    others = [one for one in orders.every(connection) if one.number != order.number]
    done = orders.done(connection, [one.number for one in others])
    for other in others:
        found = schedules.read(other.schedule)
        if found is None:
            continue
        shift = int((found.start - start).total_seconds() // 60)
        left = {id(block) for block in schedules.left(found, done[other.number])}
        ended = {
            (done_step.line, done_step.step, done_step.bait): minute_of(done_step.at, start)
            for done_step in done[other.number]
        }
        for visit in found.visits:
            first, last = visit.start + shift, visit.end + shift
            if id(visit) not in left:  # what is done lies where it dries from when it was done
                last = max((ended[each] for each in visit.steps), default=last)
                first = min(first, last)
            elif last > 0:
                busy.append((first, last))
            if visit.holds and last + visit.held > 0:
                taken += [(visit.holds, first, last + visit.held)] * max(visit.last - visit.first, 1)
    return hours.without(busy), taken
