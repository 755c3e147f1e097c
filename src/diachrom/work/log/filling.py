"""An entry out of its session: what was planned beside what was done, never typed twice."""

import sqlite3
from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np

from diachrom import clock
from diachrom.core.bait.checks.look import FACING, labs_of
from diachrom.core.bait.plan import CLEARS, WHATS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.names import name
from diachrom.core.session.events import Event
from diachrom.core.session.events import told as words_of
from diachrom.core.session.script import BenchStep
from diachrom.errors import DiachromError
from diachrom.store import bottles, log, orders, paints, sessions
from diachrom.store.connection import writing
from diachrom.store.sessions import Session
from diachrom.words import quantity, say, say_count
from diachrom.work.bench import as_painted
from diachrom.work.bench import sessions as bench
from diachrom.work.log import entries
from diachrom.work.mix import overspray_history
from diachrom.work.orders import in_hand
from diachrom.work.orders.laying import laid_plan
from diachrom.work.plan.job import job
from diachrom.work.plan.painting import laid, painted_bait, recipe_numbers

SET = (
    ("coats", say("coats"), ""),
    ("pressure_bar", say("pressure"), "bar"),
    ("nozzle_mm", say("nozzle"), "mm"),
    ("distance_mm", say("distance"), "mm"),
    ("film_um", say("a coat"), "µm"),
)
NAMED = ("back", "flank", "belly", "head", "tail")  # regions whose colour an entry is found by
INSIDE = 0.5  # of a cell


def end(connection: sqlite3.Connection, number: int, *, at: str) -> list[int]:
    """A session is over, and stands in the log: an entry for each of its plans. Ended again it is filled anew. Raises
    NotFound."""
    with writing(connection):
        session = sessions.session(connection, number)
        bench.end(connection, number, at=at)
        made = [log.add(connection, one) for one in _entries(connection, session, at)]
        for one in made:
            entries.keep_words(connection, one)
    if session.order is not None and session.state.done:
        in_hand.goes_on(connection, session.order, at=at)
    return made


def as_planned(connection: sqlite3.Connection, plan: Plan) -> dict[str, Any]:
    """What an entry of a plan's bait tells where all was as planned: name, clear, and layers, paint, colours of one."""
    wanted = job([laid_plan(connection, plan, 1).look], overspray_history.learned(connection))
    paint = [
        [part.bottle, part.name, round(part.ml, 4), None]
        for cup in wanted.poured
        for part in cup.parts
        if part.bottle and part.ml > 0
    ]
    told = {
        "layers": _layers(connection, plan, plan),
        "paint": _priced(connection, paint),
        "recipes": _recipes(plan),
        "colours": colours(connection, as_painted.Bait(plan, plan, {})),
    }
    return {"name": plan.name[:80], "clear": _clear(plan), "told": told}


def _recipes(plan: Plan) -> list[tuple[int, int | None]]:
    return list(dict.fromkeys(filter(None, (recipe_numbers(layer.source) for layer in plan.layers))))


def _entries(connection: sqlite3.Connection, session: Session, at: str) -> list[Mapping[str, Any]]:
    run = [*session.script.before, *session.state.run(session.script)]
    done = [step for step in run if step.key in session.state.done and step.plan]
    batches = dict.fromkeys((one.line, one.plan, one.version) for one in done if one.layer is not None)
    order = None if session.order is None else orders.order(connection, session.order)
    found: list[Mapping[str, Any]] = []
    for line, plan, version in batches:
        steps = [one for one in run if (one.line, one.plan, one.version) == (line, plan, version)]
        try:
            bait = as_painted.bait_of(connection, session, steps[-1])
        except DiachromError:
            continue
        share = sum((one.line, one.plan) == (line, plan) for one in done) / len(done)
        found.append(
            {
                "at": at,
                "session": session.number,
                "line": line,
                "plan": plan,
                "version": version,
                "name": (bait.planned.name or say("Plan {plan}", plan=plan))[:80],
                "baits": min(max(max(one.last for one in steps), 1), 500),
                "customer": "" if order is None else order.customer,
                "wish": "" if order is None else order.wish,
                "price": None if order is None else order.price,
                "clear": _clear(bait.done),
                "minutes": session.state.worked_s / 60 * share,
                "told": _told(connection, session, bait, steps),
            }
        )
    return found


def _clear(plan: Plan) -> str:
    layers = [layer for layer in plan.layers if layer.what == "clear" and layer.on]
    if not layers:
        return ""
    coats = sum(one.coats for one in layers)
    return say_count(
        coats, "{what}, {count} coat", "{what}, {count} coats", what=CLEARS.get(layers[-1].source or "two-part", "")
    )


def _told(
    connection: sqlite3.Connection, session: Session, bait: as_painted.Bait, own: Sequence[BenchStep]
) -> dict[str, Any]:
    mixes = {one.mix for one in own if one.mix}
    run = session.state.run(session.script)
    made = [one for one in run if one.kind == "make" and one.mix in mixes and one.key in session.state.done]
    keys = {one.key for one in (*own, *made)}
    events = [event for event in session.state.all_told() if event.step in keys and event.kind != "photo"]
    # [row of the drying table, moment in seconds] of the last clear coat; empty without one.
    moments = session.state.moments
    coats = [one for one in own if one.kind == "clear" and one.key in moments]
    times = [*([] if session.state.began is None else [session.state.began]), *moments.values()]
    # [bottle, its name, ml, cost] of all that was poured.
    found: dict[int, float] = {}
    for step in made:
        for bottle, ml in bench.poured(session, step).items():
            found[bottle] = found.get(bottle, 0.0) + ml
    paint = _priced(connection, [[bottle, "", round(ml, 4), None] for bottle, ml in found.items()])
    # [bottle, ml] that the session asked for when it began.
    planned: dict[int, float] = {}
    for step in session.script.steps:
        for pour in step.pours if step.mix in mixes else ():
            planned[pour.bottle] = planned.get(pour.bottle, 0.0) + pour.drops * pour.drop_ml
    # [what dried, minutes that were planned, and until more was laid on it].
    moments = session.state.moments
    done = sorted((one for one in own if one.key in moments), key=lambda one: moments[one.key])
    waits = []
    for index, one in enumerate(done):
        after = next((other for other in done[index + 1 :] if other.layer is not None and other.holds(one.first)), None)
        if one.dries_s and after is not None and one.timer == "dries":
            waited = (moments[after.key] - moments[one.key]) / 60
            waits.append([one.words, round(one.dries_s / 60, 1), round(waited, 1)])
    return {
        "layers": _layers(connection, bait.planned, bait.done),
        "mixes": [_mix(session, one) for one in made],
        "paint": paint,
        "planned": [[bottle, round(ml, 4)] for bottle, ml in planned.items()],
        "recipes": _recipes(bait.planned),
        "waits": waits,
        "cleared": [coats[-1].paint, moments[coats[-1].key]] if coats else [],
        "hours": [clock.iso(min(times)), clock.iso(max(times))] if times else [],
        "told": [_with_step(own, made, one) for one in events],
        "facts": {key: value for step in own for key, value in session.state.facts.get(step.key, {}).items()},
        "colours": colours(connection, bait),
    }


def _with_step(own: Sequence[BenchStep], made: Sequence[BenchStep], event: Event) -> str:
    """ "Autumn char, back, netting, left side. Other coats: 3" """
    step = next((one for one in (*own, *made) if one.key == event.step), None)
    return words_of(event) if step is None else say("{step}. {told}", step=step.words, told=words_of(event))


def _layers(connection: sqlite3.Connection, planned: Plan, done: Plan) -> list[dict[str, Any]]:
    names = {one.layer.number: one.layer.name or one.words for one in laid(connection, planned.layers)}
    return [_layer(layer, names[layer.number], done.layer(layer.number)) for layer in planned.layers]


def _layer(planned: Layer, called: str, done: Layer) -> dict[str, Any]:
    rows = []
    for key, words, unit in SET:
        meant, was = getattr(planned, key), getattr(done, key)
        if key == "coats" and not done.on:
            was = 0
        if WHATS[planned.what].paint or key == "coats":
            rows.append([words, quantity(meant, "g", unit), quantity(was, "g", unit)])
    return {"name": called, "where": REGIONS[planned.region].words, "rows": rows}


def _mix(session: Session, step: BenchStep) -> dict[str, Any]:
    fell = [[pour.name, pour.drops, session.state.fallen(step.key, pour.bottle)] for pour in step.pours]
    return {"name": step.words.partition(" ")[2], "drops": fell}


def _priced(connection: sqlite3.Connection, rows: Sequence[Sequence[Any]]) -> list[list[Any]]:
    """The same with the names of the bottles, and what so much of each costs."""
    known = bottles.by_id(connection, [row[0] for row in rows])
    prices = {paint.id: paint.price for paint in paints.every_record(connection)}
    found = []
    for bottle, _, ml, _ in rows:
        price = prices.get(known[bottle].paint_id)
        cost = None if price is None else round(price / known[bottle].size_ml * ml, 3)
        found.append([bottle, known[bottle].full_name, ml, cost])
    return found


def colours(connection: sqlite3.Connection, bait: as_painted.Bait) -> dict[str, str]:
    """What the finished bait's regions would be called."""
    try:
        picture, skin = painted_bait(connection, bait.done, cells=ROUGH, instead=bait.instead)
    except DiachromError:
        return {}
    seen, at, marks = labs_of(picture)[FACING], skin.surface.places, skin.landmarks
    found = {}
    for key in NAMED:
        region = REGIONS[key]
        inside = region.share(at, region.box(marks), marks, 0.0) > INSIDE
        if inside.any():
            found[region.words] = name(np.median(seen[inside], axis=0))
    return found
