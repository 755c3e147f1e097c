"""Sheets for many paints: which pair is whose, what a photo showed of it, what came of that, and what was taken."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field, TypeAdapter

from diachrom.core.light.inks import INKS
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.core.mix.sound import THINNEST_UM
from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.words import say

Passes = Annotated[kept.Whole, Field(ge=0, le=MOST_COATS)]
Ground = Annotated[str, Field(pattern=f"^({'|'.join(('white', 'black', *INKS))})$")]
FIELDS = TypeAdapter(list[tuple[Ground, Passes, kept.Lab, str]])


@dataclass(frozen=True)
class KeptField:
    """What a photo showed of a field; `lost` says why it tells nothing."""

    ground: str
    passes: int
    lab: tuple[float, float, float]
    lost: str = ""


@dataclass(frozen=True)
class KeptPair:
    number: int
    paint_id: str
    fields: tuple[KeptField, ...]
    found: Mapping[str, object]  # the coefficients that came of it; empty before, or with the reason why none did
    before: int | None  # the paint's version that counted when it was taken
    after: int | None  # the version that was made
    undone: bool

    @property
    def taken(self) -> bool:
        """What came of it counts, as far as the sheet knows."""
        return self.after is not None and not self.undone


@dataclass(frozen=True)
class ShelfSheet:
    id: int
    at: str
    film_um: float  # of a pass
    clear_coat: bool
    photo: str  # its name; "" before one was read
    bare: tuple[KeptField, ...]  # the printed colours are among them
    pairs: tuple[KeptPair, ...]


def add(connection: sqlite3.Connection, paint_ids: Sequence[str], *, film_um: float, clear_coat: bool, at: str) -> int:
    """Inside `writing`; returns its number."""
    number = int(
        connection.execute(
            "INSERT INTO shelf_sheet (at, film_um, clear_coat) VALUES (:at, :film_um, :clear) RETURNING id",
            {"at": at, "film_um": film_um, "clear": int(clear_coat)},
        ).fetchone()[0]
    )
    connection.executemany(
        "INSERT INTO shelf_sheet_pair (sheet_id, number, paint_id) VALUES (?, ?, ?)",
        [(number, index + 1, one) for index, one in enumerate(paint_ids)],
    )
    return number


def one(connection: sqlite3.Connection, number: int) -> ShelfSheet:
    """Raises NotFound."""
    row = connection.execute("SELECT * FROM shelf_sheet WHERE id = :id", {"id": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no shelf sheet {number}.", number=number), field="sheet")
    pairs = connection.execute(
        "SELECT * FROM shelf_sheet_pair WHERE sheet_id = :id ORDER BY number", {"id": number}
    ).fetchall()
    return ShelfSheet(
        id=row["id"],
        at=row["at"],
        film_um=min(max(row["film_um"], THINNEST_UM), THICKEST_COAT_UM),
        clear_coat=bool(row["clear_coat"]),
        photo=row["photo"],
        bare=_fields(row["bare"]),
        pairs=tuple(_pair(pair) for pair in pairs),
    )


def latest(connection: sqlite3.Connection, most: int) -> list[tuple[int, str, int, int]]:
    """(number, at, paints on it, of these taken and not undone), the latest first."""
    rows = connection.execute(
        "SELECT s.id, s.at, count(p.number), coalesce(sum(p.after IS NOT NULL AND NOT p.undone), 0)"
        " FROM shelf_sheet s LEFT JOIN shelf_sheet_pair p ON p.sheet_id = s.id"
        " GROUP BY s.id ORDER BY s.id DESC LIMIT :most",
        {"most": most},
    )
    return [tuple(row) for row in rows]


def _pair(row: sqlite3.Row) -> KeptPair:
    found = kept.whole(kept.DOCUMENT, row["found"], {})
    return KeptPair(
        number=row["number"],
        paint_id=row["paint_id"],
        fields=_fields(row["fields"]),
        found=found,
        before=row["before"],
        after=row["after"],
        undone=bool(row["undone"]),
    )


def _fields(text: str) -> tuple[KeptField, ...]:
    """What can be read of them."""
    return tuple(KeptField(*own) for own in kept.read(FIELDS, text, []))


def read(
    connection: sqlite3.Connection,
    number: int,
    *,
    photo: str,
    bare: Sequence[KeptField],
    pairs: Mapping[int, Sequence[KeptField]],
) -> None:
    """What a photo showed, in place of what one showed before. Inside `writing`."""
    connection.execute(
        "UPDATE shelf_sheet SET photo = :photo, bare = :bare WHERE id = :id",
        {"photo": photo, "bare": _text(bare), "id": number},
    )
    connection.executemany(
        "UPDATE shelf_sheet_pair SET fields = ?, found = '{}' WHERE sheet_id = ? AND number = ?",
        [(_text(fields), number, pair) for pair, fields in pairs.items()],
    )


def _text(fields: Sequence[KeptField]) -> str:
    return json.dumps(
        [[field.ground, field.passes, [round(value, 4) for value in field.lab], field.lost] for field in fields]
    )


def found(connection: sqlite3.Connection, number: int, pair: int, what: Mapping[str, object]) -> None:
    """What came of a pair. Inside `writing`."""
    connection.execute(
        "UPDATE shelf_sheet_pair SET found = :found WHERE sheet_id = :sheet AND number = :pair",
        {"found": json.dumps(what), "sheet": number, "pair": pair},
    )


def taken(connection: sqlite3.Connection, number: int, pair: int, *, before: int, after: int) -> None:
    """Inside `writing`."""
    connection.execute(
        "UPDATE shelf_sheet_pair SET before = :before, after = :after, undone = 0"
        " WHERE sheet_id = :sheet AND number = :pair",
        {"before": before, "after": after, "sheet": number, "pair": pair},
    )


def undone(connection: sqlite3.Connection, number: int, pair: int) -> None:
    """Inside `writing`."""
    connection.execute(
        "UPDATE shelf_sheet_pair SET undone = 1 WHERE sheet_id = :sheet AND number = :pair",
        {"sheet": number, "pair": pair},
    )
