"""What earlier versions wrote down wrongly: found, told in a sentence each, and put right where that is wanted."""

import re
import sqlite3
from collections import Counter
from collections.abc import Iterator

from diachrom.core.mix.rinse import CLEAN, RINSE
from diachrom.errors import DiachromError
from diachrom.store import bottles, orders, paints, recipes, sessions, shelf_history
from diachrom.store.bottles import Bottle
from diachrom.words import say, say_count
from diachrom.work.kit import schedules
from diachrom.work.mix import cup
from diachrom.work.mix.charging import jar_paint

MADE_FROM = re.compile(r"(?:made from|left of) recipe (\d+)")


def jars(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """Jars that were given the paint of another recipe, or version, of the same name."""
    for bottle in bottles.every(connection, retired_too=True):
        made_of = _made_of(connection, bottle)
        paint = paints.record(connection, bottle.paint_id)
        if made_of is None or made_of == (paint.recipe, paint.version):
            continue
        jar = {"bottle": bottle.id, "name": bottle.full_name, "recipe": made_of[0], "version": made_of[1]}
        if not mend:
            yield say(
                "Bottle {bottle}, {name}, was made from recipe {recipe}, version {version}, but has the colour of "
                "recipe {other_recipe}, version {other_version}.",
                **jar,
                other_recipe=paint.recipe,
                other_version=paint.version,
            )
            continue
        try:
            saved = recipes.version(connection, *made_of)
            with shelf_history.step(connection, say("the paint in bottle {id}", id=bottle.id), at=at) as recorder:
                right = jar_paint(connection, recorder, saved, at=at)
                recorder.touch("bottle", bottle.id)
                bottles.change(connection, bottle.id, paint_id=right.id)
            yield say(
                "Bottle {bottle}, {name}, was made from recipe {recipe}, version {version}, and is now {paint}, with "
                "that colour.",
                **jar,
                paint=right.full_name,
            )
        except DiachromError as error:
            yield say(
                "Bottle {bottle}, {name}, was made from recipe {recipe}, version {version}, and stays as it is: "
                "{error}",
                **jar,
                error=error,
            )


def _made_of(connection: sqlite3.Connection, bottle: Bottle) -> tuple[int, int] | None:
    """The recipe and version that a jar was made of, by its ledger; None where that does not tell."""
    if bottle.recipe is None:
        return None
    first = bottles.ledger(connection, bottle.id)[-1:]
    told = MADE_FROM.fullmatch(first[0].note) if first and first[0].kind == "bought" else None
    if told is None:
        return None
    if first[0].recipe is not None and first[0].version is not None:
        return first[0].recipe, first[0].version
    # Before the ledger told it: by what was poured into it in the same step, else by the name that it was given. What
    # came from another bench tells that one's numbers, and nothing here.
    known, number = paints.record(connection, bottle.paint_id), int(told[1])
    if known.note != f"recipe {known.recipe}":
        return None
    versions = {version.version: version for version in recipes.versions(connection, number)}
    poured = bottles.poured_into(connection, number, first[0].at)
    by_name = [key for key, one in versions.items() if f"{one.draft.name} v{key}"[:60] == bottle.name]
    same = [known.version] if known.recipe == number and known.version is not None else []
    return next(((number, one) for one in (poured, *same, *by_name) if one in versions), None)


def drawers(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """The surplus of an order that was finished, opened and finished again; baits of lines that were taken off."""
    lines = orders.lines(connection, orders.numbers(connection))
    for number, own in lines.items():
        moved = orders.moved(connection, number)
        there = {line.id for line in own}
        wrong: Counter[tuple[int, int, str, int | None]] = Counter()
        for one in moved:
            if one.why == orders.AGAIN or (one.why == orders.TAKEN and one.line not in there):
                wrong[one.plan, one.version, one.why, one.line] += one.count
        for (plan, version, why, line), count in wrong.items():
            if not count:
                continue
            lying = {
                "number": number,
                "baits": say_count(abs(count), "{count} bait", "{count} baits"),
                "plan": plan,
                "plan_version": version,
            }
            sentence = (
                say("Order {number}: {baits} of plan {plan}, version {plan_version}, lay in the drawer twice", **lying)
                if count > 0
                else say(
                    "Order {number}: {baits} of plan {plan}, version {plan_version}, were taken for a line that is "
                    "not on it any more",
                    **lying,
                )
            )
            if mend:
                orders.put_stock(
                    connection, (plan, version), -count, note=say("put right"), order=number, why=why, line=line, at=at
                )
            yield say("{sentence}: put right.", sentence=sentence) if mend else f"{sentence}."


def finished_sessions(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """Sessions under way of which nothing but cleaning is left."""
    for one in sessions.every(connection):
        if one.ended:
            continue
        session = sessions.session(connection, one.number)
        left = [step for step in session.state.run(session.script) if step.key not in session.state.done]
        if session.order is not None and not session.state.done and all(step.kind in (CLEAN, RINSE) for step in left):
            if mend:
                sessions.end(connection, one.number, at=at)
            sentence = say("Session {number}, {name}, has nothing to do but cleaning", number=one.number, name=one.name)
            yield say("{sentence}: ended.", sentence=sentence) if mend else f"{sentence}."


def done_orders(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """Orders that are open and all painted: no fault, but told where somebody mends."""
    every = orders.every(connection) if mend else []
    done = orders.done(connection, [one.number for one in every])
    for order in every:
        schedule = schedules.read(order.schedule)
        if schedule is not None and done[order.number] and not schedules.left(schedule, done[order.number]):
            yield say(
                "Order {number}, {name}, is all painted and still open: hand it over on its page.",
                number=order.number,
                name=order.name,
            )


def cup_at_nothing(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """A cup that was to be poured by its count and was left before a drop fell: no fault, but its count comes back."""
    if mend and cup.back_to_counted(connection, at=at):
        yield say("The cup was to be poured and nothing had fallen: it stands as it was counted again.")


FOUND = (jars, drawers, finished_sessions, done_orders, cup_at_nothing)
