"""The paint of an order: poured once for all its plans, what it costs, and which mix may follow which in the cup."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from diachrom.core.mix.amount import missed
from diachrom.core.mix.rinse import CLEAN, FOLLOWS, RINSE
from diachrom.errors import InvalidInput
from diachrom.store import orders, overspray
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.mix import overspray_history
from diachrom.work.mix.overspray_history import LearnedWaste
from diachrom.work.orders.laying import LaidPlan, all_cups, following, laid_plan, read_plans_at_once
from diachrom.work.orders.orders import lines_now
from diachrom.work.plan.job import Job, job

FEW = 9  # mixes of which every order is looked at
ORDER = {FOLLOWS: 0, RINSE: 1, CLEAN: 4}


@dataclass(frozen=True, eq=False)
class Paint:
    """What all lines of an order take."""

    job: Job
    waste: LearnedWaste
    order: Sequence[tuple[str, str]]  # mixes by key in the order that cleans least, and what comes before each
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


def cup_order(plans: Sequence[LaidPlan]) -> list[tuple[str, str]]:
    """All mixes one after the other with the least cleaning: (key, "", FOLLOWS, RINSE or CLEAN before it)."""
    cups = {key: cup for key, cup in all_cups(plans).items() if cup.mix is not None and key.partition("|")[1]}
    costs = {(one.first, one.second): one.how for one in following(cups)}
    keys = list(cups)
    if not keys:
        return []
    best = min(
        (_chain(keys, first, costs) for first in keys),
        key=lambda chain: sum(ORDER[costs[pair]] for pair in pairwise(chain)),
    )
    befores = ["", *(costs[pair] for pair in pairwise(best))]
    return list(zip(best, befores, strict=True))


def _chain(keys: Sequence[str], first: str, costs: dict[tuple[str, str], str]) -> list[str]:
    """From a first one: by Held and Karp's table over sets where there are few, else the cheapest next."""
    if len(keys) <= FEW:
        return _least_chain(keys, first, costs)
    chain, left = [first], [key for key in keys if key != first]
    while left:
        following_ = min(left, key=lambda key: ORDER[costs[chain[-1], key]])
        chain.append(following_)
        left.remove(following_)
    return chain


def _least_chain(keys: Sequence[str], first: str, costs: dict[tuple[str, str], str]) -> list[str]:
    known: dict[tuple[frozenset[str], str], tuple[int, tuple[str, ...]]] = {(frozenset([first]), first): (0, (first,))}
    for _ in range(len(keys) - 1):
        grown: dict[tuple[frozenset[str], str], tuple[int, tuple[str, ...]]] = {}
        for (done, last), (cost, chain) in known.items():
            for key in keys:
                if key not in done:
                    own = (cost + ORDER[costs[last, key]], (*chain, key))
                    at = (done | {key}, key)
                    if at not in grown or own < grown[at]:
                        grown[at] = own
        known = grown
    return list(min(known.values())[1])


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
