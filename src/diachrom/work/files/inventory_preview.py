"""Reading an inventory: what each row of a table would do, and every error by row and column."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import pairwise

import numpy as np

from diachrom.core.film.kinds import KINDS
from diachrom.core.light.bands import Floats
from diachrom.core.light.screen import hex_to_lab, shown
from diachrom.core.profiles.guess_basis import check_guess
from diachrom.core.shelf.bottle_list import USUAL_ML, srgb
from diachrom.core.shelf.named import named
from diachrom.errors import BadFile, InvalidInput
from diachrom.store import paints
from diachrom.store.bottles import Bottle
from diachrom.store.paints import PaintRecord
from diachrom.words import listed, quantity, say
from diachrom.work.files import row_cells
from diachrom.work.files.amounts import PERCENT, are_shares, money
from diachrom.work.files.cells import Form, form_of, plain_cells
from diachrom.work.files.row_cells import COLOUR
from diachrom.work.files.table_rows import BottleRow, LeftOut, parted
from diachrom.work.kit import bench_settings
from diachrom.work.kit.colour_words import own as own_words
from diachrom.work.kit.fields import BOTTLE_FIELDS, LEFT, PAINT_FIELDS, Field, Value, bottle_columns
from diachrom.work.shelf.guessing import to_guess
from diachrom.work.shelf.shelf_index import index

MEASURED = (
    "drawdown card",
    "contrast card",
    "shelf sheet",
    "spectra of",
    "learned from",
)  # how such a profile's source begins
NUMBER, PAINT_ID = "bottle", "paint"
COUNT = "count"  # of bottles that are alike
MOST_ALIKE = 50  # bottles of one row
FIELDS = (*PAINT_FIELDS, *BOTTLE_FIELDS, LEFT)
HEADER = (NUMBER, *(one.key for one in FIELDS), COLOUR, PAINT_ID)


@dataclass(frozen=True)
class Table:
    """Rows of text under keys of HEADER, PARTS or COUNT; "" over a column that is not kept."""

    keys: Sequence[str]
    rows: Sequence[tuple[int, Sequence[str]]]  # (row number in the file, cells)
    notes: Sequence[str]
    units: Mapping[str, str] = field(default_factory=dict)  # that a heading names for its figures, by key
    above: Sequence[str] = ()  # the headings as they stand
    taken: frozenset[int] = frozenset()  # rows that are bottles whatever they look like


@dataclass(frozen=True)
class CellError:
    """What is wrong, and where: the row of the file and the column's name."""

    row: int
    column: str
    sentence: str


@dataclass(frozen=True)
class RowOutcome:
    """What would become of a row."""

    row: int
    name: str
    fate: str  # in words
    warning: str = ""
    as_read: str = ""  # kind, amounts and price
    colour: str = ""  # #rrggbb


@dataclass(frozen=True, eq=False)
class Planned:
    """A row that was read, and what it is about."""

    row: int
    values: Mapping[str, Value]
    record: PaintRecord
    known: PaintRecord | None
    bottle: Bottle | None
    colour: str
    recoloured: bool = False  # a paint on the shelf, of another colour than it has


@dataclass(frozen=True, eq=False)
class Preview:
    """What importing a table would do; nothing is written while it has errors."""

    fates: Sequence[RowOutcome]
    errors: Sequence[CellError]
    notes: Sequence[str]
    left_out: Sequence[LeftOut] = ()
    planned: Sequence[Planned] = field(repr=False, default=())


def preview(connection: sqlite3.Connection, name: str, table: Table, *, kind: str) -> Preview:
    """What each row would do, and every error by row and column; a new paint of which no column says the kind is taken
    for `kind`. Raises BadFile for a table without names."""
    if "name" not in table.keys:
        raise BadFile(name, say("none of its columns is chosen as the name of a paint."))
    reader = _Reader(connection, table, kind)
    left_out = []
    for one in parted(table.keys, table.rows, table.above, table.taken):
        if isinstance(one, LeftOut):
            left_out.append(one)
        else:
            reader.read(one)
    notes = [*table.notes, *reader.notes()]
    return Preview(reader.fates, reader.errors, notes, left_out, reader.planned)


class _Reader:
    """Reads a table row by row, beside the shelf as it is and the rows before."""

    def __init__(self, connection: sqlite3.Connection, table: Table, kind: str) -> None:
        self.columns, self.kind = table.keys, kind
        self.fates: list[RowOutcome] = []
        self.errors: list[CellError] = []
        self.planned: list[Planned] = []
        columns = {key: [cells[at] for _, cells in table.rows if at < len(cells)] for at, key in enumerate(table.keys)}
        columns["price"] = [money(cell) for cell in columns.get("price", ())]
        self._forms: dict[str, Form] = {key: form_of(cells) for key, cells in columns.items() if key}
        self._units, self._last = dict(table.units), table.rows[-1][0] if table.rows else 0
        self._shares = self._units.get(LEFT.key) == PERCENT and are_shares(columns.get(LEFT.key, ()))
        self._small = LEFT.key in columns and LEFT.key not in self._units and are_shares(columns[LEFT.key])
        self._first = "month" if bench_settings.read(connection).days == "month" else "day"
        self._on_shelf = {paint_key(one.line, one.name): one for one in paints.every_record(connection)}
        self._by_id = {one.id: one for one in self._on_shelf.values() if not one.retired}
        whole = index(connection)
        self._bottles = {row.bottle.id: row.bottle for row in whole.rows}
        self._colours = {row.bottle.paint_id: as_shown(whole.labs[at]) for at, row in enumerate(whole.rows)}
        self._new: dict[tuple[str, str], tuple[int, str]] = {}  # paints of this file: row and kind
        self._renamed: dict[str, tuple[int, tuple[str, str]]] = {}  # by id: row and name
        self._connection = connection
        self._measured: set[str] = set()  # paints whose colour a table does not change
        self._seen: dict[tuple[str, ...], int] = {}  # rows as they were read

    def notes(self) -> list[str]:
        """What was assumed of the table as a whole."""
        found = []
        if "kind" not in self.columns and self._new:
            found.append(say("no column gives the kind: new paints count as {words}", words=KINDS[self.kind].words))
        days = [form for key, form in self._forms.items() if key.endswith("_on")]
        if any(not form.first for form in days):
            found.append(say("days such as 03/04/2026 are read with the {first} first", first=self._first))
        if self._small and len(self.planned) > 1:
            found.append(say("what is left is below 1 in each row, and read as ml: write % where it is a share"))
        return found

    def read(self, bottle_row: BottleRow) -> None:
        """A row, as it would be written."""
        row, cells = bottle_row.row, list(bottle_row.cells)
        # Nothing stands at its end, unless it is the file's, or a decimal comma parted a figure.
        cut = row == self._last or any(one.isdecimal() and two.isdecimal() for one, two in pairwise(cells))
        if len(cells) < len(self.columns) and not cut:
            cells += [""] * (len(self.columns) - len(cells))
        while len(cells) > len(self.columns) and not cells[-1].strip():
            cells.pop()
        if len(cells) != len(self.columns):
            hint = say("is the file cut off, or a decimal comma not in quotes?")
            self._wrong(
                row,
                "",
                say(
                    "it has {count} cells, the headings {all}: {hint}",
                    count=len(cells),
                    all=len(self.columns),
                    hint=hint,
                ),
            )
            return
        given = {key: cell.strip() for key, cell in zip(self.columns, cells, strict=True) if key}
        if "price" in given:
            given["price"] = money(given["price"])
        given = plain_cells(FIELDS, given, self._forms, self._first)
        row_cells.write_colour(self._connection, given)
        count = given.pop(COUNT, "") or "1"
        if not (count.isdecimal() and len(count) < 3 and 0 < int(count) <= MOST_ALIKE):
            self._wrong(
                row,
                COUNT,
                say("'{words}' is no number of bottles from 1 to {most}.", words=count[:20], most=MOST_ALIKE),
            )
            return
        if not given.get("kind") and bottle_row.kind:
            given["kind"] = bottle_row.kind
        before = len(self.errors)
        known, line, name = self._known(row, given)
        if not given.get("kind"):
            given["kind"] = known.kind if known is not None else self.kind
        row_cells.write_amounts(given, self._units, self.kind, shares=self._shares)
        values = self._values(row, {**given, "name": name})
        if values is None:
            return
        own = {key: value for key, value in values.items() if key in PAINT_KEYS and value is not None}
        record = PaintRecord(**{"id": "", "line": "", **own})  # type: ignore[arg-type]
        if known is None and not given.get(COLOUR) and KINDS[record.kind].guess == "pigment":
            given[COLOUR] = srgb(named(record.full_name, own_words(self._connection)).lab)  # its name says it
        # The bottle that the row is about, None for a new one.
        text = given.get(NUMBER, "")
        if not text:
            bottle = None
        elif not text.isdecimal() or len(text) > 15:
            self._wrong(row, NUMBER, say("'{words}' is no bottle's number.", words=text[:20]))
            bottle = None
        else:
            found = self._bottles.get(int(text))
            # A number from another shelf says nothing here: then the row is a new bottle.
            bottle = found if found is not None and known is not None and found.paint_id == known.id else None
        if not self._fits(row, record, known, given) or len(self.errors) > before:
            return
        colour = given.get(COLOUR, "")
        recoloured = known is not None and not known.retired and self._recoloured(known, bottle, colour)
        planned = Planned(
            row=row, values=values, record=record, known=known, bottle=bottle, colour=colour, recoloured=recoloured
        )
        for _ in range(int(count) if bottle is None else 1):
            self.planned.append(planned)
            self.fates.append(replace(self._fate(planned), as_read=_as_read(planned), colour=colour.lower()))
        if known is None:
            self._new.setdefault(paint_key(line, name), (row, record.kind))

    def _known(self, row: int, given: Mapping[str, str]) -> tuple[PaintRecord | None, str, str]:
        """The paint that the row is about, as it is on the shelf, and what the row calls it. A table of this shelf
        tells the paint's id: then another name is a new name of that paint."""
        line, name = given.get("line", ""), given.get("name", "")
        own = self._by_id.get(given.get(PAINT_ID, ""))
        number = given.get(NUMBER, "")
        ours = self._bottles.get(int(number)) if number.isdecimal() and len(number) <= 15 else None
        if own is None or ours is None or ours.paint_id != own.id:
            return self._on_shelf.get(paint_key(line, name)), line, name
        key = paint_key(line, name) if "line" in given else paint_key(own.line, name)
        if key != paint_key(own.line, own.name):
            there, said = self._on_shelf.get(key), self._renamed.setdefault(own.id, (row, key))
            if there is not None and there.id != own.id:
                self._wrong(row, "name", say("{full_name} is another paint on the shelf.", full_name=there.full_name))
            elif said[1] != key:
                self._wrong(row, "name", say("row {said} names the same paint differently.", said=said[0]))
        return own, line, name

    def _recoloured(self, known: PaintRecord, bottle: Bottle | None, colour: str) -> bool:
        """Whether a paint is said to have another colour than it has, and was never measured."""
        if bottle is None or not colour or colour.lower() == self._colours.get(known.id, ""):
            return False
        if not paints.profile_versions(self._connection, known.id)[0].source.startswith(MEASURED):
            return True
        self._measured.add(known.id)
        return False

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
            return USUAL_ML
        return one.value(text)

    def _wrong(self, row: int, column: str, sentence: str) -> None:
        self.errors.append(CellError(row, column, sentence))

    def _fits(self, row: int, record: PaintRecord, known: PaintRecord | None, given: Mapping[str, str]) -> bool:
        text = given.get(COLOUR, "")
        colour = hex_to_lab(text) if text else None
        if text and colour is None:
            self._wrong(row, COLOUR, say("'{words}' is no colour: write it as #rrggbb or in words.", words=text[:20]))
            return False
        if known is not None and not known.retired:
            if known.kind != record.kind:
                self._wrong(
                    row,
                    "kind",
                    say(
                        "{full_name} is {kind} on the shelf, not {other_kind}.",
                        full_name=known.full_name,
                        kind=known.kind,
                        other_kind=record.kind,
                    ),
                )
            return known.kind == record.kind
        before = self._new.get(paint_key(record.line, record.name))
        if before is not None and before[1] != record.kind:
            self._wrong(
                row,
                "kind",
                say(
                    "row {before} says that {full_name} is {other_before}.",
                    before=before[0],
                    full_name=record.full_name,
                    other_before=before[1],
                ),
            )
            return False
        if before is None:
            try:
                check_guess(to_guess(record.full_name, record.kind, colour))
            except InvalidInput as error:
                self._wrong(row, error.field or COLOUR, str(error))
                return False
        return True

    def _fate(self, row: Planned) -> RowOutcome:
        left = row.values.get("left_ml")
        warning = say("below zero: correct it") if isinstance(left, float) and left < 0 else ""
        # What to say of a row that says all that another said.
        said = (*(f"{key}={value}" for key, value in sorted(row.values.items())), row.colour, str(row.bottle))
        first = self._seen.setdefault(said, row.row)
        twice_words = "" if first == row.row else say("is the same as row {first}: the same bottle twice?", first=first)
        name, twice = row.record.full_name, twice_words
        if row.bottle is not None:
            changed = changed_columns(row, row.bottle)
            changed += [COLOUR] if row.recoloured else []
            words = say("changes: {changed}", changed=listed(changed)) if changed else say("is there already, as it is")
            stays = say("its colour was measured, and stays") if row.bottle.paint_id in self._measured else ""
            return RowOutcome(row.row, name, words, warning or stays or twice)
        if row.known is not None and not row.known.retired:
            double = warning or twice or say("the name is on the shelf already")
            return RowOutcome(row.row, name, say("another bottle of {name}", name=name), double)
        if paint_key(row.record.line, row.record.name) in self._new:
            return RowOutcome(row.row, name, say("another bottle of {name}", name=name), warning or twice)
        kind = row.record.kind
        guessed = (
            ""
            if not KINDS[kind].colours
            else say("a guess from its colour")
            if row.colour
            else say("a guess from its kind")
        )
        return RowOutcome(row.row, name, say("new paint"), warning or guessed)


def _as_read(row: Planned) -> str:
    size, left, price = (row.values.get(key) for key in ("size_ml", LEFT.key, "price"))
    parts = [KINDS[row.record.kind].words]
    if isinstance(size, float):
        parts.append(quantity(round(size, 1), "g", "ml"))
    if isinstance(left, float):
        parts.append(say("{left} left", left=quantity(round(left, 1), "g", "ml")))
    if isinstance(price, float):
        parts.append(quantity(price, ".2f", "money"))
    return listed(parts)


def as_shown(lab: Floats) -> str:
    """#rrggbb, "" of what has no colour."""
    return "" if np.isnan(lab[0]) else shown(lab)[0].srgb


def paint_key(line: str, name: str) -> tuple[str, str]:
    """Line and name, by which a paint is known in a table."""
    return line.casefold(), name.casefold()


PAINT_KEYS = {one.key for one in PAINT_FIELDS}


def changed_columns(row: Planned, bottle: Bottle) -> list[str]:
    """The columns in which a row differs from the bottle and the paint on the shelf."""
    found = []
    if row.known is not None:
        found = [key for key in row.values if key in PAINT_KEYS and not _same(row.values[key], getattr(row.known, key))]
    columns = bottle_columns({key: value for key, value in row.values.items() if key not in PAINT_KEYS})
    left = columns.pop("left_ml", None)
    found += [key for key, value in columns.items() if not _same(value, getattr(bottle, key))]
    if isinstance(left, float) and abs(left - bottle.left_ml) > 5e-5:
        found.append("left_ml")
    return found


def _same(one: object, other: object) -> bool:
    if isinstance(one, float) and isinstance(other, float):
        return abs(one - other) < 1e-6
    return one == other or (one in (None, "") and other in (None, ""))
