"""Tables as people keep them: headings and kinds in their language, their days and decimals, merged cells, palettes."""

import io

import openpyxl
import pytest

from diachrom.errors import BadFile, ChangedSince, InvalidInput
from diachrom.exchange import cgats
from diachrom.exchange.sheets_out import to_csv
from diachrom.store import bottles, paints
from diachrom.store.connection import writing
from diachrom.work.files import cells, column_keys, exporting, importing, inventory
from diachrom.work.files.inventory_preview import HEADER
from diachrom.work.shelf import keeping

AT = "2026-11-27T10:00:00+00:00"


def written(store, name, content, **how):
    found = importing.read(store, name, content, **how)
    assert list(found.errors) == []
    assert found.question == ""
    with writing(store):
        found.write(store, at=AT)
    return found


def shelf(store):
    return {one.full_name: (one, bottles.of_paint(store, one.id)) for one in paints.every_record(store)}


def book(rows, *, merged=(), sheets_before=()):
    made = openpyxl.Workbook()
    for name in sheets_before:
        made.create_sheet(name).append(["Read me first"])
    sheet = made.create_sheet("Farben")
    for row in rows:
        sheet.append(row)
    for area in merged:
        sheet.merge_cells(area)
    del made["Sheet"]
    out = io.BytesIO()
    made.save(out)
    return out.getvalue()


@pytest.mark.parametrize(
    "text",
    [
        "Marke;Farbton;Art;Restmenge;Flaschengröße;Preis;Lagerort;Gekauft am;Farbcode\n"
        "Torv;Tang;deckend;12,5;30;7,90;Fach 2;03.09.2026;#445533\n",
        "Marque,Nom,Type,Reste (ml),Contenance,Prix,Emplacement,Acheté le,Code couleur\n"
        '"Torv","Tang",couvrant,"12,5",30,"7,90","Fach 2",03/09/2026,#445533\n'
        '"Torv","Sten",couvrant,"1,5",30,"7,90","Fach 2",23/09/2026,#777777\n',
        "Brand,Colour name,Type,ml left,Bottle size,Price,Place,Bought,Hex\n"
        "Torv,Tang,Opaque,12.5,30,7.90,Fach 2,09/03/2026,#445533\n"
        "Torv,Sten,Opaque,1.5,30,7.90,Fach 2,09/23/2026,#777777\n",
        "Merke\tNavn\tSlag\tIgjen\tFlaskestørrelse\tPris\tSted\tKjøpt\tFargekode\n"
        "Torv\tTang\tdekkende\t12,5\t30\t7,90\tFach 2\t3. september 2026\t#445533\n",
    ],
)
def test_whatever_the_language_the_same_bottle_is_read(empty, text):
    written(empty, "a.csv", text.encode())
    record, own = shelf(empty)["Torv Tang"]
    (bottle,) = own
    assert (record.kind, record.price) == ("opaque", 7.9)
    assert (bottle.left_ml, bottle.size_ml, bottle.place, bottle.bought_on) == (12.5, 30.0, "Fach 2", "2026-09-03")


@pytest.mark.parametrize(
    ("text", "first", "day"),
    [
        ("31.12.2025", "day", "2025-12-31"),
        ("5/3/26", "day", "2026-03-05"),
        ("5/3/26", "month", "2026-05-03"),
        ("5.3.2026", "month", "2026-03-05"),
        ("2026/03/05", "day", "2026-03-05"),
        ("2026年3月5日", "day", "2026-03-05"),
        ("20260305", "day", "2026-03-05"),
        ("46086", "day", "2026-03-05"),
        ("46086.75", "day", "2026-03-05"),
        ("2026-03-05 18:30:00", "day", "2026-03-05"),
        ("2026-03-05T18:30:00Z", "day", "2026-03-05"),
        ("5. März 2026", "day", "2026-03-05"),
        ("March 5, 2026", "day", "2026-03-05"),
        ("5-mars-26", "day", "2026-03-05"),
        ("5 de marzo de 2026", "day", "2026-03-05"),
        ("31/02/2026", "day", "31/02/2026"),
        ("soon", "day", "soon"),
    ],
)
def test_days_of_all_countries(text, first, day):
    assert cells.day(text, first) == day


@pytest.mark.parametrize(
    ("column", "read"),
    [
        (["1,5", "1.000", "2"], ["1.5", "1000", "2"]),
        (["1.5", "1,000"], ["1.5", "1000"]),
        (["1,234.5"], ["1234.5"]),
        (["1.234,5"], ["1234.5"]),
        (["1 234,5"], ["1234.5"]),
        (["1'234.5 ml"], ["1234.5 ml"]),
        (["1,234,567"], ["1234567"]),
        (["1.000", "50.250"], ["1.000", "50.250"]),
        (["1,000"], ["1,000"]),
    ],
)
def test_decimals_are_read_as_the_rest_of_their_column_shows(column, read):
    form = cells.form_of(column)
    assert [cells.number(one, form) for one in column] == read


def test_a_thousand_or_one_is_asked_about_and_never_taken_for_one(empty):
    content = b'name,kind,colour,size_ml\nTang,opaque,#445533,"1,000"\n'
    (wrong,) = importing.read(empty, "a.csv", content).errors
    assert (wrong.row, wrong.column) == (2, "size_ml")
    assert "'1,000' can be 1000 or 1: write which" in wrong.sentence


@pytest.mark.parametrize(
    ("text", "words", "keys"),
    [
        ("Farbe;Inhalt (ml);Rest (ml)\nTang;30;12,5", "'Inhalt (ml)' and 'Rest (ml)'", ["name", "size_ml", "left_ml"]),
        ("name,Amount,Remaining\nTang,30,12.5", "'Amount' and 'Remaining'", ["name", "size_ml", "left_ml"]),
        ("name,left,remaining ml\nTang,9,12.5", "'left' and 'remaining ml'", ["name", "", "left_ml"]),
        ("name,Colour name,ml left\nTang,Tara,12.5", "'name' and 'Colour name'", ["name", "", "left_ml"]),
    ],
)
def test_two_columns_that_fit_one_field_are_asked_about(empty, text, words, keys):
    content = text.encode()
    found = importing.read(empty, "a.csv", content, kind="pearl")
    assert found.question.startswith(f"{words} can both be")
    with pytest.raises(InvalidInput, match="can both be"), writing(empty):
        found.write(empty, at=AT)
    assert bottles.every(empty) == []
    number = importing.keep(empty, "a.csv", content, kind="pearl", at=AT)
    importing.choose_columns(empty, number, sheet=0, row=0, keys=keys)
    written(empty, "a.csv", content, kind="pearl")
    (bottle,) = bottles.every(empty)
    assert (bottle.name, bottle.size_ml, bottle.left_ml) == ("Tang", 30.0, 12.5)


def test_what_a_bottle_holds_is_proposed_as_its_size_beside_what_is_left(empty):
    found = importing.read(empty, "a.csv", b"name;Inhalt (ml);Rest (ml)\nTang;30;12,5\n", kind="pearl")
    assert found.columns.keys == ["name", "size_ml", "left_ml"]
    alone = importing.read(empty, "a.csv", b"name;Inhalt (ml)\nTang;30\n", kind="pearl")
    assert alone.question == ""


@pytest.mark.parametrize("suffix", ["csv", "xlsx"])
def test_no_colour_changes_on_its_way_out_and_in(store, empty, suffix):
    written(empty, f"a.{suffix}", exporting.export(store, suffix, at=AT))
    name, colour = HEADER.index("name"), HEADER.index("colour")
    before, after = ({row[name]: row[colour] for row in inventory.rows(one)} for one in (store, empty))
    assert after == before
    assert len(before) > 40


def test_headings_are_found_below_a_title_on_a_second_sheet_and_merged_cells_hold_for_each_row(empty):
    rows = [["Unser Regal 2026"], [], ["Marke", "Farbe", "Art", "Rest (ml)", "Hex"]]
    rows += [["Torv", "Tang", "deckend", 12, "#445533"], [None, "Sten", "deckend", 3, "#777777"]]
    found = written(empty, "a.xlsx", book(rows, merged=["A4:A5"], sheets_before=["Lies mich"]))
    assert set(shelf(empty)) == {"Torv Tang", "Torv Sten"}
    assert {"of the sheet 'Farben'", "headings in row 3"} <= set(found.notes)


def test_an_open_document_is_read_too(empty):
    import zipfile

    rows = (("name", "kind", "colour"), ("Tang", "opaque", "#445533"))
    body = "".join(
        "<table:table-row>"
        + "".join(
            f'<table:table-cell office:value-type="string"><text:p>{cell}</text:p></table:table-cell>' for cell in row
        )
        + "</table:table-row>"
        for row in rows
    )
    space = "urn:oasis:names:tc:opendocument:xmlns"
    content = (
        f'<office:document-content xmlns:office="{space}:office:1.0" xmlns:table="{space}:table:1.0"'
        f' xmlns:text="{space}:text:1.0"><office:body><office:spreadsheet><table:table table:name="A">{body}'
        "</table:table></office:spreadsheet></office:body></office:document-content>"
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        archive.writestr("mimetype", "application/vnd.oasis.opendocument.spreadsheet")
        archive.writestr("content.xml", content)
        manifest = f'<manifest:manifest xmlns:manifest="{space}:manifest:1.0"/>'
        archive.writestr("META-INF/manifest.xml", manifest)
    assert written(empty, "a.ods", out.getvalue()).fates[0].fate == "new paint"


def test_what_a_column_is_can_be_chosen_and_is_remembered(empty, tmp_path):
    content = b"Etikett,Sorte,Was da ist,Ton\nTang,deckend,12,#445533\n"
    assert importing.read(empty, "a.csv", content).columns.keys == ["name", "kind", "", "colour"]
    number = importing.keep(empty, "a.csv", content, kind="transparent", at=AT)
    keys = ["name", "kind", "left_ml", "colour"]
    with pytest.raises(InvalidInput, match="chosen for two columns"):
        importing.choose_columns(empty, number, sheet=0, row=0, keys=["name", "name"])
    importing.choose_columns(empty, number, sheet=0, row=0, keys=keys)
    written(empty, "later.csv", content.replace(b"Tang", b"Sten"))
    assert shelf(empty)["Sten"][1][0].left_ml == 12
    assert importing.read(empty, "a.csv", content).columns.chosen


def test_a_table_without_kinds_is_taken_for_one_kind_and_says_so(empty):
    found = written(empty, "a.csv", b"Colour name,Hex\nTang,#445533\n", kind="candy")
    assert any("new paints count as candy" in note for note in found.notes)
    assert shelf(empty)["Tang"][0].kind == "candy"


def test_rows_that_say_the_same_are_told(store):
    row = "Krekling,Rav,transparent,30,12.5,window,#5a2a6e\n"
    text = "name,line,kind,size_ml,left_ml,place,colour\n" + row + row
    found = importing.read(store, "a.csv", text.encode())
    assert found.fates[1].warning == "is the same as row 2: the same bottle twice?"


def test_our_own_table_with_a_name_and_a_colour_changed_is_a_change_and_no_double(store):
    rows = [list(row) for row in inventory.rows(store)]
    at = {key: place for place, key in enumerate(HEADER)}
    before = len(rows)
    names = "rav-nype", "rav-gull"
    guessed, measured = (next(row for row in rows if row[at["paint"]] == name) for name in names)
    with writing(store):
        paints.add_profile(store, paints.profile(store, names[1]), paint_id=names[1], source="learned from 9", at=AT)
    guessed[at["name"]], guessed[at["colour"]], measured[at["colour"]] = "Renamed", "#112244", "#112244"
    found = written(store, "a.csv", to_csv(HEADER, rows))
    fates = {one.name: (one.fate, one.warning) for one in found.fates if "already" not in one.fate or one.warning}
    assert [fate for fate, _ in fates.values() if "changes" in fate] == ["changes: name, colour"]
    assert any("its colour was measured, and stays" in warning for _, warning in fates.values())
    assert len(inventory.rows(store)) == before
    assert paints.record(store, names[0]).name == "Renamed"
    assert paints.profile_versions(store, names[0])[0].source == "guessed from #112244"
    assert paints.profile_versions(store, names[1])[0].source == "learned from 9"


def test_undo_takes_a_changed_colour_back_too_and_redo_brings_it_unless_it_was_measured_meanwhile(store):
    rows = [list(row) for row in inventory.rows(store)]
    at = {key: place for place, key in enumerate(HEADER)}
    next(row for row in rows if row[at["paint"]] == "rav-nype")[at["colour"]] = "#112244"
    before = look_of(store, "rav-nype")
    written(store, "a.csv", to_csv(HEADER, rows))
    changed = look_of(store, "rav-nype")
    assert changed != before
    keeping.undo(store, at=AT)
    assert look_of(store, "rav-nype") == before
    keeping.undo(store, back=False, at=AT)
    assert look_of(store, "rav-nype") == changed
    with writing(store):
        paints.add_profile(store, paints.profile(store, "rav-gull"), paint_id="rav-nype", source="learned", at=AT)
    with pytest.raises(ChangedSince, match="The profile of paint rav-nype has been changed since; nothing was taken"):
        keeping.undo(store, at=AT)


def look_of(store, paint):
    """Of what counts: its spectra, where they are from, the colour that it is found by."""
    one = paints.profile_versions(store, paint)[0]
    found = store.execute("SELECT l, a, b FROM paint_colour WHERE (paint_id, version) = (?, ?)", [paint, one.version])
    return one.paint.absorption.tolist(), one.source, [tuple(row) for row in found]


@pytest.mark.parametrize(
    ("name", "content", "named"),
    [
        ("a.css", ":root { --sea-green: #2e8b57; --ash: rgb(178, 190, 181) }\n.tang { color: #453; }",
         {"sea green": "#2e8b57", "ash": "#b2beb5", "tang": "#445533"}),
        ("a.json", '{"colors": {"tang": "#445533", "sten": {"light": "#999", "dark": "#333333"}}}',
         {"tang": "#445533", "sten light": "#999999", "sten dark": "#333333"}),
        ("a.json", '[{"name": "Tang", "hex": "445533"}, {"name": "Sten", "rgb": [119, 119, 119]}]',
         {"Tang": "#445533", "Sten": "#777777"}),
        ("a.txt", "#445533 Tang\n#777 Sten\n", {"Tang": "#445533", "Sten": "#777777"}),
        ("a.txt", "Tang: #445533\nSten, #777777\n", {"Tang": "#445533", "Sten": "#777777"}),
        ("a.txt", "445533\n777777\n", {"#445533": "#445533", "#777777": "#777777"}),
    ],
)  # fmt: skip
def test_lists_of_colours_of_any_form_become_paints(empty, name, content, named):
    found = importing.read(empty, name, content.encode(), kind="opaque")
    assert {one.record.name: one.colour for one in found._plan.planned} == named
    assert {one.fate for one in found.fates} == {"new paint"}


def test_utf_16_without_its_mark_is_read_and_said(empty):
    content = "name;kind;colour\nBlåbær;ink;#202040\n".encode("utf-16-le")
    found = written(empty, "a.csv", content)
    assert "read as UTF-16, which it does not say" in found.notes
    assert set(shelf(empty)) == {"Blåbær"}
    with pytest.raises(BadFile, match="not text"):
        importing.read(empty, "a.csv", b"\x00\x01\x02\x03" * 50)


def test_spectra_start_an_empty_shelf(store, empty):
    few = [one for one in exporting.spectra_of(store) if one.name.startswith(("bare", "Rav N", "Rav G"))]  # a fit each
    content = cgats.write("Some of a shelf", few)
    found = written(empty, "s.cgats", content, kind="opaque")
    assert any("opaque paints in bottles of 30 ml" in note for note in found.notes)
    own = shelf(empty)
    assert 0 < len(own) < 6
    assert all(bottle.left_ml == 30 for _, (bottle,) in own.values())
    record, _ = own["Rav Nype"]
    assert paints.profile_versions(empty, record.id)[0].source.startswith("spectra of")


def test_the_workbook_goes_out_with_widths_days_and_one_page_wide(store):
    sheet = openpyxl.load_workbook(io.BytesIO(exporting.export(store, "xlsx", at=AT))).active
    heads = {cell.value: cell.column_letter for cell in sheet[1]}
    assert sheet.page_setup.fitToWidth == 1
    assert sheet.sheet_properties.pageSetUpPr.fitToPage
    assert sheet.freeze_panes == "A2"
    assert 8 < sheet.column_dimensions[heads["name"]].width < 50
    assert all(isinstance(cell.value, (int, float)) for cell in sheet[heads["left_ml"]][1:])
    days = [cell for cell in sheet[heads["opened_on"]][1:] if cell.value is not None]
    assert days
    assert {cell.is_date for cell in days} == {True}


def test_headings_that_say_nothing_are_no_key():
    assert column_keys.guess("Restmenge (ml)") == "left_ml"
    assert column_keys.guess("  Colour   Name ") == "name"
    assert column_keys.guess("Wombat") == ""
