"""Each of twenty-five tables comes in as its painter meant it, with two presses at most."""

import io
import zipfile

import pytest
from painters_tables import TABLES, book

from diachrom.core.film.kinds import KINDS
from diachrom.core.light.colour_words import meant
from diachrom.core.shelf.bottle_list import srgb
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import cell_looks, sheets
from diachrom.store import bottles, paints
from diachrom.store.connection import writing
from diachrom.work.files import exporting, importing, mending

AT = "2026-12-02T10:00:00+00:00"
MOST_PRESSES = 2


def shelf_of(store):
    """As the tables tell it."""
    records = {one.id: one for one in paints.every_record(store)}
    told = []
    for one in bottles.every(store):
        record = records[one.paint_id]
        source = paints.profile_versions(store, one.paint_id)[0].source
        colour = source.removeprefix("guessed from ")
        told.append((record.name, record.kind, colour, one.size_ml, one.left_ml, record.price))
    return told


def brought_in(store, kept):
    number = importing.keep(store, kept.name, kept.content, kind="transparent", at=AT)
    if kept.chosen:
        found = importing.read(store, kept.name, kept.content)
        keys = list(found.columns.keys)
        for column, key in kept.chosen.items():
            keys[column - 1] = key
        importing.choose_columns(store, number, sheet=0, row=found.columns.row, keys=keys)
    found = importing.read(store, kept.name, kept.content)
    assert [(one.row, one.column, one.sentence) for one in found.errors] == []
    assert found.question == ""
    with writing(store):
        found.write(store, at=AT)
    return found


@pytest.mark.parametrize("what", TABLES)
def test_a_table_comes_in_as_its_painter_means_it(empty, what):
    kept = TABLES[what]
    assert len(kept.chosen) <= MOST_PRESSES
    brought_in(empty, kept)
    for own, right in zip(shelf_of(empty), kept.bottles, strict=True):
        if right[2] == "words":
            assert own[2].startswith("#")
            own, right = (one[:2] + one[3:] for one in (own, right))
        *words, size, left, price = right
        assert list(own[:-3]) == words
        assert own[-3:-1] == pytest.approx((size, left), abs=1e-4)
        assert own[-1] == (price if price is None else pytest.approx(price))


WRONG = "Name,Kind,Hex,Size\nTang,opaque,#445533,30\nSten,acrylic,#777777,60\nLyng,acrylic,zorkle,30\nTotal,,,120\n"


def test_every_row_can_be_mended_left_out_or_taken_for_a_bottle(empty, tmp_path):
    number = importing.keep(empty, "a.csv", WRONG.encode(), kind="transparent", at=AT)

    def read():
        return importing.read_waiting(empty, importing.waiting(empty, number), kind="transparent", values="")

    found = read()
    assert [(one.row, one.column) for one in found.errors] == [(3, "kind"), (4, "kind")]
    assert [(one.row, one.why) for one in found.left_out] == [(5, "a total")]
    mending.write(empty, number, [3, 4], {1: "opaque"})
    assert [(one.row, one.column) for one in read().errors] == [(4, "colour")]
    mending.leave_out(empty, number, [4])
    assert [one.row for one in read().fates] == [2, 3]
    mending.take(empty, number, [4, 5])
    assert [one.row for one in read().errors] == [4, 5]
    mending.leave_out(empty, number, [4, 5])
    with writing(empty):
        read().write(empty, at=AT)
    assert [(one[0], one[1], one[3]) for one in shelf_of(empty)] == [("Tang", "opaque", 30.0), ("Sten", "opaque", 60.0)]
    with pytest.raises(InvalidInput, match="characters fit"):
        mending.write(empty, number, [3], {1: "x" * 500})


def test_what_was_mended_wrongly_in_the_store_is_as_if_nothing_was(empty):
    number = importing.keep(empty, "a.csv", WRONG.encode(), kind="transparent", at=AT)
    for odd in ("{", '{"left_out": [-4], "taken": [], "cells": []}', '{"left_out": [2], "taken": 7, "cells": [[1]]}'):
        with writing(empty):
            empty.execute("UPDATE upload SET mended = ? WHERE id = ?", [odd, number])
        assert mending.of(importing.waiting(empty, number)) == mending.AS_IT_IS


def test_the_command_line_says_columns_and_rows(tmp_path, empty):
    asked = importing.Asked("transparent", "", mending.Mended(left_out=frozenset([2])), {"left": 5, "size": 4})
    found = importing.read_as(empty, "bare.csv", TABLES["no heading, bare figures"].content, asked)
    assert [(one.row, one.values["size_ml"], one.values["left_ml"]) for one in found._plan.planned] == [
        (1, 30.0, 12.5),
        (3, 30.0, 30.0),
    ]
    for odd, sentence in (({"left": 9}, "no column 9"), ({"wombat": 1}, "no column 'wombat'")):
        with pytest.raises(InvalidInput, match=sentence):
            importing.read_as(empty, "a.csv", WRONG.encode(), importing.Asked("candy", "", columns=odd))


@pytest.mark.parametrize(
    ("text", "left"),
    [
        ("name,size,left\nTang,30,1/2", 15.0),
        ("name,size,left\nTang,30,1/2 oz", 14.78675),
        ("name,size,left\nTang,30,1 1/2 oz", 44.36025),
        ("name,size,left\nTang,30,about half", None),
        ("name,size,left\nTang,30,1/0", None),
        ("name,size,left (kg)\nTang,500,0.25", 250.0),
        ("name,size,left\nTang,30,⅓", 10.0),
        ("name,size,left %\nTang,30,-5", -1.5),
        ("name,left\nTang,40 %", 12.0),
    ],
)
def test_what_is_left_in_shares_and_weights_is_right_or_asked_about(empty, text, left):
    found = importing.read(empty, "a.csv", text.encode(), kind="pearl")
    if left is None:
        assert [one.column for one in found.errors] == ["left_ml"]
        return
    (planned,) = found._plan.planned
    density = 1.0 if "kg" not in text else KINDS["pearl"].keeps.density
    assert planned.values["left_ml"] == pytest.approx(left / density, abs=1e-3)


def test_how_many_bottles_there_are_is_no_amount_of_paint(empty):
    both = importing.read(empty, "a.csv", b"name,size,quantity\nTang,30,2\nSten,60,1\n", kind="pearl")
    assert [one.values["size_ml"] for one in both._plan.planned] == [30.0, 30.0, 60.0]
    asked = importing.read(empty, "a.csv", b"name,quantity\nTang,2\nSten,1\n", kind="pearl")
    assert "ml, or how many bottles" in asked.question


@pytest.mark.parametrize(
    ("name", "content", "sentence"),
    [
        ("novel.txt", ("It was a dark and stormy night, and nobody painted. " * 40 + "\n\n") * 300, "names columns"),
        ("wide.csv", "name," * 3000 + "\nTang" + "," * 3000, "at most 200 are read"),
        ("page.html", "<html><body><table></table><p>no</p></body></html>", "no table in this page"),
        ("page.html", "<table><tr><td colspan=99999999 rowspan=99999999>x</td></tr></table>", "no table in this page"),
        ("things.json", '{"products": [{}]}', "no rows|no colour"),
        ("deep.json", "[" * 60 + "]" * 60, "no colour in it"),
    ],
)
def test_what_is_no_table_is_refused_with_a_sentence(empty, name, content, sentence):
    with pytest.raises(BadFile, match=sentence):
        importing.read(empty, name, content.encode())


def test_a_formula_that_points_outside_is_text_and_nothing_else(empty):
    content = b'name,kind,hex,note\n"=HYPERLINK(""http://x.example"",""Tang"")",opaque,#445533,=1+1\n'
    found = importing.read(empty, "a.csv", content)
    assert found.fates[0].name == '=HYPERLINK("http://x.example","Tang")'
    with writing(empty):
        found.write(empty, at=AT)
    assert b"'=HYPERLINK" in exporting.export(empty, "csv", at=AT)


def keys_of(store, text, name="a.csv"):
    return list(
        importing.read(store, name, text.encode() if isinstance(text, str) else text, kind="pearl").columns.keys
    )


@pytest.mark.parametrize(
    ("text", "keys"),
    [
        (
            'Wot,Jug,Rest of it\nTang,"1,234.5 ml","1,000.5 ml"\nSten,"2,000.5 ml",9.5 ml\n',
            ["name", "size_ml", "left_ml"],
        ),
        ("name,bought\nTang,5/3/26\nSten,31/12/25\n", ["name", "bought_on"]),
        ("name,Scales say (g)\nTang,45\nSten,61\n", ["name", ""]),
        ("name,Humidity %\nTang,45\nSten,61\n", ["name", ""]),
        ("name,Scales say\nTang,45 g\nSten,61 g\n", ["name", ""]),
        ("name,line,size\nABC,XYZ,30\nDEF,XYZ,30\n", ["name", "line", "size_ml"]),
    ],
)
def test_what_only_looks_like_something_is_not_taken_for_it(empty, text, keys):
    found = importing.read(empty, "a.csv", text.encode(), kind="pearl")
    assert list(found.columns.keys) == keys
    assert len(found.fates) == 2


def test_a_first_bottle_in_capitals_is_no_row_of_units(empty):
    found = importing.read(empty, "a.csv", b"name,line\nABC,XYZ\nTang,Torv\n", kind="pearl")
    assert [one.name for one in found.fates] == ["XYZ ABC", "Torv Tang"]


def test_a_bottle_whose_name_begins_as_a_total_does_is_a_bottle(empty):
    text = b"name,kind,hex,size,left\nTotal eclipse,opaque,#101010,30,\nTang,opaque,#445533,30,12\nSum,,,60,12\n"
    found = importing.read(empty, "a.csv", text)
    assert [one.name for one in found.fates] == ["Total eclipse", "Tang"]


def test_cells_that_are_marked_are_no_colours_of_paint(empty):
    rows = [["Name", "Kind", "Size", "Left"], *([f"Paint {at}", "pearl", 30, at] for at in range(1, 13))]
    marked = book(rows, fills=[("D2", "FFFF0000"), ("D3", "FFFFCC00")])
    assert keys_of(empty, marked, "a.xlsx") == ["name", "kind", "size_ml", "left_ml"]
    rows[0].append("Hex")
    for at, row in enumerate(rows[1:]):
        row.append(f"#{at:02x}4433")
    both = book(rows, fills=[(f"A{at}", f"FF{at:02d}3322") for at in range(2, 14)])
    found = importing.read(empty, "a.xlsx", both)
    assert found.question == ""
    assert found.fates[0].colour == "#004433"


def test_a_workbook_whose_styles_are_broken_is_read_without_them(empty):
    whole, out = io.BytesIO(TABLES["filled cells"].content), io.BytesIO()
    with zipfile.ZipFile(whole) as before, zipfile.ZipFile(out, "w") as after:
        for part in before.namelist():
            content = before.read(part)
            broken = content.replace(b'rgb="FF445533"', b'rgb="zz"') if part == "xl/styles.xml" else content
            after.writestr(part, broken)
    assert keys_of(empty, out.getvalue(), "a.xlsx")[:2] == ["name", "kind"]


def test_a_workbook_too_large_for_its_looks_is_read_and_says_so(monkeypatch):
    monkeypatch.setattr(cell_looks, "MOST_STYLED_BYTES", 100)
    grids = sheets._read("a.xlsx", TABLES["filled cells"].content)
    assert len(grids.sheets[0].rows) == 4
    assert any("is not looked at in so large a workbook" in note for note in grids.notes)


def test_a_style_sheet_of_rgb_colours_is_a_palette(empty):
    content = b".tang { color: rgb(68, 85, 51); }\n.sten { color: rgb(119, 119, 119); }\n"
    found = importing.read(empty, "a.css", content, kind="opaque")
    assert [one.name for one in found.fates] == ["tang", "sten"]


def test_a_word_of_the_dictionary_is_read_by_it_however_long(empty):
    text = "name,colour\nTang,aquamarine\nSten,darkolivegreen\n"
    one, other = importing.read(empty, "a.csv", text.encode(), kind="opaque")._plan.planned
    assert other.colour == "#556b2f"
    assert one.colour == srgb(meant("aquamarine").lab)


def test_many_rows_are_mended_at_once_and_an_emptied_one_takes_no_page_down(client):
    rows = "".join(f"Paint {at},acrylic,#4455{at % 100:02d},30\n" for at in range(2000)) + "Tang,opaque,#445533,30\n"
    where = client.post("/files/paste", data={"cells": f"name,kind,hex,size\n{rows}"}, follow_redirects=False).headers[
        "location"
    ]
    number = where.split("?")[0].rsplit("/", 1)[1]
    every = " ".join(str(at) for at in range(2, 2002))
    client.post(f"/files/import/{number}/rows", data={"rows": every, "cell-1": "opaque", "do": "write"})
    assert "2001 × new paint" in client.get(where).text
    blank = {"rows": "2", "do": "write"} | {f"cell-{at}": "" for at in range(4)}
    client.post(f"/files/import/{number}/rows", data=blank)
    page = client.get(where).text
    assert "2000 × new paint" in page
    assert "an empty row" in page
    assert client.get(f"/files/import/{number}/rows/2").status_code == 200
    assert client.get(f"/files/import/{number}/rows/9000").status_code == 404
    assert "Say which rows" in client.post(f"/files/import/{number}/rows", data={"rows": "x", "do": "leave"}).text
