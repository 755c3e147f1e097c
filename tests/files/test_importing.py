"""Files onto the shelf: every row's fate before anything is written, equal there and back, all of it or nothing."""

import json
import threading
import time

import numpy as np
import pytest
from everything import everything

from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab
from diachrom.errors import BadFile, InvalidInput
from diachrom.exchange import cgats, cxf
from diachrom.exchange.spectra import read_spectra
from diachrom.store import bottles, paints, uploads
from diachrom.store.connection import connected, writing
from diachrom.store.migrate import migrate
from diachrom.work.files import exporting, import_task, importing, inventory
from diachrom.work.files.checking import check_folder
from diachrom.work.files.inventory_preview import HEADER as COLUMNS
from diachrom.work.kit.tasks import Tasks
from diachrom.work.shelf import keeping, shelf_index

AT = "2026-11-25T10:00:00+00:00"
HEADER = "name,line,kind,size_ml,left_ml,place,colour\n"


def write(store, name, content, **how):
    found = importing.read(store, name, content, **how)
    with writing(store):
        found.write(store, at=AT)
    return found


def table(text):
    return (HEADER + text).encode()


def test_everything_goes_out_as_json_and_comes_back_equal(store, empty, tmp_path):
    content = exporting.export(store, "json", at=AT)
    write(empty, "shelf.json", content)
    assert exporting.export(empty, "json", at=AT) == content
    assert check_folder(tmp_path / "empty") == []
    again = write(empty, "shelf.json", content)
    assert {one.fate for one in again.fates} == {"is there already"}
    assert exporting.export(empty, "json", at=AT) == content


@pytest.mark.parametrize("form", ["csv", "xlsx"])
def test_the_inventory_goes_out_as_a_table_and_comes_back_equal(store, empty, form):
    content = exporting.export(store, form, at=AT)
    assert {one.fate for one in write(store, f"a.{form}", content).fates} == {"is there already, as it is"}
    write(empty, f"a.{form}", content)
    mine, theirs = ([dict(zip(COLUMNS, row, strict=True)) for row in inventory.rows(one)] for one in (store, empty))
    for one, other in zip(mine, theirs, strict=True):
        plain = one["kind"] in ("opaque", "transparent", "candy", "ink", "primer", "reducer", "medium")
        # A guess knows flakes and dyes only as the usual ones of their kind; docs/formats.md says so.
        assert {**one, "colour": ""} == {**other, "colour": ""}
        assert one["colour"] == other["colour"] or not plain


def test_a_changed_table_changes_what_it_names_and_nothing_else(store):
    before = {row[0]: row for row in inventory.rows(store)}
    rows = [list(row) for row in inventory.rows(store)]
    at = {key: place for place, key in enumerate(COLUMNS)}
    rows[21][at["place"]], rows[21][at["left_ml"]], rows[4][at["price"]] = "window", 3.5, 99.0
    from diachrom.exchange.sheets_out import to_csv

    found = write(store, "a.csv", to_csv(COLUMNS, rows))
    fates = {one.row: one.fate for one in found.fates if "already" not in one.fate}
    assert fates == {6: "changes: price", 23: "changes: place, left_ml"}
    after = {row[0]: row for row in inventory.rows(store)}
    changed = {key for key in before if before[key] != after[key]}
    assert changed >= {5, 22}
    assert bottles.ledger(store, 22)[0].kind == "corrected"
    keeping.undo(store, at=AT)
    assert {row[0]: row for row in inventory.rows(store)} == before


def test_each_row_has_a_fate_and_nothing_is_written_before_the_yes(store):
    before = len(bottles.every(store))
    found = importing.read(
        store,
        "a.csv",
        table(
            "Krekling,Rav,transparent,30,12.5,window,#5a2a6e\n"
            "krekling,RAV,Transparent,30,30,window,\n"
            "Nype,Rav,transparent,30,30,,\n"
            "Sild,Perlemor,pearl,1 fl oz,-2,,\n"
        ),
    )
    assert [one.fate for one in found.fates] == [
        "new paint",
        "another bottle of RAV krekling",
        "another bottle of Rav Nype",
        "new paint",
    ]
    assert [one.warning for one in found.fates] == [
        "a guess from its colour",
        "",
        "the name is on the shelf already",
        "below zero: correct it",
    ]
    assert len(bottles.every(store)) == before
    with writing(store):
        found.write(store, at=AT)
    added = bottles.every(store)[before:]
    assert [round(one.left_ml, 2) for one in added] == [12.5, 30.0, 30.0, -2.0]
    assert added[0].paint_id == added[1].paint_id
    assert delta_e(shelf_index.index(store).labs[before], hex_to_lab("#5a2a6e")) < 1
    assert paints.profile(store, added[3].paint_id).flake.material == "pearl"


@pytest.mark.parametrize(
    ("row", "column", "why"),
    [
        ("Krekling,Rav,transparent,thirty,1,,#5a2a6e", "size_ml", "no number"),
        ("Krekling,Rav,transparent,30,1,,zorkle", "colour", "is no colour"),
        ("Krekling,Rav,transparent,30,1,,", "colour", "say its colour"),
        ("Krekling,Rav,gravy,30,1,,#5a2a6e", "kind", "is none of"),
        ("Nype,Rav,opaque,30,1,,#5a2a6e", "kind", "is transparent on the shelf"),
        (",Rav,ink,30,1,,#5a2a6e", "name", "missing"),
        ("Krekling,Rav,ink,30", "", "4 cells, the headings 7"),
        ("Krekling,Rav,ink,30,1,5,,#5a2a6e", "", "decimal comma"),
    ],
)
def test_every_error_is_said_by_row_and_column_and_stops_the_whole_file(store, row, column, why):
    before = everything(store)
    found = importing.read(store, "a.csv", table(f"Bar,Rav,ink,30,1,,#101020\n{row}\n"))
    assert [(one.row, one.column) for one in found.errors] == [(3, column)]
    assert why in found.errors[0].sentence
    with pytest.raises(InvalidInput, match="1 error; nothing was imported"), writing(store):
        found.write(store, at=AT)
    assert everything(store) == before


def test_two_rows_of_one_file_cannot_say_two_kinds(store):
    found = importing.read(store, "a.csv", table("Bar,Rav,ink,30,1,,#101020\nBAR,Rav,opaque,30,1,,#101020\n"))
    assert [one.sentence for one in found.errors] == ["row 2 says that Rav BAR is ink."]


def test_headers_are_known_by_key_and_by_words_in_any_order_and_the_rest_is_named(store):
    text = "Colour;Kind;Shelf mark;Name;Size, ml\n#102030;ink;A7;Bar;15,5\n"
    found = write(store, "a.csv", text.encode())
    assert "columns that are left out: Shelf mark" in found.notes
    assert bottles.every(store)[-1].size_ml == 15.5
    nameless = importing.read(store, "a.csv", b"kind\nink\n")
    assert "choose which one is" in nameless.question
    twice = importing.read(store, "a.csv", b"name,kind,Name\nBar,ink,b\n")
    assert "columns that are left out: Name" in twice.notes
    with pytest.raises(BadFile, match="no row of its first ten names columns"):
        importing.read(store, "a.csv", b"1,2\n3,4\n")


def test_a_palette_becomes_paints_of_the_kind_that_was_said_and_goes_out_the_same(store, empty):
    content = exporting.export(store, "gpl", at=AT)
    write(empty, "p.gpl", content, kind="opaque")
    assert exporting.export(empty, "gpl", at=AT) == content
    assert {row.bottle.kind for row in shelf_index.index(empty).rows} == {"opaque"}
    assert importing.read(empty, "p.ase", exporting.export(store, "ase", at=AT)).what == "a palette"


def test_spectra_over_white_and_black_become_profiles_that_give_them_back(store):
    content = exporting.export(store, "cgats", at=AT)
    keeping.add_paint(store, {"name": "Other", "kind": "ink", "size_ml": "30", "colour": "#102030"}, at=AT)
    guessed = exporting.export(store, "cgats", at=AT)
    found = write(store, "s.cgats", content)
    assert {one.fate.split(" of ")[0] for one in found.fates} == {"the bare card", "new profile"}
    versions = paints.profile_versions(store, "rav-siv")
    assert [one.version for one in versions] == [2, 1]
    old, new = (read_spectra("s", one) for one in (guessed, exporting.export(store, "cgats", at=AT)))
    for one, other in zip(old, new, strict=True):
        assert one.name == other.name
        assert np.abs(one.reflectance - other.reflectance).max() < 2e-6, one.name


def test_spectra_are_equal_to_six_digits_on_an_empty_shelf_too_and_a_measurement_is_not_taken_for_exact(store, empty):
    some = {"bare white", "bare black"}
    some |= {
        f"{one}, over {ground}" for one in ("Lykt Royk", "Grunn Graa", "Rav Nype") for ground in ("white", "black")
    }
    own = [one for one in exporting.spectra_of(store) if one.name in some]
    content = cgats.write("Three", own)
    write(empty, "s.cgats", content)
    back = {one.name: one.reflectance for one in exporting.spectra_of(empty)}
    assert max(np.abs(back[one.name] - one.reflectance).max() for one in own) < 1e-6
    other = content.replace(b'ORIGINATOR "Diachrom"', b'ORIGINATOR "A reader"')
    assert [one.computed for one in read_spectra("s", content)] == [True] * 8
    assert [one.computed for one in read_spectra("s", other)] == [False] * 8
    by_xml = read_spectra("s", cxf.write("Three", own, at=AT))
    assert [one.computed for one in by_xml] == [True] * 8


def test_spectra_are_the_same_in_either_format(store):
    files = {key: exporting.export(store, key, at=AT) for key in ("cgats", "cxf")}
    one, other = (list(importing.read(store, f"s.{key}", content).fates) for key, content in files.items())
    assert one == other
    assert sum(fate.fate.startswith("new profile") for fate in one) > 40
    for sample, same in zip(*(read_spectra(f"s.{key}", content) for key, content in files.items()), strict=True):
        assert sample.name == same.name
        assert np.abs(sample.reflectance - same.reflectance).max() < 1e-4


def test_spectra_of_paints_that_are_not_here_are_left_out_and_said(store):
    content = exporting.export(store, "cgats", at=AT).replace(b"Rav Siv", b"Rav Nobody")
    found = importing.read(store, "s.cgats", content)
    assert [one.fate for one in found.fates if "Nobody" in one.name] == ["new paint, transparent"] * 2


BUNDLE = {
    "format": "diachrom-shelf",
    "version": 1,
    "paints": [
        {
            "id": "a",
            "name": "A",
            "kind": "ink",
            "profiles": [
                {
                    "at": AT,
                    "source": "x",
                    "profile": {"kind": "ink", "absorption": [0.1] * 36, "scattering": [0.01] * 36},
                }
            ],
        }
    ],
    "bottles": [
        {
            "number": 1,
            "paint": "a",
            "size_ml": 30,
            "drop_ml": 0.05,
            "state": "open",
            "ledger": [{"at": AT, "kind": "bought", "ml": 30}],
        }
    ],
    "recipes": [
        {
            "number": 1,
            "versions": [
                {
                    "at": AT,
                    "name": "R",
                    "ground": "white",
                    "film_um": 8,
                    "coats": 2,
                    "clear_coat": True,
                    "parts": [{"bottle": 1, "drops": 3, "drop_ml": 0.05}],
                }
            ],
        }
    ],
}


def changed(path, value):
    whole = json.loads(json.dumps(BUNDLE))
    place = whole
    for key in path[:-1]:
        place = place[key]
    place[path[-1]] = value
    return json.dumps(whole).encode()


@pytest.mark.parametrize(
    ("content", "why"),
    [
        (json.dumps(BUNDLE).encode()[:-20], "cut off"),
        (b"{}", "neither a shelf of ours nor a palette"),
        (b'{"format": "x"}', "no 'diachrom-shelf' document"),
        (changed(["version"], 3), "newer Diachrom"),
        (changed(["bottles", 0, "paint"], "b"), "not among the paints"),
        (changed(["recipes", 0, "versions", 0, "parts", 0, "bottle"], 9), "pours from bottle 9"),
        (changed(["recipes", 0, "versions", 0, "parent"], 3), "comes from a later one"),
        (changed(["bottles"], BUNDLE["bottles"] * 2), "names a bottle twice"),
        (
            changed(["paints", 0, "profiles", 0, "profile", "absorption"], [0.1]),
            "paints.0.profiles.0.absorption",
        ),
        (changed(["paints", 0, "price"], -1), "paints.0.price"),
        (changed(["bottles", 0, "ledger", 0, "ml"], 1e99), "bottles.0.ledger.0.ml"),
    ],
)
def test_a_document_that_cannot_be_meant_is_refused_by_its_place(store, content, why):
    with pytest.raises(BadFile, match=why):
        importing.read(store, "shelf.json", content)


def test_a_document_whose_numbers_are_taken_by_other_things_is_refused(store):
    before = everything(store)
    with pytest.raises(BadFile, match="it belongs to another bench: its bottle 1 of"):
        importing.read(store, "shelf.json", json.dumps(BUNDLE).encode())
    assert everything(store) == before


def test_an_import_that_is_stopped_half_way_leaves_nothing_behind(bench, store):
    lines = "".join(f"Bar {at},Rekke,ink,30,{at % 30},window,#{at * 13:06x}\n" for at in range(1500))
    number = importing.keep(store, "large.csv", table(lines), kind="ink", at=AT)
    before = everything(store)
    tasks = Tasks(bench)
    seen = []

    def stop_soon():
        while not seen:
            task = import_task.now(tasks, number)
            if task and task.done > 20:
                seen.append(task.done)
                import_task.stop(tasks, number)
            time.sleep(0.0005)  # a loop that never rests leaves the other thread no turn

    watcher = threading.Thread(target=stop_soon)
    watcher.start()
    task = import_task.start(tasks, number, kind="ink", at=AT)
    watcher.join(30)
    assert task.wait(60)
    assert task.said == "Stopped. Nothing of large.csv was written."
    assert everything(store) == before
    # Said again, it goes through.
    task = import_task.start(tasks, number, kind="ink", at=AT)
    assert task.wait(120)
    assert (task.finished, task.done, task.total) == (True, 1500, 1500)
    with connected(bench) as now:
        assert len(bottles.every(now)) == 56 + 1500
        with pytest.raises(Exception, match="no longer waiting"):
            uploads.file(now, number)


CURVE = [0.1] * 36
PAINT = {"id": "ny-en", "line": "Ny", "name": "En", "kind": "opaque"}
PROFILE = {"at": AT, "source": "x", "profile": {"kind": "opaque", "absorption": CURVE, "scattering": CURVE}}
BOTTLE = {"number": 1, "paint": "ny-en", "size_ml": 30, "drop_ml": 0.05, "state": "open"}
POURED = [{"bottle": 1, "drops": 3, "drop_ml": 0.05}]
VERSION = {"at": AT, "name": "R", "ground": "white", "film_um": 8, "coats": 2, "clear_coat": True, "parts": POURED}


def whole(paint=None, profile=None, bottle=None, version=None, **more):
    """A document that can be brought in, but for what is changed of it."""
    document = {
        "format": "diachrom-shelf",
        "version": 1,
        "paints": [{**PAINT, "profiles": [{**PROFILE, **(profile or {})}], **(paint or {})}],
        "bottles": [{**BOTTLE, **(bottle or {})}],
        "recipes": [{"number": 1, "versions": [{**VERSION, **(version or {})}]}],
        **more,
    }
    return json.dumps(document).encode()


CARD = {"number": 3, "at": AT, "ground": "white", "film_um": 8, "coats": 2, "clear_coat": True, "parts": POURED}
READ = {"at": AT, "source": "x", "lab": [1e300, 0, 0]}


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (whole(profile={"at": "soon"}), "is no time"),
        (whole(profile={"at": "9999-12-31T00:00:00+00:00"}), "is no time"),
        (whole(bottle={"bought_on": "2026-99-99"}), "is no day"),
        (whole(version={"ground": "mud"}), "no such ground"),
        (whole(version={"ground": "recipe:1:1"}), "lies on itself"),
        (whole(version={"ground": "recipe:7:1"}), "no such version is there"),
        (whole(version={"film_um": 5e-324}), "film_um"),
        (whole(version={"name": "  "}), "is blank"),
        (whole(version={"parts": POURED * 2}), "names a bottle twice"),
        (whole(paint={"name": "a\0b"}), "cannot be written"),
        (whole(paint={"name": " "}), "is blank"),
        (whole(paint={"id": "a/b"}), "a paint's id is"),
        (whole(paint={"id": ".."}), "a paint's id is"),
        (whole(paint={"merged_into": "gone"}), "not among the paints"),
        (
            whole(paints=[{**PAINT, "id": key, "profiles": [PROFILE]} for key in ("ny-en", "ny-to")]),
            "paint's name twice",
        ),
        (whole(learned_drops=[{"bottle": 1, "counted_ml": 0.05, "ml": 1e-300}]), "learned_drops.0.ml"),
        (whole(cards=[{**CARD, "patches": [{"ground": "white", "coats": 1, "readings": [READ]}]}]), "lab"),
        (whole(cards=[{**CARD, "patches": [{"ground": "recipe:x", "coats": 1}]}]), "no such ground"),
    ],
)
def test_a_document_that_would_break_pages_is_refused_in_a_sentence(store, content, says):
    before = everything(store)
    with pytest.raises(BadFile, match=says):
        importing.keep(store, "x.json", content, kind="ink", at=AT)
    assert everything(store) == before


def test_the_document_that_they_were_made_from_comes_in(tmp_path):
    migrate(tmp_path)
    with connected(tmp_path) as store:
        found = importing.read(store, "x.json", whole())
        with writing(store):
            found.write(store, at=AT)
        assert paints.named(store, line="Ny", name="En") is not None
