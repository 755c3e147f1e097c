"""What was done to the shelf, step by step, and undoing it: rows as they were and as they became.

Nothing is deleted by undoing: what was added is retired, the ledger gets the opposite entry, and a profile that was
made anew is followed by the one before it.
"""

import json
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from diachrom.core.mix import sound
from diachrom.errors import ChangedSince
from diachrom.store import bottles
from diachrom.store.said import keep_said, read_said
from diachrom.words import say

COUNTED = ("left_ml",)  # kept by the ledger, not by a step


@dataclass(frozen=True)
class Step:
    """Something that was done to the shelf."""

    id: int
    at: str
    did: str


class Recorder:
    """Remembers rows before they are changed; what they became is read when the step ends."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self._connection = connection
        self._was: dict[tuple[str, str], dict[str, object]] = {}
        self._entries: list[int] = []
        self._profiles: list[tuple[str, int, int]] = []

    def touch(self, noun: str, row_id: object) -> None:
        """Call it before a row is changed."""
        key = (noun, str(row_id))
        if key not in self._was:
            self._was[key] = _row(self._connection, *key)

    def made(self, noun: str, row_id: object) -> None:
        """Call it after a row was added: before it there was none, which is to say a retired one."""
        self._was[(noun, str(row_id))] = {**_row(self._connection, noun, str(row_id)), "retired": 1}

    def entered(self, entry: int) -> None:
        """Call it after the ledger got an entry."""
        self._entries.append(entry)

    def measured(self, paint_id: str, before: int, version: int) -> None:
        """Call it after a paint whose profile was of one version got others, the last of which is of another."""
        self._profiles.append((paint_id, before, version))

    def changes(self) -> Iterator[tuple[str, str, str, str]]:
        """(noun, rows, was, became): the columns that changed; rows that changed alike are one."""
        alike: dict[tuple[str, str, str], list[str]] = {}
        for (noun, row_id), was in self._was.items():
            became = _row(self._connection, noun, row_id)
            changed = [key for key in became if became[key] != was[key]]
            if changed:
                then, now = (json.dumps({key: row[key] for key in changed}) for row in (was, became))
                alike.setdefault((noun, then, now), []).append(row_id)
        for entry in self._entries:
            alike.setdefault(("stock_entry", "{}", "{}"), []).append(str(entry))
        for (noun, then, now), row_ids in alike.items():
            yield noun, row_ids[0] if len(row_ids) == 1 else json.dumps(row_ids), then, now
        for paint_id, before, version in self._profiles:
            if before != version:
                yield "paint_profile", paint_id, json.dumps({"version": before}), json.dumps({"version": version})


def rows_of(kept: str) -> list[str]:
    """The rows that a change names: one, or several as JSON."""
    return [str(one) for one in json.loads(kept)] if kept.startswith("[") else [kept]


def _row(connection: sqlite3.Connection, noun: str, row_id: str) -> dict[str, object]:
    row = connection.execute(f"SELECT * FROM {noun} WHERE id = :id", {"id": row_id}).fetchone()
    if row is None:
        raise ChangedSince(noun, row_id)
    return {key: row[key] for key in row.keys() if key not in COUNTED}  # noqa: SIM118 - a Row iterates its values


@contextmanager
def step(connection: sqlite3.Connection, did: str, *, at: str) -> Iterator[Recorder]:
    """Record what happens inside as one step; inside `writing`. What was undone cannot be done again after it."""
    recorder = Recorder(connection)
    yield recorder
    changes = list(recorder.changes())
    if not changes:
        return
    connection.execute("DELETE FROM shelf_change WHERE step IN (SELECT id FROM shelf_step WHERE undone = 1)")
    connection.execute("DELETE FROM shelf_step WHERE undone = 1")
    number = connection.execute(
        "INSERT INTO shelf_step (at, did) VALUES (:at, :did) RETURNING id", {"at": at, "did": keep_said(did)}
    ).fetchone()[0]
    connection.executemany(
        "INSERT INTO shelf_change (step, noun, row_id, was, became) VALUES (?, ?, ?, ?, ?)",
        [(number, *change) for change in changes],
    )


def standing(connection: sqlite3.Connection) -> tuple[Step | None, Step | None]:
    """What undo would take back, and what redo would do again."""
    last = "SELECT id, at, did FROM shelf_step WHERE undone = 0 ORDER BY id DESC LIMIT 1"
    next_ = "SELECT id, at, did FROM shelf_step WHERE undone = 1 ORDER BY id LIMIT 1"
    found = [connection.execute(query).fetchone() for query in (last, next_)]
    undo, redo = (None if row is None else Step(row["id"], row["at"], read_said(row["did"])) for row in found)
    return undo, redo


def move(connection: sqlite3.Connection, *, back: bool, at: str) -> Step | None:
    """Undo or redo one step; returns it, None when there is none. Inside `writing`.

    Raises ChangedSince when a row has been changed outside the steps.
    """
    found = standing(connection)[0 if back else 1]
    if found is None:
        return None
    rows = connection.execute(
        "SELECT noun, row_id, was, became FROM shelf_change WHERE step = :step ORDER BY id", {"step": found.id}
    ).fetchall()
    for noun, named, was, became in reversed(rows) if back else rows:
        try:
            now, then = json.loads(became if back else was), json.loads(was if back else became)
            own = rows_of(named)
            for row_id in reversed(own) if back else own:
                if noun == "stock_entry":
                    old = bottles.entry(connection, int(row_id))
                    bottles.enter(
                        connection,
                        bottle=old.bottle_id,
                        at=at,
                        kind="corrected" if back else old.kind,
                        ml=-old.ml if back else old.ml,
                        note=say("taken back: {did}", did=found.did)
                        if back
                        else say("done again: {did}", did=found.did),
                        recipe=old.recipe,
                        version=old.version,
                        cup_batch=old.cup_batch,
                    )
                elif noun == "paint_profile":
                    _measure(connection, row_id, int(now["version"]), int(then["version"]), at=at)
                else:
                    _put(connection, noun, row_id, now, then)
        except sound.UNREADABLE:
            raise ChangedSince(
                noun, named[:40], say("what was done to it cannot be read, and nothing was taken back")
            ) from None
    connection.execute(
        "UPDATE shelf_step SET undone = :undone WHERE id = :step", {"undone": int(back), "step": found.id}
    )
    return found


def _put(
    connection: sqlite3.Connection, noun: str, row_id: str, now: dict[str, object], then: dict[str, object]
) -> None:
    """Set the columns that the step changed; each must still be as the step left it."""
    changed = [key for key in then if then[key] != now.get(key)]
    row = _row(connection, noun, row_id)
    if any(row[key] != now[key] for key in changed):
        raise ChangedSince(noun, row_id)
    put = ", ".join(f"{key} = :{key}" for key in changed)
    connection.execute(
        f"UPDATE {noun} SET {put} WHERE id = :row_id", {**{key: then[key] for key in changed}, "row_id": row_id}
    )


def _measure(connection: sqlite3.Connection, paint_id: str, now: int, then: int, *, at: str) -> None:
    """The profile that was then becomes the latest, with the colour that it is found by; unless another than that of
    now counts."""
    own = {"id": paint_id, "now": now, "then": then, "at": at}
    rows = connection.execute(
        "SELECT absorption, scattering, uncertainty, optics, source FROM paint_profile WHERE paint_id = :id"
        " AND version IN (:now, (SELECT max(version) FROM paint_profile WHERE paint_id = :id))",
        own,
    ).fetchall()
    if not rows or tuple(rows[0]) != tuple(rows[-1]):
        raise ChangedSince(say("profile of paint"), paint_id)
    connection.execute(
        "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, optics, source, at,"
        " uncertain_nm) SELECT paint_id, (SELECT max(version) + 1 FROM paint_profile WHERE paint_id = :id), absorption,"
        " scattering, uncertainty, optics, source, :at, uncertain_nm FROM paint_profile"
        " WHERE paint_id = :id AND version = :then",
        own,
    )
    connection.execute(
        "INSERT INTO paint_colour (paint_id, version, l, a, b) SELECT paint_id, (SELECT max(version) FROM paint_profile"
        " WHERE paint_id = :id), l, a, b FROM paint_colour WHERE paint_id = :id AND version = :then",
        own,
    )


def forget(connection: sqlite3.Connection) -> None:
    """Nothing done so far can be undone any more."""
    connection.execute("DELETE FROM shelf_change")
    connection.execute("DELETE FROM shelf_step")
