"""Sessions at the bench: scripts that never change, events that are appended, and what they come to so far."""

import json
import sqlite3
from dataclasses import asdict, dataclass, fields, replace
from functools import cache, lru_cache
from types import NoneType
from typing import Any

from diachrom.core.mix import sound
from diachrom.core.session.events import Event
from diachrom.core.session.repeated_step import RepeatedStep
from diachrom.core.session.script import BenchStep, Pour, Script
from diachrom.core.session.state import State, Timer, replayed
from diachrom.errors import NotFound
from diachrom.store.memory import cached

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
        {"order": order, "name": name, "at": at, "script": json.dumps(asdict(script), ensure_ascii=False)},
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
        raise NotFound(f"There is no session {number}.", field="session")
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
        state=_state(sound.parse_or_default(json.loads, row["state"], None)),
        ended=row["ended"],
    )


def append(connection: sqlite3.Connection, standing: Session, event: Event, state: State, *, at: str) -> None:
    """An event, and what all of them come to. Inside `writing`."""
    told = {key: value for key, value in asdict(event).items() if value != getattr(USUAL, key, None)}
    own = {"session": standing.number, "seq": standing.seq + 1, "at": at, "body": json.dumps(told, ensure_ascii=False)}
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
    rows = connection.execute(
        "SELECT body FROM session_event WHERE session = :number ORDER BY seq", {"number": number}
    ).fetchall()
    found = (_event(sound.parse_or_default(json.loads, row["body"], None)) for row in rows)
    return [event for event in found if event is not None]


def _known(of: type, told: Any) -> dict[str, Any]:
    """What of it can stand in a value of this type, by how its fields are declared."""
    if not isinstance(told, dict):
        return {}
    kinds = _kinds(of)
    return {key: value for key, value in told.items() if key in kinds and _fits(value, kinds[key])}


@cache
def _kinds(of: type) -> dict[str, str]:
    return {one.name: str(one.type) for one in fields(of)}


KINDS: dict[str, type | tuple[type, ...]] = {
    "int": int,
    "str": str,
    "float": (int, float),
    "bool": bool,
    "int | None": (int, NoneType),
    "float | None": (int, float, NoneType),
}


def _fits(value: Any, kind: str) -> bool:
    wanted = KINDS.get(kind, object)
    return isinstance(value, wanted) and (wanted is object or kind == "bool" or not isinstance(value, bool))


@lru_cache(maxsize=16)  # a session's script stays as it was written; each press reads it
def _script(text: str) -> Script:
    told = sound.parse_or_default(json.loads, text, None)
    own = told if isinstance(told, dict) else {}
    lists = [own[key] if isinstance(own.get(key), list) else [] for key in ("steps", "before")]
    return Script(*(tuple(step for row in rows if (step := _step(row))) for rows in lists))


def _step(told: Any) -> BenchStep | None:
    try:
        own = _known(BenchStep, told)
        pours = tuple(Pour(**_known(Pour, each)) for each in own.pop("pours", ()))
        figures = tuple((str(words), str(value)) for words, value in own.pop("figures", ()))
        cautions, notes = (_texts(own.pop(key, ())) for key in ("cautions", "notes"))
        return BenchStep(**own, pours=pours, figures=figures, cautions=cautions, notes=notes)
    except (TypeError, ValueError):
        return None


def _state(told: Any) -> State:
    """What cannot be read of it is as at the beginning."""
    try:
        own = _known(State, told)
        return State(
            position=int(own.get("position", 0)),
            done=_texts(own.get("done", ())),
            drops={
                str(step): {int(bottle): int(count) for bottle, count in counts.items()}
                for step, counts in own.get("drops", {}).items()
            },
            timers=tuple(_timer(one) for one in own.get("timers", ())),
            facts={
                str(step): {str(what): float(value) for what, value in found.items()}
                for step, found in own.get("facts", {}).items()
            },
            moments={str(step): float(at) for step, at in own.get("moments", {}).items()},
            again=tuple(RepeatedStep(**_known(RepeatedStep, one)) for one in own.get("again", ())),
            agreed=_texts(own.get("agreed", ())),
            paused=bool(own.get("paused", False)),
            began=own.get("began"),
            worked_s=float(own.get("worked_s", 0.0)),
            last=own.get("last"),
            shift=float(own.get("shift", 0.0)),
            **{
                key: tuple(event for each in own.get(key, ()) if (event := _event(each)) is not None)
                for key in ("different", "slips", "mends", "leftovers", "photos")
            },
        )
    except (TypeError, ValueError, AttributeError):
        return State()


def _timer(told: Any) -> Timer:
    own = _known(Timer, told)
    line, first, last = own.pop("baits", (0, 0, 0))
    return Timer(**own, baits=(line, first, last))


def _texts(told: Any) -> tuple[str, ...]:
    return tuple(str(one) for one in told)


def _event(told: Any) -> Event | None:
    try:
        return Event(**_known(Event, told))
    except TypeError:
        return None
