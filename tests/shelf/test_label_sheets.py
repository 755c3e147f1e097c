"""Sheets of labels by rows, columns and margins: what fits is remembered, what does not is said."""

import pytest
from starlette.testclient import TestClient

from diachrom.errors import InvalidInput
from diachrom.web.app import create_app
from diachrom.work.shelf import label_sheets
from diachrom.work.shelf.label_sheets import LabelSheet

SMALL = {"columns": "5", "rows": "13", "width_mm": "38,1", "height_mm": "21.2", "left_mm": "4.7", "top_mm": "10.7"}
SMALL |= {"across_mm": "2.5", "down_mm": "0"}


def test_places_go_row_by_row():
    sheet = label_sheets.of(SMALL)
    places = list(sheet.places())
    assert len(places) == sheet.count == 65
    assert places[0] == (4.7, 10.7)
    assert places[6] == pytest.approx((4.7 + 38.1 + 2.5, 10.7 + 21.2))
    assert places[-1][0] + sheet.width_mm <= 210
    assert places[-1][1] + sheet.height_mm <= 297


@pytest.mark.parametrize(
    ("given", "words"),
    [
        ({"columns": "4"}, "These labels take 269.0 mm, the page is 210 mm wide"),
        ({"rows": "9"}, "the page is 297 mm high"),
        ({"columns": "0"}, "1 to 12 columns"),
        ({"columns": "2.5"}, "'2.5' is none"),
        ({"width_mm": "3"}, "at least"),
        ({"left_mm": "-1"}, "is none"),
        ({"left_mm": "nan"}, "is none"),
        ({"page": "a0"}, "no page called"),
    ],
)
def test_what_does_not_fit_its_page_is_said_and_the_sheet_of_before_stays(bench, given, words):
    with pytest.raises(InvalidInput, match=words):
        label_sheets.of(given)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        client.get("/shelf/labels", params={**SMALL, "bottle": 22})
        page = client.get("/shelf/labels", params={"columns": "3", **given, "bottle": 22})
        assert page.status_code == 200
        assert ">Rav Nype<" in page.text
        assert "65 on a sheet" in client.get("/shelf/labels?bottle=22").text


def test_what_is_kept_wrongly_is_the_usual_sheet_and_printing_begins_where_it_is_said(store, bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        begun = client.get("/shelf/labels?bottle=22&bottle=23&first=24").text
        assert begun.count('class="label-sheet') == 2
        assert client.get("/shelf/labels?bottle=22&first=999").text.count('class="label-sheet') == 1
        assert "No bottle to label" in client.get("/shelf/labels?q=nothing+is+called+so").text
        test = client.get("/shelf/labels?bottle=22&test=yes").text
        assert test.count("label-outline") == 24
    label_sheets.keep(store, LabelSheet(columns=99))
    assert label_sheets.now(store) == LabelSheet()
