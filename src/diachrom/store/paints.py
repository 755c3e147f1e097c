"""Paints, their profiles, the bottles they are in, and what is left of each."""

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import asdict, dataclass

import numpy as np

from diachrom.core.film.flakes import Flake
from diachrom.core.film.paint import Fluorescence, Glow, Paint
from diachrom.errors import BottleNotFound, PaintNotFound


@dataclass(frozen=True)
class Bottle:
    """A bottle with the paint in it and what is left."""

    id: int
    paint_id: str
    line: str
    name: str
    kind: str
    note: str
    discontinued: bool
    size_ml: float
    drop_ml: float
    state: str
    left_ml: float

    @property
    def full_name(self) -> str:
        return f"{self.line} {self.name}".strip()


_BOTTLES = """
    SELECT bottle.id, paint.id AS paint_id, paint.line, paint.name, paint.kind,
           trim(paint.note || ' ' || bottle.note) AS note, paint.discontinued,
           bottle.size_ml, bottle.drop_ml, bottle.state,
           coalesce((SELECT sum(ml) FROM stock_entry WHERE stock_entry.bottle_id = bottle.id), 0.0) AS left_ml
    FROM bottle JOIN paint ON paint.id = bottle.paint_id
"""


def _bottle(row: sqlite3.Row) -> Bottle:
    return Bottle(**{**dict(row), "discontinued": bool(row["discontinued"])})


def all_bottles(connection: sqlite3.Connection) -> list[Bottle]:
    """Every bottle, in the order in which they came onto the shelf."""
    return [_bottle(row) for row in connection.execute(_BOTTLES + "ORDER BY bottle.id")]


def bottles(connection: sqlite3.Connection, ids: Iterable[int]) -> dict[int, Bottle]:
    """The bottles with these ids. Raises BottleNotFound."""
    found = {}
    for bottle_id in ids:
        # A number that SQLite cannot hold is no bottle's number either.
        row = None
        if -(2**63) <= bottle_id < 2**63:
            row = connection.execute(_BOTTLES + "WHERE bottle.id = :id", {"id": bottle_id}).fetchone()
        if row is None:
            raise BottleNotFound(bottle_id)
        found[bottle_id] = _bottle(row)
    return found


def bottle_of_paint(connection: sqlite3.Connection, paint_id: str) -> Bottle | None:
    """The bottle that a drop of this paint would come from: an open one first, then the fullest."""
    row = connection.execute(
        _BOTTLES + "WHERE paint.id = :id ORDER BY bottle.state = 'open' DESC, left_ml DESC LIMIT 1", {"id": paint_id}
    ).fetchone()
    return None if row is None else _bottle(row)


_PROFILES = """
    SELECT paint.id, trim(paint.line || ' ' || paint.name) AS name, paint.kind,
           absorption, scattering, uncertainty, optics
    FROM paint JOIN paint_profile ON paint_profile.paint_id = paint.id
    WHERE version = (SELECT max(version) FROM paint_profile WHERE paint_id = paint.id)
"""


def _profile(row: sqlite3.Row) -> Paint:
    absorption, scattering = (np.array(json.loads(row[key]), dtype=np.float64) for key in ("absorption", "scattering"))
    optics = json.loads(row["optics"])
    return Paint(
        row["name"],
        row["kind"],
        absorption,
        scattering,
        row["uncertainty"],
        Flake(**optics["flake"]) if "flake" in optics else None,
        Fluorescence(**optics["fluorescence"]) if "fluorescence" in optics else None,
        Glow(**optics["glow"]) if "glow" in optics else None,
        optics.get("bleeds", 0.0),
    )


def _optics(paint: Paint) -> str:
    """What a paint has beside its coefficients, as JSON."""
    parts = {"flake": paint.flake, "fluorescence": paint.fluorescence, "glow": paint.glow}
    optics: dict[str, object] = {key: asdict(part) for key, part in parts.items() if part is not None}
    if paint.bleeds:
        optics["bleeds"] = paint.bleeds
    return json.dumps(optics)


def profile(connection: sqlite3.Connection, paint_id: str) -> Paint:
    """The newest profile of a paint. Raises PaintNotFound."""
    row = connection.execute(_PROFILES + "AND paint.id = :id", {"id": paint_id}).fetchone()
    if row is None:
        raise PaintNotFound(paint_id)
    return _profile(row)


def all_profiles(connection: sqlite3.Connection) -> dict[str, Paint]:
    """The newest profile of every paint, by the paint's id."""
    return {row["id"]: _profile(row) for row in connection.execute(_PROFILES)}


def add_paint(
    connection: sqlite3.Connection,
    paint: Paint,
    *,
    paint_id: str,
    line: str,
    name: str,
    pigments: str = "",
    note: str = "",
    discontinued: bool = False,
) -> None:
    connection.execute(
        "INSERT INTO paint (id, line, name, kind, pigments, note, discontinued)"
        " VALUES (:id, :line, :name, :kind, :pigments, :note, :discontinued)",
        {
            "id": paint_id,
            "line": line,
            "name": name,
            "kind": paint.kind,
            "pigments": pigments,
            "note": note,
            "discontinued": int(discontinued),
        },
    )


def add_profile(connection: sqlite3.Connection, paint: Paint, *, paint_id: str, source: str, at: str) -> int:
    """Append a profile as the paint's next version; returns the version."""
    row = connection.execute(
        "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, optics, source, at)"
        " SELECT :id, coalesce(max(version), 0) + 1, :absorption, :scattering, :uncertainty, :optics, :source, :at"
        " FROM paint_profile WHERE paint_id = :id RETURNING version",
        {
            "id": paint_id,
            "absorption": json.dumps(paint.absorption.tolist()),
            "scattering": json.dumps(paint.scattering.tolist()),
            "uncertainty": paint.uncertainty,
            "optics": _optics(paint),
            "source": source,
            "at": at,
        },
    ).fetchone()
    return int(row["version"])


def add_bottle(
    connection: sqlite3.Connection, *, paint_id: str, size_ml: float, drop_ml: float, state: str, note: str = ""
) -> int:
    """Put a bottle on the shelf; what is in it is said by stock entries. Returns its number."""
    row = connection.execute(
        "INSERT INTO bottle (paint_id, size_ml, drop_ml, state, note)"
        " VALUES (:paint_id, :size_ml, :drop_ml, :state, :note) RETURNING id",
        {"paint_id": paint_id, "size_ml": size_ml, "drop_ml": drop_ml, "state": state, "note": note},
    ).fetchone()
    return int(row["id"])


def add_stock_entry(
    connection: sqlite3.Connection, *, bottle_id: int, at: str, kind: str, ml: float, note: str = ""
) -> None:
    connection.execute(
        "INSERT INTO stock_entry (bottle_id, at, kind, ml, note) VALUES (:bottle_id, :at, :kind, :ml, :note)",
        {"bottle_id": bottle_id, "at": at, "kind": kind, "ml": ml, "note": note},
    )


def has_paint(connection: sqlite3.Connection, *, line: str, name: str) -> bool:
    found = connection.execute(
        "SELECT 1 FROM paint WHERE line = :line COLLATE NOCASE AND name = :name COLLATE NOCASE",
        {"line": line, "name": name},
    )
    return found.fetchone() is not None


def has_id(connection: sqlite3.Connection, paint_id: str) -> bool:
    return connection.execute("SELECT 1 FROM paint WHERE id = :id", {"id": paint_id}).fetchone() is not None


def set_drop(connection: sqlite3.Connection, bottle: int, drop_ml: float) -> None:
    connection.execute("UPDATE bottle SET drop_ml = :drop_ml WHERE id = :id", {"drop_ml": drop_ml, "id": bottle})


@dataclass(frozen=True)
class StockEntry:
    """What happened to the paint in a bottle."""

    at: str
    kind: str
    ml: float
    note: str


def ledger(connection: sqlite3.Connection, bottle: int) -> list[StockEntry]:
    """Everything that happened to a bottle, the newest first."""
    rows = connection.execute(
        "SELECT at, kind, ml, note FROM stock_entry WHERE bottle_id = :id ORDER BY id DESC", {"id": bottle}
    )
    return [StockEntry(**dict(row)) for row in rows]
