"""Reference photos of plans: where nose and tail are in them, and the zones that were found."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from pydantic import TypeAdapter

from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.zones import MOST_ZONES, Zone
from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.words import say

Point = tuple[float, float]
ENDS = TypeAdapter(tuple[Point, Point] | None)
ZONES = TypeAdapter(list[Zone])


@dataclass(frozen=True)
class Reference:
    """A photo that a plan is made after. Without `ends` it is not straightened yet."""

    id: int
    photo: int
    ends: tuple[Point, Point] | None  # nose and tail, pixels
    zones: tuple[Zone, ...]


def add(connection: sqlite3.Connection, photo: int, *, at: str) -> int:
    """Inside `writing`."""
    row = connection.execute(
        "INSERT INTO reference (photo, ends, zones, at) VALUES (:photo, 'null', '[]', :at) RETURNING id",
        {"photo": photo, "at": at},
    ).fetchone()
    return int(row[0])


def one(connection: sqlite3.Connection, number: int) -> Reference:
    """Raises NotFound."""
    row = connection.execute("SELECT id, photo, ends, zones FROM reference WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(say("That reference photo is no longer there: add it again."), field="photo")
    zones = [zone for zone in kept.read(ZONES, row["zones"], []) if _possible(zone)]
    return Reference(row["id"], row["photo"], kept.whole(ENDS, row["ends"], None), tuple(zones[:MOST_ZONES]))


def _possible(zone: Zone) -> bool:
    return zone.region in REGIONS and 0 <= zone.share <= 1 and max(map(abs, zone.lab)) <= 200


def straighten(connection: sqlite3.Connection, number: int, ends: tuple[Point, Point]) -> None:
    """Inside `writing`."""
    connection.execute(
        "UPDATE reference SET ends = :ends, zones = '[]' WHERE id = :id", {"ends": json.dumps(ends), "id": number}
    )


def set_zones(connection: sqlite3.Connection, number: int, zones: Sequence[Zone]) -> None:
    """Inside `writing`."""
    told = json.dumps([asdict(each) for each in zones])
    connection.execute("UPDATE reference SET zones = :zones WHERE id = :id", {"zones": told, "id": number})
