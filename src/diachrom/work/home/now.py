"""What there is to do now: what is under way and at which drop, what dries, what is due, what runs low."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

from diachrom import clock
from diachrom.core.finish.schools import SCHOOLS, Cured
from diachrom.core.session.script import POT
from diachrom.store import bottles, log, orders, sessions, spray_out_cards
from diachrom.store.sessions import Session
from diachrom.words import say
from diachrom.work.finish import air, stock
from diachrom.work.finish.stock import TinNow
from diachrom.work.kit import schedules
from diachrom.work.orders.work_evenings import words_of
from diachrom.work.shelf import shopping
from diachrom.work.shelf.shelf_index import index

MOST, LATELY = 8, 12  # of a kind; entries of the log


@dataclass(frozen=True)
class UnderWay:
    """A session that goes on with one press."""

    number: int
    name: str
    words: str  # "step 3 of 18: Mix Butterfish, spots"
    drop: str  # "2 of 4 drops of Glo Oransje are in", "" where none is due
    seq: int
    painted: bool  # a bait is painted in it


@dataclass(frozen=True)
class Waiting:
    """Something that dries, or a window that is open; of a session."""

    session: int
    words: str
    ends: float
    closes: float | None


@dataclass(frozen=True)
class Due:
    order: int
    name: str
    words: str
    at: datetime


@dataclass(frozen=True)
class Curing:
    """Baits that were cleared, and may not be fished yet."""

    entry: int
    name: str
    handle: float  # moments, s
    fish: float


@dataclass(frozen=True)
class Now:
    empty: bool  # nothing stands on the shelf
    now: float
    under_way: Sequence[UnderWay]
    waiting: Sequence[Waiting]  # what is dry or closes soonest first
    curing: Sequence[Curing]
    due: Sequence[Due]  # today
    to_shake: Sequence[bottles.Bottle]
    to_buy: int
    cards: Sequence[int]  # that wait to be read
    tins: Sequence[TinNow]  # past their day, or within a month


def now(connection: sqlite3.Connection, *, at: str) -> Now:
    """What is under way, dries, cures, is due."""
    standing = sessions.under_way(connection, MOST)
    time = clock.monotonic_epoch()
    waiting = [
        Waiting(one.number, say("pot life") if timer.of == POT else timer.words, timer.ends, timer.closes)
        for one in standing
        for timer in one.state.timers
    ]
    shelf = index(connection).rows
    # When something is to be done about it.
    # Steps of orders that are planned for today, and not done; orders whose day it is.
    moment = clock.moment(at) or datetime.now(UTC)
    dues = []
    own = [one for one in orders.every(connection) if one.state == "open"]
    done = orders.done(connection, [one.number for one in own])
    for order in own:
        schedule = schedules.read(order.schedule)
        did = {(each.line, each.step, each.bait) for each in done[order.number]}
        for visit in () if schedule is None else schedule.visits:
            start = schedule.at(visit.start) if schedule is not None else moment
            is_done = visit.what == "clean" or all(each in did for each in visit.steps)
            if schedule is not None and not is_done and start.astimezone().date() == moment.date():
                dues.append(Due(order.number, order.name, words_of(schedule, visit), start))
        due = clock.moment(order.due) if order.due else None
        if due is not None and due.date() == moment.date():
            dues.append(Due(order.number, order.name, say("due"), due))
    # When something is to be done about it.
    return Now(
        empty=not shelf,
        now=time,
        under_way=[_under_way(one) for one in standing],
        waiting=sorted(waiting, key=lambda one: one.ends if one.ends > time else one.closes or one.ends)[:MOST],
        curing=_curing(connection, time),
        due=sorted(dues, key=lambda each: each.at)[:MOST],
        to_shake=[one.bottle for one in shelf if one.bottle.state == "settled"][:MOST],
        to_buy=len(shopping.shopping_list(connection, at=at).rows),
        cards=spray_out_cards.unread(connection, MOST),
        tins=[tin for tin in stock.tins(connection, at=at) if tin.days_left is not None and tin.days_left < 31][:MOST],
    )


def _under_way(session: Session) -> UnderWay:
    run, here = session.state.run(session.script), session.state.here(session.script)
    painted = any(one.plan for one in run)
    if here is None:
        words, drop = say("every step is done: end the session"), ""
        return UnderWay(session.number, session.name, words, drop, seq=session.seq, painted=painted)
    words = say(
        "step {position} of {count}: {words}", position=session.state.position + 1, count=len(run), words=here.words
    )
    due = next((pour for pour in here.pours if session.state.fallen(here.key, pour.bottle) < pour.drops), None)
    if due is None:
        drop = ""
    else:
        drop = say(
            "{key} of {drops} drops of {name} are in",
            key=session.state.fallen(here.key, due.bottle),
            drops=due.drops,
            name=due.name,
        )
    return UnderWay(session.number, session.name, words, drop, seq=session.seq, painted=painted)


def _curing(connection: sqlite3.Connection, time: float) -> list[Curing]:
    """By the last clear coat of what was finished lately, in the air that was told last."""
    curings = []
    known: dict[str, Cured] = {}
    for entry in log.latest(connection, LATELY):
        told = (entry.told or {}).get("cleared")
        if (
            not isinstance(told, list)
            or len(told) != 2
            or told[0] not in SCHOOLS
            or not isinstance(told[1], (int, float))
        ):
            continue
        if told[0] not in known:
            known[told[0]] = air.meant(connection, told[0], air.now(connection)).cured
        cured = known[told[0]]
        if told[1] + 60 * cured.fish > time:
            curings.append(Curing(entry.number, entry.name, told[1] + 60 * cured.handle, told[1] + 60 * cured.fish))
    return curings[:MOST]
