"""A schedule as the painter reads it: evening by evening, what is done, what dries meanwhile; and its calendar."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from diachrom.core.schedule.work import TURNER
from diachrom.exchange.calendars import Entry, to_ics
from diachrom.store.orders import Order
from diachrom.words import capitalized, listed, say, when
from diachrom.work.kit.schedules import Schedule, ScheduledBlock

APART_MIN = 150  # longer than this away from the bench is another session
FREE_MIN = 10  # worth telling
BRUSHED = ", " + say("by brush")
CLEARED = {
    "two-part": BRUSHED,
    "moisture-brushed": BRUSHED,
    "brushed": BRUSHED,
    "dip": ", " + say("dipped"),
    "hot-dip": ", " + say("dipped hot"),
}
MEANWHILE = say("shake the bottles, cut stencils, write labels, wipe the bench")


@dataclass(frozen=True)
class Row:
    """A line of a session: a visit, or time that is free while something dries."""

    start: datetime
    end: datetime
    visit: ScheduledBlock | None
    words: str


@dataclass(frozen=True)
class Session:
    """Time at the bench without a long break."""

    start: datetime
    end: datetime
    rows: Sequence[Row]
    after: str  # what is told of the time until the next one

    @property
    def hands_min(self) -> int:
        """Minutes that hands are at work."""
        return round(sum((row.end - row.start).total_seconds() for row in self.rows if row.visit is not None) / 60)


def sessions(schedule: Schedule) -> list[Session]:
    """In the order of time."""
    groups: list[list[ScheduledBlock]] = []
    for visit in sorted(schedule.visits, key=lambda block: (block.start, block.end)):
        if groups and visit.start - groups[-1][-1].end < APART_MIN:
            groups[-1].append(visit)
        else:
            groups.append([visit])
    found = []
    for index, group in enumerate(groups):
        following = groups[index + 1][0] if index + 1 < len(groups) else None
        found.append(_session(schedule, group, following))
    return found


def _session(schedule: Schedule, group: Sequence[ScheduledBlock], following: ScheduledBlock | None) -> Session:
    rows: list[Row] = []
    for index, visit in enumerate(group):
        free = visit.start - group[index - 1].end if index else 0
        drying = [
            block
            for block in group[:index]
            if block.line == visit.line and block.end + block.dries > visit.start - FREE_MIN
        ]
        if free >= FREE_MIN and drying:
            words = say(
                "{free} min free while {words} dries: {meanwhile}",
                free=free,
                words=drying[-1].words,
                meanwhile=MEANWHILE,
            )
            rows.append(Row(schedule.at(group[index - 1].end), schedule.at(visit.start), None, words))
        rows.append(Row(schedule.at(visit.start), schedule.at(visit.end), visit, words_of(schedule, visit)))
    last = group[-1]
    dries = max((one.end + one.dries for one in group if one.what == "work"), default=last.end)
    after = ""
    if following is not None:
        after = say("Until {at} it dries.", at=when(schedule.at(following.start).astimezone(), "weekday and time"))
        closing = [one for one in group if one.closes is not None and one.end + one.closes >= following.start > one.end]
        if closing:
            latest = min(one.end + one.closes for one in closing if one.closes is not None)
            after += " " + say(
                "Its recoat window closes at {at}.", at=when(schedule.at(latest).astimezone(), "weekday and time")
            )
    elif dries > last.end:
        at = when(schedule.at(dries).astimezone(), "weekday and time")
        turned = any(one.holds == TURNER for one in group)
        after = (
            say("It cures until {at}, on the turner first.", at=at) if turned else say("It cures until {at}.", at=at)
        )
    return Session(schedule.at(group[0].start), schedule.at(last.end), rows, after)


def words_of(schedule: Schedule, visit: ScheduledBlock) -> str:
    """ "Autumn char, back, coat 1 of 2 on baits 1 to 6" """
    if visit.what == "make":
        if visit.dries:
            return say("Mix {mix}, then let it rest {minutes} min", mix=visit.words, minutes=visit.dries)
        return say("Mix {mix}", mix=visit.words)
    if visit.what == "clean":
        if visit.kind == "rinse":
            return say("Rinse the airbrush for {mix}", mix=visit.words)
        return say("Clean the airbrush for {mix}", mix=visit.words)
    name, baits = schedule.lines.get(visit.line, ("", 1))
    which = ""
    if baits > 1:
        count = visit.last - visit.first
        which = " " + say("on all") if count == baits else " " + say("on bait {first}", first=visit.first + 1)
        if 1 < count < baits:
            which = " " + say("on baits {first} to {last}", first=visit.first + 1, last=visit.last)
    plan = f" ({name})" if len(schedule.lines) > 1 else ""
    words = capitalized(visit.words)
    how = ", " + say("its mask on and off") if visit.kind == "mask" else CLEARED.get(visit.paint, "")
    return listed([words, plan, which, how], "")  # kept with a session: told to whoever reads it


def as_ics(order: Order, schedule: Schedule, *, made: datetime) -> bytes:
    """Each session, each recoat window that closes, and when all is ready."""
    entries = []
    own = f"order-{order.number}"
    for index, session in enumerate(sessions(schedule)):
        lines = [f"{row.start.astimezone():%H:%M} {row.words}" for row in session.rows]
        entries.append(
            Entry(
                f"{own}-session-{index + 1}@diachrom",
                say("At the bench: {name}", name=order.name),
                session.start,
                session.end,
                "\n".join([*lines, session.after]).strip(),
                alarm_min=15,
            )
        )
    for index, visit in enumerate(block for block in schedule.visits if block.closes is not None):
        assert visit.closes is not None
        start, end = (schedule.at(visit.end + minutes) for minutes in (visit.dries, visit.closes))
        title = say("Recoat window: {words}", words=visit.words)
        entries.append(
            Entry(f"{own}-window-{index + 1}@diachrom", title, start, max(end, start + timedelta(minutes=1)))
        )
    ready = schedule.ends_at
    entries.append(
        Entry(
            f"{own}-ready@diachrom",
            say("Ready: {name}", name=order.name),
            ready,
            ready + timedelta(minutes=15),
            order.wish,
        )
    )
    return to_ics(entries, made=made)
