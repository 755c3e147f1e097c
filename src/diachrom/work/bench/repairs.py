"""Where on a bait something went wrong, on which layer, and the ways to put that right."""

import sqlite3
from collections.abc import Sequence

import numpy as np

from diachrom.core.bait.plan import Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.bait.view import framed
from diachrom.core.session import mends
from diachrom.core.session.events import Event
from diachrom.core.session.places import ZONES, Spot
from diachrom.core.session.script import LEFT, SIDES
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import plans, sessions
from diachrom.store.sessions import Session
from diachrom.words import say
from diachrom.work.kit.figures import figure
from diachrom.work.plan.painting import laid as laid_layers

FRESH_S = 300  # that paint is wet at least, for a swab
BESIDE = 0.02  # of the length: a touch so far off is meant for the bait


def layers_so_far(standing: Session) -> list[tuple[int, str]]:
    """Layers that something may have gone wrong with, the one that was laid last first: their numbers and words."""
    run, position = standing.state.run(standing.script), standing.state.position
    here = standing.state.here(standing.script)
    near = [*([here] if here is not None else []), *reversed(run[:position]), *reversed(standing.script.before)]
    found: dict[int, str] = {}
    for one in near:
        if one.layer is not None and one.plan and one.kind not in ("make", "weigh", "mend"):
            found.setdefault(one.layer, one.words)
    return list(found.items())


def length_of(connection: sqlite3.Connection, standing: Session) -> float:
    """Of the bait that is worked on, mm."""
    plan = _plan_here(connection, standing)
    return 0.0 if plan is None else plan.blank.length_mm


def spot_at(connection: sqlite3.Connection, standing: Session, side: str, across: float, down: float) -> Spot:
    """Which place of the bait lies at a place of its picture, in shares of that. Raises InvalidInput beside the
    bait."""
    plan = _plan_here(connection, standing)
    if plan is None or side not in SIDES:
        raise InvalidInput(say("Touch the place on the picture again."), field="place")
    surface = plan.blank.surface(ROUGH)
    frame = framed(plan.blank.form, surface, side)
    u = frame.start + (across if side == LEFT else 1 - across) * frame.wide
    v = np.linspace(0.0, 0.5, 121)
    height = surface.outline.section(np.array([min(max(u, 0.0), 1.0)]), v)[1][0]
    wanted = frame.high - down * frame.tall
    near = int(np.abs(height - wanted).argmin())
    if not 0 <= u <= 1 or abs(float(height[near]) - wanted) > BESIDE:
        raise InvalidInput(say("That is beside the bait: touch it on the bait."), field="place")
    return Spot(side, round(u, 3), round(float(v[near]), 3))


def place_of(connection: sqlite3.Connection, number: int, side: str, touched: tuple[str, str], zone: str) -> str:
    """A place of a session's bait, as it is kept: by a word, or where its picture was touched; as it was given where
    neither was said, "" for a side alone. Raises InvalidInput."""
    if zone in ZONES:
        _, u, v = ZONES[zone]
        return Spot(side if side in SIDES else LEFT, u, v).text()
    if not all(touched):
        return "" if side in SIDES else side
    x, y = (figure(one, say("A place"), key="place", least=0, most=1) for one in touched)
    return spot_at(connection, sessions.session(connection, number), side, x, y).text()


def _plan_here(connection: sqlite3.Connection, standing: Session) -> Plan | None:
    run, here = standing.state.run(standing.script), standing.state.here(standing.script)
    step = here if here is not None and here.plan else next((one for one in run if one.plan), None)
    try:
        return None if step is None else plans.version(connection, step.plan, step.version).document
    except DiachromError:
        return None


def mends_here(connection: sqlite3.Connection, standing: Session, slip: Event) -> Sequence[mends.Way]:
    """How a slip is put right, by what lies beneath and by how wet it is still; nothing where no layer was laid."""
    run = standing.state.run(standing.script)
    here = next((one for one in run if one.key == slip.step), None) or standing.state.here(standing.script)
    layer = slip.layer or (here.layer if here is not None else None) or next(iter(layers_so_far(standing)), (0, ""))[0]
    steps = [one for one in (*standing.script.before, *run) if one.layer == layer and one.plan]
    if not layer or not steps:
        return []
    laid = [(standing.state.moments[one.key], one) for one in steps if one.key in standing.state.moments]
    last = max(laid, key=lambda row: row[0], default=None)
    wet = last is None or slip.at - last[0] < max(last[1].dries_s, FRESH_S)
    try:
        plan = plans.version(connection, steps[0].plan, steps[0].version).document
        names = {one.layer.number: one.words for one in laid_layers(connection, plan.layers)}
        return mends.ways(plan, layer, slip.what, wet=wet, names=names)
    except DiachromError:
        return []
