"""An order's schedule: what there is to do, put to the search in the background, and kept as it was found."""

import sqlite3
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from diachrom.core.schedule.hours import DoesNotFit, Hours
from diachrom.core.schedule.search import Found, solve
from diachrom.store import orders
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.kit import schedules
from diachrom.work.kit.opened import opened
from diachrom.work.kit.tasks import Stopped, Task, Tasks
from diachrom.work.orders import paint
from diachrom.work.orders.found import schedule_of
from diachrom.work.orders.todo import ToDo, minute_of, to_do

SEARCH_S = 1.7  # what is put together at last takes the rest of two seconds
GREEDY_ROUNDS = 12  # for a first idea of when it would be ready


class ScheduleTask(Task):
    """Looking for the best order of work."""

    nothing_kept = say("The last schedule is still there.")

    def __init__(self, number: int, at: str) -> None:
        super().__init__()
        self.number, self.at = number, at
        self.total = int(SEARCH_S * 1000)

    def work(self, folder: Path) -> None:
        """Look for the best order of work."""
        with opened(folder) as connection:
            wanted = to_do(connection, self.number, at=self.at)
            began = time.monotonic()
            last: list[int] = []

            def go_on(found: Found) -> bool:
                spent = time.monotonic() - began
                self.done = min(int(spent * 1000), self.total - 1)
                if not last:
                    last.append(found.timed.ends)
                    _keep_unless_dragged(connection, wanted, found)
                return spent < SEARCH_S and not self.stopping

            found = late_enough(wanted, go_on) if wanted.order.ready_by else solve(wanted.work, go_on)
            paint.tell_list(connection, self.number)
            _keep_unless_dragged(connection, wanted, found)
        self.done = self.total


def late_enough(wanted: ToDo, go_on: Callable[[Found], bool]) -> Found:
    """As late as it may begin to be ready by its day: the latest time at the bench from which that works. Begun at once
    where none does."""
    due = minute_of(wanted.order.due, wanted.start)
    hours = wanted.work.bench.hours
    openings = [index for index, (start, _) in enumerate(hours.windows) if start < due]

    def begun(at: int, ask: Callable[[Found], bool]) -> Found | None:
        bench = replace(wanted.work.bench, hours=Hours(hours.windows[at:]))
        try:
            return solve(replace(wanted.work, bench=bench), ask)
        except DoesNotFit:
            return None

    def roughly(at: int) -> bool:
        rounds = iter(range(GREEDY_ROUNDS))
        found = begun(at, lambda one: next(rounds, None) is not None and one.timed.ends > due)
        return found is not None and found.timed.ends <= due

    low, high = 0, len(openings)  # the first may do, the last does not
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if roughly(middle) else (low, middle)
    found = begun(low, go_on)
    return solve(wanted.work, go_on) if found is None else found


def start(tasks: Tasks, number: int, *, at: str) -> ScheduleTask | None:
    """Look for a schedule anew."""
    return tasks.start(("schedule", number), lambda known: ScheduleTask(number, at))


def running(tasks: Tasks, number: int) -> ScheduleTask | None:
    """The search of an order that goes on, None where none does."""
    return tasks.of(("schedule", number), ScheduleTask)


def _keep_unless_dragged(connection: sqlite3.Connection, wanted: ToDo, found: Found) -> None:
    """Raises Stopped when somebody dragged a block meanwhile, or let go: what a hand did stays."""
    with writing(connection):
        if orders.order(connection, wanted.order.number).pins != wanted.order.pins:
            raise Stopped
        keep(connection, wanted, found)


def keep(connection: sqlite3.Connection, wanted: ToDo, found: Found) -> None:
    """What was found, as the order's schedule."""
    schedule = schedule_of(wanted, found)
    with writing(connection):
        order = orders.order(connection, wanted.order.number)
        orders.change(connection, replace(order, schedule=schedules.written(schedule)))
