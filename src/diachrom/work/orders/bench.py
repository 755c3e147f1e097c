"""When and how this bench works: hours by the day of the week, places, ways. Kept in the settings."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, field, fields
from datetime import UTC, datetime, timedelta

from diachrom.core.schedule.hours import Hours
from diachrom.core.schedule.steps import Pace, Ways
from diachrom.core.schedule.work import Bench
from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.plan.drying import drying_learned, drying_table

KEY = "bench_time"
DAYS = (say("Monday"), say("Tuesday"), say("Wednesday"), say("Thursday"), say("Friday"), say("Saturday"), say("Sunday"))
USUAL_HOURS = (*(("18:00", "22:00"),) * 5, ("09:00", "13:00"), ("", ""))
LOOKED_AHEAD_DAYS = 400


@dataclass(frozen=True)
class BenchTime:
    """How this bench works, as it was set."""

    hours: Sequence[tuple[str, str]] = USUAL_HOURS  # a day each, from Monday; "" where nobody is there
    airbrushes: int = 1
    rack: int = 12
    turner: int = 6
    warm_air: bool = True
    signs: bool = True
    premixed: bool = True
    pace: Pace = field(default_factory=Pace)


def bench_time(connection: sqlite3.Connection) -> BenchTime:
    """As it was set; what cannot be read is as usual."""
    told = settings.document(connection, KEY)
    usual = BenchTime()
    try:
        hours = [(str(one[0]), str(one[1])) for one in told.get("hours", usual.hours)]
        checked_hours(hours)
        pace = Pace(**{one.name: int(told.get("pace", {}).get(one.name, one.default)) for one in fields(Pace)})
        time = BenchTime(
            hours=tuple(hours),
            airbrushes=int(told.get("airbrushes", usual.airbrushes)),
            rack=int(told.get("rack", usual.rack)),
            turner=int(told.get("turner", usual.turner)),
            warm_air=bool(told.get("warm_air", True)),
            signs=bool(told.get("signs", True)),
            premixed=bool(told.get("premixed", True)),
            pace=pace,
        )
        Bench(Hours([]), airbrushes=time.airbrushes, rack=time.rack, turner=time.turner)
    except (InvalidInput, TypeError, ValueError, IndexError, AttributeError, KeyError):
        return usual
    return time


def keep(connection: sqlite3.Connection, wanted: BenchTime) -> None:
    """Raises InvalidInput for hours that end before they begin, a rack of none, paces that cannot be."""
    checked_hours(wanted.hours)
    Bench(Hours([]), airbrushes=wanted.airbrushes, rack=wanted.rack, turner=wanted.turner)
    told = {**vars(wanted), "pace": vars(wanted.pace)}
    with writing(connection):
        settings.put(connection, {KEY: json.dumps(told)})


def checked_hours(hours: Sequence[tuple[str, str]]) -> list[tuple[int, int] | None]:
    """Minutes of the day for each day of the week. Raises InvalidInput."""
    if len(hours) != len(DAYS):
        raise InvalidInput(say("Give hours for all seven days."), field="hours")
    found: list[tuple[int, int] | None] = []
    for day, (first, last) in zip(DAYS, hours, strict=True):
        if not first and not last:
            found.append(None)
            continue
        start, end = _minute(day, first), _minute(day, last)
        if end <= start:
            raise InvalidInput(
                say(
                    "{day}: the bench closes at {last} before it opens at {first}. Work past midnight "
                    "belongs to the next day's hours.",
                    day=day,
                    last=last,
                    first=first,
                ),
                field=f"until-{day.lower()}",
            )
        found.append((start, end))
    if not any(found):
        raise InvalidInput(say("No hours at the bench: give at least one day its hours."), field="hours")
    return found


def _minute(day: str, text: str) -> int:
    hour, _, minute = text.strip().replace(".", ":").partition(":")
    try:
        index = int(hour) * 60 + int(minute or 0)
    except ValueError:
        index = -1
    if not 0 <= index <= 24 * 60 or not 0 <= int(minute or 0) < 60:
        raise InvalidInput(
            say("{day}: write '{words}' as hours and minutes, 18:30.", day=day, words=text[:20]),
            field=f"from-{day.lower()}",
        )
    return index


def hours_from(hours: Sequence[tuple[str, str]], start: datetime, *, days: int = LOOKED_AHEAD_DAYS) -> Hours:
    """Open times in minutes from `start` (in UTC), by this place's clocks: where they change, an evening is an hour
    sooner or later, and drying is not."""
    week = checked_hours(hours)
    windows = []
    today = start.astimezone().date()
    for ahead in range(days):
        day = today + timedelta(days=ahead)
        opened = week[day.weekday()]
        if opened is None:
            continue
        midnight = datetime(day.year, day.month, day.day)
        first, last = (
            int(((midnight + timedelta(minutes=minute)).astimezone(UTC) - start).total_seconds() // 60)
            for minute in opened
        )
        if last > max(first, 0):
            windows.append((max(first, 0), last))
    return Hours(windows)


def ways(connection: sqlite3.Connection) -> Ways:
    """How this bench works: pace, drying, warm air."""
    time = bench_time(connection)
    factors = {kind: one.factor for kind, one in drying_learned(connection).items()}
    return Ways(time.pace, table=drying_table(connection), learned=factors, warm_air=time.warm_air, signs=time.signs)
