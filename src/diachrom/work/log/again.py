"""The same again: what has changed since an entry, what each change does to the bait, and what mends it."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.draft import LONGEST_NAME
from diachrom.core.mix.hand import Hand
from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.search import solve
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import bottles, hand_factor, log, paints, plans
from diachrom.store.connection import writing
from diachrom.store.log import Entry
from diachrom.words import listed, quantity, say
from diachrom.work.log.came_out import CameOut, came_out, keep
from diachrom.work.mix import overspray_history
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.laying import laid_plan
from diachrom.work.orders.stand_ins import instead
from diachrom.work.orders.todo import to_do
from diachrom.work.plan import plans as planning
from diachrom.work.plan.job import job
from diachrom.work.plan.painting import Instead, LaidLayer, laid, painted_bait
from diachrom.work.profiles import substitutes

DROP_CHANGED = 0.03  # of its volume, where it is worth a word


@dataclass(frozen=True)
class Changed:
    """Something that is not as it was, and how far the finished bait is off by it (dE, at its 95 percent)."""

    words: str
    delta_e: float
    mend: str = ""


@dataclass(frozen=True)
class Again:
    entry: Entry
    plan: Plan  # of which size was asked for
    baits: int
    changed: Sequence[Changed]  # the worst first
    came: CameOut | None  # as it came out, where that is not as it was planned
    as_done: bool  # it is repeated so


def again(
    connection: sqlite3.Connection, number: int, *, baits: int, length_mm: float | None, as_done: bool | None = None
) -> Again:
    """So many baits like an entry's, of this size, by what stands on the shelf today: as it came out or as it was
    planned; without a word as it came out, where the eye tells them apart. Raises InvalidInput, NotFound."""
    entry = log.entry(connection, number)
    if entry.plan is None or entry.version is None:
        raise InvalidInput(say("This entry has no plan: make one, and it can be painted again."), field="plan")
    if not 1 <= baits <= 500:
        raise InvalidInput(say("1 to 500 baits, not {baits}.", baits=baits), field="baits")
    plan = plans.version(connection, entry.plan, entry.version).document
    came = came_out(connection, entry)
    done = came is not None and (came.differs if as_done is None else as_done)
    poured: Instead = {}
    if came is not None and done:
        plan, poured = came.plan, came.instead
    if length_mm is not None:
        plan = plan.on_blank(replace(plan.blank, length_mm=length_mm), scaled=True)
    layers = laid(connection, plan.layers)
    now = _seen(connection, plan, poured)
    then, today = hand_factor.at(connection, entry.at), hand_factor.now(connection)
    if abs(then / today - 1) < DROP_CHANGED:
        hand = []
    else:
        hand_layers = tuple(replace(layer, film_um=Hand(then / today).film_um(layer.film_um)) for layer in plan.layers)
        off = _off(now, _seen(connection, replace(plan, layers=hand_layers), poured))
        words = say(
            "Your hand was learned: {today} times as thick as planned, {then} then",
            today=quantity(today, ".2f"),
            then=quantity(then, ".2f"),
        )
        hand = [Changed(words, off, say("Coats already allow for it."))]
    changed = [
        *_profiles(connection, entry, plan, layers, now),
        *hand,
        *_drops(connection, plan, layers, now),
        *_shelf(connection, entry, plan, baits, now),
    ]
    worst = sorted(changed, key=lambda one: -one.delta_e)
    return Again(entry, plan, baits, worst, came=came, as_done=done)


def _seen(connection: sqlite3.Connection, plan: Plan, instead_: Instead | None = None) -> Floats:
    return labs_of(painted_bait(connection, plan, cells=ROUGH, instead=instead_ or {})[0])


def _off(now: Floats, other: Floats) -> float:
    return float(np.quantile(delta_e(now, other).max(axis=0), 0.95))


def _profiles(
    connection: sqlite3.Connection, entry: Entry, plan: Plan, layers: Sequence[LaidLayer], now: Floats
) -> list[Changed]:
    """Paints that are known otherwise by now."""
    found = []
    # Paints of all layers, with their names.
    used = {}
    for layer in layers:
        if layer.record is not None:
            used[layer.record.id] = layer.record.full_name
        if layer.held is not None:
            for part in layer.held.draft.parts:
                bottle = layer.held.shelf[part.bottle].bottle
                used[bottle.paint_id] = bottle.full_name
    for key, versions in paints.versions_of(connection, used).items():
        then = next((version for version in versions if version.at <= entry.at), versions[-1])
        if then.version != versions[0].version:
            off = _off(now, _seen(connection, plan, {key: [(then.paint, 1.0)]}))
            words = say(
                "{used} was measured again since: {what}",
                used=used[key],
                what=versions[0].source or say("a new profile"),
            )
            found.append(Changed(words, off, say("Match the recipe again to what it was.")))
    return found


def _drops(connection: sqlite3.Connection, plan: Plan, layers: Sequence[LaidLayer], now: Floats) -> list[Changed]:
    """Droppers that give another drop than when the recipe was saved."""
    found: dict[str, Changed] = {}
    for layer in layers:
        if layer.held is None or layer.saved is None:
            continue
        parts = []
        told = []
        for part in layer.held.draft.parts:
            bottle = layer.held.shelf[part.bottle]
            drop = bottle.bottle.drop_ml
            parts.append((bottle.paint, part.drops * drop))
            if abs(drop / part.drop_ml - 1) > DROP_CHANGED:
                told.append(
                    say(
                        "{full_name} drips {drop} µl, {drop_ml} then",
                        full_name=bottle.bottle.full_name,
                        drop=quantity(1000 * drop, ".0f"),
                        drop_ml=quantity(1000 * part.drop_ml, ".0f"),
                    )
                )
        whole = sum(ml for _, ml in parts)
        if told and whole > 0:
            shares = [(paint, ml / whole) for paint, ml in parts]
            off = _off(now, _seen(connection, plan, {layer.layer.source: shares}))
            words = say(
                "{name}, poured by the same drops: {told}", name=layer.saved.draft.name, told=listed(told, "; ")
            )
            found[layer.layer.source] = Changed(words, off, say("Pour its amounts by ml, or scale its drops."))
    return list(found.values())


def _shelf(connection: sqlite3.Connection, entry: Entry, plan: Plan, baits: int, now: Floats) -> list[Changed]:
    """Bottles that do not last, are gone, or are others than then."""
    found = []
    wanted = job([laid_plan(connection, plan, baits).look], overspray_history.learned(connection))
    stands = {one.paint_id: one for one in bottles.every(connection)}
    for one in wanted.bottles:
        short = one.left_ml < one.needs_ml
        if short or one.discontinued:
            what = (
                say("is not made any more")
                if one.discontinued and not short
                else say("lacks {left}", left=quantity(one.needs_ml - one.left_ml, ".1f", "ml"))
            )
            mend, off = (
                _stand_in(connection, plan, one.paint, now) if short else (say("There is enough of it still."), 0.0)
            )
            found.append(Changed(f"{one.name} {what}", off, mend))
        bottle = stands.get(one.paint)
        if bottle is not None and bottle.opened_on and bottle.opened_on > entry.at[:10]:
            batch = ", " + say("batch {batch}", batch=bottle.batch) if bottle.batch else ""
            found.append(
                Changed(
                    say("{name} is of another bottle{batch}, opened since", name=one.name, batch=batch),
                    0.0,
                    say("Try it on a spray-out card."),
                )
            )
    return found


def _stand_in(connection: sqlite3.Connection, plan: Plan, paint: str, now: Floats) -> tuple[str, float]:
    try:
        offered = substitutes.substitutes_for(connection, paint)
        best = min([*offered.singles, *offered.mixes], key=lambda substitute: substitute.found.delta_e)
        off = _off(now, _seen(connection, plan, instead(connection, paint, best.key)))
    except (DiachromError, ValueError):
        return say("Nothing on the shelf comes close: put it on the shopping list."), 0.0
    names = listed((row.bottle.full_name for row, _ in best.parts), " and ")
    return say("{names} stands in for it.", names=names), off


def order(
    connection: sqlite3.Connection,
    number: int,
    *,
    baits: int,
    length_mm: float | None,
    as_done: bool | None = None,
    at: str,
) -> int:
    """An order for so many of them; another size, or what came out otherwise than planned, becomes a plan of its own.
    Raises InvalidInput, NotFound."""
    wanted = again(connection, number, baits=baits, length_mm=length_mm, as_done=as_done)
    entry = wanted.entry
    with writing(connection):
        plan, size = entry.plan, wanted.plan.blank.length_mm
        if wanted.came is not None and wanted.as_done:
            did = say("again, of entry {number}", number=entry.number)
            own = keep(connection, replace(wanted.came, plan=wanted.plan), entry, at=at)
            plan = plans.new(connection, own, did=did, at=at)
            planning.save(connection, plan, at=at)
        elif size != plans.version(connection, entry.plan or 0, entry.version or 0).document.blank.length_mm:
            name = say("{name}, {size}", name=wanted.plan.name, size=quantity(size, "g", "mm"))[:LONGEST_NAME]
            plan = plans.new(
                connection,
                replace(wanted.plan, name=name),
                did=say("again, of entry {number}", number=entry.number),
                at=at,
            )
            planning.save(connection, plan, at=at)
        told = {"name": entry.name, "customer": entry.customer}
        made = orders.new_with(connection, told, plan=plan, baits=wanted.baits, at=at)
    try:  # a first schedule stands at once: the order's page looks for a better one
        todo = to_do(connection, made, at=at)
        scheduling.keep(connection, todo, solve(todo.work, lambda found: False))
    except (DiachromError, DoesNotFit):
        pass
    return made
