"""Calendars as other programs read them: iCalendar (RFC 5545)."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from icalendar import Alarm, Calendar, Event

NAMED = "-//Diachrom//Bench//EN"


@dataclass(frozen=True)
class Entry:
    """Something in a calendar."""

    uid: str
    title: str
    start: datetime
    end: datetime
    words: str = ""
    alarm_min: int | None = None  # before its start


def to_ics(entries: Iterable[Entry], *, made: datetime) -> bytes:
    """Times go out in UTC: a calendar shows them by its own clocks, whenever these change."""
    calendar = Calendar()
    calendar.add("prodid", NAMED)
    calendar.add("version", "2.0")
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", made.astimezone(UTC))
        event.add("summary", entry.title)
        event.add("dtstart", entry.start.astimezone(UTC))
        event.add("dtend", entry.end.astimezone(UTC))
        if entry.words:
            event.add("description", entry.words)
        if entry.alarm_min is not None:
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", entry.title)
            alarm.add("trigger", timedelta(minutes=-entry.alarm_min))
            event.add_component(alarm)
        calendar.add_component(event)
    return bytes(calendar.to_ical())
