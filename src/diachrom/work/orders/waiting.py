"""What was done, when; and how this bench dries, from what was really waited."""

import sqlite3

from diachrom import clock
from diachrom.errors import InvalidInput
from diachrom.store import orders
from diachrom.store.connection import writing
from diachrom.store.orders import DoneStep, WaitSeen
from diachrom.work.kit import schedules
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.plan.drying import drying_learned

DRY, WET = "dry", "wet"


def done(connection: sqlite3.Connection, number: int, block: str, *, beneath: str = "", at: str) -> None:
    """A block is done now; `beneath`: whether the coat before it was dry, "" where nobody looked. Raises InvalidInput,
    NotFound."""
    with writing(connection):
        found, own = _block(connection, number, block)
        if beneath in (DRY, WET) and own[0].what == "work":
            # From the end of the coat before it on its first bait to the beginning of this one.
            dry = beneath == DRY
            first = own[0]
            steps = [
                one for one in found.visits if one.line == first.line and one.what == "work" and one.start < first.start
            ]
            before = [one for one in steps if one.first <= first.first < one.last and one.step != first.step]
            ended = {one.step: one.at for one in orders.done(connection, [number])[number] if one.bait == first.first}
            coat = before[-1] if before else None
            if not (coat is None or coat.dries <= 0 or not coat.paint or coat.step not in ended):
                then, now = clock.moment(ended[coat.step]), clock.moment(at)
                if not (then is None or now is None):
                    hands = sum(one.end - one.start for one in own)
                    waited = (now - then).total_seconds() / 60 - hands
                    factor = drying_learned(connection)
                    asked = coat.dries / (factor[coat.paint].factor if coat.paint in factor else 1.0)
                    if waited > 0:
                        orders.add_wait(connection, WaitSeen(coat.paint, waited, asked, dry), at=at)
        orders.put_done(connection, number, _steps(own, at))


def not_done(connection: sqlite3.Connection, number: int, block: str) -> None:
    """Raises InvalidInput, NotFound."""
    with writing(connection):
        _, own = _block(connection, number, block)
        orders.drop_done(connection, number, _steps(own, ""))


def take_back_last(connection: sqlite3.Connection, number: int) -> bool:
    """What was done last is to be done again; whether there was anything. Raises NotFound."""
    with writing(connection):
        orders.order(connection, number)
        every = orders.done(connection, [number])[number]
        orders.drop_done(connection, number, [one for one in every if one.at == every[-1].at])
        return bool(every)


def _block(connection: sqlite3.Connection, number: int, block: str) -> tuple[Schedule, list[ScheduledBlock]]:
    found = schedules.read(orders.order(connection, number).schedule)
    own = [] if found is None else [one for one in found.visits if one.block == block and one.what != "clean"]
    if found is None or not own:
        raise InvalidInput("That step is not on the schedule any more: look at it again.", field="block")
    return found, own


def _steps(own: list[ScheduledBlock], at: str) -> list[DoneStep]:
    return [DoneStep(line, step, bait, at) for one in own for line, step, bait in one.steps]
