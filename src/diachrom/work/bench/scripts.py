"""The script of a session: an order's schedule, a plan, or a single cup, step by step."""

import sqlite3
from collections.abc import Iterable, Sequence
from datetime import UTC, datetime

from diachrom.core.film.kinds import KINDS, SURE
from diachrom.core.mix.draft import Draft
from diachrom.core.mix.drying import waits
from diachrom.core.schedule.steps import steps
from diachrom.core.session.script import BenchStep, Pour, Script
from diachrom.errors import InvalidInput
from diachrom.store import orders
from diachrom.words import listed, quantity, say
from diachrom.work.bench.steps import CAUTIONS, StepContext, fills_of, made, worked
from diachrom.work.kit import schedules
from diachrom.work.kit.looks import look
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.mix import overspray_history
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.orders import paint
from diachrom.work.orders.bench import bench_time, ways
from diachrom.work.orders.laying import LaidPlan, cleaning, following, laid_plan, mixes
from diachrom.work.orders.orders import lines_now
from diachrom.work.plan import plans
from diachrom.work.plan.drying import drying_table
from diachrom.work.plan.job import job

MOST_BAITS, MOST_TIMES = 60, 40  # at a time
CANDY_REST_S = 600


def of_order(connection: sqlite3.Connection, order: int) -> Script:
    """What is still to be done of an order, in the order of its schedule. Raises NotFound, InvalidInput."""
    found = schedules.read(orders.order(connection, order).schedule)
    if found is None:
        raise InvalidInput(say("Schedule this order first: the bench follows its schedule."), field="order")
    own = paint.paint(connection, order)
    rows = {line.line.id: (line.line.plan, line.line.version, line.plan) for line in lines_now(connection, order)}
    poured = {one.key: one for one in own.job.poured}
    context = StepContext(connection, found, rows, poured, fills_of(connection, own.job.poured))
    left = {id(block) for block in schedules.left(found, orders.done(connection, [order])[order])}
    if not left:
        raise InvalidInput(say("Every step of this order is done: finish the order on its page."), field="order")
    return _script(found.visits, context, [id(visit) not in left for visit in found.visits])


def of_plan(connection: sqlite3.Connection, number: int, *, baits: int, one_by_one: bool, at: str) -> Script:
    """A plan as it stands, which is saved, for so many baits: each step on all of them, or bait by bait. Raises
    NotFound, InvalidInput."""
    if not 1 <= baits <= MOST_BAITS:
        raise InvalidInput(
            say("1 to {most_baits} baits at a time, not {baits}.", most_baits=MOST_BAITS, baits=baits), field="baits"
        )
    version = plans.save(connection, number, at=at).version
    plan = plans.version(connection, number, version).document
    laid = laid_plan(connection, plan, baits)
    poured = job([laid.look], overspray_history.learned(connection)).poured
    # Of work that follows no clock.
    schedule = Schedule(
        start=datetime.fromtimestamp(0, UTC),
        ends=0,
        hands_end=0,
        bound=0,
        proven=False,
        cleaning=0,
        visits=[],
        sequence=[],
        lines={0: (plan.name, baits)},
    )
    own = {one.key: one for one in poured}
    context = StepContext(connection, schedule, {0: (number, version, plan)}, own, fills_of(connection, poured))
    visits = list(_blocks(connection, laid, baits, one_by_one=one_by_one))
    return _script(visits, context, [False] * len(visits))


def _blocks(
    connection: sqlite3.Connection, laid: LaidPlan, baits: int, *, one_by_one: bool
) -> Iterable[ScheduledBlock]:
    """Step by step over the baits; the airbrush is cleaned where the next colour does not bear the last."""
    time = bench_time(connection)
    every = mixes([laid], time.pace)
    table = cleaning(following(laid.cups), time.pace)
    unmade = list(every.values()) if time.premixed else []
    groups = [(index, index + 1) for index in range(baits)] if one_by_one else [(0, baits)]
    loaded = ""
    for first, last in groups:
        for step in steps(laid.plan, laid.laid, ways(connection)):
            if step.mix:  # all mixes are made once the blanks are ready
                yield from (
                    ScheduledBlock("", "make", 0, 0, words=one.words, mix=one.key, dries=one.rests) for one in unmade
                )
                unmade = []
            if step.loads and loaded and step.loads != loaded and (minutes := table.get((loaded, step.loads), 4)):
                kind = "rinse" if minutes <= time.pace.rinse else "clean"
                yield ScheduledBlock("", "clean", 0, 0, kind=kind, words=laid.cups[step.loads].words)
            loaded = step.loads or loaded
            yield ScheduledBlock(
                "",
                "work",
                0,
                0,
                step=step.key,
                words=step.words,
                kind=step.kind,
                mix=step.mix,
                first=first,
                last=last,
                dries=step.dries,
                closes=step.closes,
                layer=step.layer,
                paint=step.paint,
            )


def _script(visits: Sequence[ScheduledBlock], told: StepContext, done: Sequence[bool]) -> Script:
    """Each mix is made before it is first used, if nothing made it before."""
    found: tuple[list[BenchStep], list[BenchStep]] = ([], [])
    poured: set[str] = set()
    for number, (visit, is_done) in enumerate(zip(visits, done, strict=True)):
        own = found[is_done]
        if visit.mix in told.poured and visit.mix not in poured and visit.what != "clean":
            poured.add(visit.mix)
            own.append(made(visit, number, told))
        if visit.what != "make":
            own += worked(visit, number, told)
    return Script(*found)


def of_cup(connection: sqlite3.Connection, draft: Draft, *, mix: str, times: int = 1) -> Script:
    """A cup by itself: poured drop by drop, tried on paper, sprayed coat by coat. `mix` is what it is known by. Raises
    InvalidInput."""
    if not 1 <= times <= MOST_TIMES:
        raise InvalidInput(
            say("1 to {most_times} times the cup, not {times}.", most_times=MOST_TIMES, times=times), field="times"
        )
    held = contents(connection, draft)
    cup = cup_of(held)
    if cup.empty:
        raise InvalidInput(say("The cup is empty: add a drop first."), field="cup")
    name = draft.name or say("the cup")
    pours = []
    for part in draft.parts:
        bead = look(held.shelf[part.bottle].paint).bead
        fill = "" if bead is None else bead.shown.srgb
        bottle = held.shelf[part.bottle].bottle
        pours.append(Pour(bottle.id, bottle.full_name, times * part.drops, held.drop_ml(part), fill))
    kinds = {held.shelf[part.bottle].bottle.kind for part in draft.parts}
    volume = times * cup.volume_ml
    shake = listed(pour.name for pour in pours)
    table = drying_table(connection)
    slowest = sorted(kinds, key=lambda kind: (not KINDS[kind].dye, kind))
    kind = next((kind for kind in slowest if kind in table), SURE)
    dries = waits(table[kind], max(draft.film_um, 1.0), (20.0, 50.0))
    figures = (
        (say("Coat"), quantity(draft.film_um, "g", "µm")),
        (say("Nozzle"), quantity(draft.nozzle_mm, "g", "mm")),
    )
    found = []
    for coat in range(1, draft.coats + 1):
        last = coat == draft.coats
        found.append(
            BenchStep(
                f"coat:{coat}",
                "spray",
                say("{what}, coat {coat} of {coats}", what=draft.name or say("The cup"), coat=coat, coats=draft.coats),
                coats=1,
                figures=figures,
                paint=kind,
                dries_s=60 * (dries.touch if last else dries.flash),
                cautions=CAUTIONS["spray"],
            )
        )
    steps_ = [
        BenchStep(
            "shake",
            "shake",
            say("Shake {shake}", shake=shake),
            figures=((say("Until"), say("nothing sits on the bottom")),),
        ),
        BenchStep(
            "0:make",
            "make",
            say("Mix {name}", name=name),
            mix=mix,
            pours=tuple(pours),
            figures=((say("In all"), quantity(volume, ".2f", "ml")),),
            dries_s=CANDY_REST_S if any(KINDS[kind].dye for kind in kinds) else 0,
        ),
        BenchStep(
            "try",
            "try",
            say("A puff of {name} on white paper, and on what lies beneath", name=name),
            cautions=("spray",),
        ),
        *found,
    ]
    return Script(steps_)
