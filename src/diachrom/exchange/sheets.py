"""Tables as CSV and XLSX: rows of text under a header."""

import csv
import io
import zipfile
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from typing import Any

from diachrom.errors import BadFile
from diachrom.exchange.text import check_size, decoded, writable

MOST_ROWS, MOST_COLUMNS = 20_000, 200
MOST_UNPACKED = 80_000_000  # bytes of an XLSX
MOST_PACKED_TIMES = 150  # how much smaller than its content a part may be
FORMULA = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet may take for one
GUARD = "'"


@dataclass(frozen=True)
class Table:
    """A table as text. Row numbers are those of the file: empty ones are left out, and counted."""

    header: Sequence[str]
    rows: Sequence[tuple[int, Sequence[str]]]  # (row number in the file, cells)
    notes: Sequence[str]


def read_sheet(name: str, content: bytes) -> Table:
    """CSV or XLSX, by what it is and not by what it is called. Raises BadFile."""
    check_size(name, len(content))
    if content.startswith(b"PK"):
        notes = [] if name.lower().endswith(".xlsx") else ["read as XLSX, which it is"]
        return _sheet(name, _xlsx(name, content), notes)
    text, notes = decoded(name, content)
    if name.lower().endswith(".xlsx"):
        notes.append("read as CSV, which it is")
    return _csv(name, text, notes)


def _csv(name: str, text: str, notes: list[str]) -> Table:
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = max(";\t,|", key=first.count)
    if delimiter != ",":
        notes.append({";": "parted by semicolons", "\t": "parted by tabs", "|": "parted by bars"}[delimiter])
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    rows: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            if any(cell.strip() for cell in cells):
                rows.append((reader.line_num, [_unguarded(cell) for cell in cells]))
            if len(rows) > MOST_ROWS + 1:
                raise BadFile(name, f"it has more than {MOST_ROWS} rows.")
    except csv.Error as error:
        cut = " Is the file cut off?" if "unexpected end" in str(error) else ""
        raise BadFile(name, f"row {reader.line_num}: {error}.{cut}") from None
    return _sheet(name, rows, notes)


def _sheet(name: str, rows: list[tuple[int, list[str]]], notes: list[str]) -> Table:
    if len(rows) < 2:
        raise BadFile(name, "it has no rows below its header.")
    header = [cell.strip() for cell in rows[0][1]]
    if len(header) > MOST_COLUMNS:
        raise BadFile(name, f"it has {len(header)} columns; at most {MOST_COLUMNS} are read.")
    return Table(header, rows[1:], notes)


def _xlsx(name: str, content: bytes) -> list[tuple[int, list[str]]]:
    _check_archive(name, content)
    import openpyxl  # takes a while, and few need it

    try:
        book = openpyxl.load_workbook(io.BytesIO(content), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        rows = []
        for number, row in enumerate(sheet.iter_rows(max_col=MOST_COLUMNS, values_only=True), start=1):
            cells = [_unguarded(_shown(value)) for value in row]
            if any(cell.strip() for cell in cells):
                rows.append((number, cells))
            if len(rows) > MOST_ROWS + 1:
                raise BadFile(name, f"it has more than {MOST_ROWS} rows.")
    except BadFile:
        raise
    except Exception as error:  # whatever a broken workbook makes the library raise
        raise BadFile(name, f"it cannot be read as XLSX ({type(error).__name__}).") from error
    width = max((len(cells) for _, cells in rows), default=0)
    last = max((at for _, cells in rows[:1] for at, cell in enumerate(cells, 1) if cell.strip()), default=width)
    return [(number, (cells + [""] * width)[:last]) for number, cells in rows]


def _check_archive(name: str, content: bytes) -> None:
    """Look at the parts before any is unpacked whole. Raises BadFile."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            parts = archive.infolist()
            total = sum(part.file_size for part in parts)
            packed = max((part.file_size / max(part.compress_size, 1) for part in parts), default=0)
            if total > MOST_UNPACKED or (total > 5_000_000 and packed > MOST_PACKED_TIMES) or len(parts) > 2000:
                raise BadFile(name, f"it would unpack to {total / 1e6:.0f} MB: refused.")
            for part in parts:
                if part.filename.endswith((".xml", ".rels")):
                    with archive.open(part) as opened:
                        if b"<!" in opened.read(2000).replace(b"<!--", b""):
                            raise BadFile(name, f"{part.filename} declares entities: refused.")
    except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, RuntimeError, zipfile.LargeZipFile) as error:
        raise BadFile(name, "it is cut off or no XLSX.") from error


def _shown(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, datetime):
        return value.date().isoformat() if value.time().isoformat() == "00:00:00" else value.isoformat(" ")
    if isinstance(value, date):
        return value.isoformat()
    return (
        repr(value)
        if isinstance(value, float) and not value.is_integer()
        else f"{value:.0f}"
        if isinstance(value, float)
        else str(value)
    )


def harmless(cell: object) -> object:
    """Text that a spreadsheet would take for a formula gets a mark in front, which reading takes off again."""
    if isinstance(cell, str) and cell.startswith((*FORMULA, GUARD)):
        return GUARD + cell
    return cell


def _unguarded(cell: str) -> str:
    return cell[1:] if cell.startswith(GUARD) and cell[1:].startswith((*FORMULA, GUARD)) else cell


def to_csv(header: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """UTF-8 with a mark that spreadsheets know it by; formulas made harmless."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(header)
    writer.writerows([harmless("" if cell is None else cell) for cell in row] for row in rows)
    return b"\xef\xbb\xbf" + out.getvalue().encode("utf-8")


def to_xlsx(title: str, header: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """One sheet with its header held in place; formulas made harmless."""
    import openpyxl

    book = openpyxl.Workbook(write_only=True)
    sheet = book.create_sheet(title)
    sheet.freeze_panes = "A2"
    sheet.append(list(header))
    for row in rows:
        sheet.append([writable(cell) if isinstance(cell, str) else cell for cell in map(harmless, row)])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
