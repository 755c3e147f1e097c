"""Contrast cards under way and every reading of their fields; nothing read is ever lost."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.light.bands import BANDS
from diachrom.core.mixing import sound
from diachrom.errors import CardNotFound

BRIGHTEST = 10.0  # no field of a card sends back more
FIELDS = ("white", "black", "over_white", "over_black")


@dataclass(frozen=True)
class Reading:
    """One reading of a field; set aside when it does not count."""

    id: int
    field: str
    at: str
    source: str
    reflectance: tuple[float, ...]
    counts: bool


@dataclass(frozen=True)
class Card:
    """How a card was sprayed, and what was read from it, the oldest reading first."""

    id: int
    paint_id: str
    at: str
    film_um: float  # of one coat
    coats: int
    clear_coat: bool
    version: int | None  # of the profile that came of it
    readings: tuple[Reading, ...]


def new(connection: sqlite3.Connection, *, paint_id: str, at: str, film_um: float, coats: int, clear_coat: bool) -> int:
    row = connection.execute(
        "INSERT INTO card (paint_id, at, film_um, coats, clear_coat)"
        " VALUES (:paint_id, :at, :film_um, :coats, :clear_coat) RETURNING id",
        {"paint_id": paint_id, "at": at, "film_um": film_um, "coats": coats, "clear_coat": int(clear_coat)},
    ).fetchone()
    return int(row["id"])


def under_way(connection: sqlite3.Connection, paint_id: str) -> int | None:
    """The paint's card that no profile has come of yet."""
    row = connection.execute(
        "SELECT max(id) FROM card WHERE paint_id = :paint_id AND version IS NULL", {"paint_id": paint_id}
    ).fetchone()
    return None if row[0] is None else int(row[0])


def card(connection: sqlite3.Connection, number: int) -> Card:
    """Raises CardNotFound."""
    row = connection.execute("SELECT * FROM card WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise CardNotFound(number)
    readings = connection.execute(
        "SELECT id, field, at, source, reflectance, counts FROM card_reading WHERE card_id = :id ORDER BY id",
        {"id": number},
    )
    found = tuple(reading for one in readings if (reading := _reading(one)) is not None)
    return Card(
        row["id"],
        row["paint_id"],
        row["at"],
        row["film_um"],
        row["coats"],
        bool(row["clear_coat"]),
        row["version"],
        found,
    )


def _reading(row: sqlite3.Row) -> Reading | None:
    """None for one that cannot be read."""
    given = sound.told(json.loads, row["reflectance"], ())
    values = tuple(value for one in given if (value := sound.number(one, -BRIGHTEST, BRIGHTEST)) is not None)
    if len(values) != BANDS:
        return None
    return Reading(**{**dict(row), "reflectance": values, "counts": bool(row["counts"])})


def describe(connection: sqlite3.Connection, number: int, *, film_um: float, coats: int, clear_coat: bool) -> None:
    """Say how the card was sprayed."""
    connection.execute(
        "UPDATE card SET film_um = :film_um, coats = :coats, clear_coat = :clear_coat WHERE id = :id",
        {"film_um": film_um, "coats": coats, "clear_coat": int(clear_coat), "id": number},
    )


def add_reading(
    connection: sqlite3.Connection, number: int, *, field: str, at: str, source: str, reflectance: Sequence[float]
) -> None:
    connection.execute(
        "INSERT INTO card_reading (card_id, field, at, source, reflectance)"
        " VALUES (:card, :field, :at, :source, :reflectance)",
        {"card": number, "field": field, "at": at, "source": source, "reflectance": json.dumps(list(reflectance))},
    )


def set_aside(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Leave a reading out, or take it in again."""
    connection.execute(
        "UPDATE card_reading SET counts = 1 - counts WHERE id = :id AND card_id = :card",
        {"id": reading, "card": number},
    )


def accepted(connection: sqlite3.Connection, number: int, version: int) -> None:
    """Remember which profile came of the card."""
    connection.execute("UPDATE card SET version = :version WHERE id = :id", {"version": version, "id": number})
