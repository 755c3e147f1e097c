"""What the schedule must know of a plan: its layers with their kinds of paint, its mixes, what they take, and which of
them may follow which in the cup."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from diachrom.core.bait.checks.look import Look, kind_of
from diachrom.core.bait.masks import MASKS
from diachrom.core.bait.plan import WHATS, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.film.kinds import keys
from diachrom.core.film.paint import Mix
from diachrom.core.light.screen import shown
from diachrom.core.mix.rinse import CLEAN, FOLLOWS, RINSE, follows
from diachrom.core.schedule.steps import Laid, Pace
from diachrom.core.schedule.work import MixWork
from diachrom.store import paints
from diachrom.words import listed
from diachrom.work.plan.checking import look_at
from diachrom.work.plan.job import mix_key
from diachrom.work.plan.painting import laid

CANDY = 0.3
DYES = keys("dye")


@dataclass(frozen=True, eq=False)
class CupOf:
    """A mix as it goes into the airbrush."""

    key: str
    words: str
    fill: str  # "#rrggbb", "" for what has no colour
    candy: bool
    mix: Mix | None


@dataclass(frozen=True, eq=False)
class LaidPlan:
    """A plan for so many baits."""

    plan: Plan
    laid: Sequence[Laid]
    cups: Mapping[str, CupOf]
    look: Look


def read_plans_at_once(connection: sqlite3.Connection, plans: Sequence[Plan]) -> None:
    """What the layers of all these plans are made of, before they are asked for one by one."""
    layers = [layer for plan in plans for layer in plan.layers]
    known = {one.id for one in paints.every_record(connection)}
    paints.profiles(connection, {one.source for one in layers} & known)
    laid(connection, layers)


def laid_plan(connection: sqlite3.Connection, plan: Plan, baits: int) -> LaidPlan:
    """A plan for so many baits, as a schedule needs it."""
    own = replace(plan, baits=max(baits, 1))
    look = look_at(connection, own, picture=False)
    steps: list[Laid] = []
    cups: dict[str, CupOf] = {}
    for seen in look.seen:
        cup_layer = seen.layer
        if cup_layer.what in ("sealer", "varnish"):
            cup = CupOf(cup_layer.what, WHATS[cup_layer.what].words, "", False, seen.made.painted.mix)
        elif not WHATS[cup_layer.what].paint:
            cup = None
        else:
            fill = "" if seen.made.aim is None else shown(seen.made.aim[None, :])[0].srgb
            cup = CupOf(
                mix_key(cup_layer),
                cup_layer.name or seen.made.words,
                fill,
                seen.of_kind("candy", least=CANDY),
                seen.made.painted.mix,
            )
        if cup is not None:
            cups.setdefault(cup.key, cup)
        film_um = float(seen.film_um.max(initial=0.0)) / max(seen.layer.coats, 1)
        # "Autumn char, back", "Torv Kritt, spots"
        layer = seen.layer
        name = layer.name or seen.made.words
        if layer.what not in ("recipe", "paint", "wash"):
            words = name
        elif layer.mask.kind not in ("free", "wash"):
            words = listed([name, MASKS[layer.mask.kind].words])
        else:
            words = name if layer.name else listed([name, REGIONS[layer.region].words])
        steps.append(
            Laid(
                seen.layer,
                words,
                kind_of(seen),
                "" if cup is None else cup.key,
                max(film_um, 1.0),
            )
        )
    return LaidPlan(own, steps, cups, look)


def mixes(plans: Sequence[LaidPlan], pace: Pace) -> dict[str, MixWork]:
    """Each mix of all plans once; what is poured as it is, a bottle's own paint or a sealer, takes no time."""
    found: dict[str, MixWork] = {}
    for plan in plans:
        for cup in plan.cups.values():
            if cup.key.startswith("recipe:"):
                rests = pace.rests_candy if cup.candy else 0
                found.setdefault(cup.key, MixWork(cup.key, cup.words, pace.mix, rests))
    return found


@dataclass(frozen=True)
class Following:
    """What has to be done to the airbrush from one mix to the next."""

    first: str
    second: str
    how: str  # FOLLOWS, RINSE, CLEAN


def following(cups: Mapping[str, CupOf]) -> list[Following]:
    """What has to be done from each mix to each other."""
    own = [cup for cup in cups.values() if cup.mix is not None]
    table = follows([one.mix for one in own if one.mix is not None])
    return [
        Following(one.key, other.key, table[a][b]) for a, one in enumerate(own) for b, other in enumerate(own) if a != b
    ]


def cleaning(found: Sequence[Following], pace: Pace) -> dict[tuple[str, str], int]:
    """Minutes from one mix to another."""
    minutes = {FOLLOWS: 0, RINSE: pace.rinse, CLEAN: pace.clean}
    return {(one.first, one.second): minutes[one.how] for one in found}


def all_cups(plans: Sequence[LaidPlan]) -> dict[str, CupOf]:
    """The mixes of all plans, each once."""
    cups: dict[str, CupOf] = {}
    for plan in plans:
        for key, cup in plan.cups.items():
            cups.setdefault(key, cup)
    return cups
