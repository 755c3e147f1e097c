"""Each bait of a session: what lies on it, what is done to it next, what dries on it; and who did what."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.session.script import BenchStep
from diachrom.core.session.state import Timer
from diachrom.store import sessions
from diachrom.store.sessions import Session
from diachrom.words import listed, say, say_count

MOST = 24  # that are shown beside each other
NOT_ON_IT = ("make", "weigh", "clean", "rinse", "shake", "try")


@dataclass(frozen=True)
class BaitNow:
    """A bait as it stands."""

    line: int
    bait: int  # from 0
    name: str
    like: int  # the first bait that looks the same
    laid: str  # key of the step that was done to it last, "" of a bare one
    coming: str  # words of what is done to it next, "" where it is finished
    is_here: bool  # the step that is worked on is of it
    timer: Timer | None  # of what dries on it longest


def every(session: Session) -> Sequence[BaitNow]:
    """Those of a session of more than one, in their order; nothing where there is one alone."""
    run, position = session.state.run(session.script), session.state.position
    on_baits = [one for one in (*session.script.before, *run) if one.plan and one.last > one.first]
    pairs = sorted({(one.line, bait) for one in on_baits for bait in range(one.first, min(one.last, one.first + MOST))})
    if len(pairs) < 2:
        return []
    lines = {line for line, _ in pairs}
    here = session.state.here(session.script)
    told = {event.bait for event in (*session.state.different, *session.state.mends)}
    known: dict[tuple[object, ...], int] = {}
    found = []
    for line, bait in pairs[:MOST]:

        def meets(step: BenchStep, line: int = line, bait: int = bait) -> bool:
            return bool(step.plan) and step.line == line and step.first <= bait < step.last

        done = [one for one in (*session.script.before, *run[:position]) if meets(one) and one.kind not in NOT_ON_IT]
        coming = next((one for one in run[position:] if meets(one)), None)
        laid = done[-1].key if done else ""
        like = known.setdefault((line, laid, bait if bait in told else -1), bait)
        dries = [one for one in session.state.timers if one.baits[0] == line and one.baits[1] <= bait < one.baits[2]]
        number = say("Bait {number}", number=bait + 1)
        name = number if len(lines) == 1 else say("{bait} of {line}", bait=number, line=lines_name(run, line))
        found.append(
            BaitNow(
                line=line,
                bait=bait,
                name=name,
                like=like,
                laid=laid,
                coming="" if coming is None else coming.words,
                is_here=here is not None and meets(here),
                timer=max(dries, key=lambda one: one.ends, default=None),
            )
        )
    return found


def lines_name(run: Sequence[BenchStep], line: int) -> str:
    """What tells a line of an order from the others."""
    return say("plan {number}", number=next((one.plan for one in run if one.plan and one.line == line), line))


def who(connection: sqlite3.Connection, session: Session, here: str) -> list[tuple[str, str]]:
    """(device, what it did): drops that fell, steps that were done, what it told. `here` is the machine's own name."""
    words = {one.key: one.words for one in session.state.run(session.script)}
    drops: dict[str, int] = {}
    steps: dict[str, list[str]] = {}
    told: dict[str, int] = {}
    for event in sessions.events(connection, session.number):
        name = event.by or here
        drops.setdefault(name, 0)
        if event.kind in ("tap", "untap"):
            drops[name] += 1 if event.kind == "tap" else -1
        elif event.kind == "next":
            steps.setdefault(name, []).append(words.get(event.step, event.step))
        elif event.kind in ("different", "slip", "mend", "astray", "afresh", "fact", "left"):
            told[name] = told.get(name, 0) + 1
    rows = []
    for name in drops:
        own = steps.get(name, [])
        parts = [
            say_count(drops[name], "{count} drop", "{count} drops") if drops[name] else "",
            say_count(len(own), "{count} step, the last: {last}", "{count} steps, the last: {last}", last=own[-1])
            if own
            else "",
            say_count(told[name], "told {count} thing", "told {count} things") if name in told else "",
        ]
        rows.append((name, listed((part for part in parts if part), "; ")))
    return rows
