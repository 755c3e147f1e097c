"""Plans: what is under way with its steps, and saved versions that never change. Documents are kept as they were
written; who reads them brings them within bounds."""

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from diachrom.core.bait.document import written
from diachrom.core.bait.plan import Plan
from diachrom.core.mix import sound
from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.plan_documents import read
from diachrom.store.said import keep_said, read_said
from diachrom.words import say

STEPS_KEPT = 300


@dataclass(frozen=True)
class PlanNow:
    """A plan as it stands."""

    number: int
    seq: int
    revision: int
    plan: Plan
    undo: str | None  # what undo would take back
    redo: str | None
    problem: str = ""  # what could not be read of it


@dataclass(frozen=True)
class PlanVersion:
    """One saved version of a plan."""

    plan: int
    version: int
    parent_version: int | None
    at: str
    document: Plan
    problem: str = ""


@dataclass(frozen=True)
class Listed:
    """A plan in the list: as it stands, and which version of it was saved last."""

    now: PlanNow
    at: str
    version: int | None


def _read(text: str) -> tuple[Plan, str]:
    return read(kept.whole(kept.DOCUMENT, text, None))


def _text(plan: Plan) -> str:
    return json.dumps(written(plan), ensure_ascii=False)


_NOW = """
    SELECT number, plan.seq, revision, opened, coalesce(did, '') AS did, coalesce(document, '{}') AS document,
           EXISTS (SELECT 1 FROM plan_step AS old WHERE old.plan = number AND old.seq < plan.seq) AS earlier,
           (SELECT did FROM plan_step AS later WHERE later.plan = number AND later.seq > plan.seq
            ORDER BY seq LIMIT 1) AS redo
    FROM plan LEFT JOIN plan_step ON plan_step.plan = number AND plan_step.seq = plan.seq
"""


def _now(row: sqlite3.Row) -> PlanNow:
    plan, problem = _read(row["document"])
    undo = read_said(row["did"]) if row["earlier"] else None
    return PlanNow(
        number=row["number"],
        seq=row["seq"],
        revision=row["revision"],
        plan=plan,
        undo=undo,
        redo=row["redo"],
        problem=problem,
    )


def now(connection: sqlite3.Connection, number: int) -> PlanNow:
    """Raises NotFound."""
    row = connection.execute(_NOW + "WHERE number = :number", {"number": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no plan {number}.", number=number), field="plan")
    return _now(row)


def listed(connection: sqlite3.Connection, *, retired: bool = False) -> list[Listed]:
    """All plans, those worked on last first."""
    rows = connection.execute(
        _NOW + "WHERE retired = :retired ORDER BY opened DESC, number DESC", {"retired": int(retired)}
    ).fetchall()
    saved = dict(connection.execute("SELECT plan, max(version) FROM plan_version GROUP BY plan").fetchall())
    return [Listed(_now(row), row["opened"], saved.get(row["number"])) for row in rows]


def new(connection: sqlite3.Connection, plan: Plan, *, did: str, at: str) -> int:
    """Begin a plan. Inside `writing`."""
    number = connection.execute(
        "INSERT INTO plan (number, seq, opened) SELECT coalesce(max(number), 0) + 1, 1, :at FROM plan RETURNING number",
        {"at": at},
    ).fetchone()[0]
    connection.execute(
        "INSERT INTO plan_step (plan, seq, at, did, document) VALUES (:plan, 1, :at, :did, :document)",
        {"plan": number, "at": at, "did": keep_said(did), "document": _text(plan)},
    )
    return int(number)


def append(connection: sqlite3.Connection, standing: PlanNow, plan: Plan, *, did: str, at: str) -> None:
    """Take a step from where a plan stands; what was undone before it can no longer be done again. Inside
    `writing`."""
    own = {"plan": standing.number, "seq": standing.seq + 1}
    connection.execute("DELETE FROM plan_step WHERE plan = :plan AND seq >= :seq", own)
    connection.execute(
        "INSERT INTO plan_step (plan, seq, at, did, document) VALUES (:plan, :seq, :at, :did, :document)",
        {**own, "at": at, "did": keep_said(did), "document": _text(plan)},
    )
    _stand_at(connection, standing.number, standing.seq + 1, at=at)
    connection.execute(
        "DELETE FROM plan_step WHERE plan = :plan AND seq <= :old",
        {"plan": standing.number, "old": standing.seq + 1 - STEPS_KEPT},
    )


def move(connection: sqlite3.Connection, number: int, *, back: bool, at: str) -> str | None:
    """Undo or redo a step; returns what it did or took back, None when there is nothing to. Inside `writing`."""
    standing = now(connection, number)
    row = connection.execute(
        "SELECT seq, did FROM plan_step WHERE plan = :plan AND seq < :seq ORDER BY seq DESC LIMIT 1"
        if back
        else "SELECT seq, did FROM plan_step WHERE plan = :plan AND seq > :seq ORDER BY seq LIMIT 1",
        {"plan": number, "seq": standing.seq},
    ).fetchone()
    if row is None:
        return None
    _stand_at(connection, number, row["seq"], at=at)
    return standing.undo if back else read_said(row["did"])


def _stand_at(connection: sqlite3.Connection, number: int, seq: int, *, at: str) -> None:
    connection.execute(
        "UPDATE plan SET seq = :seq, revision = revision + 1, opened = :at WHERE number = :plan",
        {"seq": seq, "plan": number, "at": at},
    )


def retire(connection: sqlite3.Connection, number: int, *, retired: bool) -> None:
    """Take a plan off the list, or put it back. Inside `writing`."""
    connection.execute(
        "UPDATE plan SET retired = :retired WHERE number = :plan", {"retired": int(retired), "plan": number}
    )


def add_version(connection: sqlite3.Connection, number: int, plan: Plan, *, parent_version: int | None, at: str) -> int:
    """Save a version; returns its number. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO plan_version (plan, version, parent_version, at, name, note, document)"
        " SELECT :plan, coalesce(max(version), 0) + 1, :parent, :at, :name, :note, :document FROM plan_version"
        " WHERE plan = :plan RETURNING version",
        {
            "plan": number,
            "parent": parent_version,
            "at": at,
            "name": plan.name,
            "note": plan.note,
            "document": _text(plan),
        },
    ).fetchone()
    return int(row[0])


def several(connection: sqlite3.Connection, wanted: Iterable[tuple[int, int]]) -> dict[tuple[int, int], PlanVersion]:
    """Saved versions of plans, read at once; those that are missing are left out."""
    keys = list(dict.fromkeys(wanted))
    if not keys:
        return {}
    marks = ", ".join(["(?, ?)"] * len(keys))
    rows = connection.execute(
        "SELECT plan, version, parent_version, at, document FROM plan_version"
        f" WHERE (plan, version) IN (VALUES {marks})",
        [value for key in keys for value in key],
    )
    return {(row[0], row[1]): PlanVersion(row[0], row[1], row[2], row[3], *_read(row[4])) for row in rows}


def versions(connection: sqlite3.Connection, number: int) -> list[PlanVersion]:
    """Every version of a plan, the newest first."""
    rows = connection.execute(
        "SELECT plan, version, parent_version, at, document FROM plan_version WHERE plan = :plan ORDER BY version DESC",
        {"plan": number},
    ).fetchall()
    return [PlanVersion(row[0], row[1], row[2], row[3], *_read(row[4])) for row in rows]


def version(connection: sqlite3.Connection, number: int, which: int) -> PlanVersion:
    """Raises NotFound."""
    plan_version = next((one for one in versions(connection, number) if one.version == which), None)
    if plan_version is None:
        raise NotFound(say("Plan {number} has no version {which}.", number=number, which=which), field="version")
    return plan_version


@dataclass(frozen=True)
class Drawing:
    """An outline of one's own."""

    id: int
    name: str
    document: Any


def add_drawing(connection: sqlite3.Connection, kind: str, name: str, document: Mapping[str, Any], *, at: str) -> int:
    """Inside `writing`."""
    row = connection.execute(
        "INSERT INTO drawing (kind, name, document, at) VALUES (:kind, :name, :document, :at) RETURNING id",
        {"kind": kind, "name": name, "document": json.dumps(document), "at": at},
    ).fetchone()
    return int(row[0])


def drawings(connection: sqlite3.Connection, kind: str) -> Iterable[Drawing]:
    """Of one kind, the newest first; those that cannot be read hold None."""
    rows = connection.execute(
        "SELECT id, name, document FROM drawing WHERE kind = :kind AND retired = 0 ORDER BY id DESC", {"kind": kind}
    ).fetchall()
    return [Drawing(row["id"], row["name"], sound.parse_or_default(json.loads, row["document"], None)) for row in rows]
