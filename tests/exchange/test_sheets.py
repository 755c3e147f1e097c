"""Tables from anywhere: encodings, separators, cut-off files, bombs, formulas."""

import io
import zipfile

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.errors import BadFile
from diachrom.exchange.sheets import read_grids
from diachrom.exchange.sheets_out import harmless, to_csv, to_xlsx
from diachrom.work.files import exporting, inventory
from diachrom.work.files.inventory_preview import HEADER as HEADER_ALL

HEADER = ["name", "kind", "left_ml", "note"]
ROWS = [["Blåbær", "ink", 1.5, 'say "half", or so'], ["=1+1", "opaque", -2, "+47 @home"], ["'tis", "candy", 0, ""]]
TEXT = "name;kind;left_ml\nBlåbær;ink;1,5\nMultebær;candy;-2\n"


def cells(grids):
    """Of the one sheet, below its header."""
    (sheet,) = grids.sheets
    return [list(row) for _, row in sheet.rows[1:]]


def header(grids):
    return grids.sheets[0].rows[0][1]


def shown(rows):
    return [
        ["" if cell is None else f"{cell:g}" if isinstance(cell, float) else str(cell) for cell in row] for row in rows
    ]


@pytest.mark.parametrize(("write", "name"), [(to_csv, "a.csv"), (lambda *a: to_xlsx("A", *a), "a.xlsx")])
def test_what_is_written_is_read_back_and_formulas_are_harmless(write, name):
    content = write(HEADER, ROWS)
    sheet = read_grids(name, content)
    assert (header(sheet), cells(sheet), sheet.notes) == (HEADER, shown(ROWS), [])
    if name == "a.xlsx":
        raw = [cell for row in openpyxl.load_workbook(io.BytesIO(content)).active.iter_rows() for cell in row]
        assert not any(cell.data_type == "f" for cell in raw)
    else:
        assert not any(
            part.startswith(("=", "+", "@")) for line in content.decode().splitlines() for part in line.split(",")
        )


@given(st.text(st.characters(exclude_categories=["Cs", "Cc"]), max_size=20))
def test_any_text_survives_being_made_harmless(text):
    sheet = read_grids("a.csv", to_csv(["x", "y"], [[text, "end"]]))
    assert cells(sheet) == [[text, "end"]]
    assert not str(harmless(text)).startswith(("=", "+", "-", "@"))


@pytest.mark.parametrize(
    ("content", "note"),
    [
        (TEXT.encode("utf-8"), "parted by semicolons"),
        (TEXT.encode("utf-8-sig"), "parted by semicolons"),
        (TEXT.encode("utf-16"), "UTF-16"),
        (TEXT.encode("latin-1"), "Latin-1"),
        (TEXT.replace(";", "\t").encode(), "parted by tabs"),
        (TEXT.replace("\n", "\r\n").encode(), "semicolons"),
        (("\n\n" + TEXT + "\n;;\n").encode(), "semicolons"),
    ],
)
def test_however_it_was_written_the_same_is_read(content, note):
    sheet = read_grids("a.csv", content)
    assert header(sheet) == ["name", "kind", "left_ml"]
    assert cells(sheet) == [["Blåbær", "ink", "1,5"], ["Multebær", "candy", "-2"]]
    assert note in "; ".join(sheet.notes)


def test_a_file_is_what_it_is_and_not_what_it_is_called():
    assert read_grids("a.csv", to_xlsx("A", HEADER, ROWS)).notes == ["read as XLSX, which it is"]
    assert read_grids("a.xlsx", to_csv(HEADER, ROWS)).notes == ["read as text, which it is"]


def bomb(size):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * size)
    return out.getvalue()


def with_entities():
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("xl/workbook.xml", '<!DOCTYPE x [<!ENTITY a "aaaa">]><workbook>&a;</workbook>')
    return out.getvalue()


@pytest.mark.parametrize(
    ("name", "content", "why"),
    [
        ("a.csv", b"", "empty"),
        ("a.csv", b'name,kind\n"Rav,ink\nx,y\n', "cut off"),
        ("a.csv", b"\x89PNG\r\n\x1a\n", "PNG"),
        ("a.csv", b"name\x00kind\n1\n", "not text"),
        ("a.csv", b"\xef\xbb\xbfname\n\xff\xfe\n", "no UTF-8"),
        ("a.xlsx", to_xlsx("A", HEADER, ROWS)[:-40], "cut off"),
        ("a.xlsx", bomb(20_000_000), "20 MB: refused"),
        ("a.xlsx", with_entities(), "entities: refused"),
        ("a.csv", b"x" * 10_000_001, "10 MB"),
        ("a.csv", b"name\n" + b"x\n" * 20_002, "more than 20000 rows"),
    ],
)
def test_what_cannot_be_a_table_is_refused_with_a_reason(name, content, why):
    with pytest.raises(BadFile, match=why) as caught:
        read_grids(name, content)
    assert str(caught.value).startswith(name)


def test_a_workbook_prints_one_page_wide_in_letters_that_can_be_read(store):
    """A4 across holds 10.7 inches; a column's unit is 7 of 96 pixels to the inch, and 5 around it."""
    for printed in ((), exporting.ON_PAPER):
        book = openpyxl.load_workbook(io.BytesIO(to_xlsx("A", HEADER_ALL, inventory.rows(store), printed=printed)))
        sheet = book.active
        last = sheet[sheet.print_area.replace("$", "").partition(":")[2]].column
        assert last == (len(printed) or len(HEADER_ALL))
        widths = [sheet.column_dimensions[openpyxl.utils.get_column_letter(at)].width for at in range(1, last + 1)]
        size = 11 * min(1.0, 10.7 * 96 / sum(7 * one + 5 for one in widths))
        assert (size > 8) == bool(printed)
    assert [cell.value for cell in sheet[1]][: len(exporting.ON_PAPER)] == list(exporting.ON_PAPER)
    assert sheet.print_title_rows == "$1:$1"
