"""The paint of an order: poured once for all its plans, what it costs, and in which order it is mixed."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from diachrom.core.mix.amount import missed
from diachrom.errors import InvalidInput
from diachrom.store import orders, overspray
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.mix import overspray_history
from diachrom.work.mix.overspray_history import LearnedWaste
from diachrom.work.orders.laying import LaidPlan, all_cups, following, laid_plan, read_plans_at_once
from diachrom.work.orders.orders import lines_now
from diachrom.work.plan.job import Job, job


@dataclass(frozen=True)
class InTurn:
    """A mix in the order in which the layers want it."""

    key: str
    before: str  # FOLLOWS, RINSE or CLEAN; "" before the first
    layer: int  # the first that takes it, from 1
    plan: str  # whose layer it is


@dataclass(frozen=True, eq=False)
class Paint:
    """What all lines of an order take."""

    job: Job
    waste: LearnedWaste
    order: Sequence[InTurn]
    plans: Sequence[LaidPlan]


def paint(connection: sqlite3.Connection, number: int) -> Paint:
    """Raises NotFound."""
    orders.order(connection, number)
    lines = [line for line in lines_now(connection, number) if line.line.baits]
    read_plans_at_once(connection, [one.plan for one in lines])
    plans = [laid_plan(connection, one.plan, one.line.baits) for one in lines]
    waste = overspray_history.learned(connection)
    return Paint(job([one.look for one in plans], waste), waste, cup_order(plans), plans)


def tell_list(connection: sqlite3.Connection, number: int) -> None:
    """Tell the shopping list what an order still takes: what was mixed is taken already. Raises NotFound."""
    wanted = paint(connection, number).job
    done = {done_step.step for done_step in orders.done(connection, [number])[number] if done_step.line == 0}
    found: dict[str, float] = {}
    for cup in wanted.poured:
        for part in cup.parts:
            if cup.key not in done and part.paint:
                found[part.paint] = found.get(part.paint, 0.0) + part.ml
    with writing(connection):
        orders.put_needs(connection, number, found)


def cup_order(plans: Sequence[LaidPlan]) -> list[InTurn]:
    """All mixes in the order of the layers that take them first, as they are sprayed, and what each wants before it."""
    cups = {key: cup for key, cup in all_cups(plans).items() if cup.mix is not None and key.partition("|")[1]}
    costs = {(one.first, one.second): one.how for one in following(cups)}
    first: dict[str, tuple[int, str]] = {}
    for plan in plans:
        for place, step in enumerate(plan.laid, start=1):
            if step.mix in cups and place < first.get(step.mix, (place + 1, ""))[0]:
                first[step.mix] = place, plan.plan.name
    turns = sorted(first, key=lambda key: first[key][0])
    if not turns:
        return []
    befores = ["", *(costs[pair] for pair in pairwise(turns))]
    return [InTurn(key, before, *first[key]) for key, before in zip(turns, befores, strict=True)]


def used(connection: sqlite3.Connection, number: int, key: str, used_ml: float, *, at: str) -> float:
    """So much of a mix was really used: the share that misses the baits is learned from it. Raises InvalidInput."""
    found = paint(connection, number)
    for one in found.job.poured:
        if one.key == key:
            if used_ml - found.waste.stays_ml <= one.reaches_ml or used_ml > 1e4:
                raise InvalidInput(
                    say(
                        "{used} of {name} is less than what lies on the baits and stays in the cup "
                        "({stays}), or more than can be.",
                        used=quantity(used_ml, "g", "ml"),
                        name=one.name,
                        stays=quantity(one.reaches_ml + found.waste.stays_ml, ".2f", "ml"),
                    ),
                    field="used_ml",
                )
            with writing(connection):
                overspray.add(
                    connection, at=at, on_baits_ml=one.reaches_ml, stays_ml=found.waste.stays_ml, used_ml=used_ml
                )
            return missed(one.reaches_ml, found.waste.stays_ml, used_ml)
    raise InvalidInput(say("That mix is no longer on this order."), field="key")
