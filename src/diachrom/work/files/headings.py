"""Where the headings of somebody's table stand, and what its columns are: guessed, changed by choosing, and remembered
for the next table with the same headings."""

import hashlib
import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import median

from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import text_tables
from diachrom.exchange.sheets import Grid, Grids
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.words import listed, say
from diachrom.work.files.amounts import unit_of
from diachrom.work.files.column_keys import CHOICES, first_is_data, guess, headed, keys_of
from diachrom.work.files.inventory_preview import COUNT, HEADER, Table
from diachrom.work.files.row_cells import PARTS
from diachrom.work.kit.written_colours import is_code

LOOKED_AT = 10  # rows from the top that may hold the headings
MOST_COLUMNS = text_tables.MOST_COLUMNS
NONE = -1  # in place of the row of the headings
REMEMBERED, KEPT = "headings", 40


@dataclass(frozen=True)
class Columns:
    """Where the headings of a table stand, and which of its columns is what ("" is left out)."""

    sheet: int
    row: int  # its place among the rows of the sheet, NONE for a table without headings
    keys: Sequence[str]
    signature: str  # of the table, to remember it by
    heads: Sequence[str]  # "" over a column without
    chosen: bool = False  # by somebody, and not guessed
    doubt: str = ""  # columns that fit the same field: which is meant is asked


def find(connection: sqlite3.Connection, name: str, grids: Grids) -> Columns:
    """As it was chosen for a table with these headings, else the row among the first ten of any sheet that says most;
    by its cells alone where no row says anything. Raises BadFile where they say nothing either."""
    places = [
        (sum(map(bool, map(guess, cells))), -at, -sheet)
        for sheet, grid in enumerate(grids.sheets)
        for at, (_, cells) in enumerate(grid.rows[:LOOKED_AT])
        if not any(is_code(cell) for cell in cells)
    ]
    score, index, sheet = max(places, default=(0, 0, 0))
    rows = grids.sheets[-sheet].rows
    cells = rows[-index][1]
    signature = hashlib.sha256(json.dumps([[one.name for one in grids.sheets], list(cells)]).encode()).hexdigest()[:16]
    kept = settings.document(connection, REMEMBERED).get(signature)
    if isinstance(kept, dict):
        place, row, keys = kept.get("sheet"), kept.get("row"), kept.get("keys")
        if (
            (isinstance(place, int) and isinstance(row, int) and isinstance(keys, list))
            and 0 <= place < len(grids.sheets)
            and NONE <= row < min(len(grids.sheets[place].rows), LOOKED_AT)
        ):
            heads, _ = _heads(grids, place, row)
            known = [key if key in CHOICES else "" for key in map(str, keys)]
            keys = (known + [""] * len(heads))[: len(heads)]
            return Columns(place, row, keys, signature, heads, chosen=True)
    row = -index if score > 1 or not first_is_data(rows) else NONE
    found = _read(grids, -sheet, row, signature)
    if not score and not any(found.keys):
        first = listed(one[:30] for one in grids.sheets[0].rows[0][1][:12])
        raise BadFile(
            name,
            say(
                "no row of its first ten names columns such as name, kind, left ml; its first says: {first}.",
                first=first,
            ),
        )
    return found


def _heads(grids: Grids, sheet: int, row: int) -> tuple[list[str], int]:
    """What stands above the columns, and in which row its bottles begin."""
    rows = grids.sheets[sheet].rows
    if row == NONE:
        return [""] * int(median([len(cells) for _, cells in rows])), 0
    heads, taken = headed(rows, row)
    return heads, row + taken


def below(grids: Grids, columns: Columns) -> int:
    """The place of the first row that is below the headings."""
    return _heads(grids, columns.sheet, columns.row)[1]


def _read(grids: Grids, sheet: int, row: int, signature: str) -> Columns:
    heads, start = _heads(grids, sheet, row)
    keys, doubt = keys_of(heads, [cells for _, cells in grids.sheets[sheet].rows[start:]])
    return Columns(sheet, row, keys, signature, heads, doubt=doubt)


def choose(
    connection: sqlite3.Connection, name: str, grids: Grids, *, sheet: int, row: int, keys: Sequence[str] | None
) -> Columns:
    """Choose otherwise, and remember it; without keys those of another row are guessed. Raises InvalidInput."""
    if not 0 <= sheet < len(grids.sheets):
        raise InvalidInput(say("{name} has no sheet {sheet}.", name=name, sheet=sheet + 1), field="sheet")
    rows = grids.sheets[sheet].rows
    if not NONE <= row < min(len(rows), LOOKED_AT):
        raise InvalidInput(
            say("Headings stand in one of the first {looked_at} rows.", looked_at=LOOKED_AT), field="row"
        )
    signature = find(connection, name, grids).signature
    heads, _ = _heads(grids, sheet, row)
    wanted = (
        list(_read(grids, sheet, row, signature).keys)
        if keys is None
        else (list(keys) + [""] * len(heads))[: len(heads)]
    )
    for key in wanted:
        if key not in CHOICES:
            raise InvalidInput(say("There is no column '{key}'.", key=key[:40]), field="column")
        if key and wanted.count(key) > 1:
            raise InvalidInput(say("'{choices}' is chosen for two columns.", choices=CHOICES[key]), field="column")
    with writing(connection):
        every = settings.document(connection, REMEMBERED)
        every.pop(signature, None)
        every[signature] = {"sheet": sheet, "row": row, "keys": wanted}
        settings.put(connection, {REMEMBERED: json.dumps(dict(list(every.items())[-KEPT:]))})
    return Columns(sheet, row, wanted, signature, heads, chosen=True)


def said(columns: Columns, given: Mapping[str, int]) -> Columns:
    """With columns that somebody says, counted from 1, by a field's key or any word for it. Raises InvalidInput."""
    keys = list(columns.keys)
    for word, place in given.items():
        key = word if word in CHOICES else guess(word)
        if not key:
            raise InvalidInput(say("There is no column '{key}'.", key=word[:40]), field="column")
        if not 1 <= place <= len(keys):
            raise InvalidInput(
                say("The table has columns 1 to {last}; there is no column {place}.", last=len(keys), place=place),
                field="column",
            )
        keys = ["" if own == key else own for own in keys]
        keys[place - 1] = key
    return replace(columns, keys=keys, doubt="" if given else columns.doubt)


def table(name: str, grids: Grids, columns: Columns) -> Table:
    """The rows below the headings, under keys. Raises BadFile where there are none."""
    grid: Grid = grids.sheets[columns.sheet]
    _, start = _heads(grids, columns.sheet, columns.row)
    if not grid.rows[start:]:
        raise BadFile(name, say("it has no rows below its headings."))
    notes = list(grids.notes)
    if len(grids.sheets) > 1:
        notes.append(say("of the sheet '{name}'", name=grid.name))
    if columns.row == NONE:
        notes.append(say("without headings: its columns were told by their cells"))
    elif grid.rows[columns.row][0] > 1:
        notes.append(say("headings in row {rows}", rows=grid.rows[columns.row][0]))
    left = [
        head.strip() or say("column {at}", at=at + 1)
        for at, (head, key) in enumerate(zip(columns.heads, columns.keys, strict=True))
        if not key and any(len(cells) > at and cells[at].strip() for _, cells in grid.rows[start:])
    ]
    if left:
        notes.append(say("columns that are left out: {left}", left=listed(left[:10])))
    keys = [key if key in (*HEADER, *PARTS, COUNT) else "" for key in columns.keys]
    units = {key: unit_of(head) for key, head in zip(keys, columns.heads, strict=True) if key}
    above = tuple(grid.rows[columns.row][1]) if columns.row != NONE else ()
    return Table(keys, grid.rows[start:], notes, units, above)
