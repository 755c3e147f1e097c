"""Tables in: text, XLSX, XLS and ODS as grids of text, each sheet as it stands. What its columns mean is found
elsewhere."""

import io
import zipfile
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.cell_looks import Looks, looks
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.sheets_out import unguarded
from diachrom.exchange.text import check_size, decoded
from diachrom.exchange.text_tables import MOST_COLUMNS, MOST_ROWS, Rows, read_rows
from diachrom.words import quantity, say

MOST_SHEETS = 40
MOST_MARKED = 0.5  # of the rows; of the colours that differ
LEAST_FILLS = 2  # other colours in a column of cells before they are paints
OLD = b"\xd0\xcf\x11\xe0"  # how workbooks of before 2007 begin
MOST_UNPACKED = 80_000_000  # bytes of a workbook
MOST_PACKED_TIMES = 150  # how much smaller than its content a part may be


@dataclass(frozen=True)
class Grid:
    """A sheet as text. Empty rows are left out; row numbers are those of the file."""

    name: str
    rows: Rows


@dataclass(frozen=True)
class Grids:
    """The sheets of a file that hold anything, and what was noticed about how it was written."""

    sheets: Sequence[Grid]
    notes: Sequence[str]


def read_grids(name: str, content: bytes) -> Grids:
    """Text, XLSX, XLS or ODS, by what it is and not by what it is called. Raises BadFile, Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, _read, content)


def _read(name: str, content: bytes) -> Grids:
    if content.startswith((b"PK", OLD)):
        form = "XLS" if content.startswith(OLD) else _packed(name, content)
        notes = [] if name.lower().endswith(f".{form.lower()}") else [f"read as {form}, which it is"]
        shown: Mapping[str, Looks] | None = {}
        if form == "XLSX":
            with suppress(Exception):  # what a broken style makes the library raise: cells are read without it
                shown = looks(content)
        if shown is None:
            notes.append(say("what fills its cells, and which are percent, is not looked at in so large a workbook"))
        grids = _workbook(name, form, content, shown or {})
    else:
        text, notes = decoded(name, content)
        if name.lower().endswith((".xlsx", ".ods")):
            notes.append("read as text, which it is")
        tables, more = read_rows(name, text)
        notes += more
        grids = [Grid("" if len(tables) == 1 else str(at), rows) for at, rows in enumerate(tables, start=1)]
    filled = [one for one in grids if one.rows]
    if not filled:
        raise BadFile(name, say("it holds no rows."))
    for grid in filled:
        widest = max(len(cells) for _, cells in grid.rows)
        if widest > MOST_COLUMNS:
            raise BadFile(
                name,
                say(
                    "it has {count} columns; at most {most_columns} are read.", count=widest, most_columns=MOST_COLUMNS
                ),
            )
    return Grids(filled, notes)


def _packed(name: str, content: bytes) -> str:
    """XLSX or ODS. Raises BadFile."""
    # Look at the parts before any is unpacked whole.
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            parts = archive.infolist()
            total = sum(part.file_size for part in parts)
            packed = max((part.file_size / max(part.compress_size, 1) for part in parts), default=0)
            if total > MOST_UNPACKED or (total > 5_000_000 and packed > MOST_PACKED_TIMES) or len(parts) > 2000:
                raise BadFile(name, say("it would unpack to {total} MB: refused.", total=quantity(total / 1e6, ".0f")))
            for part in parts:
                if part.filename.endswith((".xml", ".rels")):
                    with archive.open(part) as opened:
                        if b"<!" in opened.read(2000).replace(b"<!--", b""):
                            raise BadFile(name, say("{filename} declares entities: refused.", filename=part.filename))
            is_ods = any(part.filename == "content.xml" for part in parts)
    except (
        zipfile.BadZipFile,
        EOFError,
        OSError,
        NotImplementedError,
        RuntimeError,
        zipfile.LargeZipFile,
    ) as error:
        raise BadFile(name, say("it is cut off or no XLSX.")) from error
    return "ODS" if is_ods else "XLSX"


def _workbook(name: str, form: str, content: bytes, shown: Mapping[str, Looks]) -> list[Grid]:
    """Its sheets, with what they show beside their values."""
    from python_calamine import load_workbook

    try:
        book = load_workbook(io.BytesIO(content))
        grids = []
        for sheet_name in book.sheet_names[:MOST_SHEETS]:
            sheet = book.get_sheet_by_name(sheet_name)
            if sheet.width > MOST_COLUMNS:
                raise BadFile(
                    name,
                    say(
                        "it has {width} columns; at most {most_columns} are read.",
                        width=sheet.width,
                        most_columns=MOST_COLUMNS,
                    ),
                )
            above, left = sheet.start or (0, 0)
            own = shown.get(sheet_name, Looks())
            rows: Rows = []
            for number, row in enumerate(sheet.to_python(skip_empty_area=True), start=above + 1):
                if any(value not in ("", None) for value in row):
                    cells = [
                        f"{100 * value:.6g}%"
                        if isinstance(value, float) and (number, left + at) in own.percent
                        else unguarded(_shown(value))
                        for at, value in enumerate(row)
                    ]
                    rows.append((number, cells))
                if len(rows) > MOST_ROWS + 1:
                    raise BadFile(name, say("it has more than {most_rows} rows.", most_rows=MOST_ROWS))
            # Cells that were merged downwards say in each row what they say in the first.
            merged = sheet.merged_cell_ranges or []
            by_number = dict(rows)
            for (top, first), (bottom, _) in merged:
                column = first - left
                source = by_number.get(top + 1)
                if source is None or not 0 <= column < len(source):
                    continue
                for filled_number in range(top + 2, min(bottom + 1, top + MOST_ROWS) + 1):
                    filled_row = by_number.get(filled_number)
                    if filled_row is not None:  # a row that holds nothing but what is merged is none
                        filled_row[column] = source[column]
            _fill(rows, left, own)
            grids.append(Grid(sheet.name, rows))
        return grids
    except (BadFile, MemoryError):
        raise
    except BaseException as error:  # whatever a broken workbook makes the library raise, its panics too
        raise BadFile(
            name, say("it cannot be read as {form} ({name}).", form=form, name=type(error).__name__)
        ) from error


def _fill(rows: Rows, left: int, own: Looks) -> None:
    """The colours of a column of filled cells: in its cells where they are empty, else in a column of their own."""
    columns: dict[int, dict[int, str]] = {}
    numbers = {number for number, _ in rows}
    for (number, column), srgb in own.fills.items():
        if number in numbers and column >= left:
            columns.setdefault(column - left, {})[number] = srgb
    if not columns:
        return
    column, fills = max(columns.items(), key=lambda one: len(set(one[1].values())))
    different = len(set(fills.values()))
    wide = max(len(cells) for _, cells in rows)
    empty = all(column >= len(cells) or not cells[column].strip() for number, cells in rows if number in fills)
    # Cells that say something are filled to mark them too: then few of them are, or many alike.
    marks = not empty and (len(fills) < MOST_MARKED * len(rows) or different < MOST_MARKED * len(fills))
    if different < LEAST_FILLS or marks:
        return
    place = column if empty else wide
    if place >= MOST_COLUMNS:
        return
    for number, cells in rows:
        cells += [""] * (max(place + 1, wide) - len(cells))
        if number in fills:
            cells[place] = cells[place] or fills[number]


def _shown(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time() == time() else value.isoformat(" ")
    if isinstance(value, (date, time)):
        return value.isoformat()
    if isinstance(value, timedelta):
        return str(value)
    if isinstance(value, float):
        return f"{value:.0f}" if value.is_integer() else repr(value)
    return str(value)
