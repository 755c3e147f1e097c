"""What can be done in a session: begin it, append what happens, and what that does to ledgers and to the order."""

import sqlite3
from collections.abc import Sequence

from diachrom import clock
from diachrom.core.session import mends
from diachrom.core.session.script import BenchStep
from diachrom.core.session.state import Event, after
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import bottles, orders, plans, sessions
from diachrom.store.connection import writing
from diachrom.store.orders import DoneStep
from diachrom.store.sessions import Listed, Session
from diachrom.work.bench.scripts import script_of
from diachrom.work.orders import kept


def session(connection: sqlite3.Connection, number: int) -> Session:
    """Raises NotFound."""
    return sessions.session(connection, number)


def every(connection: sqlite3.Connection) -> list[Listed]:
    return sessions.every(connection)


def begin(connection: sqlite3.Connection, order: int, *, at: str) -> int:
    """A session over what is still to be done of an order; the one that is under way where there is one. Raises
    NotFound, InvalidInput."""
    known = _under_way(connection, order)
    if known is not None:
        return known
    script, name = script_of(connection, order), orders.order(connection, order).name
    with writing(connection):
        known = _under_way(connection, order)  # another window may have been quicker
        return known or sessions.new(connection, order=order, name=name, script=script, at=at)


def _under_way(connection: sqlite3.Connection, order: int) -> int | None:
    return next((one.number for one in sessions.every(connection) if one.order == order and not one.ended), None)


def happen(connection: sqlite3.Connection, number: int, event: Event, *, at: str) -> Session:
    """Append what happened, whoever else is at the same session. A step that is done charges its bottles, and counts
    for the order. Raises InvalidInput, NotFound."""
    with writing(connection):
        standing = sessions.session(connection, number)
        if standing.ended:
            raise InvalidInput("This session has ended.", field="session")
        here = standing.script.at(standing.state.position)
        state = after(standing.script, standing.state, event)
        sessions.append(connection, standing, event, state, at=at)
        if event.kind == "next" and here is not None and here.key not in standing.state.done:
            _charge(connection, standing, here, at=at)
            _count(connection, standing, here, at=at)
        return sessions.session(connection, number)


def end(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """It is over, whatever is left of it. Raises NotFound."""
    with writing(connection):
        sessions.session(connection, number)
        sessions.end(connection, number, at=at)


def _charge(connection: sqlite3.Connection, standing: Session, step: BenchStep, *, at: str) -> None:
    """The drops that fell leave their bottles, once: all that were asked for, where none was tapped."""
    tapped = standing.state.drops.get(step.key, {})
    for one in step.pours:
        drops = tapped.get(one.bottle, 0) if tapped else one.drops
        if drops:
            ml, note = -drops * one.drop_ml, f"at the bench, {standing.name}"
            bottles.enter(connection, bottle=one.bottle, at=at, kind="poured", ml=ml, note=note)


def _count(connection: sqlite3.Connection, standing: Session, step: BenchStep, *, at: str) -> None:
    """For the order's schedule."""
    if standing.order is None or not step.block:
        return
    found = kept.read(orders.order(connection, standing.order).schedule)
    own = [] if found is None else [one for one in found.visits if one.block == step.block and one.what != "clean"]
    done = [
        DoneStep(line, name, bait, at)
        for one in own
        for line, name, bait in one.steps
        if step.kind == "make" or step.first <= bait < step.last
    ]
    orders.put_done(connection, standing.order, done)


def mends_here(connection: sqlite3.Connection, standing: Session, slip: str) -> Sequence[mends.Way]:
    """How a slip at this step is mended, by what lies beneath; nothing where no layer is laid."""
    here = standing.script.at(standing.state.position)
    if here is None or here.layer is None:
        return []
    try:
        plan = plans.version(connection, here.plan, here.version).document
        return mends.ways(plan, here.layer, slip)
    except DiachromError:
        return []


def seconds(at: str) -> float:
    """A moment as a session counts it."""
    found = clock.moment(at)
    return 0.0 if found is None else found.timestamp()
