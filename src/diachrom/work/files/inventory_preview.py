"""Reading an inventory: what each row of a table would do, and every error by row and column."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from diachrom.core.film.paint import KINDS
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.guess_basis import ToGuess, check_guess
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange.sheets import Table
from diachrom.store import paints
from diachrom.store.bottles import Bottle
from diachrom.store.paints import PaintRecord
from diachrom.work.kit.fields import BOTTLE_FIELDS, LEFT, PAINT_FIELDS, Field, Value, bottle_columns
from diachrom.work.shelf.shelf_index import index

NUMBER, COLOUR = "bottle", "colour"
FIELDS = (*PAINT_FIELDS, *BOTTLE_FIELDS, LEFT)
HEADER = (NUMBER, *(one.key for one in FIELDS), COLOUR)
BY_NAME = {name.casefold(): one.key for one in FIELDS for name in (one.key, one.words)} | {
    NUMBER: NUMBER,
    COLOUR: COLOUR,
    "color": COLOUR,
}


@dataclass(frozen=True)
class CellError:
    """What is wrong, and where: the row of the file and the column's name."""

    row: int
    column: str
    sentence: str


@dataclass(frozen=True)
class RowFate:
    """What would become of a row."""

    row: int
    name: str
    fate: str  # in words
    warning: str = ""


@dataclass(frozen=True, eq=False)
class Planned:
    """A row that was read, and what it is about."""

    row: int
    values: Mapping[str, Value]
    record: PaintRecord
    known: PaintRecord | None
    bottle: Bottle | None
    colour: str


@dataclass(frozen=True, eq=False)
class Preview:
    """What importing a table would do; nothing is written while it has errors."""

    fates: Sequence[RowFate]
    errors: Sequence[CellError]
    notes: Sequence[str]
    unknown_columns: Sequence[str]
    planned: Sequence[Planned] = field(repr=False, default=())


def preview(connection: sqlite3.Connection, name: str, sheet: Table) -> Preview:
    """What each row would do, and every error by row and column. Raises BadFile for a table without names and kinds."""
    columns = [BY_NAME.get(cell.casefold().strip(), "") for cell in sheet.header]
    unknown = [cell for cell, key in zip(sheet.header, columns, strict=True) if not key and cell]
    for needed in ("name", "kind"):
        if needed not in columns:
            raise BadFile(name, f"it has no column '{needed}'; its columns are {', '.join(sheet.header[:12])}.")
    twice = next((key for key in columns if key and columns.count(key) > 1), None)
    if twice:
        raise BadFile(name, f"it has the column '{twice}' twice.")
    reader = _Reader(connection, columns)
    for row, cells in sheet.rows:
        reader.read(row, cells)
    return Preview(reader.fates, reader.errors, sheet.notes, unknown, reader.planned)


class _Reader:
    """Reads a table row by row, beside the shelf as it is and the rows before."""

    def __init__(self, connection: sqlite3.Connection, columns: Sequence[str]) -> None:
        self.columns = columns
        self.fates: list[RowFate] = []
        self.errors: list[CellError] = []
        self.planned: list[Planned] = []
        self._on_shelf = {paint_key(one.line, one.name): one for one in paints.every_record(connection)}
        self._bottles = {row.bottle.id: row.bottle for row in index(connection).rows}
        self._new: dict[tuple[str, str], tuple[int, str]] = {}  # paints of this file: row and kind

    def read(self, row: int, cells: Sequence[str]) -> None:
        if len(cells) != len(self.columns):
            hint = "is the file cut off, or a decimal comma not in quotes?"
            self._wrong(row, "", f"it has {len(cells)} cells, the header {len(self.columns)}: {hint}")
            return
        given = {key: cell.strip() for key, cell in zip(self.columns, cells, strict=True) if key}
        values = self._values(row, given)
        if values is None:
            return
        line, name, kind = str(values.get("line") or ""), str(values["name"]), str(values["kind"])
        own = {key: value for key, value in values.items() if key in PAINT_KEYS and value is not None}
        record = PaintRecord(**{"id": "", "line": "", **own})  # type: ignore[arg-type]
        known = self._on_shelf.get(paint_key(line, name))
        before = len(self.errors)
        bottle = self._bottle(row, given, known)
        if not self._fits(row, record, known, given) or len(self.errors) > before:
            return
        planned = Planned(
            row=row, values=values, record=record, known=known, bottle=bottle, colour=given.get(COLOUR, "")
        )
        self.planned.append(planned)
        self.fates.append(self._fate(planned))
        if known is None:
            self._new.setdefault(paint_key(line, name), (row, kind))

    def _values(self, row: int, given: Mapping[str, str]) -> dict[str, Value] | None:
        values: dict[str, Value] = {}
        before = len(self.errors)
        for one in FIELDS:
            if one.key in given or one.needed:
                try:
                    values[one.key] = self._value(one, given.get(one.key, ""))
                except InvalidInput as error:
                    self._wrong(row, one.key, str(error))
        return values if len(self.errors) == before else None

    def _value(self, one: Field, text: str) -> Value:
        if one.key == "size_ml" and not text:
            return 30.0
        return one.value(text)

    def _wrong(self, row: int, column: str, sentence: str) -> None:
        self.errors.append(CellError(row, column, sentence))

    def _bottle(self, row: int, given: Mapping[str, str], known: PaintRecord | None) -> Bottle | None:
        """The bottle that the row is about, None for a new one."""
        text = given.get(NUMBER, "")
        if not text:
            return None
        if not text.isdecimal() or len(text) > 15:
            self._wrong(row, NUMBER, f"'{text[:20]}' is no bottle's number.")
            return None
        found = self._bottles.get(int(text))
        # A number from another shelf says nothing here: then the row is a new bottle.
        return found if found is not None and known is not None and found.paint_id == known.id else None

    def _fits(self, row: int, record: PaintRecord, known: PaintRecord | None, given: Mapping[str, str]) -> bool:
        text = given.get(COLOUR, "")
        colour = hex_to_lab(text) if text else None
        if text and colour is None:
            self._wrong(row, COLOUR, f"'{text[:20]}' is no colour: write it as #rrggbb.")
            return False
        if known is not None and not known.retired:
            if known.kind != record.kind:
                self._wrong(row, "kind", f"{known.full_name} is {known.kind} on the shelf, not {record.kind}.")
            return known.kind == record.kind
        before = self._new.get(paint_key(record.line, record.name))
        if before is not None and before[1] != record.kind:
            self._wrong(row, "kind", f"row {before[0]} says that {record.full_name} is {before[1]}.")
            return False
        if before is None:
            try:
                check_guess(ToGuess(record.full_name, record.kind, colour))
            except InvalidInput as error:
                self._wrong(row, error.field or COLOUR, str(error))
                return False
        return True

    def _fate(self, one: Planned) -> RowFate:
        left = one.values.get("left_ml")
        warning = "below nothing: to be corrected" if isinstance(left, float) and left < 0 else ""
        name = one.record.full_name
        if one.bottle is not None:
            changed = changed_columns(one, one.bottle)
            words = f"changes: {', '.join(changed)}" if changed else "is there already, as it is"
            return RowFate(one.row, name, words, warning)
        if one.known is not None and not one.known.retired:
            double = warning or "the name is on the shelf already"
            return RowFate(one.row, name, f"another bottle of {name}", double)
        if paint_key(one.record.line, one.record.name) in self._new:
            return RowFate(one.row, name, f"another bottle of {name}", warning)
        kind = one.record.kind
        guessed = (
            "" if not KINDS[kind].colours else "a guess from its colour" if one.colour else "a guess from its kind"
        )
        return RowFate(one.row, name, "new paint", warning or guessed)


def paint_key(line: str, name: str) -> tuple[str, str]:
    return line.casefold(), name.casefold()


PAINT_KEYS = {one.key for one in PAINT_FIELDS}


def changed_columns(one: Planned, bottle: Bottle) -> list[str]:
    """The columns in which a row differs from the bottle and the paint on the shelf."""
    found = []
    if one.known is not None:
        found = [key for key in one.values if key in PAINT_KEYS and not _same(one.values[key], getattr(one.known, key))]
    columns = bottle_columns({key: value for key, value in one.values.items() if key not in PAINT_KEYS})
    left = columns.pop("left_ml", None)
    found += [key for key, value in columns.items() if not _same(value, getattr(bottle, key))]
    if isinstance(left, float) and abs(left - bottle.left_ml) > 5e-5:
        found.append("left_ml")
    return found


def _same(one: object, other: object) -> bool:
    if isinstance(one, float) and isinstance(other, float):
        return abs(one - other) < 1e-6
    return one == other or (one in (None, "") and other in (None, ""))
