"""Colours to be matched, and the one that is on the bench."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from diachrom.errors import NotFound


@dataclass(frozen=True)
class Seen:
    """How a target was looked at: on what, under clear or not, at which angles; None where that is not known."""

    ground: str | None = None
    clear_coat: bool | None = None
    views: tuple[float | None, ...] = (None,)  # aspecular angles; None is a look without a direction


@dataclass(frozen=True)
class Target:
    """A colour to be matched, under daylight."""

    id: int
    at: str
    name: str
    source: str
    seen: Seen
    labs: tuple[tuple[float, float, float], ...]  # in each view
    reflectance: tuple[float, ...] | None


_TARGETS = "SELECT id, at, name, source, ground, clear_coat, views, labs, reflectance FROM target "


def _target(row: sqlite3.Row) -> Target:
    clear_coat = None if row["clear_coat"] is None else bool(row["clear_coat"])
    seen = Seen(row["ground"] or None, clear_coat, tuple(json.loads(row["views"])))
    labs = tuple((one[0], one[1], one[2]) for one in json.loads(row["labs"]))
    spectrum = None if row["reflectance"] is None else tuple(json.loads(row["reflectance"]))
    return Target(row["id"], row["at"], row["name"], row["source"], seen, labs, spectrum)


def add(
    connection: sqlite3.Connection,
    *,
    name: str,
    source: str,
    seen: Seen,
    labs: Sequence[Sequence[float]],
    reflectance: Sequence[float] | None,
    at: str,
) -> int:
    row = connection.execute(
        "INSERT INTO target (at, name, source, ground, clear_coat, views, labs, reflectance)"
        " VALUES (:at, :name, :source, :ground, :clear_coat, :views, :labs, :reflectance) RETURNING id",
        {
            "at": at,
            "name": name,
            "source": source,
            "ground": seen.ground or "",
            "clear_coat": seen.clear_coat,
            "views": json.dumps(seen.views),
            "labs": json.dumps([list(one) for one in labs]),
            "reflectance": None if reflectance is None else json.dumps(list(reflectance)),
        },
    ).fetchone()
    return int(row["id"])


def latest(connection: sqlite3.Connection, most: int) -> list[Target]:
    rows = connection.execute(_TARGETS + "WHERE gone = 0 ORDER BY id DESC LIMIT :most", {"most": most})
    return [_target(row) for row in rows]


def one(connection: sqlite3.Connection, number: int) -> Target:
    """Raises NotFound."""
    row = connection.execute(_TARGETS + "WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(f"There is no target {number}.", field="target")
    return _target(row)


def aim(connection: sqlite3.Connection) -> tuple[Target | None, dict[str, object]]:
    """The target on the bench, and how it is being matched."""
    row = connection.execute("SELECT target_id, settings FROM aim").fetchone()
    found = None if row["target_id"] is None else one(connection, row["target_id"])
    return found, json.loads(row["settings"])


def aim_at(connection: sqlite3.Connection, number: int | None) -> None:
    connection.execute("UPDATE aim SET target_id = :id", {"id": number})


def set_up(connection: sqlite3.Connection, settings: Mapping[str, object]) -> None:
    connection.execute("UPDATE aim SET settings = :settings", {"settings": json.dumps(dict(settings))})


def take_away(connection: sqlite3.Connection, number: int) -> None:
    """Out of the list; it is not on the bench any more either."""
    connection.execute("UPDATE target SET gone = 1 WHERE id = :id", {"id": number})
    connection.execute("UPDATE aim SET target_id = NULL WHERE target_id = :id", {"id": number})


def is_aimed(connection: sqlite3.Connection) -> bool:
    """Whether there is a target on the bench."""
    return connection.execute("SELECT target_id FROM aim").fetchone()[0] is not None
