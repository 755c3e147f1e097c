"""The time of day, in one place, so that tests can stop it."""

from datetime import UTC, datetime


def now() -> str:
    """This moment as ISO 8601 in UTC, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")
