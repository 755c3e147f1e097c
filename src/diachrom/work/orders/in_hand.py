"""An order of which an evening has ended: its plan goes on from what was really done."""

import sqlite3
from dataclasses import replace
from datetime import UTC, timedelta

from diachrom import clock
from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.search import solve
from diachrom.errors import DiachromError
from diachrom.store import orders
from diachrom.store.connection import writing
from diachrom.work.kit import schedules
from diachrom.work.orders import scheduling
from diachrom.work.orders.bench import bench_time, hours_from
from diachrom.work.orders.todo import to_do


def goes_on(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """An evening over an order has ended: what is left of it is planned from what was really done, and not in the hours
    that are left of this evening, which other orders may have. Nothing where all is done, or nothing was planned."""
    try:
        order = orders.order(connection, number)
        schedule = schedules.read(order.schedule)
        done = orders.done(connection, [number])[number]
        if schedule is None or not schedules.left(schedule, done):
            return
        moment = clock.moment(at)
        if moment is None:
            return
        start = moment.astimezone(UTC).replace(second=0, microsecond=0)
        windows = hours_from(bench_time(connection).hours, start).windows
        if len(windows) > 1 and windows[0][0] <= 0:
            begins = (start + timedelta(minutes=windows[1][0])).isoformat(timespec="seconds")
            with writing(connection):
                orders.change(connection, replace(order, starts=max(order.starts, begins)))
        wanted = to_do(connection, number, at=at)
        scheduling.keep(connection, wanted, solve(wanted.work, lambda found: False))
    except (DiachromError, DoesNotFit):
        return  # its page says what is in the way
