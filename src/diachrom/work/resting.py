"""The rest of a mix that wants one: it begins with its last drop, and may be skipped."""

import sqlite3
from dataclasses import dataclass
from datetime import datetime, timedelta

from diachrom.core.mixing.reducing import rest_minutes
from diachrom.core.mixing.story import Verdict
from diachrom.errors import EmptyCup
from diachrom.store import cups
from diachrom.store.connection import writing
from diachrom.work.contents import contents, cup_of

SKIPPED = Verdict("rest skipped", "the hand")


@dataclass(frozen=True)
class Rest:
    minutes: int  # in all
    until: str  # ISO time
    left_s: float  # 0 when it is over


def rest(connection: sqlite3.Connection, *, at: str) -> Rest | None:
    """Of the cup on the bench; None for one that wants none, or whose rest was skipped."""
    now = cups.now(connection)
    minutes = rest_minutes(cup_of(contents(connection, now.draft)))
    if not minutes:
        return None
    since, skipped = cups.last_drop(connection, now.batch, SKIPPED.words)
    if since is None or skipped:
        return None
    until = datetime.fromisoformat(since) + timedelta(minutes=minutes)
    left = (until - datetime.fromisoformat(at)).total_seconds()
    return Rest(minutes, until.isoformat(), min(max(0.0, left), 60.0 * minutes))


def skip(connection: sqlite3.Connection, *, at: str) -> None:
    """Spray at once; the cup's story says so. Raises EmptyCup."""
    with writing(connection):
        standing = cups.now(connection)
        if not standing.draft.drops:
            raise EmptyCup("skipping its rest")
        cups.append(connection, standing.draft, did="skipping the rest", at=at, batch=standing.batch, verdict=SKIPPED)
