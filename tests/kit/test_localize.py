"""Figures and days as a bench reads them: chosen once, kept in the folder, on every page; what people wrote stays."""

import re

import pytest
from starlette.testclient import TestClient

from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.web.kit.localize import localize
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.mix import cup
from diachrom.work.shelf import keeping

AT = "2026-11-26T10:00:00+00:00"
IMPERIAL = BenchSettings(units="imperial", days="month")
COMMA = BenchSettings(decimals="comma", days="year")


@pytest.mark.parametrize(
    ("text", "imperial", "comma"),
    [
        ("84 ml left", "2.8 fl oz left", "84 ml left"),
        ("<b>84.2</b> <u>ml</u> left", "<b>2.8</b> <u>fl oz</u> left", "<b>84,2</b> <u>ml</u> left"),
        ("0.61 ml in the cup", "0.61 ml in the cup", "0,61 ml in the cup"),
        ("10 to 20 ml, 8 µm", "0.34 to 0.68 fl oz, 0.31 mil", "10 to 20 ml, 8 µm"),
        ("2, 8 and 24 µm; dE 6.8, 8 µm", "0.08, 0.31 and 0.94 mil; dE 6.8, 0.31 mil", "2, 8 and 24 µm; dE 6,8, 8 µm"),
        ("0.3 mm at 1.5 bar", "0.3 mm at 22 psi", "0,3 mm at 1,5 bar"),
        ("110 mm, 8 m deep", "4.3 in, 26 ft deep", "110 mm, 8 m deep"),
        ("64 x 33 mm", "2.5 x 1.3 in", "64 x 33 mm"),
        ("likely within dE 6.8.", "likely within dE 6.8.", "likely within dE 6,8."),
        ("2 September 2026, 12 Sep 2026", "September 2, 2026, Sep 12, 2026", "2026-09-02, 2026-09-12"),
        (
            "<text>50</text><text>ml used</text>",
            "<text>50</text><text>ml used</text>",
            "<text>50</text><text>ml used</text>",
        ),
        (
            '<text x="1.5">0.5 µm, 12 Sep 2026</text>',
            '<text x="1.5">0.5 µm, Sep 12, 2026</text>',
            '<text x="1.5">0,5 µm, 2026-09-12</text>',
        ),
        ('<i aria-label="8.5 µm">x</i>', '<i aria-label="0.33 mil">x</i>', '<i aria-label="8,5 µm">x</i>'),
        ('<path d="M0.5 8 m 2 3">', '<path d="M0.5 8 m 2 3">', '<path d="M0.5 8 m 2 3">'),
        ("v0.1.0 PB15:3 #1.5 127.0.0.1", "v0.1.0 PB15:3 #1.5 127.0.0.1", "v0.1.0 PB15:3 #1.5 127.0.0.1"),
        (
            '<input inputmode="decimal" value="0.61"><input value="0.61">',
            '<input inputmode="decimal" value="0.61"><input value="0.61">',
            '<input inputmode="decimal" value="0,61"><input value="0.61">',
        ),
    ],
)
def test_figures_are_turned_and_nothing_else_is(text, imperial, comma):
    assert localize(text, IMPERIAL, []) == imperial
    assert localize(text, COMMA, []) == comma
    assert localize(text, BenchSettings(), []) == text


@pytest.mark.parametrize(
    "text",
    [
        "<samp>0.61 and 60 ml</samp>",
        "<textarea>Olive 0.61, 60 ml</textarea>",
        '<input type="number" inputmode="decimal" value="0.5">',
        "<b>0.61\x00</b> and 60 ml",  # a damaged name
    ],
)
def test_samples_what_is_being_written_and_what_is_damaged_stay(text):
    assert localize(text, IMPERIAL, []) == localize(text, COMMA, []) == text


def test_what_people_wrote_stays_where_it_stands_in_a_sentence():
    own = ["Bait 2.5 & 30 ml", "2 May 2026"]
    text = "<b>Bait 2.5 &amp; 30 ml</b>: 2.5 and 30 ml, 2 May 2026"
    assert localize(text, IMPERIAL, own) == "<b>Bait 2.5 &amp; 30 ml</b>: 0.08 and 1.0 fl oz, 2 May 2026"
    assert localize(text, COMMA, own) == "<b>Bait 2.5 &amp; 30 ml</b>: 2,5 and 30 ml, 2 May 2026"


def test_what_is_chosen_is_kept_in_the_folder_and_every_page_follows(bench):
    with connected(bench) as store:
        given = {"name": "Half 2.5", "kind": "ink", "size_ml": "60", "colour": "#102030"}
        cup.call_it(store, name="Cup of 2.5", note="", at=AT)
        number = keeping.add_paint(store, given, at=AT)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "60 ml" in client.get(f"/bottles/{number}").text
        chosen = {"units": "imperial", "decimals": "comma", "days": "month"}
        assert "every page follows" in client.post("/settings", data=chosen).text
        assert client.post("/settings", data={"units": "furlongs"}).status_code == 422
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:  # also after another start
        page = client.get(f"/bottles/{number}").text
        assert "2,0 fl oz" in page
        assert "Half 2.5" in page
        fragment = client.post("/mix/coats", data={"coats": "2"}, headers={"HX-Request": "true"})
        assert fragment.headers["content-length"] == str(len(fragment.content))
        mix = client.get("/mix").text
        assert "Cup of 2.5 · Diachrom" in mix
        cups = re.findall(r"<b[^>]*>(\d+[.,]\d+)</b>", mix)
        assert cups
        assert all("," in one for one in cups)
        assert "fl oz" not in client.get("/shelf/shopping.csv").text
