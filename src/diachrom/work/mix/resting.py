"""The rest of a mix that wants one: it begins with its last drop, and may be skipped."""

import sqlite3
from dataclasses import dataclass
from datetime import datetime, timedelta

from diachrom import clock
from diachrom.core.mix.reducing import rest_minutes
from diachrom.core.mix.story import Verdict, since_last_drop
from diachrom.errors import EmptyCup
from diachrom.store import cups
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.mix.contents import contents, cup_of

SKIPPED = Verdict(say("rest skipped"), say("the hand"))


@dataclass(frozen=True)
class Rest:
    minutes: int  # in all
    until: datetime

    def left_s(self, at: str) -> float:
        """0 when it is over."""
        left = (self.until - datetime.fromisoformat(at)).total_seconds()
        return min(max(0.0, left), 60.0 * self.minutes)


def rest(connection: sqlite3.Connection) -> Rest | None:
    """Of the cup on the bench; None for one that wants none, or whose rest was skipped."""
    now = cups.now(connection)
    minutes = rest_minutes(cup_of(contents(connection, now.draft)))
    if not minutes:
        return None
    since, said = since_last_drop(cups.steps_of(connection, now.batch))
    fell = None if since is None else clock.moment(since)
    if fell is None or SKIPPED in said:
        return None
    return Rest(minutes, fell + timedelta(minutes=minutes))


def skip(connection: sqlite3.Connection, *, at: str) -> None:
    """Spray at once; the cup's story says so. Raises EmptyCup."""
    with writing(connection):
        standing = cups.now(connection)
        if not standing.draft.drops:
            raise EmptyCup(say("skipping its rest"))
        cups.append(
            connection, standing.draft, did=say("skipping the rest"), at=at, batch=standing.batch, verdict=SKIPPED
        )
