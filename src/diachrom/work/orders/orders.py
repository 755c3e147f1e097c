"""What can be done with an order: its lines, its day, what was done, the drawer of painted baits."""

import sqlite3
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from diachrom import clock
from diachrom.core.bait.plan import MOST_BAITS, Plan
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE, checked_text
from diachrom.errors import InvalidInput, NotFound
from diachrom.store import orders, plans
from diachrom.store.connection import writing
from diachrom.store.memory import cached
from diachrom.store.orders import DoneStep, InStock, Order, OrderLine
from diachrom.words import say, when
from diachrom.work.kit.fields import number_field
from diachrom.work.kit.schedules import Schedule, left, read
from diachrom.work.plan import plans as planning
from diachrom.work.plan.painting import recipe_numbers

PRICE = number_field("price", say("Price"), least=0, most=1e6)
DUE_AT = "18:00"


@dataclass(frozen=True)
class LineNow:
    """A line with its plan as it was saved, and what has changed since."""

    line: OrderLine
    plan: Plan
    changed: Sequence[str]  # sentences
    newest: int  # version of the plan
    in_stock: int


@dataclass(frozen=True)
class Listed:
    """An order, how far it is, and whether anything is left to do at the bench."""

    order: Order
    lines: Sequence[OrderLine]
    schedule: Schedule | None
    steps_done: int
    baits_done: int
    anything_left: bool

    @property
    def to_hand_over(self) -> bool:
        """Whether all is painted as far as it was planned for."""
        return self.order.state == "open" and self.steps_done > 0 and not self.anything_left


def listed(connection: sqlite3.Connection, state: str = "open") -> list[Listed]:
    """All of a state, those that are due first before the others."""
    every = orders.every(connection, state=state)
    numbers = [one.number for one in every]
    lines, done = orders.lines(connection, numbers), orders.done(connection, numbers)
    return [_listed(one, lines[one.number], done[one.number]) for one in every]


def to_hand_over(connection: sqlite3.Connection, order: Order) -> bool:
    """Whether an order is open and everything on it done."""
    lines = [line.line for line in lines_now(connection, order.number)]
    return _listed(order, lines, orders.done(connection, [order.number])[order.number]).to_hand_over


def _listed(one: Order, own: Sequence[OrderLine], done: Sequence[DoneStep]) -> Listed:
    schedule = read(one.schedule)
    open_visits = [] if schedule is None else left(schedule, done)
    unpainted = {(each.line, bait) for each in open_visits for bait in range(each.first, each.last)}
    begun = {(each.line, each.bait) for each in done if each.line}
    planned = {} if schedule is None else schedule.lines
    missing = any(line.baits > planned.get(line.id, ("", 0))[1] for line in own)  # more than it was planned for
    whole = not open_visits and not missing and schedule is not None
    baits = sum(line.baits for line in own) if whole else len(begun - unpainted)
    return Listed(one, own, schedule, steps_done=len(done), baits_done=baits, anything_left=not whole)


def order(connection: sqlite3.Connection, number: int) -> Order:
    """Raises NotFound."""
    return orders.order(connection, number)


def new(connection: sqlite3.Connection, name: str, *, at: str) -> int:
    """Raises InvalidInput."""
    wanted = checked_text("name", " ".join(name.split()), LONGEST_NAME)
    with writing(connection):
        return orders.add(connection, name=wanted or say("For the bench"), at=at)


def of_plan(connection: sqlite3.Connection, plan: int, *, at: str) -> int:
    """A plan's own baits as an order. Raises NotFound, InvalidInput."""
    standing = planning.now(connection, plan)
    with writing(connection):
        number = orders.add(connection, name=(standing.plan.name or say("For the bench"))[:LONGEST_NAME], at=at)
        add_line(connection, number, plan, standing.plan.baits, at=at)
    return number


def _many(baits: int, words: str) -> int:
    if not 1 <= baits <= MOST_BAITS:
        raise InvalidInput(
            say("{words}: 1 to {most_baits} baits, not {baits}.", words=words, most_baits=MOST_BAITS, baits=baits),
            field="baits",
        )
    return baits


def add_line(connection: sqlite3.Connection, number: int, plan: int, baits: int, *, at: str) -> int:
    """So many baits of a plan as it stands, which is saved for it. Raises NotFound, InvalidInput."""
    with writing(connection):
        orders.order(connection, number)
        version = planning.save(connection, plan, at=at).version
        own = _many(baits, say("Baits ordered"))
        return orders.add_line(connection, number, plan, version, ordered=own, baits=own)


def change_line(connection: sqlite3.Connection, number: int, line: int, *, ordered: int, baits: int, at: str) -> None:
    """What is to be painted after all lies in the drawer again. Raises NotFound, InvalidInput."""
    with writing(connection):
        old = _line(connection, number, line)
        if not 0 <= baits <= MOST_BAITS:
            raise InvalidInput(
                say("Baits to paint: 0 to {most_baits}, not {baits}.", most_baits=MOST_BAITS, baits=baits),
                field="baits",
            )
        new = replace(old, ordered=_many(ordered, "Baits ordered"), baits=baits)
        _give_back(connection, new, most=max(new.ordered - new.baits, 0), at=at)
        orders.change_line(connection, new)


def _give_back(connection: sqlite3.Connection, line: OrderLine, *, most: int, at: str) -> None:
    """Of what was taken out of the drawer for a line, all beyond `most` goes back into it."""
    taken: dict[tuple[int, int], int] = {}
    for moved in orders.moved(connection, line.order):
        if (moved.why, moved.line) == (orders.TAKEN, line.id):
            taken[moved.plan, moved.version] = taken.get((moved.plan, moved.version), 0) - moved.count
    back = sum(taken.values()) - most
    for of, count in taken.items():
        given = min(count, back)
        if given > 0:
            back -= given
            orders.put_stock(
                connection, of, given, note=say("given back"), order=line.order, why=orders.TAKEN, line=line.id, at=at
            )


def remove_line(connection: sqlite3.Connection, number: int, line: int, *, at: str) -> None:
    """What was taken out of the drawer for it lies there again. Raises NotFound, and InvalidInput where some of its
    work is done."""
    with writing(connection):
        own = _line(connection, number, line)
        if any(done_step.line == own.id for done_step in orders.done(connection, [number])[number]):
            raise InvalidInput(
                say("Some of its steps are done: set the number to paint to 0 instead, and they are kept."),
                field="line",
            )
        _give_back(connection, own, most=0, at=at)
        orders.remove_line(connection, own.id)


def take_newest(connection: sqlite3.Connection, number: int, line: int, *, at: str) -> int:
    """The plan as it stands now in a line. Raises NotFound, InvalidInput."""
    with writing(connection):
        old = _line(connection, number, line)
        version = planning.save(connection, old.plan, at=at).version
        orders.change_line(connection, replace(old, version=version))
    return version


def _line(connection: sqlite3.Connection, number: int, line: int) -> OrderLine:
    for one in orders.lines(connection, [number])[number]:
        if one.id == line:
            return one
    raise NotFound(say("That line is no longer on this order."), field="line")


def set_order(connection: sqlite3.Connection, number: int, form: Mapping[str, str], *, at: str) -> Order:
    """Its name, who it is for, wish, price, day. Fields that are not named stay. Raises InvalidInput, NotFound."""
    with writing(connection):
        old = orders.order(connection, number)
        name = checked_text("name", " ".join(form.get("name", old.name).split()), LONGEST_NAME)
        price = old.price
        if "price" in form:
            value = PRICE.value(form["price"])
            price = value if isinstance(value, float) else None
        due, starts = (_moment(form, key, getattr(old, key)) for key in ("due", "starts"))
        if due and due != old.due and due < at:
            raise InvalidInput(say("{said} is over: give a day to come.", said=_said(due)), field="due")
        if due and starts and starts >= due:
            raise InvalidInput(
                say(
                    "It cannot begin at {said} to be ready by {other_said}.", said=_said(starts), other_said=_said(due)
                ),
                field="starts",
            )
        new = replace(
            old,
            name=name or old.name,
            customer=checked_text("customer", " ".join(form.get("customer", old.customer).split()), LONGEST_NAME),
            wish=checked_text("wish", form.get("wish", old.wish), LONGEST_NOTE),
            price=price,
            due=due,
            starts=starts,
            ready_by=form["ready_by"] == "yes" if "ready_by" in form else old.ready_by,
        )
        if new.ready_by and not new.due:
            raise InvalidInput(say("Give the date it has to be ready by."), field="due")
        orders.change(connection, new)
        return new


def _said(at: str) -> str:
    found = clock.moment(at)
    return at if found is None else when(found, "day and time")


def _moment(form: Mapping[str, str], key: str, old: str) -> str:
    """A day and an hour by this place's clocks -> UTC, "" for none; a day alone is its evening."""
    if key not in form:
        return old
    text = form[key].strip()
    if not text:
        return ""
    try:
        found = datetime.fromisoformat(text if "T" in text or " " in text else f"{text}T{DUE_AT}")
        if not clock.FIRST_YEAR <= found.year <= clock.LAST_YEAR:
            raise ValueError(text)
        return found.astimezone(UTC).isoformat(timespec="seconds")
    except (ValueError, OverflowError):
        raise InvalidInput(
            say("Write '{words}' as a day and an hour, 2026-12-05 18:00.", words=text[:30]), field=key
        ) from None


@cached
def lines_now(connection: sqlite3.Connection, number: int) -> list[LineNow]:
    """The lines of an order with their plans, and what has changed since they were saved."""
    rows = orders.lines(connection, [number])[number]
    newest, every = orders.newest_recipes(connection), orders.of_plans(connection)
    saved = plans.several(connection, [(row.plan, row.version) for row in rows])
    lines = []
    for row in rows:
        plan = saved[row.plan, row.version].document
        # Recipes of a plan with the version that it uses.
        numbers = [recipe_numbers(layer.source) for layer in plan.layers]
        pinned = {(one[0], one[1]) for one in numbers if one is not None and one[1] is not None}
        told = [
            say(
                "{newest} is at version {other_newest} since; this plan sprays version {own}.",
                newest=newest[recipe][1],
                other_newest=newest[recipe][0],
                own=own,
            )
            for recipe, own in sorted(pinned)
            if recipe in newest and newest[recipe][0] > own
        ]
        version, in_stock = every[row.plan]
        lines.append(LineNow(row, plan, told, version, max(in_stock, 0)))
    return lines


def inputs_of(order: Order, rows: Sequence[LineNow]) -> str:
    """What a schedule is found for: when it changes, the schedule is not of this order any more."""
    lines = [(line.line.id, line.line.plan, line.line.version, line.line.baits) for line in rows if line.line.baits]
    return repr((lines, order.starts, order.due if order.ready_by else ""))


def set_state(connection: sqlite3.Connection, number: int, state: str) -> None:
    """Open an order, or put it away."""
    with writing(connection):
        orders.change(connection, replace(orders.order(connection, number), state=state))


def finish(connection: sqlite3.Connection, number: int, painted: Mapping[int, int], *, at: str) -> int:
    """It is handed over: what was painted beyond what was ordered goes into the drawer; how many baits that are. One
    that was opened again and is finished again brings there only what has changed. Raises InvalidInput, NotFound."""
    with writing(connection):
        one = orders.order(connection, number)
        if one.state != "open":
            raise InvalidInput(say("This order is finished already."), field="order")
        over: Counter[tuple[int, int]] = Counter()
        for line in orders.lines(connection, [number])[number]:
            made = painted.get(line.id, line.baits)
            if not 0 <= made <= MOST_BAITS:
                raise InvalidInput(
                    say("Baits painted: 0 to {most_baits}, not {made}.", most_baits=MOST_BAITS, made=made),
                    field="painted",
                )
            taken = line.ordered - line.baits  # from the drawer, where fewer were painted than ordered
            over[line.plan, line.version] += max(made - (line.ordered - max(taken, 0)), 0)
        there: Counter[tuple[int, int]] = Counter()
        for row in orders.moved(connection, number):
            there[row.plan, row.version] += row.count if row.why == orders.OVER else 0
        for of in dict.fromkeys((*over, *there)):
            if over[of] != there[of]:
                more, note = over[of] - there[of], say("over from {name}", name=one.name)
                orders.put_stock(connection, of, more, note=note, order=number, why=orders.OVER, at=at)
        orders.change(connection, replace(one, state="done"))
    return over.total()


def from_drawer(connection: sqlite3.Connection, number: int, line: int, *, at: str) -> int:
    """Take what lies in the drawer of this plan in place of painting it; how many. Raises NotFound, InvalidInput."""
    with writing(connection):
        own = _line(connection, number, line)
        unmet = own.baits
        for one in orders.stock(connection):
            if one.plan == own.plan and unmet > 0:
                taken = min(one.count, unmet)
                of = (one.plan, one.version)
                orders.put_stock(
                    connection, of, -taken, note="ordered", order=number, why=orders.TAKEN, line=line, at=at
                )
                unmet -= taken
        if unmet == own.baits:
            raise InvalidInput(say("There is none left in the drawer."), field="line")
        orders.change_line(connection, replace(own, baits=unmet))
        return own.baits - unmet


def drawer(connection: sqlite3.Connection) -> list[tuple[InStock, str]]:
    """Painted baits that are kept, with their plans' names."""
    names = orders.version_names(connection)
    return [(one, names.get((one.plan, one.version), f"Plan {one.plan}")) for one in orders.stock(connection)]


def take_out(connection: sqlite3.Connection, plan: int, version: int, count: int, *, at: str) -> None:
    """Out of the drawer, or, where less than nothing, into it. Raises InvalidInput."""
    with writing(connection):
        there = sum(one.count for one in orders.stock(connection) if (one.plan, one.version) == (plan, version))
        if count == 0 or not -MOST_BAITS <= count <= there:
            raise InvalidInput(
                say("1 to {there} of them can be taken out, not {count}.", there=there, count=count), field="count"
            )
        orders.put_stock(connection, (plan, version), -count, at=at)


def blocks_done(connection: sqlite3.Connection, number: int, found: Schedule | None) -> frozenset[str]:
    """Of a schedule: the blocks of which every step is done."""
    if found is None:
        return frozenset()
    open_blocks = {visit.block for visit in left(found, orders.done(connection, [number])[number])}
    return frozenset(visit.block for visit in found.visits if visit.what != "clean") - open_blocks


def steps_done(connection: sqlite3.Connection, number: int) -> int:
    """Steps on baits, and mixes."""
    return len(orders.done(connection, [number])[number])


def new_with(connection: sqlite3.Connection, form: Mapping[str, str], *, plan: int | None, baits: int, at: str) -> int:
    """An order as a form has it, with a first line where a plan is chosen: all of it, or nothing. Raises InvalidInput,
    NotFound."""
    with writing(connection):
        name = form.get("name", "").strip()
        if not name and plan is not None:
            name = planning.now(connection, plan).plan.name[:LONGEST_NAME]
        number = new(connection, name, at=at)
        told = {key: form[key] for key in ("customer", "due") if form.get(key, "").strip()}
        if told:
            set_order(connection, number, told, at=at)
        if plan is not None:
            add_line(connection, number, plan, baits, at=at)
    return number
