"""What was done, when; and how this bench dries, from what was really waited."""

import sqlite3

from diachrom import clock
from diachrom.errors import InvalidInput
from diachrom.store import orders
from diachrom.store.connection import writing
from diachrom.store.orders import DoneStep, WaitSeen
from diachrom.words import say
from diachrom.work.kit import schedules
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.plan.drying import drying_learned

DRY, WET = "dry", "wet"


def done(connection: sqlite3.Connection, number: int, block: str, *, beneath: str = "", at: str) -> None:
    """A block is done now; `beneath`: whether the coat before it was dry, "" where nobody looked. Raises InvalidInput,
    NotFound."""
    with writing(connection):
        schedule, blocks = _block(connection, number, block)
        if beneath in (DRY, WET) and blocks[0].what == "work":
            # From the end of the coat before it on its first bait to the beginning of this one.
            dry = beneath == DRY
            first = blocks[0]
            steps = [
                visit
                for visit in schedule.visits
                if visit.line == first.line and visit.what == "work" and visit.start < first.start
            ]
            before = [step for step in steps if step.first <= first.first < step.last and step.step != first.step]
            ended = {
                done_step.step: done_step.at
                for done_step in orders.done(connection, [number])[number]
                if done_step.bait == first.first
            }
            coat = before[-1] if before else None
            if not (coat is None or coat.dries <= 0 or not coat.paint or coat.step not in ended):
                then, now = clock.moment(ended[coat.step]), clock.moment(at)
                if not (then is None or now is None):
                    hands = sum(one.end - one.start for one in blocks)
                    waited = (now - then).total_seconds() / 60 - hands
                    factor = drying_learned(connection)
                    asked = coat.dries / (factor[coat.paint].factor if coat.paint in factor else 1.0)
                    if waited > 0:
                        orders.add_wait(connection, WaitSeen(coat.paint, waited, asked, dry), at=at)
        orders.put_done(connection, number, _steps(blocks, at))


def not_done(connection: sqlite3.Connection, number: int, block: str) -> None:
    """Raises InvalidInput, NotFound."""
    with writing(connection):
        _, blocks = _block(connection, number, block)
        orders.drop_done(connection, number, _steps(blocks, ""))


def take_back_last(connection: sqlite3.Connection, number: int) -> bool:
    """What was done last is to be done again; whether there was anything. Raises NotFound."""
    with writing(connection):
        orders.order(connection, number)
        every = orders.done(connection, [number])[number]
        orders.drop_done(connection, number, [done_step for done_step in every if done_step.at == every[-1].at])
        return bool(every)


def _block(connection: sqlite3.Connection, number: int, block: str) -> tuple[Schedule, list[ScheduledBlock]]:
    schedule = schedules.read(orders.order(connection, number).schedule)
    blocks = (
        []
        if schedule is None
        else [visit for visit in schedule.visits if visit.block == block and visit.what != "clean"]
    )
    if schedule is None or not blocks:
        raise InvalidInput(say("That step is no longer on the schedule: look at it again."), field="block")
    return schedule, blocks


def _steps(own: list[ScheduledBlock], at: str) -> list[DoneStep]:
    return [DoneStep(line, step, bait, at) for block in own for line, step, bait in block.steps]
