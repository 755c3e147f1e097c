"""The cup under way: its steps, and the one it stands at."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import Verdict
from diachrom.store import bottles, drafts
from diachrom.store.memory import cached
from diachrom.store.said import keep_said, read_said

STEPS_KEPT = 500


@dataclass(frozen=True)
class CupNow:
    """The cup as it stands."""

    seq: int
    revision: int  # grows with every change, undo included
    batch: int
    draft: Draft
    recipe: int | None
    version: int | None
    undo: str | None  # what undo would take back
    redo: str | None
    problem: str = ""  # what could not be read of it


@cached
def now(connection: sqlite3.Connection) -> CupNow:
    """The cup as it stands; an empty one when none was ever started."""
    row = connection.execute(
        """
        SELECT cup.seq, cup.revision, cup_step.batch, cup_step.did, cup_step.draft, recipe, version,
               EXISTS (SELECT 1 FROM cup_step AS earlier WHERE earlier.seq < cup.seq) AS has_earlier,
               (SELECT did FROM cup_step AS later WHERE later.seq > cup.seq ORDER BY seq LIMIT 1) AS redo
        FROM cup JOIN cup_step ON cup_step.seq = cup.seq JOIN cup_batch ON cup_batch.id = cup_step.batch
        """
    ).fetchone()
    if row is None:
        return CupNow(seq=0, revision=0, batch=0, draft=Draft(), recipe=None, version=None, undo=None, redo=None)
    draft, problem = drafts.from_json(connection, row["draft"])
    draft = draft.over(draft.ground)  # what it is sprayed over is always one of the columns
    return CupNow(
        seq=row["seq"],
        revision=row["revision"],
        batch=row["batch"],
        draft=draft,
        recipe=row["recipe"],
        version=row["version"],
        undo=read_said(row["did"]) if row["has_earlier"] else None,
        redo=None if row["redo"] is None else read_said(row["redo"]),
        problem=problem,
    )


def new_batch(
    connection: sqlite3.Connection, *, recipe: int | None = None, version: int | None = None, target: int | None = None
) -> int:
    """Another cup: what it is poured by, and the target that it is to meet."""
    row = connection.execute(
        "INSERT INTO cup_batch (recipe, version, target) VALUES (:recipe, :version, :target) RETURNING id",
        {"recipe": recipe, "version": version, "target": target},
    ).fetchone()
    return int(row["id"])


def link_batch(connection: sqlite3.Connection, batch: int, *, recipe: int, version: int) -> None:
    """Remember that a batch is now this version of this recipe."""
    connection.execute(
        "UPDATE cup_batch SET recipe = :recipe, version = :version WHERE id = :batch",
        {"recipe": recipe, "version": version, "batch": batch},
    )


def steps_of(connection: sqlite3.Connection, batch: int) -> list[tuple[str, Draft, Verdict | None]]:
    """The steps of a cup up to where it stands, in order: when, as it was then, and what was said."""
    rows = connection.execute(
        "SELECT at, draft, verdict FROM cup_step WHERE batch = :batch AND seq <= (SELECT seq FROM cup) ORDER BY seq",
        {"batch": batch},
    ).fetchall()
    known = {row[0] for row in connection.execute("SELECT id FROM bottle")}
    return [
        (
            row["at"],
            drafts.from_json(connection, row["draft"], known)[0],
            drafts.verdict(row["verdict"]),
        )
        for row in rows
    ]


def set_plan(connection: sqlite3.Connection, batch: int, parts: Sequence[Part]) -> None:
    """Remember what a cup is to be poured by."""
    text = json.dumps([asdict(part) for part in parts])
    connection.execute("UPDATE cup_batch SET plan = :plan WHERE id = :batch", {"plan": text, "batch": batch})


def plan_of(connection: sqlite3.Connection, batch: int) -> list[Part]:
    """Empty for a cup without one."""
    row = connection.execute("SELECT plan FROM cup_batch WHERE id = :batch", {"batch": batch}).fetchone()
    if row is None or row["plan"] is None:
        return []
    planned = drafts.planned_parts(row["plan"])
    known = bottles.there(connection, [part.bottle for part in planned])
    return [part for part in planned if part.bottle in known]


def append(
    connection: sqlite3.Connection, draft: Draft, *, did: str, at: str, batch: int, verdict: Verdict | None = None
) -> None:
    """Take a step from where the cup stands; what was undone before it can no longer be redone. Inside `writing`."""
    standing = now(connection)
    if standing.seq == 0:
        # The first step ever starts from an empty cup, so that it too can be undone.
        connection.execute(
            "INSERT INTO cup_step (seq, batch, at, did, draft) VALUES (1, :batch, :at, '', :draft)",
            {"batch": batch, "at": at, "draft": drafts.to_json(Draft())},
        )
        connection.execute("INSERT INTO cup (id, seq, revision) VALUES (1, 1, 0)")
        standing = now(connection)
    connection.execute("DELETE FROM cup_step WHERE seq > :seq", {"seq": standing.seq})
    seq = standing.seq + 1
    said = None if verdict is None else json.dumps(asdict(verdict))
    connection.execute(
        "INSERT INTO cup_step (seq, batch, at, did, draft, verdict) VALUES (:seq, :batch, :at, :did, :draft, :verdict)",
        {"seq": seq, "batch": batch, "at": at, "did": keep_said(did), "draft": drafts.to_json(draft), "verdict": said},
    )
    _stand_at(connection, seq)
    connection.execute("DELETE FROM cup_step WHERE seq <= :old", {"old": seq - STEPS_KEPT})


def _stand_at(connection: sqlite3.Connection, seq: int) -> None:
    connection.execute("UPDATE cup SET seq = :seq, revision = revision + 1 WHERE id = 1", {"seq": seq})


def move(connection: sqlite3.Connection, *, back: bool) -> str | None:
    """Undo or redo one step; returns what it did or took back, None when there is nothing to. Inside `writing`."""
    standing = now(connection)
    step = connection.execute(
        "SELECT seq, did FROM cup_step WHERE seq < :seq ORDER BY seq DESC LIMIT 1"
        if back
        else "SELECT seq, did FROM cup_step WHERE seq > :seq ORDER BY seq LIMIT 1",
        {"seq": standing.seq},
    ).fetchone()
    if step is None:
        return None
    _stand_at(connection, step["seq"])
    return standing.undo if back else read_said(step["did"])
