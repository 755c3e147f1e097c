"""An entry's bait as it came out: its plan with the coats, drops, stand-ins and shades that were told at the bench."""

import sqlite3
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.draft import LONGEST_NAME, RECIPE_GROUND
from diachrom.errors import DiachromError
from diachrom.store import bottles, plans
from diachrom.store import sessions as kept
from diachrom.store.log import Entry
from diachrom.store.sessions import Session
from diachrom.words import quantity, say
from diachrom.work.bench import as_painted
from diachrom.work.bench.cup_now import as_poured
from diachrom.work.plan.painting import Instead, painted_bait, recipe_numbers

DIFFERS = 2.0  # dE at its 95 percent, beyond which an entry is repeated as it came out


@dataclass(frozen=True, eq=False)
class CameOut:
    """What was really done, and how far the finished bait is off what was planned by it."""

    session: Session
    plan: Plan
    instead: Instead
    delta_e: float

    @property
    def differs(self) -> bool:
        """Whether it is another bait to the eye."""
        return self.delta_e > DIFFERS


def came_out(connection: sqlite3.Connection, entry: Entry) -> CameOut | None:
    """None for an entry without a session, or one that went as it was planned."""
    if entry.session is None or entry.plan is None:
        return None
    try:
        session = kept.session(connection, entry.session)
        run = [*session.script.before, *session.state.run(session.script)]
        own = [one for one in run if (one.line, one.plan, one.version) == (entry.line, entry.plan, entry.version)]
        bait = as_painted.bait_of(connection, session, own[-1])
    except (DiachromError, IndexError):
        return None
    # What was mended at a spot is that bait's own: nobody wants it again.
    meant = {one.number for one in bait.planned.layers}
    plan = replace(bait.done, layers=tuple(one for one in bait.done.layers if one.number in meant))
    if plan == bait.planned and not bait.instead:
        return None
    planned, done = (
        labs_of(painted_bait(connection, one, cells=ROUGH, instead=instead)[0])
        for one, instead in ((bait.planned, {}), (plan, bait.instead))
    )
    off = float(np.quantile(delta_e(planned, done).max(axis=0), 0.95))
    return CameOut(session, plan, bait.instead, off)


def keep(connection: sqlite3.Connection, own: CameOut, entry: Entry, *, at: str) -> Plan:
    """Its plan with the cups as they were poured: each that differs becomes a recipe of its own. Inside `writing`."""
    sources = {source: _kept(connection, own.session, source, entry, at) for source in own.instead}
    layers = tuple(replace(one, source=sources.get(one.source) or one.source) for one in own.plan.layers)
    name = say("{name}, as it came out", name=own.plan.name)
    planned = plans.version(connection, entry.plan or 0, entry.version or 0).document.blank.length_mm
    if own.plan.blank.length_mm != planned:
        name = say("{name}, {size}", name=name, size=quantity(own.plan.blank.length_mm, "g", "mm"))
    name = name[:LONGEST_NAME]
    return replace(own.plan, name=name, layers=layers)


def _kept(connection: sqlite3.Connection, session: Session, source: str, entry: Entry, at: str) -> str:
    """What a layer is made of that was poured so; "" where that cannot be told any more."""
    run = session.state.run(session.script)
    made = [
        one for one in run if one.mixes and one.mix.partition("|")[0] == source and session.state.drops.get(one.key)
    ]
    if not made:
        return ""
    if recipe_numbers(source) is None:
        stands = as_painted.stood_in(session, made[-1])
        bottle = next(iter(stands.values()), made[-1].pours[0].bottle)
        return bottles.one(connection, bottle).paint_id
    note = say("Of entry {number}.", number=entry.number)
    saved = as_poured(connection, session, made[-1], note=note, at=at)
    return "" if saved is None else f"{RECIPE_GROUND}{saved.recipe}:{saved.version}"
