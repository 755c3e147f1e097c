"""The time of day, in one place, so that tests can stop it. Kept in UTC; said as the bench's own day."""

import time
from datetime import UTC, date, datetime

FIRST_YEAR, LAST_YEAR = 1980, 2199  # nothing of a bench is older; what says so is no time


def now() -> str:
    """This moment as ISO 8601 in UTC, to the second. A clock that was never set, or is centuries ahead, is taken for
    the nearest time that there is, so that nothing is kept that nobody can read."""
    told = datetime.now(UTC)
    year = min(max(told.year, FIRST_YEAR), LAST_YEAR)
    return (told if told.year == year else told.replace(year=year, month=1, day=1)).isoformat(timespec="seconds")


_STARTED = time.time() - time.monotonic()


def monotonic_epoch() -> float:
    """Seconds since 1970 that do not run back while this process runs, whoever sets the clock; sleep is counted."""
    return max(_STARTED + time.monotonic(), time.time())


def iso(seconds: float) -> str:
    """A moment in seconds since 1970 as it is kept; what is no time is this moment."""
    try:
        told = datetime.fromtimestamp(seconds, UTC)
    except (OverflowError, OSError, ValueError):
        return now()
    return told.isoformat(timespec="seconds") if FIRST_YEAR <= told.year <= LAST_YEAR else now()


def moment(at: str) -> datetime | None:
    """A time that was kept, None for what is none. Without a zone it is taken for UTC."""
    try:
        found = datetime.fromisoformat(at)
        if not FIRST_YEAR <= found.year <= LAST_YEAR:
            return None
        return (found if found.tzinfo else found.replace(tzinfo=UTC)).astimezone()
    except ValueError:
        return None


def day_of(at: str) -> date | None:
    """The bench's own day at a time, or the day itself where only that was kept; None for what is neither."""
    if len(at) == len("2026-03-31"):
        try:
            return date.fromisoformat(at)
        except ValueError:
            return None
    found = moment(at)
    return None if found is None else found.date()


def today(at: str) -> str:
    """The bench's own day at this time, as it is kept: 2026-03-31."""
    return (day_of(at) or date.min).isoformat()
