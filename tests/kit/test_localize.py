"""Figures and days as a bench reads them: chosen once, kept in the folder, on every page; what people wrote stays."""

import re

import pytest
from starlette.testclient import TestClient

from diachrom import clock
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.web.kit.localize import localize
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.mix import cup
from diachrom.work.shelf import keeping

AT = "2026-11-26T10:00:00+00:00"
PAGES = (
    *("/mix", "/pour", "/amounts", "/compare", "/family", "/recipes", "/recipes/10", "/match", "/shelf", "/shelf/new"),
    *("/shelf/shopping", "/bottles/18", "/bottles/18/change", "/bottles/18/drops", "/paints/rav-gull", "/files"),
    *("/contrast-cards/1", "/test-cards", "/test-cards/18", "/record", "/shelf-sheets", "/orders", "/orders/1"),
    *(
        "/orders/1/paint",
        "/orders/1/print",
        "/orders/bench",
        "/plan",
        "/plan/1?layer=1",
        "/plan/1/checks",
        "/plan/1/print",
    ),
    *("/plan/blanks", "/bench", "/bench/1", "/finish", "/finish/1", "/home", "/log", "/log/14", "/log/14/again"),
    *("/log/year", "/terms", "/settings", "/shelf/start", "/trainer", "/learning"),
)
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
        ("2 x 30 ml, 3 × 60 ml", "2 x 1.0 fl oz, 3 × 2.0 fl oz", "2 x 30 ml, 3 × 60 ml"),
        ("15 to 25 °C, −5 °C", "59 to 77 °F, 23 °F", "15 to 25 °C, −5 °C"),
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


def test_prices_are_in_the_bench_s_own_currency():
    euros = BenchSettings(currency="€")
    assert localize("<b>4.20</b> in your currency <input title='Price, in your currency'>", euros, []) == (
        "<b>4.20</b> € <input title='Price, in your currency'>"
    )
    assert localize("4.20 in your currency", BenchSettings(), []) == "4.20 in your currency"


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


TOKENS = re.compile(r"[−-]?\d+(?:\.\d+)?|fl oz|in²|cm²|°[CF]|[^\W\d_]+|[^\s\w]")
OTHERWISE = {
    "ml": ("fl oz", 1 / 29.5735, 0.0),
    "µm": ("mil", 1 / 25.4, 0.0),
    "bar": ("psi", 14.5038, 0.0),
    "mm": ("in", 1 / 25.4, 0.0),
    "m": ("ft", 1 / 0.3048, 0.0),
    "cm²": ("in²", 1 / 6.4516, 0.0),
    "°C": ("°F", 1.8, 32.0),
}
BETWEEN = {",", "to", "and", "or", "–", "±", "x", "×"}


def tokens(page):
    shown = re.sub(r"(?s)<(script|style|svg|textarea|samp|head)\b.*?</\1>|<(?:input|option|select)[^>]*>", " ", page)
    return TOKENS.findall(re.sub(r"<[^>]*>", " ", shown).replace("&nbsp;", " "))


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_every_figure_of_every_page_is_the_same_quantity_in_both_systems(bench, monkeypatch, part):
    monkeypatch.setattr(clock, "now", lambda: AT)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        metric = {path: tokens(client.get(path).text) for path in PAGES[part::3]}
        client.post("/settings", data={"units": "imperial"})
        imperial = {path: tokens(client.get(path).text) for path in PAGES[part::3]}
    turned = 0
    for path, told in metric.items():
        other = imperial[path]
        assert len(told) == len(other), path
        for place, (here, there) in enumerate(zip(told, other, strict=True)):
            if here == there or here in ("metric", "imperial"):
                continue
            where = (path, " ".join(told[max(0, place - 6) : place + 7]), there)
            if here in OTHERWISE:
                assert there == OTHERWISE[here][0], where
                continue
            # A figure was turned: a unit belongs to it, with nothing but figures of the same unit between.
            after = next(
                at
                for at in range(place + 1, len(told))
                if not TOKENS.fullmatch(told[at])
                or told[at] in OTHERWISE
                or (told[at] not in BETWEEN and not told[at].lstrip("−-")[:1].isdigit())
            )
            assert told[after] in OTHERWISE, where
            assert other[after] == OTHERWISE[told[after]][0], where
            _, times, offset = OTHERWISE[told[after]]
            exact, step = offset + times * float(here.replace("−", "-")), 10.0 ** -len(there.partition(".")[2])
            assert abs(float(there.replace("−", "-")) - exact) <= 0.5001 * step, where
            turned += 1
    assert turned > 20
