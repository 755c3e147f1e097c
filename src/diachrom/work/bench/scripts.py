"""The script of a session: an order's schedule as steps that fill the screen, with what each takes."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from diachrom.core.bait.plan import ORIGINS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.session.script import BenchStep, Pour, Script
from diachrom.errors import InvalidInput
from diachrom.store import orders, paints
from diachrom.work.kit.looks import look
from diachrom.work.orders import kept, paint
from diachrom.work.orders.kept import Schedule, Visit
from diachrom.work.orders.orders import lines_now
from diachrom.work.orders.sessions import words_of
from diachrom.work.plan.job import Poured

SPRAYED = ("spray", "mask", "pattern")
CAUTIONS = {"spray": ("spray",), "mask": ("spray",), "pattern": ("spray",), "prepare": ("dust",)}
CLEARS = {"two-part": ("resin",), "dip": ("dip",), "hot-dip": ("hot-dip",)}  # by what it dries as


@dataclass(frozen=True)
class _Told:
    schedule: Schedule
    plans: Mapping[int, tuple[int, int, Plan]]  # by line: plan, version, and the plan itself
    poured: Mapping[str, Poured]
    fills: Mapping[str, str]  # of each paint's bead


def script_of(connection: sqlite3.Connection, order: int) -> Script:
    """What is still to be done of an order, in the order of its schedule. Raises NotFound, InvalidInput."""
    found = kept.read(orders.order(connection, order).schedule)
    if found is None:
        raise InvalidInput("Plan the time of this order first: the bench follows its schedule.", field="order")
    done = {(one.line, one.step, one.bait) for one in orders.done(connection, [order])[order]}
    own = paint.paint(connection, order)
    rows = {one.line.id: (one.line.plan, one.line.version, one.plan) for one in lines_now(connection, order)}
    fills = _fills(connection, [part.paint for one in own.job.poured for part in one.parts if part.paint])
    told = _Told(found, rows, {one.key: one for one in own.job.poured}, fills)
    steps: list[BenchStep] = []
    poured: set[str] = set()
    for number, visit in enumerate(found.visits):
        if visit.what != "clean" and all(each in done for each in visit.steps):
            poured |= {visit.mix} if visit.what == "make" else set()
            continue
        if visit.mix in told.poured and visit.mix not in poured and visit.what != "clean":
            poured.add(visit.mix)
            steps.append(_made(visit, number, told))
        if visit.what != "make":
            steps.append(_step(visit, number, told))
    if not steps:
        raise InvalidInput("Every step of this order is done.", field="order")
    return Script(steps)


def _fills(connection: sqlite3.Connection, wanted: Sequence[str]) -> dict[str, str]:
    beads = {key: look(one).bead for key, one in paints.profiles(connection, wanted).items()}
    return {key: "" if one is None else one.shown.srgb for key, one in beads.items()}


def _made(visit: Visit, number: int, told: _Told) -> BenchStep:
    """A mix, drop by drop; what is sprayed straight from a bottle is poured as well."""
    cup = told.poured[visit.mix]
    pours = tuple(
        Pour(one.bottle, one.name, one.drops, one.drop_ml, told.fills.get(one.paint, ""))
        for one in cup.parts
        if one.bottle and one.drops
    )
    added = [("Add", f"{one.name}: {one.drops} drops") for one in cup.parts if not one.bottle and one.drops]
    return BenchStep(
        key=f"{number}:make",
        kind="make",
        words=f"{'Mix' if len(cup.parts) > 1 else 'Pour'} {cup.name}",
        block=visit.block if visit.what == "make" else "",
        mix=visit.mix,
        pours=pours,
        figures=(("In all", f"{cup.volume_ml:.2f} ml"), *added),
        dries_s=60 * visit.dries if visit.what == "make" else 0,
    )


def _step(visit: Visit, number: int, told: _Told) -> BenchStep:
    plan_number, version, plan = told.plans.get(visit.line, (0, 0, Plan()))
    layer = next((one for one in plan.layers if one.number == visit.layer), None)
    return BenchStep(
        key=f"{number}:{visit.what}",
        kind=visit.kind,
        words=words_of(told.schedule, visit),
        block=visit.block if visit.what != "clean" else "",
        line=visit.line,
        plan=plan_number,
        version=version,
        layer=visit.layer,
        steps=None if layer is None else plan.place(layer.number) + 1,
        first=visit.first,
        last=visit.last,
        mix=visit.mix,
        figures=() if layer is None else _figures(layer, visit),
        dries_s=60 * visit.dries,
        closes_s=None if visit.closes is None else 60 * visit.closes,
        cautions=CLEARS.get(visit.paint, CAUTIONS.get(visit.kind, ())),
    )


def _figures(layer: Layer, visit: Visit) -> tuple[tuple[str, str], ...]:
    """What to set at the airbrush, and where to hold it."""
    where = ("Where", REGIONS[layer.region].words)
    if visit.kind not in SPRAYED:
        return (where,)
    return (
        where,
        ("From", ORIGINS[layer.origin].words),
        ("Coats", str(layer.coats) if visit.kind != "spray" else "1 now"),
        ("Pressure", f"{layer.pressure_bar:g} bar"),
        ("Nozzle", f"{layer.nozzle_mm:g} mm"),
        ("Distance", f"{layer.distance_mm:g} mm"),
    )
