"""What is done without a break as steps that fill the screen: with what each takes, sets and waits for."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from diachrom.core.bait.plan import ORIGINS, Layer, Plan
from diachrom.core.bait.regions import REGIONS
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.session.script import LEFT, POT, RIGHT, SIDES, BenchStep, Pour
from diachrom.store import paints
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.finish import air, stock
from diachrom.work.finish.air import lasting
from diachrom.work.kit import airbrushes
from diachrom.work.kit.airbrushes import Airbrush
from diachrom.work.kit.looks import look
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.orders.work_evenings import words_of
from diachrom.work.plan import two_part
from diachrom.work.plan.job import Poured

SPRAYED = ("spray", "mask", "pattern")
CAUTIONS = {
    "spray": ("spray",),
    "mask": ("spray",),
    "pattern": ("spray",),
    "prepare": ("dust",),
    "weigh": ("resin",),
    "clean": ("solvent",),
    "rinse": ("solvent",),
}
POWDERS = ("glow", "metallic", "pearl", "colour-shift")


@dataclass(frozen=True)
class StepContext:
    """What is known of the work."""

    connection: sqlite3.Connection
    schedule: Schedule
    plans: Mapping[int, tuple[int, int, Plan]]  # by line: plan, version, and the plan itself
    poured: Mapping[str, Poured]
    fills: Mapping[str, str] = field(default_factory=dict)  # of each paint's bead


def fills_of(connection: sqlite3.Connection, poured: Sequence[Poured]) -> dict[str, str]:
    """The colours of mixes, by key, "#rrggbb"."""
    wanted = [part.paint for one in poured for part in one.parts if part.paint]
    beads = {key: look(paint).bead for key, paint in paints.profiles(connection, wanted).items()}
    return {key: "" if colour is None else colour.shown.srgb for key, colour in beads.items()}


def made(visit: ScheduledBlock, number: int, told: StepContext) -> BenchStep:
    """A mix, drop by drop; what is sprayed straight from a bottle is poured as well."""
    cup = told.poured[visit.mix]
    pours = tuple(
        Pour(part.bottle, part.name, part.drops, part.drop_ml, told.fills.get(part.paint, ""))
        for part in cup.parts
        if part.bottle and part.drops
    )
    added = [
        (say("Add"), say("{name}: {drops} drops", name=one.name, drops=one.drops))
        for one in cup.parts
        if not one.bottle and one.drops
    ]
    over = [(say("Left over"), cup.over_words)] if cup.over_words else []
    return BenchStep(
        key=f"{number}:make",
        kind="make",
        words=say("Mix {name}", name=cup.name) if len(cup.parts) > 1 else say("Pour {name}", name=cup.name),
        block=visit.block if visit.what == "make" else "",
        mix=visit.mix,
        pours=pours,
        figures=((say("In all"), quantity(cup.volume_ml, ".2f", "ml")), *added, *over),
        dries_s=60 * visit.dries if visit.what == "make" else 0,
    )


def worked(visit: ScheduledBlock, number: int, told: StepContext) -> list[BenchStep]:
    """What is done of a visit: a side at a time where it is sprayed from either; a clear of two parts weighed first."""
    plan_number, version, plan = told.plans.get(visit.line, (0, 0, Plan()))
    layer = next((one for one in plan.layers if one.number == visit.layer), None)
    school = SCHOOLS.get(visit.paint) if visit.kind == "clear" else None
    found = CAUTIONS.get(visit.kind, ()) if school is None else school.cautions
    # Of the kind of clear, in the plan's air.
    if visit.kind != "clear" or visit.paint not in SCHOOLS:
        school_steps: tuple[str, ...] = ()
    else:
        school_steps = tuple(air.meant(told.connection, visit.paint, (plan.temperature_c, plan.humidity_percent)).steps)
    own = BenchStep(
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
        coats=0 if layer is None else layer.coats if visit.kind in ("mask", "pattern", "by hand") else 1,
        figures=() if layer is None else _figures(layer, visit, airbrushes.mine(told.connection)),
        notes=school_steps,
        paint=visit.paint,
        dries_s=60 * visit.dries,
        closes_s=None if visit.closes is None else 60 * visit.closes,
        cautions=(*found, "powder") if visit.paint in POWDERS and visit.kind in SPRAYED else found,
    )
    if visit.kind == "eyes":
        # The pair of the stock that fills the socket.
        eyes = stock.proposed(told.connection, plan)
        if eyes is None:
            step = own
        elif eyes.best is None:
            step = replace(own, figures=(("Eyes", eyes.words),))
        else:
            count = say_count(eyes.best.pairs, "{count} pair", "{count} pairs")
            figures = (
                (
                    say("Eyes"),
                    say("{size}, {kind}", size=quantity(eyes.best.size_mm, "g", "mm"), kind=eyes.best.kind),
                ),
                (say("In stock"), count),
            )
            step = replace(own, figures=figures, notes=(eyes.words,), eyes=eyes.best.id)
        return [step]
    if visit.kind == "clear" and visit.paint == "two-part":
        # Both parts on the scale, and what the plan stirs in; its pot life counts from the moment they meet.
        coat = two_part.coat_for(told.connection, plan, baits=max(own.last - own.first, 1))
        made = coat.batch
        powder: tuple[tuple[str, str], ...] = ()
        if coat.stirred is not None:
            powder = (
                (
                    say("Stirred in"),
                    say(
                        "{grams} g of {stirred}", grams=quantity(coat.stirred[1].grams, ".2f"), stirred=coat.stirred[0]
                    ),
                ),
            )
        weighed = BenchStep(
            key=f"{own.key}:weigh",
            kind="weigh",
            words=say("Weigh the two parts of the clear, and stir them"),
            line=own.line,
            plan=own.plan,
            version=own.version,
            layer=own.layer,
            steps=own.steps,
            first=own.first,
            last=own.last,
            figures=(
                (say("Part A"), quantity(made.a_g, ".2f", "g")),
                (say("Part B"), quantity(made.b_g, ".2f", "g")),
                *powder,
                (say("In all"), quantity(made.volume_ml, ".1f", "ml")),
                (
                    say("Pot life"),
                    say(
                        "{pot_life_s} min at {temperature}",
                        pot_life_s=quantity(coat.pot_life_s / 60, ".0f"),
                        temperature=quantity(coat.temperature_c, "g", "°C"),
                    ),
                ),
            ),
            paint=own.paint,
            timer=POT,
            dries_s=round(coat.pot_life_s),
            cautions=(*CAUTIONS["weigh"], "powder") if powder else CAUTIONS["weigh"],
        )
        return [weighed, own]
    if layer is None or visit.kind not in SPRAYED or not ORIGINS[layer.origin].both:
        return [own]
    if layer.sides != "both":
        return [_side(own, layer.sides)]
    left = replace(_side(own, LEFT), key=f"{own.key}:{LEFT}", block="", dries_s=0, closes_s=None)
    return [left, replace(_side(own, RIGHT), twin=left.key)]


def _side(step: BenchStep, side: str) -> BenchStep:
    return replace(step, side=side, words=listed([step.words, SIDES[side]]))


def _figures(layer: Layer, visit: ScheduledBlock, mine: Airbrush) -> tuple[tuple[str, str], ...]:
    """What to set at the airbrush, and where to hold it."""
    where = (say("Where"), REGIONS[layer.region].words)
    wait = ((say("Then wait"), lasting(visit.dries)),) if visit.dries else ()
    if visit.kind not in SPRAYED:
        return (where, *wait)
    return (
        where,
        (say("From"), ORIGINS[layer.origin].words),
        (say("Coats"), str(layer.coats) if visit.kind != "spray" else say("1 now")),
        (mine.name or say("My airbrush"), mine.words),
        *((say("{what}, here", what=words), value) for words, value in mine.differs(layer)),
        *wait,
    )
