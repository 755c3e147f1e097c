"""Colours to be matched, and the one that is on the bench."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter

from diachrom.core.light.bands import BANDS
from diachrom.core.mix import sound
from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.said import keep_said, read_said
from diachrom.words import say

WIDEST_DEG = 180.0
MOST_LAB = 400.0  # what foil head-on and the strongest fluorescent stay within


@dataclass(frozen=True)
class SeenAs:
    """How a target was looked at: on what, under clear or not, at which angles; None where that is not known."""

    ground: str | None = None
    clear_coat: bool | None = None
    satin: bool = False  # where it is not cleared
    views: tuple[float | None, ...] = (None,)  # aspecular angles; None is a look without a direction


@dataclass(frozen=True)
class Target:
    """A colour to be matched, under daylight."""

    id: int
    at: str
    name: str
    source: str
    seen: SeenAs
    labs: tuple[tuple[float, float, float], ...]  # in each view
    reflectance: tuple[float, ...] | None
    made_of: str = ""  # "recipe:14:3" or "paint:rav-nype" where it shows one of them


_TARGETS = "SELECT id, at, name, source, ground, clear_coat, satin, views, labs, reflectance, made_of FROM target "


VIEWS = TypeAdapter(tuple[Annotated[kept.Number, Field(ge=0, le=WIDEST_DEG)] | None, ...])
Coordinate = Annotated[kept.Number, Field(ge=-MOST_LAB, le=MOST_LAB)]
LABS = TypeAdapter(tuple[tuple[Coordinate, Coordinate, Coordinate], ...])
SPECTRUM = TypeAdapter(
    Annotated[tuple[Annotated[kept.Number, Field(ge=0, le=1)], ...], Field(min_length=BANDS, max_length=BANDS)] | None
)


def _target(row: sqlite3.Row) -> Target | None:
    """None for one that cannot be read."""
    views, labs = kept.whole(VIEWS, row["views"], ()), kept.whole(LABS, row["labs"], ())
    if not views or len(labs) != len(views):
        return None
    clear_coat = None if row["clear_coat"] is None else bool(row["clear_coat"])
    seen = SeenAs(row["ground"] if sound.is_ground(row["ground"]) else None, clear_coat, bool(row["satin"]), views)
    return Target(
        id=row["id"],
        at=row["at"],
        name=row["name"],
        source=read_said(row["source"]),
        seen=seen,
        labs=labs,
        reflectance=kept.whole(SPECTRUM, row["reflectance"], None),
        made_of=row["made_of"],
    )


def add(
    connection: sqlite3.Connection,
    *,
    name: str,
    source: str,
    seen: SeenAs,
    labs: Sequence[Sequence[float]],
    reflectance: Sequence[float] | None,
    made_of: str = "",
    at: str,
) -> int:
    """Keep a target; returns its number. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO target (at, name, source, ground, clear_coat, satin, views, labs, reflectance, made_of)"
        " VALUES (:at, :name, :source, :ground, :clear_coat, :satin, :views, :labs, :reflectance, :made_of)"
        " RETURNING id",
        {
            "at": at,
            "name": name,
            "source": keep_said(source),
            "ground": seen.ground or "",
            "clear_coat": seen.clear_coat,
            "satin": int(seen.satin),
            "views": json.dumps(seen.views),
            "labs": json.dumps([list(lab) for lab in labs]),
            "made_of": made_of,
            "reflectance": None if reflectance is None else json.dumps(list(reflectance)),
        },
    ).fetchone()
    return int(row["id"])


def latest(connection: sqlite3.Connection, most: int) -> list[Target]:
    """The latest targets."""
    rows = connection.execute(_TARGETS + "WHERE gone = 0 ORDER BY id DESC LIMIT :most", {"most": most})
    return [target for target in map(_target, rows) if target is not None]


def one(connection: sqlite3.Connection, number: int) -> Target:
    """Raises NotFound."""
    row = connection.execute(_TARGETS + "WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no target {number}.", number=number), field="target")
    target = _target(row)
    if target is None:
        raise NotFound(
            say("Target {number} cannot be read: remove it and enter its colour again.", number=number), field="target"
        )
    return target


def active_target(connection: sqlite3.Connection) -> tuple[Target | None, dict[str, object]]:
    """The target on the bench, and how it is being matched."""
    row = connection.execute(
        f"SELECT settings, aimed.* FROM aim LEFT JOIN ({_TARGETS}) AS aimed ON aimed.id = target_id"
    ).fetchone()
    return None if row["id"] is None else _target(row), kept.whole(kept.DOCUMENT, row["settings"], {})


def aim_at(connection: sqlite3.Connection, number: int | None) -> None:
    """Take a target, or none. Inside `writing`."""
    connection.execute("UPDATE aim SET target_id = :id", {"id": number})


def set_up(connection: sqlite3.Connection, settings: Mapping[str, object]) -> None:
    """Keep what is matched over. Inside `writing`."""
    connection.execute("UPDATE aim SET settings = :settings", {"settings": json.dumps(dict(settings))})


def take_away(connection: sqlite3.Connection, number: int) -> None:
    """Out of the list; it is not on the bench any more either."""
    connection.execute("UPDATE target SET gone = 1 WHERE id = :id", {"id": number})
    connection.execute("UPDATE aim SET target_id = NULL WHERE target_id = :id", {"id": number})


def at_cup(connection: sqlite3.Connection) -> Target | None:
    """The target of the cup on the bench; before the first cup, the one that is being matched."""
    row = connection.execute(
        f"SELECT aimed.* FROM ({_TARGETS} WHERE gone = 0) AS aimed WHERE aimed.id = coalesce("
        "(SELECT coalesce(target, -1) FROM cup_batch WHERE id = (SELECT batch FROM cup JOIN cup_step USING (seq))),"
        " (SELECT target_id FROM aim))"
    ).fetchone()
    return None if row is None else _target(row)


def number_at_cup(connection: sqlite3.Connection) -> int | None:
    """The number of that target."""
    target = at_cup(connection)
    return None if target is None else target.id


def put_at_cup(connection: sqlite3.Connection, number: int | None) -> None:
    """Let the cup on the bench meet this target, or none."""
    connection.execute(
        "UPDATE cup_batch SET target = :id WHERE id = (SELECT batch FROM cup JOIN cup_step USING (seq))", {"id": number}
    )


def unreadable(connection: sqlite3.Connection) -> list[int]:
    """Numbers of those that cannot be read, and so are left out everywhere."""
    rows = connection.execute(_TARGETS).fetchall()
    return [row["id"] for row in rows if _target(row) is None]
