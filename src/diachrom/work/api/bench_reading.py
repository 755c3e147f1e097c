"""A bench read by scripts: each list by its words, in parts."""

import sqlite3
from collections.abc import Iterable, Sequence

from diachrom import clock
from diachrom.store import bottles, log, plans, recipes, sessions
from diachrom.store.bottles import Bottle, StockEntry
from diachrom.store.log import Entry
from diachrom.store.recipes import Version
from diachrom.store.sessions import Session
from diachrom.work.api.bench_documents import (
    Asked,
    BottleAnswer,
    BottleDocument,
    BottlesAnswer,
    EventDocument,
    FaultDocument,
    LedgerLine,
    LogAnswer,
    LogEntry,
    OrderDocument,
    OrderLineDocument,
    OrdersAnswer,
    PlanDocument,
    PlansAnswer,
    PlanSummary,
    PourDocument,
    RecipeAnswer,
    RecipeDocument,
    RecipePart,
    RecipesAnswer,
    SessionAnswer,
    SessionsAnswer,
    SessionSummary,
    StepDocument,
    TimerDocument,
)
from diachrom.work.orders import orders as ordering
from diachrom.work.plan import bringing
from diachrom.work.plan import plans as planning
from diachrom.work.shelf.shelf_index import WantedBottles, find

STATES = ("open", "done", "away")


def _has(query: str, *texts: object) -> bool:
    told = " ".join(map(str, texts)).casefold()
    return all(word in told for word in query.casefold().split())


def bottles_of(connection: sqlite3.Connection, asked: Asked) -> BottlesAnswer:
    """Bottles on the shelf, found as on its page."""
    rows = find(connection, WantedBottles(asked.q)).rows if asked.q.strip() else None
    every = bottles.every(connection) if rows is None else [row.bottle for row in rows]
    own = {bottle.id: bottle for bottle in every}
    numbers, after = asked.part(list(own))
    return BottlesAnswer(bottles=[_bottle(own[number]) for number in numbers], after=after)


def bottle_of(connection: sqlite3.Connection, number: int, asked: Asked) -> BottleAnswer:
    """A bottle with its ledger. Raises BottleNotFound."""
    bottle = bottles.one(connection, number)
    lines = {line.id: line for line in bottles.ledger(connection, number)}
    numbers, after = asked.part([line.id for line in lines.values() if _has(asked.q, line.kind, line.note, line.at)])
    ledger = [ledger_line(lines[one]) for one in numbers]
    return BottleAnswer(**dict(_bottle(bottle)), ledger=ledger, after=after)


def _bottle(one: Bottle) -> BottleDocument:
    return BottleDocument.model_construct(
        number=one.id,
        paint=one.paint_id,
        name=one.full_name,
        kind=one.kind,
        left_ml=round(one.left_ml, 4),
        size_ml=one.size_ml,
        drop_ml=one.drop_ml,
        state=one.state,
        place=one.place,
        batch=one.batch,
        note=one.note,
        bought_on=one.bought_on,
        opened_on=one.opened_on,
        shaken_on=one.shaken_on,
        recipe=one.recipe,
    )


def ledger_line(line: StockEntry) -> LedgerLine:
    """A line of a bottle's ledger."""
    return LedgerLine(number=line.id, at=line.at, kind=line.kind, ml=round(line.ml, 4), note=line.note)


def recipes_of(connection: sqlite3.Connection, asked: Asked) -> RecipesAnswer:
    """The newest version of each recipe, found as on their page."""
    numbers, after = asked.part(recipes.found(connection, asked.q))
    known = recipes.several(connection, [(number, None) for number in numbers])
    saved = [known[number, None] for number in numbers]
    return RecipesAnswer(recipes=_recipes(connection, saved), after=after)


def recipe_of(connection: sqlite3.Connection, number: int, asked: Asked) -> RecipeAnswer:
    """A recipe as it is now, with its versions. Raises RecipeNotFound."""
    newest = recipes.version(connection, number)
    every = {one.version: one for one in recipes.versions(connection, number)}
    wanted, after = asked.part([key for key, one in every.items() if _has(asked.q, one.draft.name, one.draft.note)])
    own, *versions = _recipes(connection, [newest, *(every[one] for one in wanted)])
    put_away = recipes.is_retired(connection, number)
    return RecipeAnswer(**dict(own), put_away=put_away, versions=versions, after=after)


def _recipes(connection: sqlite3.Connection, saved: Sequence[Version]) -> list[RecipeDocument]:
    wanted = bottles.there(connection, [part.bottle for one in saved for part in one.draft.parts])
    paints = {number: bottle.paint_id for number, bottle in bottles.by_id(connection, wanted).items()}
    return [
        RecipeDocument(
            number=one.recipe,
            version=one.version,
            at=one.at,
            name=one.draft.name,
            note=one.draft.note,
            parts=[
                RecipePart(
                    bottle=part.bottle, paint=paints.get(part.bottle, ""), drops=part.drops, drop_ml=part.drop_ml
                )
                for part in one.draft.parts
            ],
            ground=one.draft.ground,
            film_um=one.draft.film_um,
            coats=one.draft.coats,
            clear_coat=one.draft.clear_coat,
            sealed=one.draft.sealed,
            satin=one.draft.satin,
            problem=one.problem,
        )
        for one in saved
    ]


def plans_of(connection: sqlite3.Connection, asked: Asked) -> PlansAnswer:
    """Plans, found as on their page."""
    own = {one.now.number: one for one in bringing.listed(connection, asked.q)}
    numbers, after = asked.part(list(own))
    rows = [
        PlanSummary(
            number=number,
            name=own[number].now.plan.name,
            note=own[number].now.plan.note,
            blank=planning.blank_words(own[number].now.plan.blank),
            layers=len(own[number].now.plan.layers),
            baits=own[number].now.plan.baits,
            version=own[number].version,
            at=own[number].at,
        )
        for number in numbers
    ]
    return PlansAnswer(plans=rows, after=after)


def plan_of(connection: sqlite3.Connection, number: int) -> PlanDocument:
    """A plan's document as it stands. Raises NotFound."""
    told = planning.document(connection, planning.now(connection, number).plan)
    saved = plans.versions(connection, number)
    return PlanDocument(**told, number=number, saved_version=saved[0].version if saved else None)


def orders_of(connection: sqlite3.Connection, asked: Asked) -> OrdersAnswer:
    """Orders of every state, by name, customer and wish."""
    every = {one.order.number: one for state in STATES for one in ordering.listed(connection, state)}
    found = [key for key, one in every.items() if _has(asked.q, one.order.name, one.order.customer, one.order.wish)]
    numbers, after = asked.part(found)
    return OrdersAnswer(orders=[_order(every[number]) for number in numbers], after=after)


def _order(one: ordering.Listed) -> OrderDocument:
    order = one.order
    lines = [
        OrderLineDocument(line=line.id, plan=line.plan, version=line.version, ordered=line.ordered, baits=line.baits)
        for line in one.lines
    ]
    return OrderDocument(
        number=order.number,
        name=order.name,
        customer=order.customer,
        wish=order.wish,
        price=order.price,
        due=order.due,
        state=order.state,
        at=order.at,
        lines=lines,
        baits=sum(line.ordered for line in one.lines),
        baits_done=one.baits_done,
        steps_done=one.steps_done,
    )


def sessions_of(connection: sqlite3.Connection, asked: Asked) -> SessionsAnswer:
    """Sessions by their names."""
    own = {one.number: one for one in sessions.every(connection) if _has(asked.q, one.name)}
    numbers, after = asked.part(list(own))
    rows = [
        SessionSummary(number=one.number, order=one.order, name=one.name, at=one.at, ended=one.ended)
        for one in (own[number] for number in numbers)
    ]
    return SessionsAnswer(sessions=rows, after=after)


def session_of(connection: sqlite3.Connection, number: int, asked: Asked) -> SessionAnswer:
    """A session as it stands, with what happened in it. Raises NotFound."""
    standing = sessions.session(connection, number)
    state, now = standing.state, standing.state.now(clock.monotonic_epoch())
    run = state.run(standing.script)
    happened = sessions.numbered_events(connection, number)
    numbers, after = asked.part([key for key, one in happened.items() if _has(asked.q, one.kind, one.what, one.note)])
    return SessionAnswer(
        number=number,
        order=standing.order,
        name=standing.name,
        at=standing.at,
        ended=standing.ended,
        position=state.position,
        steps=len(run),
        step=_step(connection, standing),
        timers=[
            TimerDocument(
                step=timer.key,
                words=str(timer.words),
                left_s=round(timer.ends - now, 1),
                closes_s=None if timer.closes is None else round(timer.closes - now, 1),
            )
            for timer in state.timers
        ],
        events=[
            EventDocument(
                number=one,
                at=clock.iso(happened[one].at),
                **{key: getattr(happened[one], key) for key in ("kind", "step", "what", "value", "note")},
                bottle=happened[one].bottle,
                bait=happened[one].bait,
                by=happened[one].by,
            )
            for one in numbers
        ],
        after=after,
    )


def _step(connection: sqlite3.Connection, standing: Session) -> StepDocument | None:
    step = standing.state.here(standing.script)
    if step is None:
        return None
    there = bottles.there(connection, [pour.bottle for pour in step.pours])
    names = {number: bottle.full_name for number, bottle in bottles.by_id(connection, there).items()}
    return StepDocument(
        key=step.key,
        kind=step.kind,
        words=str(step.words),
        pours=[
            PourDocument(
                bottle=pour.bottle,
                name=names.get(pour.bottle, ""),
                drops=pour.drops,
                fallen=standing.state.fallen(step.key, pour.bottle),
            )
            for pour in step.pours
        ],
        cautions=[caution for caution in step.cautions if caution not in standing.state.agreed],
        plan=step.plan,
        layer=step.layer,
        first_bait=step.first,
        last_bait=step.last,
    )


def log_of(connection: sqlite3.Connection, asked: Asked) -> LogAnswer:
    """Entries of the log, found as on its page."""
    numbers, after = asked.part(log.numbers_found(connection, asked.q.lower().split()))
    return LogAnswer(log=log_entries(connection, numbers), after=after)


def log_entries(connection: sqlite3.Connection, numbers: Iterable[int]) -> list[LogEntry]:
    """These entries, in this order. Raises NotFound."""
    wanted = list(numbers)
    known: dict[int, Entry] = {entry.number: entry for entry in log.several(connection, wanted)}
    faults = log.faults(connection, wanted)
    return [
        LogEntry(
            **{key: getattr(known[number], key) for key in LogEntry.model_fields if key != "faults"},
            faults=[FaultDocument(at=fault.at, fault=fault.fault, note=fault.note) for fault in faults.get(number, ())],
        )
        for number in wanted
    ]
