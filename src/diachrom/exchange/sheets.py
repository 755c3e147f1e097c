"""Tables in: CSV, XLSX and ODS as grids of text, each sheet as it stands. What its columns mean is found elsewhere."""

import csv
import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.sheets_out import unguarded
from diachrom.exchange.text import check_size, decoded
from diachrom.words import quantity, say

MOST_ROWS, MOST_COLUMNS, MOST_SHEETS = 20_000, 200, 40
MOST_UNPACKED = 80_000_000  # bytes of a workbook
MOST_PACKED_TIMES = 150  # how much smaller than its content a part may be
Rows = list[tuple[int, list[str]]]  # (row number in the file, cells)


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
    """CSV, XLSX or ODS, by what it is and not by what it is called. Raises BadFile, Crowded."""
    check_size(name, len(content))
    return run_sandboxed(name, _read, content)


def _read(name: str, content: bytes) -> Grids:
    if content.startswith(b"PK"):
        form, grids = _workbook(name, content)
        notes = [] if name.lower().endswith(f".{form.lower()}") else [f"read as {form}, which it is"]
    else:
        text, notes = decoded(name, content)
        if name.lower().endswith((".xlsx", ".ods")):
            notes.append("read as CSV, which it is")
        first = next((line for line in text.splitlines() if line.strip()), "")
        delimiter = max(";\t,|", key=first.count)
        if delimiter != ",":
            notes.append({";": "parted by semicolons", "\t": "parted by tabs", "|": "parted by bars"}[delimiter])
        reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
        rows: Rows = []
        try:
            for cells in reader:
                if any(cell.strip() for cell in cells):
                    rows.append((reader.line_num, [unguarded(cell) for cell in cells]))
                if len(rows) > MOST_ROWS + 1:
                    raise BadFile(name, say("it has more than {most_rows} rows.", most_rows=MOST_ROWS))
        except csv.Error as error:
            cut = " Is the file cut off?" if "unexpected end" in str(error) else ""
            raise BadFile(
                name, say("row {line_num}: {error}.{cut}", line_num=reader.line_num, error=error, cut=cut)
            ) from None
        grids = [Grid("", rows)]
    filled = [one for one in grids if one.rows]
    if not filled:
        raise BadFile(name, say("it holds no rows."))
    for grid in filled:
        if len(grid.rows[0][1]) > MOST_COLUMNS:
            raise BadFile(
                name,
                say(
                    "it has {count} columns; at most {most_columns} are read.",
                    count=len(grid.rows[0][1]),
                    most_columns=MOST_COLUMNS,
                ),
            )
    return Grids(filled, notes)


def _workbook(name: str, content: bytes) -> tuple[str, list[Grid]]:
    """What form it has, and its sheets."""
    # Look at the parts before any is unpacked whole; XLSX or ODS. Raises BadFile.
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
    form = "ODS" if is_ods else "XLSX"
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
            rows: Rows = []
            for number, row in enumerate(sheet.to_python(skip_empty_area=True), start=above + 1):
                if any(value not in ("", None) for value in row):
                    rows.append((number, [unguarded(_shown(value)) for value in row]))
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
                    cells = by_number.get(filled_number)
                    if cells is not None:  # a row that holds nothing but what is merged is none
                        cells[column] = source[column]
            grids.append(Grid(sheet.name, rows))
        return form, grids
    except (BadFile, MemoryError):
        raise
    except BaseException as error:  # whatever a broken workbook makes the library raise, its panics too
        raise BadFile(
            name, say("it cannot be read as {form} ({name}).", form=form, name=type(error).__name__)
        ) from error


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
