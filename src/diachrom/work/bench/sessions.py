"""What can be done in a session: begin it, append what happens, and what that does to ledgers and to the order."""

import sqlite3
from dataclasses import replace

from diachrom import clock
from diachrom.core.session.after import after
from diachrom.core.session.events import FACTS, Event
from diachrom.core.session.pouring import POURED, cup_step
from diachrom.core.session.script import BenchStep, Script
from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups, finish, orders, plans, recipes, sessions
from diachrom.store.connection import writing
from diachrom.store.orders import DoneStep
from diachrom.store.sessions import Listed, Session
from diachrom.words import say
from diachrom.work.bench import as_painted, scripts
from diachrom.work.bench.cup_now import as_poured
from diachrom.work.kit import schedules
from diachrom.work.mix import charging

MOST_SEEN = 12  # sessions under way whose baits are shown
CUP = "cup:"  # a mix that is the cup as it stands on Mix, with its batch


def session(connection: sqlite3.Connection, number: int) -> Session:
    """Raises NotFound."""
    return sessions.session(connection, number)


def every(connection: sqlite3.Connection) -> list[Listed]:
    """All sessions, those under way first."""
    return sessions.every(connection)


def begin(connection: sqlite3.Connection, order: int, *, at: str) -> int:
    """A session over what is still to be done of an order; the one that is under way where there is one. Raises
    NotFound, InvalidInput."""
    known = _under_way(connection, order)
    if known is not None:
        return known
    script, name = scripts.of_order(connection, order), orders.order(connection, order).name
    with writing(connection):
        known = _under_way(connection, order)  # another window may have been quicker
        return known or sessions.new(connection, order=order, name=name, script=script, at=at)


def _under_way(connection: sqlite3.Connection, order: int) -> int | None:
    return next((one.number for one in sessions.every(connection) if one.order == order and not one.ended), None)


def begin_plan(connection: sqlite3.Connection, plan: int, *, baits: int, one_by_one: bool, at: str) -> int:
    """A session over a plan, without an order. Raises NotFound, InvalidInput."""
    script = scripts.of_plan(connection, plan, baits=baits, one_by_one=one_by_one, at=at)
    name = plans.now(connection, plan).plan.name or say("Plan {plan}", plan=plan)
    return _begun(connection, name, script, at=at)


def begin_cup(connection: sqlite3.Connection, recipe: int | None, *, times: int, at: str) -> int:
    """A session over a single cup: a recipe so many times, or the cup as it stands on Mix. Raises RecipeNotFound,
    InvalidInput."""
    if recipe is None:
        standing = cups.now(connection)
        draft, mix = standing.draft, f"{CUP}{standing.batch}"
    else:
        saved = recipes.version(connection, recipe, None)
        draft, mix = saved.draft, f"recipe:{saved.recipe}:{saved.version}"
    script = scripts.of_cup(connection, draft, mix=mix, times=1 if recipe is None else times)
    return _begun(connection, draft.name or say("The cup"), script, at=at)


def _begun(connection: sqlite3.Connection, name: str, script: Script, *, at: str) -> int:
    with writing(connection):
        return sessions.new(connection, order=None, name=name, script=script, at=at)


def record_event(connection: sqlite3.Connection, number: int, event: Event, *, at: str) -> Session:
    """Append what happened, whoever else is at the same session. A step that is done charges its bottles, and counts
    for the order. Raises InvalidInput, NotFound."""
    with writing(connection):
        standing = sessions.session(connection, number)
        if standing.ended:
            raise InvalidInput(say("This session has ended."), field="session")
        here = standing.state.here(standing.script)
        if event.kind in POURED:  # also a cup that was mixed before
            here = cup_step(standing.script, standing.state, event.what) or here
        if event.kind == "astray":
            wrong = bottles.one(connection, event.bottle)
            event = replace(event, note=wrong.full_name, drop_ml=wrong.drop_ml)
        if event.kind == "afresh" and event.value and here is not None:
            left_ml = FACTS["used_ml"].value(event.value, "value")
            event = replace(event, bottle=_jar(connection, standing, here, left_ml, at=at))
            event = replace(event, note=say("jar No. {number}", number=event.bottle))
        state = after(standing.script, standing.state, event)
        if event.kind == "left" and event.what == "jar":
            # What is left of a mix becomes a bottle. Raises InvalidInput for what is no recipe's.
            told = state.leftovers[-1]
            mix = left_over(standing)
            if mix is None:
                raise InvalidInput(say("Only what was mixed by a recipe can go into a jar."), field="what")
            jar = _jar(connection, standing, mix, told.number or 0.0, at=at)
            own = replace(told, bottle=jar, note=say("jar No. {number}", number=jar))
            event, state = own, replace(state, leftovers=(*state.leftovers[:-1], own))
        if event.what == "bottle" and event.kind == "different":
            bottles.by_id(connection, [int(event.value) if event.value.isdecimal() else 0])
        now = replace(standing, state=state)
        if event.kind == "unsay":  # of whatever step it was
            here = _step(standing, standing.state.different[-1].step)
        if here is not None:
            # The drops of a mix that is made leave their bottles, once: what was told later of it enters the
            # difference.
            wanted = poured(now, _step(now, here.key) or here)
            known = poured(standing, here)
            batch = int(here.mix.removeprefix(CUP)) if here.mix.startswith(CUP) else None
            if batch is not None and wanted:
                known = bottles.poured_by(connection, batch)
            for bottle in dict.fromkeys((*wanted, *known)):
                ml = wanted.get(bottle, 0.0) - known.get(bottle, 0.0)
                if (bottle in wanted or batch is None) and abs(ml) > 1e-9:
                    bottles.enter(
                        connection,
                        bottle=bottle,
                        at=at,
                        kind="poured",
                        ml=-ml,
                        note=say("at the bench, {name}", name=now.name),
                        cup_batch=batch,
                    )
            if event.kind == "next" and here.key not in standing.state.done:
                # For the order's schedule.
                if not (standing.order is None or not here.block):
                    schedule = schedules.read(orders.order(connection, standing.order).schedule)
                    count = (
                        []
                        if schedule is None
                        else [block for block in schedule.visits if block.block == here.block and block.what != "clean"]
                    )
                    done = [
                        DoneStep(line, name, bait, at)
                        for one in count
                        for line, name, bait in one.steps
                        if here.kind == "make" or here.first <= bait < here.last
                    ]
                    orders.put_done(connection, standing.order, done)
                if here.eyes:
                    finish.take_eyes(connection, here.eyes, max(here.last - here.first, 1))
        sessions.append(connection, standing, event, state, at=at)
        return replace(now, seq=standing.seq + 1)


def _jar(connection: sqlite3.Connection, standing: Session, made: BenchStep, ml: float, *, at: str) -> int:
    """A bottle with so many ml of a cup as it was poured. Raises InvalidInput for what is no recipe's."""
    note = say("Left at the bench, {name}.", name=standing.name)
    saved = as_poured(connection, standing, made, note=note, at=at)
    if saved is None:
        raise InvalidInput(say("Only what was mixed by a recipe can go into a jar."), field="what")
    return charging.keep_in_jar(connection, saved.recipe, saved.version, ml, at=at, poured=True)


def standing_at(session: Session, position: int) -> Session:
    """The same session where it comes to a step, with nothing else changed."""
    return replace(session, state=replace(session.state, position=position))


def going_on(connection: sqlite3.Connection) -> list[Session]:
    """The sessions under way, the latest first."""
    return sessions.under_way(connection, MOST_SEEN)


def with_a_bait(connection: sqlite3.Connection) -> frozenset[int]:
    """Of the sessions under way those that have a bait to be seen."""
    own = sessions.under_way(connection, MOST_SEEN)
    return frozenset(one.number for one in own if any(step.plan for step in one.script.steps))


def end(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """It is over, whatever is left of it; or goes on after all, where `at` is "". Raises NotFound."""
    with writing(connection):
        sessions.session(connection, number)
        sessions.end(connection, number, at=at)


def poured(session: Session, step: BenchStep) -> dict[int, float]:
    """ml of each bottle that a step took; nothing before it is done."""
    if step.key not in session.state.done:
        return {}
    stands, found = as_painted.stood_in(session, step), dict[int, float]()
    given_up = session.state.aside.get(step.key, {})
    for pour in step.pours:
        bottle = stands.get(pour.bottle, pour.bottle)
        ml = (session.state.fallen(step.key, pour.bottle) + given_up.get(pour.bottle, 0)) * pour.drop_ml
        found[bottle] = found.get(bottle, 0.0) + ml
    return found


def _step(session: Session, key: str) -> BenchStep | None:
    """Also one that comes again, or was done before this session."""
    every = (*session.script.before, *session.state.run(session.script))
    return next((step for step in every if step.key == key), None)


def left_over(session: Session) -> BenchStep | None:
    """The step that made what is in the cup now; None where nothing was mixed."""
    run = session.state.run(session.script)
    used = [step.mix for step in run[: session.state.position + 1] if step.mix and step.kind != "make"]
    return next((one for one in reversed(run) if used and one.kind == "make" and one.mix == used[-1]), None)


def seconds(at: str) -> float:
    """A moment as a session counts it."""
    found = clock.moment(at)
    return 0.0 if found is None else found.timestamp()
