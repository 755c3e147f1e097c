"""What stands in for a paint that an order lacks, and what that does to the colour of its baits."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.difference import delta_e
from diachrom.errors import DiachromError, NotFound
from diachrom.store import bottles, paints
from diachrom.words import listed, quantity, say
from diachrom.work.orders.orders import LineNow, lines_now
from diachrom.work.plan import pictures
from diachrom.work.plan.painting import Instead, painted_bait
from diachrom.work.profiles import substitutes

# What no colour in daylight tells: of a kind, and the kinds that have it too.
LOST = {
    "glow": (say("it does not glow in the dark"), ("glow",)),
    "fluorescent": (say("it does not glow under black light"), ("fluorescent",)),
}
CHANGED_DE = 0.3  # of the bait, where it tells


@dataclass(frozen=True)
class OnBait:
    """A line of the order with the stand-in."""

    line: int
    name: str
    words: str


@dataclass(frozen=True)
class StandIn:
    paint: str
    words: str
    key: str  # bottles and drops
    seen: Sequence[OnBait]
    problem: str = ""


def stand_in(connection: sqlite3.Connection, number: int, paint_id: str) -> StandIn:
    """The nearest paint or mix of the shelf, on each bait that has the paint. Raises NotFound."""
    lines = [line for line in lines_now(connection, number) if line.line.baits]
    name = paints.record(connection, paint_id).full_name
    try:
        found = substitutes.substitutes_for(connection, paint_id)
        best = min([*found.singles, *found.mixes], key=lambda substitute: substitute.found.delta_e)
    except (DiachromError, ValueError) as error:
        told = str(error) if isinstance(error, DiachromError) else say("Nothing on the shelf comes close to it.")
        return StandIn(paint_id, say("{name}: what stands in", name=name), "", [], problem=told)
    parts = listed(
        (
            f"{row.bottle.full_name}{' ' + say('{drops} drops', drops=drops) if len(best.parts) > 1 else ''}"
            for row, drops in best.parts
        ),
        " and ",
    )
    own = instead(connection, paint_id, best.key)
    kinds = {row.bottle.kind for row, _ in best.parts}
    lost = LOST.get(paints.record(connection, paint_id).kind, ("", ()))
    without = f"; {lost[0]}" if lost[0] and not kinds & set(lost[1]) else ""
    seen = [_on_bait(connection, one, own) for one in lines]
    return StandIn(
        paint_id, say("{parts} stands in for {name}{without}", parts=parts, name=name, without=without), best.key, seen
    )


def _on_bait(connection: sqlite3.Connection, line: LineNow, own: Instead) -> OnBait:
    before, after = (labs_of(painted_bait(connection, line.plan, cells=ROUGH, instead=with_)[0]) for with_ in ({}, own))
    apart = delta_e(before, after).max(axis=0)
    there = apart > CHANGED_DE
    name = line.plan.name or say("Plan {plan}", plan=line.line.plan)
    if not there.any():
        return OnBait(
            line.line.id,
            name,
            say("On {name} nobody sees it: dE {apart} at most.", name=name, apart=quantity(apart.max(), ".1f")),
        )
    middle, most = np.median(apart[there]), np.quantile(apart[there], 0.95)
    share = 100 * float(there.mean())
    return OnBait(
        line.line.id,
        name,
        say(
            "On {name}: dE {middle} where it tells, {most} at most, on {share} % of its skin.",
            name=name,
            middle=quantity(middle, ".1f"),
            most=quantity(most, ".1f"),
            share=quantity(share, ".0f"),
        ),
    )


def instead(connection: sqlite3.Connection, paint_id: str, key: str) -> Instead:
    """A substitute by its key, as shares of its paints. Raises InvalidInput, BottleNotFound."""
    asked = substitutes.read_key(key)
    own = bottles.by_id(connection, [bottle for bottle, _ in asked])
    volumes = np.array([own[bottle].drop_ml * drops for bottle, drops in asked])
    shares = (volumes / volumes.sum()).tolist()
    found = [
        (paints.profile(connection, own[bottle].paint_id), share)
        for (bottle, _), share in zip(asked, shares, strict=True)
    ]
    return {paint_id: found}


def picture(connection: sqlite3.Connection, number: int, line: int, *, paint: str, key: str) -> bytes:
    """A PNG of a line's bait, with a substitute where a key is given. Raises NotFound, InvalidInput."""
    for one in lines_now(connection, number):
        if one.line.id == line:
            own = instead(connection, paint, key) if key else {}
            return pictures.image(connection, one.plan, width=560, instead=own)
    raise NotFound(say("That line is no longer on this order."), field="line")
