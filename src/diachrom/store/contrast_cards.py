"""Drawdown cards under way and every reading of their fields; nothing read is ever lost."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter

from diachrom.core.film.surface import sheen_of
from diachrom.core.light.bands import BANDS
from diachrom.core.mix.layers import MOST_COATS
from diachrom.errors import CardNotFound
from diachrom.store import kept
from diachrom.store.said import keep_said, read_said

BRIGHTEST = 10.0  # no field of a card sends back more
Read = Annotated[kept.Number, Field(ge=-BRIGHTEST, le=BRIGHTEST)]
SPECTRUM = TypeAdapter(Annotated[tuple[Read, ...], Field(min_length=BANDS, max_length=BANDS)])
STEPS = TypeAdapter(list[Annotated[kept.Whole, Field(ge=1, le=MOST_COATS)]])
MOST_STEPS = 6


@dataclass(frozen=True)
class FieldReading:
    """One reading of a field; set aside when it does not count."""

    id: int
    field: str
    at: str
    source: str
    reflectance: tuple[float, ...]
    counts: bool


@dataclass(frozen=True)
class ContrastCard:
    """How a card was sprayed, and what was read from it, the oldest reading first."""

    id: int
    paint_id: str
    at: str
    film_um: float  # of one pass
    steps: tuple[int, ...]  # passes of each film, the thinnest first
    clear_coat: bool
    white_paint: str | None  # with which the paint is let down in a field of its own
    white_drops: int  # to one of the paint
    version: int | None  # of the profile that came of it
    readings: tuple[FieldReading, ...]

    @property
    def sheen(self) -> float:
        """What its surface mirrors."""
        return sheen_of(clear_coat=self.clear_coat)

    @property
    def let_down_share(self) -> float:
        """Of the paint, in the field that is let down."""
        return 1 / (1 + self.white_drops)


def new(connection: sqlite3.Connection, *, paint_id: str, at: str, film_um: float, steps: Sequence[int]) -> int:
    """Cleared, without a field that is let down."""
    row = connection.execute(
        "INSERT INTO contrast_card (paint_id, at, film_um, coats, steps, clear_coat)"
        " VALUES (:paint_id, :at, :film_um, :coats, :steps, 1) RETURNING id",
        {"paint_id": paint_id, "at": at, "film_um": film_um, "coats": max(steps), "steps": json.dumps(list(steps))},
    ).fetchone()
    return int(row["id"])


def under_way(connection: sqlite3.Connection, paint_id: str) -> int | None:
    """The paint's card that no profile has come of yet."""
    row = connection.execute(
        "SELECT max(id) FROM contrast_card WHERE paint_id = :paint_id AND version IS NULL", {"paint_id": paint_id}
    ).fetchone()
    return None if row[0] is None else int(row[0])


def numbers(connection: sqlite3.Connection) -> list[int]:
    """Of all cards."""
    return [row[0] for row in connection.execute("SELECT id FROM contrast_card ORDER BY id")]


def card(connection: sqlite3.Connection, number: int) -> ContrastCard:
    """Raises CardNotFound."""
    row = connection.execute("SELECT * FROM contrast_card WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise CardNotFound(number)
    readings = connection.execute(
        "SELECT id, field, at, source, reflectance, counts FROM contrast_card_reading WHERE card_id = :id ORDER BY id",
        {"id": number},
    )
    found = tuple(reading for one in readings if (reading := _reading(one)) is not None)
    # One film, of all its coats, where nothing else is said that can be meant.
    steps = kept.read(STEPS, row["steps"], [])
    return ContrastCard(
        id=row["id"],
        paint_id=row["paint_id"],
        at=row["at"],
        film_um=row["film_um"],
        steps=tuple(sorted(set(steps))[:MOST_STEPS]) or (row["coats"],),
        clear_coat=bool(row["clear_coat"]),
        white_paint=row["white_paint"],
        white_drops=row["white_drops"],
        version=row["version"],
        readings=found,
    )


def _reading(row: sqlite3.Row) -> FieldReading | None:
    """None for one that cannot be read."""
    values = kept.whole(SPECTRUM, row["reflectance"], ())
    if not values:
        return None
    return FieldReading(
        **{**dict(row), "source": read_said(row["source"]), "reflectance": values, "counts": bool(row["counts"])}
    )


def describe(
    connection: sqlite3.Connection,
    number: int,
    *,
    film_um: float,
    steps: Sequence[int],
    clear_coat: bool,
    white_paint: str | None,
    white_drops: int,
) -> None:
    """Say how the card was sprayed."""
    connection.execute(
        "UPDATE contrast_card SET film_um = :film_um, coats = :coats, steps = :steps, clear_coat = :clear_coat,"
        " white_paint = :white_paint, white_drops = :white_drops WHERE id = :id",
        {
            "film_um": film_um,
            "coats": max(steps),
            "steps": json.dumps(list(steps)),
            "clear_coat": int(clear_coat),
            "white_paint": white_paint,
            "white_drops": white_drops,
            "id": number,
        },
    )


def add_reading(
    connection: sqlite3.Connection, number: int, *, field: str, at: str, source: str, reflectance: Sequence[float]
) -> int:
    """Returns its number."""
    row = connection.execute(
        "INSERT INTO contrast_card_reading (card_id, field, at, source, reflectance)"
        " VALUES (:card, :field, :at, :source, :reflectance) RETURNING id",
        {
            "card": number,
            "field": field,
            "at": at,
            "source": keep_said(source),
            "reflectance": json.dumps(list(reflectance)),
        },
    ).fetchone()
    return int(row["id"])


def set_aside(connection: sqlite3.Connection, number: int, reading: int) -> None:
    """Leave a reading out, or take it in again."""
    connection.execute(
        "UPDATE contrast_card_reading SET counts = 1 - counts WHERE id = :id AND card_id = :card",
        {"id": reading, "card": number},
    )


def accepted(connection: sqlite3.Connection, number: int, version: int) -> None:
    """Remember which profile came of the card."""
    connection.execute("UPDATE contrast_card SET version = :version WHERE id = :id", {"version": version, "id": number})
