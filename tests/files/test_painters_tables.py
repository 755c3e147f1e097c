"""Each of twenty-five tables comes in as its painter meant it, with two presses at most."""

import pytest
from painters_tables import TABLES

from diachrom.core.film.kinds import KINDS
from diachrom.errors import BadFile, InvalidInput
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
    for own, meant in zip(shelf_of(empty), kept.bottles, strict=True):
        if meant[2] == "words":
            assert own[2].startswith("#")
            own, meant = (one[:2] + one[3:] for one in (own, meant))
        *words, size, left, price = meant
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
