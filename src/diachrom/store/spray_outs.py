"""Spray-outs and every reading of their fields; nothing read is ever lost."""

import json
import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mixing.draft import Draft
from diachrom.errors import NotFound
from diachrom.store.cups import draft_from_json, draft_to_json


@dataclass(frozen=True)
class Reading:
    """What was read of a field, or said of it by the eye; set aside when it does not count."""

    id: int
    at: str
    source: str
    lab: tuple[float, float, float] | None  # None for what the eye says
    words: str
    counts: bool


@dataclass(frozen=True)
class Field:
    ground: str
    readings: tuple[Reading, ...]


@dataclass(frozen=True)
class SprayOut:
    """A test card: the mix as poured, how it was sprayed, and its fields."""

    id: int
    at: str
    recipe: int | None
    version: int | None
    draft: Draft
    note: str
    fields: tuple[Field, ...]


def add(
    connection: sqlite3.Connection,
    draft: Draft,
    grounds: Sequence[str],
    *,
    recipe: int | None,
    version: int | None,
    at: str,
) -> int:
    row = connection.execute(
        "INSERT INTO spray_out (at, recipe, version, draft) VALUES (:at, :recipe, :version, :draft) RETURNING id",
        {"at": at, "recipe": recipe, "version": version, "draft": draft_to_json(draft)},
    ).fetchone()
    for ground in grounds:
        add_field(connection, int(row["id"]), ground)
    return int(row["id"])


def add_field(connection: sqlite3.Connection, number: int, ground: str) -> None:
    """Once a ground."""
    connection.execute(
        "INSERT OR IGNORE INTO spray_field (spray_out, ground) VALUES (:number, :ground)",
        {"number": number, "ground": ground},
    )


def field_of(connection: sqlite3.Connection, number: int, ground: str) -> int:
    """The field's own number. Raises NotFound for one that was never sprayed."""
    row = connection.execute(
        "SELECT id FROM spray_field WHERE spray_out = :number AND ground = :ground",
        {"number": min(number, 2**62), "ground": ground},
    ).fetchone()
    if row is None:
        raise NotFound(f"Card {number} has no field on '{ground[:40]}': nothing was sprayed there.", field="ground")
    return int(row["id"])


def read(
    connection: sqlite3.Connection,
    field: int,
    *,
    source: str,
    lab: Sequence[float] | None,
    words: str = "",
    at: str,
) -> None:
    """`field` is its own number."""
    connection.execute(
        "INSERT INTO spray_reading (field, at, source, lab, words) VALUES (:field, :at, :source, :lab, :words)",
        {
            "field": field,
            "at": at,
            "source": source,
            "lab": None if lab is None else json.dumps(list(lab)),
            "words": words,
        },
    )


def turn(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Set a reading aside, or let it count again. Raises NotFound."""
    changed = connection.execute(
        "UPDATE spray_reading SET counts = 1 - counts WHERE id = :reading AND field IN"
        " (SELECT id FROM spray_field WHERE spray_out = :number)",
        {"reading": reading, "number": number},
    )
    if not changed.rowcount:
        raise NotFound(f"Card {number} has no reading {reading}.", field="reading")


_CARDS = "SELECT id, at, recipe, version, draft, note FROM spray_out "


def one(connection: sqlite3.Connection, number: int) -> SprayOut:
    """Raises NotFound."""
    row = connection.execute(_CARDS + "WHERE id = :id", {"id": number}).fetchone() if number < 2**62 else None
    if row is None:
        raise NotFound(f"There is no test card {number}.", field="card")
    return _whole(connection, [row])[0]


def latest(connection: sqlite3.Connection, most: int = -1) -> list[SprayOut]:
    """The newest first."""
    return _whole(connection, connection.execute(_CARDS + "ORDER BY id DESC LIMIT :most", {"most": most}).fetchall())


def _whole(connection: sqlite3.Connection, rows: Sequence[sqlite3.Row]) -> list[SprayOut]:
    readings: dict[tuple[int, str], list[Reading]] = defaultdict(list)
    grounds: dict[int, list[str]] = defaultdict(list)
    first, last = min((row["id"] for row in rows), default=0), max((row["id"] for row in rows), default=-1)
    for row in connection.execute(
        """
        SELECT spray_out, ground, spray_reading.id, at, source, lab, words, counts
        FROM spray_field LEFT JOIN spray_reading ON spray_reading.field = spray_field.id
        WHERE spray_out BETWEEN :first AND :last ORDER BY spray_field.id, spray_reading.id
        """,
        {"first": first, "last": last},
    ):
        if row["ground"] not in grounds[row["spray_out"]]:
            grounds[row["spray_out"]].append(row["ground"])
        if row["id"] is not None:
            lab = json.loads(row["lab"] or "null")
            point = None if lab is None else (lab[0], lab[1], lab[2])
            own = Reading(row["id"], row["at"], row["source"], point, row["words"], bool(row["counts"]))
            readings[row["spray_out"], row["ground"]].append(own)
    return [
        SprayOut(
            row["id"],
            row["at"],
            row["recipe"],
            row["version"],
            draft_from_json(row["draft"]),
            row["note"],
            tuple(Field(ground, tuple(readings[row["id"], ground])) for ground in grounds[row["id"]]),
        )
        for row in rows
    ]
