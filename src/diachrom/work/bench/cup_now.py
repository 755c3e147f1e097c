"""The cup as it is beside the cup as it was meant, the drops that bring it back, and the recipe that it came to."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.surface import ROUGH
from diachrom.core.film.paint import Paint
from diachrom.core.light.difference import delta_e
from diachrom.core.light.words import difference
from diachrom.core.mix.draft import LONGEST_NAME, Draft, Part
from diachrom.core.mix.mixes import exact_labs
from diachrom.core.mix.prediction import colour_of
from diachrom.core.pour.bringing_back import returns
from diachrom.core.session.pouring import cup_step
from diachrom.core.session.script import BenchStep
from diachrom.errors import DiachromError
from diachrom.store import bottles, paints, plans, recipes
from diachrom.store.recipes import Version
from diachrom.store.sessions import Session
from diachrom.words import listed, quantity, say
from diachrom.work.bench import as_painted
from diachrom.work.mix.candidates import where_sprayed
from diachrom.work.plan.painting import Instead, painted_bait, recipe_numbers


@dataclass(frozen=True)
class BroughtBack:
    """Drops that are added, and how near they bring it."""

    words: str
    value: str  # of the event that counts it anew


@dataclass(frozen=True)
class CupNow:
    """A cup that is not as it was meant."""

    step: str  # that made it
    name: str
    meant: str  # "#rrggbb", as it is sprayed
    now: str
    words: str  # how it is off
    ways: Sequence[BroughtBack]
    mixed: bool  # all of it is in already
    of_recipe: bool  # so that what is left of it can be kept in a jar


def cup_now(connection: sqlite3.Connection, session: Session) -> CupNow | None:
    """The cup that is poured or sprayed from now; None where it is as it was meant, or nothing can be said of it."""
    told = [one.step for one in session.state.slips if one.kind == "astray"][-1:]
    cups = [cup_step(session.script, session.state), *(cup_step(session.script, session.state, key) for key in told)]
    made = next((one for one in cups if one is not None and _is_off(session, one)), None)
    if made is None:
        return None
    asked = as_painted.asked_of(session, made)
    fell = session.state.drops.get(made.key, {})
    wanted = [asked.get(one.bottle, 0) for one in made.pours]
    standing = [fell.get(one.bottle, 0) for one in made.pours]
    standing = [max(pair) for pair in zip(standing, wanted, strict=True)]
    try:
        stands = as_painted.stood_in(session, made)
        ids = [stands.get(one.bottle, one.bottle) for one in made.pours]
        shelf = bottles.by_id(connection, ids)
        profiles = [paints.profile(connection, shelf[key].paint_id) for key in ids]
        where = where_sprayed(connection, _draft(connection, made) or Draft())
        sizes = [one.drop_ml for one in made.pours]
        _, found = returns(profiles, sizes, wanted, standing, where)
        volumes = np.array([wanted, standing]) * np.array(sizes)
        shares = volumes / volumes.sum(axis=1, keepdims=True)
        labs = exact_labs(profiles, shares, where)[:, 0]
    except DiachromError:
        return None
    ways = []
    for one in found:
        added = listed(
            (
                say("{drops} {name}", drops=new - old, name=pour.name)
                for pour, new, old in zip(made.pours, one.drops, standing, strict=True)
                if new > old
            )
        )
        mix = [(paint, ml) for paint, ml in zip(profiles, np.array(one.drops) * np.array(sizes), strict=True) if ml]
        off = _on_bait(connection, session, made, [(paint, float(ml / sum(m for _, m in mix))) for paint, ml in mix])
        words = say(
            "Add {added}: dE {apart}, {added_ml} more in the cup.",
            added=added,
            apart=quantity(one.delta_e if off is None else off, ".1f"),
            added_ml=quantity(one.added_ml, ".2f", "ml"),
        )
        if one.added_ml > volumes[0].sum():
            words = say("{words} A new cup takes less paint.", words=words)
        ways.append(BroughtBack(words, ",".join(map(str, one.drops))))
    off = _on_bait(
        connection, session, made, [(paint, share) for paint, share in zip(profiles, shares[1], strict=True) if share]
    )
    words = say("dE {apart}: {words}", apart=quantity(float(delta_e(*labs)), ".1f"), words=difference(labs[0], labs[1]))
    if off is not None:
        far = quantity(off, ".1f")
        words = say("{words}. On the finished bait dE {far} where it shows most.", words=words, far=far)
    return CupNow(
        step=made.key,
        name=made.words.partition(" ")[2],
        meant=colour_of(labs[0]).shown.srgb,
        now=colour_of(labs[1]).shown.srgb,
        words=words,
        ways=ways,
        mixed=made.key in session.state.done,
        of_recipe=recipe_numbers(made.mix.partition("|")[0]) is not None,
    )


def _is_off(session: Session, made: BenchStep) -> bool:
    """Whether more fell into a cup than it was meant to hold."""
    asked = as_painted.asked_of(session, made)
    return any(count > asked.get(bottle, 0) for bottle, count in session.state.drops.get(made.key, {}).items())


def _draft(connection: sqlite3.Connection, made: BenchStep) -> Draft | None:
    """The recipe that a step mixes; None for what is none."""
    numbers = recipe_numbers(made.mix.partition("|")[0])
    return None if numbers is None else recipes.version(connection, *numbers).draft


def _on_bait(
    connection: sqlite3.Connection, session: Session, made: BenchStep, mix: Sequence[tuple[Paint, float]]
) -> float | None:
    """How far the finished bait is off with such a cup, dE at its 95 percent; None where the cup is on no bait."""
    step = next((one for one in session.script.steps if one.plan and one.mix == made.mix), None)
    if step is None:
        return None
    try:
        plan = plans.version(connection, step.plan, step.version).document
        cups: tuple[Instead, Instead] = ({}, {made.mix.partition("|")[0]: mix})
        seen = [labs_of(painted_bait(connection, plan, cells=ROUGH, instead=one)[0]) for one in cups]
    except DiachromError:
        return None
    return float(np.quantile(delta_e(*seen).max(axis=0), 0.95))


def as_poured(
    connection: sqlite3.Connection, session: Session, made: BenchStep, *, note: str, at: str
) -> Version | None:
    """The recipe of a cup as it was really poured: its own where it was as meant, else one that is kept now; None for
    what is no recipe's. Inside `writing`."""
    numbers = recipe_numbers(made.mix.partition("|")[0])
    if numbers is None:
        return None
    own = recipes.version(connection, *numbers)
    stands = as_painted.stood_in(session, made)
    fell = session.state.drops.get(made.key, {})
    if not stands and as_painted.as_meant(connection, session, made, fell):
        return own
    parts = tuple(
        Part(stands.get(one.bottle, one.bottle), fell[one.bottle], one.drop_ml)
        for one in made.pours
        if fell.get(one.bottle)
    )
    if not parts:
        return None
    name = say("{name}, as poured", name=own.draft.name)[:LONGEST_NAME]
    wanted = replace(own.draft, parts=parts, name=name, note=note)
    recipe = recipes.new_recipe(connection)
    return recipes.add_version(connection, wanted.to_save(), recipe=recipe, parent_version=None, at=at)
