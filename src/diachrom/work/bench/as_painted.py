"""The bait as it was really laid: its plan with what was different at the bench, and what that does to the layers to
come."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from diachrom.core.bait.checks.look import FACING, labs_of
from diachrom.core.bait.plan import WHATS, Layer, Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.words import difference
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.session import mends, places
from diachrom.core.session.script import LEFT, RIGHT, BenchStep
from diachrom.errors import DiachromError, NotFound
from diachrom.store import bottles, paints, plans, recipes
from diachrom.store.sessions import Session
from diachrom.words import quantity, say, say_count
from diachrom.work.plan import checking, pictures
from diachrom.work.plan.painting import Instead, painted_bait, recipe_numbers

# What the eye calls darker than meant is taken as so much more film, lighter as so much less.
FILM = {"darker": 1.4, "lighter": 0.7}
SEEN_DE = 0.3
HELPS = 0.9  # of the difference as it stands: what is less than that is worth a word
MOST_TRIED = 6  # layers to come whose coats are tried


@dataclass(frozen=True, eq=False)
class Bait:
    """A bait of a session: as it was planned, and as it was done so far."""

    planned: Plan
    done: Plan
    instead: Instead  # by a layer's source: what was really in the cup

    @property
    def changed(self) -> bool:
        """Whether it differs from the plan."""
        return self.planned != self.done or bool(self.instead)

    def so_far(self, steps: int | None) -> int | None:
        """How many layers of what was done lie there where so many of the plan do: a repair leaves more."""
        if not steps or steps > len(self.planned.layers):
            return steps
        mine = {one.number for one in self.planned.layers}
        at = self.done.place(self.planned.layers[steps - 1].number) + 1
        while at < len(self.done.layers) and self.done.layers[at].number not in mine:
            at += 1
        return at


@dataclass(frozen=True)
class Effect:
    """What was different does to the colour, in words."""

    now: str
    finished: str
    advice: Sequence["Advice"]


@dataclass(frozen=True)
class Advice:
    """What brings it closer, and how many coats more that is of the step that is worked on, 0 where it is no press."""

    words: str
    more: int = 0


def bait_of(connection: sqlite3.Connection, session: Session, here: BenchStep) -> Bait:
    """The bait that a step is of. Raises NotFound."""
    planned = plans.version(connection, here.plan, here.version).document
    run = session.state.run(session.script)
    steps = [
        one
        for one in (*session.script.before, *run)
        if one.plan == here.plan and one.line == here.line and one.holds(here.first)
    ]
    layers = tuple(
        _as_laid(layer, _of_a_side([step for step in steps if step.layer == layer.number], here.side), session)
        for layer in planned.layers
    )
    # Mixes whose drops fell otherwise than they were asked for.
    found: dict[str, list[tuple[Paint, float]]] = {}
    for step in run:
        fell = session.state.drops.get(step.key, {})
        swapped = stood_in(session, step)
        asked = {one.bottle: one.drops for one in step.pours}
        is_mixed = step.key in session.state.done
        if not is_mixed and any(fell.get(key, 0) > count for key, count in asked.items()):
            fell = {key: max(fell.get(key, 0), count) for key, count in asked.items()}  # as it will be
            is_mixed = True
        if not is_mixed or (not swapped and as_meant(connection, session, step, fell)):
            continue
        cups = bottles.by_id(connection, {swapped.get(key, key) for key in asked})
        parts = []
        for pour in step.pours:
            bottle = cups.get(swapped.get(pour.bottle, pour.bottle))
            ml = fell.get(pour.bottle, 0) * pour.drop_ml
            if bottle is not None and ml > 0:
                parts.append((paints.profile(connection, bottle.paint_id), ml))
        whole = sum(ml for _, ml in parts)
        source = step.mix.partition("|")[0]
        if whole and source and step.mixes:
            found[source] = [(paint, ml / whole) for paint, ml in parts]
    done = replace(planned, layers=layers)
    for event in session.state.mends:
        spot = places.read(event.place)
        if spot is not None and event.bait in (-1, here.first):
            again = [int(one) for one in event.value.split(",") if one.isdecimal()]
            done = mends.repaired(done, event.what, again, spot, checking.plain_paint(connection, "white"))
    return Bait(planned, done, found)


def asked_of(session: Session, step: BenchStep) -> dict[int, int]:
    """Drops that a mix was asked for when the session began, by bottle."""
    meant = session.script.like(step.key.partition("+")[0]) or step
    return {one.bottle: one.drops for one in meant.pours}


def as_meant(connection: sqlite3.Connection, session: Session, step: BenchStep, fell: Mapping[int, int]) -> bool:
    """Whether a cup holds what the session asked for when it began, or has its recipe's ratio."""
    there = {key: count for key, count in fell.items() if count}
    if there == {key: count for key, count in asked_of(session, step).items() if count}:
        return True
    numbers = recipe_numbers(step.mix.partition("|")[0])
    try:
        draft = None if numbers is None else recipes.version(connection, *numbers).draft
    except DiachromError:
        draft = None
    if draft is None:
        return False
    wanted = {part.bottle: part.drops for part in draft.parts if part.drops}
    return set(there) == set(wanted) and len({there[bottle] / drops for bottle, drops in wanted.items()}) == 1


def _of_a_side(steps: Sequence[BenchStep], side: str) -> Sequence[BenchStep]:
    """Those of one side of the bait: of the left one where none is meant."""
    wanted = side or (LEFT if any(step.side == LEFT for step in steps) else RIGHT)
    return [one for one in steps if one.side in ("", wanted)]


def _as_laid(layer: Layer, steps: Sequence[BenchStep], session: Session) -> Layer:
    keys = {step.key: step for step in steps}
    told: dict[tuple[str, str], str] = {}  # by step and what: the last that was said
    for event in session.state.different:
        if event.step in keys:
            told[event.step, event.what] = event.value
    if not told:
        return layer
    coats = {one.key: float(told.get((one.key, "coats"), one.coats)) for one in steps}
    if any(what == "coats" for _, what in told):
        # A step that comes again takes the place of what was swabbed off.
        whole = round(sum(count for key, count in coats.items() if "+" not in key))
        layer = replace(layer, coats=min(max(whole, 1), MOST_COATS), on=layer.on and whole > 0)
    for (_, what), value in told.items():
        if what == "distance":
            layer = replace(layer, distance_mm=float(value))
        elif what == "pressure":
            layer = replace(layer, pressure_bar=float(value))
        elif what == "nozzle":
            layer = replace(layer, nozzle_mm=float(value))
        elif what == "thinned":
            layer = replace(layer, film_um=layer.film_um / (1 + float(value) / 100))
        elif what == "colour":
            layer = replace(layer, film_um=min(layer.film_um * FILM[value], THICKEST_COAT_UM))
    return layer


def stood_in(session: Session, step: BenchStep) -> Mapping[int, int]:
    """Bottles that were asked for at a step, and those that were taken in their place."""
    return {
        event.bottle: int(event.value)
        for event in session.state.different
        if event.step == step.key and event.what == "bottle" and event.value.isdecimal()
    }


def effect(connection: sqlite3.Connection, session: Session) -> Effect | None:
    """What was different so far does to this bait: now, when it is finished, and what mends it. None where nothing
    was, or nothing can be said."""
    here = session.state.here(session.script)
    if here is None or not here.plan:
        here = next((step for step in reversed(session.script.steps) if step.plan), None)
    if here is None:
        return None
    try:
        own = bait_of(connection, session, here)
        return _effect(connection, own, here) if own.changed else None
    except DiachromError:
        return None


def _effect(connection: sqlite3.Connection, own: Bait, here: BenchStep) -> Effect:
    steps = len(own.planned.layers) if here.steps is None else here.steps
    meant_now = _seen(connection, own.planned, {}, steps)
    now = _apart(meant_now, _seen(connection, own.done, own.instead, own.so_far(steps)))
    meant = _seen(connection, own.planned, {}, None)
    finished = _seen(connection, own.done, own.instead, None)
    # Layers to come: how many coats of each bring it nearest, the one that helps most first.
    if not any(one.number == here.layer for one in own.done.layers):
        advice = []
    else:
        place = own.done.place(here.layer or 0)
        standing = float(delta_e(meant, _seen(connection, own.done, own.instead, None)).max(axis=0).mean())
        own_layer, *coming = [
            one for one in own.done.layers[place:] if one.number == here.layer or (one.on and WHATS[one.what].paint)
        ]
        tries = [(own_layer, own_layer.coats * own_layer.on + more) for more in (1, 2)]
        tries += [(one, coats) for one in coming[:MOST_TRIED] for coats in (max(one.coats - 1, 0), one.coats + 1)]
        tried = []
        for layer, coats in tries:
            other = own.done.changed(layer.number, partial(replace, coats=max(coats, 1), on=coats > 0))
            apart = float(delta_e(meant, _seen(connection, other, own.instead, None)).max(axis=0).mean())
            if apart < HELPS * standing:
                tried.append(
                    (
                        apart,
                        say(
                            "{how}: dE {apart} in the mean, {standing} as it is.",
                            how=_how(layer, coats, now=layer is own_layer),
                            apart=quantity(apart, ".1f"),
                            standing=quantity(standing, ".1f"),
                        ),
                        coats - layer.coats * layer.on if layer is own_layer else 0,
                    )
                )
        if not tried:
            advice = [Advice(say("No other number of coats, now or later, brings it closer."))]
        else:
            advice = [Advice(words, more) for _, words, more in sorted(tried)[:2]]
    return Effect(say("Now: {now}.", now=now), say("Finished: {apart}.", apart=_apart(meant, finished)), advice)


def _seen(connection: sqlite3.Connection, plan: Plan, instead: Instead, steps: int | None) -> Floats:
    picture, _ = painted_bait(connection, plan, cells=ROUGH, steps=steps, instead=instead)
    return labs_of(picture)


def _apart(meant: Floats, seen: Floats) -> str:
    """How far, and on how much of the skin."""
    apart = delta_e(meant, seen).max(axis=0)
    there = apart > SEEN_DE
    if not there.any():
        return say("nobody will see it")
    worst = apart >= np.quantile(apart[there], 0.5)
    one, two = (side[FACING][worst].mean(axis=0) for side in (meant, seen))
    share = 100 * float(there.mean())
    words = difference(one, two)
    return say(
        "dE {median} on {share} % of its skin, {words}",
        median=quantity(np.median(apart[there]), ".1f"),
        share=quantity(share, ".0f"),
        words=words,
    )


def _how(layer: Layer, coats: int, *, now: bool) -> str:
    name = layer.name or WHATS[layer.what].words
    if now:
        more = coats - layer.coats * layer.on
        return say_count(more, "{count} more coat of {name} now", "{count} more coats of {name} now", name=name)
    return (
        say_count(
            coats,
            "{count} coat of {name} in place of {coats}",
            "{count} coats of {name} in place of {coats}",
            name=name,
            coats=layer.coats,
        )
        if coats
        else say("Without {name}", name=name)
    )


def picture(
    connection: sqlite3.Connection,
    session: Session,
    *,
    step: str = "",
    finished: bool = False,
    done: bool = True,
    width: int,
    side: str = "",
    bait: int = -1,
) -> bytes:
    """A PNG of the bait at a step, what it meets lit up, or from a `side` as it is; of one `bait` after its step; or
    finished: as it is done, or as it was planned. Raises NotFound."""
    run = [*(session.script.before if bait >= 0 else ()), *session.state.run(session.script)]
    here = next((one for one in run if one.key == step), None) or session.state.here(session.script)
    if here is None or not here.plan:
        here = next((one for one in reversed(run) if one.plan), None)
    if here is None:
        raise NotFound(say("No bait is painted in this session."), field="session")
    if bait >= 0:
        here = replace(here, first=bait, last=bait + 1)
    own = bait_of(connection, session, here)
    plan, instead = (own.done, own.instead) if done else (own.planned, {})
    return pictures.image(
        connection,
        plan,
        side=side or here.side or "left",
        width=width,
        steps=None if finished else own.so_far(here.steps) if done else here.steps,
        instead=instead,
        lit=None if finished or side else here.layer,
    )
