"""Tables out, as CSV and XLSX: formulas made harmless."""

import csv
import io
from collections.abc import Iterable, Sequence
from datetime import date
from typing import Any

from diachrom.exchange.text import writable
from diachrom.exchange.undated import UndatedZip

FORMULA = ("=", "+", "-", "@", "\t", "\r")  # what a spreadsheet may take for one
GUARD = "'"
WIDEST, WIDEST_PRINTED = 48, 26  # characters of a column
DAY = "yyyy-mm-dd"


def harmless(cell: object) -> object:
    """Text that a spreadsheet would take for a formula gets a mark in front, which reading takes off again."""
    if isinstance(cell, str) and cell.startswith((*FORMULA, GUARD)):
        return GUARD + cell
    return cell


def unguarded(cell: str) -> str:
    """The same, back."""
    return cell[1:] if cell.startswith(GUARD) and cell[1:].startswith((*FORMULA, GUARD)) else cell


def to_csv(header: Sequence[str], rows: Iterable[Sequence[object]]) -> bytes:
    """UTF-8 with a mark that spreadsheets know it by; formulas made harmless."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(header)
    writer.writerows([harmless("" if cell is None else cell) for cell in row] for row in rows)
    return b"\xef\xbb\xbf" + out.getvalue().encode("utf-8")


def to_xlsx(
    title: str, header: Sequence[str], rows: Iterable[Sequence[object]], *, printed: Sequence[str] = ()
) -> bytes:
    """One sheet, its header held in place and on every page; numbers and days as what they are. The columns that are
    `printed` stand first and are the print area, one page wide in letters that can be read; all where none is named."""
    import openpyxl  # takes a while, and few need it
    from openpyxl.styles import Alignment, Font
    from openpyxl.utils import get_column_letter
    from openpyxl.writer.excel import ExcelWriter

    book = openpyxl.Workbook()
    sheet = book.active
    sheet.title = title
    sheet.freeze_panes = "A2"
    order = [*(header.index(key) for key in printed), *(at for at, key in enumerate(header) if key not in printed)]
    header = [header[at] for at in order]
    every = ([row[at] for at in order] for row in rows)
    table = [list(header), *([_cell(key, cell) for key, cell in zip(header, row, strict=True)] for row in every)]
    for row in table:
        sheet.append(row)
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    for index, key in enumerate(header):
        column = sheet.column_dimensions[get_column_letter(index + 1)]
        widest = WIDEST_PRINTED if key in printed else WIDEST
        column.width = min(widest, 2 + max(len(_shown(row[index])) for row in table))
        if key in printed:
            for (cell,) in sheet.iter_rows(1, sheet.max_row, index + 1, index + 1):
                cell.alignment = Alignment(wrap_text=True, vertical="top")
        if key.endswith("_on"):
            for (cell,) in sheet.iter_rows(2, sheet.max_row, index + 1, index + 1):
                cell.number_format = DAY
    sheet.auto_filter.ref = sheet.dimensions
    # Down to a column: that much is printed, its headings on every page.
    sheet.print_area = f"A1:{get_column_letter(len(printed) or len(header))}{sheet.max_row}"
    sheet.page_setup.orientation = "landscape"
    sheet.page_setup.fitToWidth, sheet.page_setup.fitToHeight = 1, 0
    sheet.sheet_properties.pageSetUpPr.fitToPage = True
    sheet.print_title_rows = "1:1"
    file = io.BytesIO()
    ExcelWriter(book, UndatedZip(file)).save()
    return file.getvalue()


def _cell(key: str, cell: object) -> Any:
    if key.endswith("_on") and isinstance(cell, str) and cell:
        try:
            return date.fromisoformat(cell)
        except ValueError:
            pass  # as it stands
    safe = harmless(cell)
    return writable(safe) if isinstance(safe, str) else safe


def _shown(cell: object) -> str:
    return "" if cell is None else f"{cell:g}" if isinstance(cell, float) else str(cell)
