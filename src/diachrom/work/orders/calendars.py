"""Calendars of all orders whose time is planned."""

import sqlite3
from datetime import UTC, datetime

from diachrom import clock
from diachrom.store import orders
from diachrom.work.kit import schedules
from diachrom.work.orders.work_evenings import as_ics


def of_every(connection: sqlite3.Connection, *, at: str) -> dict[int, bytes]:
    """By the order's number."""
    made = (clock.moment(at) or datetime.now(UTC)).astimezone(UTC)
    planned = ((order, schedules.read(order.schedule)) for order in orders.every(connection))
    return {one.number: as_ics(one, schedule, made=made) for one, schedule in planned if schedule is not None}
