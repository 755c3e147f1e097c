"""The cup as it is really poured: by a plan or without one, tested on paper, corrected, saved with its story."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e, mean_delta_e
from diachrom.core.light.lab import lab
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.fast_predictor import FastPredictor
from diachrom.core.mix.mixes import exact_labs
from diachrom.core.mix.story import Told, Verdict, by_eye, cups_along, story
from diachrom.core.mix.where import DIFFUSE, Where, facing
from diachrom.core.pour.order import pouring_order
from diachrom.errors import EmptyCup
from diachrom.exchange.sample import Sample
from diachrom.store import cups, stories, targets
from diachrom.store.connection import writing
from diachrom.store.cups import CupNow
from diachrom.store.recipes import Version
from diachrom.store.targets import Target
from diachrom.words import quantity, say
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import SprayedPatch
from diachrom.work.match.targets import labs_of, point
from diachrom.work.mix import charging
from diachrom.work.mix import cup as cup_work
from diachrom.work.mix.candidates import D65, where_sprayed
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf


@dataclass(frozen=True, eq=False)
class PouringLine:
    """A bottle at the cup: what the plan wants of it, and what has fallen."""

    row: OnShelf
    drops: int
    planned: int
    first_goes: float | None  # share of its way that its first drop goes by the plan; None where that is all or nothing


@dataclass(frozen=True, eq=False)
class AtCup:
    """The cup being poured."""

    now: CupNow
    contents: Contents
    lines: Sequence[PouringLine]
    planned: bool
    next_bottle: int | None  # whose drop falls next by the plan
    target: Target | None  # of this cup
    lab: Floats | None  # (3,) as sprayed, facing the eye; None while there is nothing that colours
    difference: str  # from the target, in words
    delta_e: float | None
    told: Sequence[Told]
    path: Sequence[Floats]  # (3,) after each of what was told, where there was a colour


def start(connection: sqlite3.Connection, *, at: str) -> None:
    """Pour what is in the cup on the bench drop by drop, into an empty one; one that is being poured already goes on.
    Undo brings the counted one back.

    Raises EmptyCup.
    """
    with writing(connection):
        standing = cups.now(connection)
        if cup_work.under_way(connection, standing) is not None:
            return
        draft = standing.draft
        if not draft.drops:
            raise EmptyCup(say("pouring it drop by drop"))
        cup = cup_of(contents(connection, draft))
        if cup.only_thinner:
            in_order = list(draft.parts)
        else:
            order = pouring_order(cup, where_sprayed(connection, draft))
            in_order = [draft.parts[one.index] for one in order]
        plan = [part for part in in_order if part.drops]
        aim = targets.number_at_cup(connection)
        batch = cups.new_batch(connection, recipe=standing.recipe, version=standing.version, target=aim)
        cups.set_plan(connection, batch, plan)
        empty = replace(draft, parts=tuple(replace(part, drops=0) for part in plan))
        cups.append(connection, empty, did=cup_work.STARTING, at=at, batch=batch)


def see(connection: sqlite3.Connection) -> AtCup:
    """The cup as it stands, with everything that has happened to it."""
    now = cups.now(connection)
    draft, plan = now.draft, cups.plan_of(connection, now.batch)
    held = contents(connection, draft)
    wanted = {part.bottle: part.drops for part in plan}
    # By bottle of the plan, where more than one drop is to come.
    whole = replace(draft, parts=tuple(plan))
    shares_cup = cup_of(contents(connection, whole))
    if shares_cup.only_thinner:
        first = {}
    else:
        order = pouring_order(shares_cup, where_sprayed(connection, draft))
        first = {
            plan[one.index].bottle: one.first_goes for one in order if one.first_goes is not None and one.drops > 1
        }
    lines = [
        PouringLine(held.shelf[part.bottle], part.drops, wanted.get(part.bottle, 0), first.get(part.bottle))
        for part in draft.parts
        if part.drops or wanted.get(part.bottle)
    ]
    following = next((line.row.bottle.id for line in lines if line.drops < line.planned), None)
    target = targets.at_cup(connection)
    views = target.seen.views if target else DIFFUSE
    told = story(cups.steps_of(connection, now.batch))
    where, cup = where_sprayed(connection, draft, views), cup_of(held)
    labs = [] if cup.only_thinner else [_labs(cup, where)]
    difference, far = "", None
    if labs and target:
        aim_at = labs_of(target)
        difference, far = words.turning(aim_at, labs[0]), float(mean_delta_e(labs[0], aim_at))
    front = facing(views)
    seen = labs[0][front] if labs else None
    return AtCup(
        now=now,
        contents=held,
        lines=lines,
        planned=bool(plan),
        next_bottle=following,
        target=target,
        lab=seen,
        difference=difference,
        delta_e=far,
        told=told,
        path=path(connection, told, where),
    )


def _labs(cup: Cup, where: Where) -> Floats:
    """(view, 3)"""
    paints = [pour.paint for pour in cup.pours]
    return np.asarray(exact_labs(paints, cup.fractions[None], where)[0])


def path(connection: sqlite3.Connection, told: Sequence[Told], where: Where) -> list[Floats]:
    """(3,) facing the eye, after each thing that was told, where there was a colour by then."""
    sizes = {one.bottle: one.drop_ml for one in told if one.bottle is not None}
    rows = on_shelf(connection, list(sizes))
    able = [bottle for bottle in sizes if bottle in rows]
    paints = [rows[bottle].paint for bottle in able]
    volumes = np.array([[one.get(bottle, 0) * sizes[bottle] for bottle in able] for one in cups_along(told)])
    coloured = [index for index, paint in enumerate(paints) if not paint.thins]
    if not len(volumes) or not coloured:
        return []
    volumes = volumes[volumes[:, coloured].sum(axis=1) > 0]
    if not len(volumes):
        return []
    return list(FastPredictor(where, paints).of_volumes(volumes)[:, facing(where.views)])


def judge(connection: sqlite3.Connection, said: str, *, at: str) -> None:
    """What the eye says of a puff on paper. Raises InvalidInput, EmptyCup."""
    _say(connection, by_eye(said), at=at)


def read_paper(connection: sqlite3.Connection, devices: Devices, key: str, *, at: str) -> Verdict:
    """What a reader says of a puff on paper. Raises EmptyCup, InstrumentError; nothing is kept of a reading that
    failed."""
    aim = _aim(connection)
    draft = aim.cup.now.draft
    reading = devices.read(key, there=SprayedPatch(draft, draft.ground, draft.coats))
    return _measured(connection, aim, reading.values, reading.by, at=at)


def from_sample(connection: sqlite3.Connection, name: str, sample: Sample, *, at: str) -> Verdict:
    """What a reading of a puff says that came in a file of that name. Raises EmptyCup."""
    return _measured(connection, _aim(connection), sample.reflectance, name[:60], at=at)


@dataclass(frozen=True, eq=False)
class _Aim:
    """What a puff is held beside: the target or, without one, what was predicted."""

    cup: AtCup
    lab: Floats  # (3,)
    words: str


def _aim(connection: sqlite3.Connection) -> _Aim:
    cup = see(connection)
    if cup.lab is None:
        raise EmptyCup(say("reading a puff of it"))
    if cup.target is None:
        return _Aim(cup, cup.lab, say("what was predicted"))
    return _Aim(cup, point(cup.target), say("the target"))


def _measured(connection: sqlite3.Connection, aim: _Aim, reflectance: Floats, by: str, *, at: str) -> Verdict:
    read = lab(reflectance, under=D65)
    said = say(
        "{difference} beside {whose}, dE {far}",
        difference=words.difference(aim.lab, read),
        whose=aim.words,
        far=quantity(float(delta_e(read, aim.lab)), ".1f"),
    )
    light, red, yellow = read.tolist()
    verdict = Verdict(said[:80], by, (light, red, yellow))
    _say(connection, verdict, at=at)
    return verdict


def _say(connection: sqlite3.Connection, verdict: Verdict, *, at: str) -> None:
    with writing(connection):
        standing = cups.now(connection)
        if not standing.draft.drops:
            raise EmptyCup(say("judging a puff of it"))
        did = say("the verdict “{words}”", words=verdict.words)
        cups.append(connection, standing.draft, did=did, at=at, batch=standing.batch, verdict=verdict)


@dataclass(frozen=True)
class Finished:
    saved: Version
    is_new: bool
    taken: charging.Taken


def finish(connection: sqlite3.Connection, name: str = "", *, at: str) -> Finished:
    """Save the cup as it was poured, under a name of its own or as it is called already, with its story; and charge the
    bottles. Raises InvalidInput, EmptyCup."""
    with writing(connection):  # saved and charged, or neither
        if name.strip():
            cup_work.call_it(connection, name=name, note=cups.now(connection).draft.note, at=at)
        saved, is_new = cup_work.save(connection, at=at)
        return Finished(saved, is_new, charging.take_from_stock(connection, at=at))


def story_of(connection: sqlite3.Connection, saved: Version) -> tuple[list[Told], list[Floats]]:
    """How a version was poured, and the path of its colour as it was meant to be sprayed."""
    told = stories.of(connection, saved.recipe, saved.version)
    return told, path(connection, told, where_sprayed(connection, saved.draft)) if told else []
