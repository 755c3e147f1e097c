"""Sessions at the bench: scripts that never change, events that are appended, and what they come to so far."""

import json
import sqlite3
from dataclasses import asdict, dataclass, replace
from functools import lru_cache

from pydantic import TypeAdapter

from diachrom.core.mix import sound
from diachrom.core.session.after import replayed
from diachrom.core.session.events import Event
from diachrom.core.session.script import Script
from diachrom.core.session.state import State
from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.memory import cached
from diachrom.store.said import every_kept, every_read
from diachrom.words import say

SCRIPT, STATE = TypeAdapter(Script), TypeAdapter(State)
EVENT: TypeAdapter[Event | None] = TypeAdapter(Event)
USUAL = Event("", float("nan"))  # what is not written down


@dataclass(frozen=True)
class Session:
    """A session as it stands."""

    number: int
    order: int | None
    name: str
    at: str
    script: Script
    seq: int
    state: State
    ended: str


@dataclass(frozen=True)
class Listed:
    number: int
    order: int | None
    name: str
    at: str
    position: int
    ended: str


def new(connection: sqlite3.Connection, *, order: int | None, name: str, script: Script, at: str) -> int:
    """Inside `writing`."""
    row = connection.execute(
        "INSERT INTO session (number, bait_order, name, at, script)"
        " SELECT coalesce(max(number), 0) + 1, :order, :name, :at, :script FROM session RETURNING number",
        {"order": order, "name": name, "at": at, "script": json.dumps(every_kept(asdict(script)), ensure_ascii=False)},
    ).fetchone()
    return int(row[0])


def under_way(connection: sqlite3.Connection, most: int) -> list[Session]:
    """Those that have not ended, the latest first."""
    rows = connection.execute(f"{COLUMNS} WHERE ended = '' ORDER BY number DESC LIMIT :most", {"most": most})
    return [_read(row) for row in rows]


COLUMNS = """
    SELECT number, bait_order, name, at, script, seq, state, ended,
           (SELECT max(seq) FROM session_event WHERE session = number) AS last FROM session
"""


@cached
def session(connection: sqlite3.Connection, number: int) -> Session:
    """Raises NotFound."""
    row = connection.execute(f"{COLUMNS} WHERE number = :number", {"number": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no session {number}.", number=number), field="session")
    found = _read(row)
    if row["last"] is None or row["last"] <= found.seq:
        return found
    # What stands beside it lags behind what happened: that counts.
    state = sound.parse_or_default(
        lambda number: replayed(found.script, events(connection, number)), number, found.state
    )
    return replace(found, seq=int(row["last"]), state=state)


def _read(row: sqlite3.Row) -> Session:
    return Session(
        number=row["number"],
        order=row["bait_order"],
        name=row["name"],
        at=row["at"],
        script=_script(row["script"]),
        seq=row["seq"],
        state=kept.read(STATE, row["state"], State()),
        ended=row["ended"],
    )


def append(connection: sqlite3.Connection, standing: Session, event: Event, state: State, *, at: str) -> None:
    """An event, and what all of them come to. Inside `writing`."""
    told = {key: value for key, value in asdict(event).items() if value != getattr(USUAL, key, None)}
    own = {
        "session": standing.number,
        "seq": standing.seq + 1,
        "at": at,
        "body": json.dumps(every_kept(told), ensure_ascii=False),
    }
    connection.execute("INSERT INTO session_event (session, seq, at, body) VALUES (:session, :seq, :at, :body)", own)
    connection.execute(
        "UPDATE session SET seq = :seq, state = :state WHERE number = :session",
        {**own, "state": json.dumps(asdict(state), ensure_ascii=False)},
    )


def end(connection: sqlite3.Connection, number: int, *, at: str) -> None:
    """Keep when a session ended, "" where it goes on. Inside `writing`."""
    connection.execute("UPDATE session SET ended = :at WHERE number = :number", {"number": number, "at": at})


def every(connection: sqlite3.Connection) -> list[Listed]:
    """Those under way first, the latest first."""
    rows = connection.execute(
        "SELECT number, bait_order, name, at,"
        " CASE WHEN json_valid(state) THEN CAST(coalesce(json_extract(state, '$.position'), 0) AS INTEGER) ELSE 0 END,"
        " ended"
        " FROM session ORDER BY ended <> '', number DESC"
    )
    return [Listed(*row) for row in rows]


def events(connection: sqlite3.Connection, number: int) -> list[Event]:
    """What happened in a session, in order; what cannot be read is left out."""
    return list(numbered_events(connection, number).values())


def numbered_events(connection: sqlite3.Connection, number: int) -> dict[int, Event]:
    """The same by their numbers."""
    rows = connection.execute(
        "SELECT seq, body FROM session_event WHERE session = :number ORDER BY seq", {"number": number}
    ).fetchall()
    events = ((row["seq"], kept.read(EVENT, row["body"], None)) for row in rows)
    found = {seq: event for seq, event in events if event is not None}
    return dict(zip(found, every_read(tuple(found.values())), strict=True))


@lru_cache(maxsize=16)  # a session's script stays as it was written; each press reads it
def _script(text: str) -> Script:
    script = kept.read(SCRIPT, text, Script((), ()))
    return Script(every_read(tuple(script.steps)), every_read(tuple(script.before)))
