"""Reference photos of plans: where nose and tail are in them, and the zones that were found."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import asdict, dataclass

from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.zones import MOST_ZONES, Zone
from diachrom.core.mix import sound
from diachrom.errors import NotFound

Point = tuple[float, float]


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
        raise NotFound("That reference photo is not there any more: bring it again.", field="photo")
    ends = sound.parse_or_default(_ends, row["ends"], None)
    zones = [
        sound.parse_or_default(_zone, each, None) for each in sound.parse_or_default(json.loads, row["zones"], []) or ()
    ]
    kept = tuple(each for each in zones if each is not None)[:MOST_ZONES]
    return Reference(row["id"], row["photo"], ends, kept)


def _ends(text: str) -> tuple[Point, Point] | None:
    given = json.loads(text)
    if given is None:
        return None
    (x0, y0), (x1, y1) = given
    return (float(x0), float(y0)), (float(x1), float(y1))


def _zone(values: dict[str, object]) -> Zone:
    lab, share = sound.triple(values["lab"], 200), sound.number(values["share"], 0, 1)
    region = sound.text(values["region"], 20)
    if lab is None or share is None or region not in REGIONS:
        raise ValueError("zone")
    target = sound.whole(values.get("target"), 1, sound.LARGEST_NUMBER)
    name, through = sound.text(values["name"], 60), sound.text(values["through"], 20)
    return Zone(name, region, through, lab=lab, share=share, target=target)


def straighten(connection: sqlite3.Connection, number: int, ends: tuple[Point, Point]) -> None:
    """Inside `writing`."""
    connection.execute(
        "UPDATE reference SET ends = :ends, zones = '[]' WHERE id = :id", {"ends": json.dumps(ends), "id": number}
    )


def set_zones(connection: sqlite3.Connection, number: int, zones: Sequence[Zone]) -> None:
    """Inside `writing`."""
    told = json.dumps([asdict(each) for each in zones])
    connection.execute("UPDATE reference SET zones = :zones WHERE id = :id", {"zones": told, "id": number})
