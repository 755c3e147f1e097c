"""Blocks of the schedule that are dragged, and what becomes late by it."""

import sqlite3
from datetime import timedelta

from diachrom import clock
from diachrom.core.schedule.bound import least_end
from diachrom.core.schedule.search import Found, solve
from diachrom.core.schedule.timing import timed
from diachrom.core.schedule.work import Block, Work
from diachrom.errors import InvalidInput
from diachrom.store import orders
from diachrom.store.connection import writing
from diachrom.words import capitalized, listed, say, say_count
from diachrom.work.kit import schedules
from diachrom.work.kit.schedules import Schedule
from diachrom.work.orders.found import schedule_of
from diachrom.work.orders.scheduling import keep
from diachrom.work.orders.todo import ToDo, to_do


def drag(connection: sqlite3.Connection, number: int, block: str, not_before: str, *, at: str) -> str:
    """Let a block begin no earlier; the others keep their order. Says what becomes late. Raises InvalidInput,
    NotFound."""
    order = orders.order(connection, number)
    before = schedules.read(order.schedule)
    if before is None or block not in {visit.block for visit in before.visits}:
        raise InvalidInput(say("That step is no longer on the schedule: look at it again."), field="block")
    wanted = to_do(connection, number, at=at, dragged=(block, not_before))
    sequence = _in_order(wanted.work, before, block, wanted)
    made = timed(wanted.work, sequence) or solve(wanted.work, lambda one: False).timed
    found = Found(made, least_end(wanted.work), False)
    with writing(connection):
        orders.put_pin(connection, number, block, not_before)
        keep(connection, wanted, found)
    after = schedule_of(wanted, found)
    told = []
    more = after.ends_at - before.ends_at
    if more > timedelta(minutes=1):
        told.append(say("all of it is ready {time} later", time=span(more)))
    elif more < timedelta(minutes=-1):
        told.append(say("all of it is ready {time} sooner", time=span(-more)))
    due = clock.moment(order.due)
    if due is not None and after.ends_at > due >= before.ends_at:
        told.append(say("that is {time} late", time=span(after.ends_at - due)))
    old = {(visit.block, visit.what): before.at(visit.start) for visit in before.visits}
    moved = {
        one.words.split(", coat ")[0]
        for one in after.visits
        if one.block != block
        and (key := (one.block, one.what)) in old
        and after.at(one.start) - old[key] > timedelta(minutes=5)
    }
    if moved:
        told.append(
            say("later by it: {names} and more", names=listed(sorted(moved)[:4]))
            if len(moved) > 4
            else say("later by it: {names}", names=listed(sorted(moved)[:4]))
        )
    return (f"{capitalized(listed(map(str, told), '; '))}.") if told else say("Nothing else becomes late.")


def let_go(connection: sqlite3.Connection, number: int) -> None:
    """Nothing is held any more."""
    with writing(connection):
        orders.drop_pins(connection, number)


def _in_order(work: Work, before: Schedule, block: str, wanted: ToDo) -> list[Block]:
    """The blocks as they were, the dragged one where its new time puts it."""
    places = {line.key: at for at, line in enumerate(work.lines)}
    steps_of = {line.key: {step.key: at for at, step in enumerate(line.steps)} for line in work.lines}
    pin = work.pins.get(block)
    shift = int((before.start - wanted.start).total_seconds() // 60)
    begins = {visit.block: visit.start + shift for visit in reversed(before.visits) if visit.what != "clean"}
    if pin is not None:
        begins[block] = max(pin, 0)
    found = []
    for key, first, last in before.sequence:
        line, _, rest = key.partition(":")
        if line == "mix":
            if rest in work.needed:
                found.append((begins.get(key, 0), Block(-1, 0, mix=rest)))
            continue
        step = rest.rpartition(":")[0]
        if line in places and step in steps_of[line]:
            index, number = places[line], steps_of[line][step]
            left = [bait for bait in range(first, last) if work.lines[index].stands(bait).step <= number]
            if left:  # what is done of it stays done
                found.append((begins.get(key, 0), Block(index, number, left[0], last)))
    order = sorted(range(len(found)), key=lambda at: found[at][0])
    return [found[at][1] for at in order]


def span(length: timedelta) -> str:
    """ "1 day 3 h", "40 min"."""
    minutes = round(length.total_seconds() / 60)
    days, rest = divmod(minutes, 24 * 60)
    hours, minutes = divmod(rest, 60)
    parts = [
        say_count(days, "{count} day", "{count} days") if days else "",
        f"{hours} h" if hours else "",
    ]
    parts.append(say("{minutes} min", minutes=minutes) if minutes and not days else "")
    return listed((part for part in parts if part), " ") or say("0 min")
