"""Sheets of labels by rows, columns and margins: what fits is remembered, what does not is said."""

from dataclasses import asdict, replace

import pytest
from starlette.testclient import TestClient

from diachrom.core.shelf.label_sheet import LabelSheet, checked
from diachrom.errors import InvalidInput
from diachrom.store import settings
from diachrom.store.connection import writing
from diachrom.web.app import create_app
from diachrom.work.shelf import label_sheets

SMALL = LabelSheet("a4", 5, 13, 38.1, 21.2, left_mm=4.7, top_mm=10.7, across_mm=2.5, down_mm=0)


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        yield client


def form(sheet, **more):
    return {key: str(value) for key, value in asdict(sheet).items()} | more


def test_places_go_row_by_row_and_a_sheet_that_was_begun_is_gone_on_with():
    places = list(checked(SMALL).places())
    assert len(places) == SMALL.count == 65
    assert places[0] == (4.7, 10.7)
    assert places[6] == pytest.approx((4.7 + 38.1 + 2.5, 10.7 + 21.2))
    assert places[-1][0] + SMALL.width_mm <= 210
    assert places[-1][1] + SMALL.height_mm <= 297
    begun, last = SMALL.laid_out("abc", 64)
    assert [(x, y, label) for x, y, label in begun] == [(*places[63], "a"), (*places[64], "b")]
    assert last == [(*places[0], "c")]
    assert SMALL.laid_out("", 9) == []
    assert len(SMALL.laid_out("a", 999)) == len(SMALL.laid_out("a", -3)) == 1


@pytest.mark.parametrize(
    ("given", "words"),
    [
        ({"columns": "4"}, "These labels take 269.0 mm, the page is 210 mm wide"),
        ({"rows": "9"}, "the page is 297 mm high"),
        ({"columns": "0"}, "1 to 12 columns"),
        ({"columns": "2.5"}, "a whole number, not"),
        ({"width_mm": "3"}, "at least"),
        ({"width_mm": ""}, "is no number"),
        ({"left_mm": "-1"}, "0 to 400"),
        ({"left_mm": "nan"}, "is no number"),
        ({"page": "a0"}, "no page called"),
    ],
)
def test_what_does_not_fit_its_page_is_said_and_the_sheet_of_before_stays(client, given, words):
    kept = client.post("/shelf/labels", data=form(SMALL, bottle="22", first="3"))
    assert "65 on a sheet" in kept.text
    assert ">Rav Nype<" in kept.text
    refused = client.post("/shelf/labels", data=form(LabelSheet(), bottle="22") | given)
    assert refused.status_code == 422
    assert words in refused.text
    assert "65 on a sheet" in client.get("/shelf/labels?bottle=22").text


def test_what_is_kept_wrongly_is_the_usual_sheet_and_nothing_to_label_is_said(store, client):
    assert client.get("/shelf/labels?bottle=22&bottle=23&first=24").text.count('class="label-sheet') == 2
    assert "No bottle to label" in client.get("/shelf/labels?q=nothing+is+called+so").text
    assert client.get("/shelf/labels?bottle=22&test=yes").text.count("label-outline") == 24
    for wrong in (
        "",
        "{",
        '{"columns": 99}',
        '{"rows": "many"}',
        label_sheets.SHEET.dump_json(replace(SMALL, page="x")).decode(),
    ):
        with writing(store):
            settings.put(store, {label_sheets.KEY: wrong})
        assert label_sheets.now(store) == LabelSheet(), wrong
        assert client.get("/shelf/labels?bottle=22").status_code == 200
    with pytest.raises(InvalidInput):
        checked(replace(SMALL, rows=14))
