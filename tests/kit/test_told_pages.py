"""Pages as a bench reads them: units, comma, days, currency, language. What people wrote stays as they wrote it."""

import html
import re

import pytest
from made_up_language import spoken
from starlette.testclient import TestClient

from diachrom import clock
from diachrom.store.connection import connected, writing
from diachrom.units import FL_OZ_ML
from diachrom.web.app import create_app
from diachrom.words import IMPERIAL, MARK
from diachrom.work.match.targets import EXAMPLES as FISH
from diachrom.work.mix import cup
from diachrom.work.shelf import keeping

AT = "2026-11-26T10:00:00+00:00"
PAGES = (
    *("/mix", "/pour", "/amounts", "/compare", "/family", "/recipes", "/recipes/10", "/match", "/shelf", "/shelf/new"),
    *(
        "/shelf/shopping",
        "/shelf/here",
        "/bottles/18",
        "/bottles/18/change",
        "/bottles/18/drops",
        "/paints/rav-gull",
        "/files",
    ),
    *("/contrast-cards/1", "/test-cards", "/test-cards/18", "/record", "/shelf-sheets", "/orders", "/orders/1"),
    *("/orders/1/paint", "/orders/1/print", "/orders/bench", "/plan", "/plan/1?layer=1", "/plan/1/checks"),
    *(
        "/plan/1/print",
        "/plan/1/compare",
        "/plan/blanks",
        "/plan/tools",
        "/plan/practice",
        "/bench",
        "/bench/1",
        "/finish",
        "/finish/1",
        "/home",
        "/log",
        "/log/14",
    ),
    *(
        "/log/14/again",
        "/log/year",
        "/log/answers",
        "/home/search?q=char",
        "/terms",
        "/settings",
        "/shelf/start",
        "/trainer",
        "/learning",
        "/access",
    ),
)
TOKENS = re.compile(r"[−-]?\d+(?:\.\d+)?|fl oz|in²|cm²|°[CF]|[^\W\d_]+|[^\s\w]")
OTHERWISE = {
    "ml": ("fl oz", 1 / FL_OZ_ML, 0.0),
    "µm": ("mil", 1 / 25.4, 0.0),
    "bar": ("psi", 14.5038, 0.0),
    "mm": ("in", 1 / 25.4, 0.0),
    "m": ("ft", 1 / 0.3048, 0.0),
    "cm²": ("in²", 1 / 6.4516, 0.0),
    "°C": ("°F", 1.8, 32.0),
}
BETWEEN = {",", "to", "and", "or", "–", "±", "x", "×"}
MEASURE = re.compile(r"(?<![\w.,#:/-])([−-]?\d+(?:\.\d+)?) (ml|µm|bar|mm|m|cm²|°C)(?![\w²/])")
# As examples of what may be typed, and as a bench says what it was made of before.
EXAMPLES = ("Olive green, 60 ml, opaque", "metric: ml, µm, bar, °C", "a point: 0.61", "v0.1.0")


def shown(page):
    page = re.sub(r"(?s)<(script|style|svg|textarea|samp|kbd|head)\b.*?</\1>|<(?:input|option|select)[^>]*>", " ", page)
    text = html.unescape(re.sub(r"<[^>]*>", " ", page)).replace("\xa0", " ")
    for example in EXAMPLES:
        text = text.replace(example, "")
    return re.sub(r"\s+", " ", text)


@pytest.fixture
def read(bench, monkeypatch):
    """The pages, as text, as a bench with these settings reads them."""
    monkeypatch.setattr(clock, "now", lambda: AT)

    def read(pages, **chosen):
        with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
            client.post("/settings", data=chosen)
            return {path: shown(client.get(path).text) for path in pages}

    return read


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_every_figure_of_every_page_is_the_same_quantity_in_both_systems(read, part):
    pages = PAGES[part::3]
    metric, imperial = read(pages, units="metric"), read(pages, units="imperial")
    turned = 0
    for path in pages:
        for figure, unit in MEASURE.findall(imperial[path]):  # none is forgotten
            assert abs(float(figure.replace("−", "-"))) < IMPERIAL[unit][2], (path, figure, unit)
        here, there = TOKENS.findall(metric[path]), TOKENS.findall(imperial[path])
        assert len(here) == len(there), path
        for place, (one, other) in enumerate(zip(here, there, strict=True)):
            if one == other or one in ("metric", "imperial"):
                continue
            where = (path, " ".join(here[max(0, place - 6) : place + 7]), other)
            if one in OTHERWISE:
                assert other == OTHERWISE[one][0], where
                continue
            # A figure was turned: a unit belongs to it, with nothing but figures of the same unit between.
            after = next(
                at
                for at in range(place + 1, len(here))
                if here[at] in OTHERWISE or (here[at] not in BETWEEN and not here[at].lstrip("−-")[:1].isdigit())
            )
            assert here[after] in OTHERWISE, where
            assert there[after] == OTHERWISE[here[after]][0], where
            _, times, offset = OTHERWISE[here[after]]
            exact = offset + times * float(one.replace("−", "-"))
            # Both are rounded, each from the figure itself.
            steps = times * 10.0 ** -len(one.partition(".")[2]) + 10.0 ** -len(other.partition(".")[2])
            assert abs(float(other.replace("−", "-")) - exact) <= 0.5001 * steps, where
            turned += 1
    assert turned > 20


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_no_point_is_left_where_decimals_have_a_comma_nor_a_month_where_days_are_figures(read, part):
    pages = PAGES[part::3]
    for path, text in read(pages, decimals="comma", days="year").items():
        assert re.findall(r"(?<![\w.,#:/-])\d+\.\d+(?![\d.:/]|\w)", text) == [], path
        assert re.findall(r"\d{1,2} (?:January|March|August|November|Nov|Dec)\w* \d{4}", text) == [], path


@pytest.mark.sweep
@pytest.mark.parametrize("part", range(3))
def test_no_english_is_left_in_another_language(read, bench, tmp_path, part):
    pages = PAGES[part::3]
    english = read(pages)
    own = _own_words(bench)
    with spoken(tmp_path):
        for path, text in read(pages).items():
            left = [word for word in re.findall(r"[A-Za-z]{3,}", text) if word not in own]
            # Days and months are those of a language that is known; keys, forms and addresses are the same in each.
            assert [word for word in left if word not in SAME] == [], (path, english[path][:80])


SAME = {
    *("Diachrom", "CSV", "XLSX", "JSON", "GPL", "ASE", "CGATS", "CXF", "http", "https", "bar", "min", "Lab", "HTTPS"),
    *("January", "February", "March", "April", "May", "June", "July", "August", "September", "October", "November"),
    *(
        "December",
        "Jan",
        "Feb",
        "Mar",
        "Apr",
        "Jun",
        "Jul",
        "Aug",
        "Sep",
        "Oct",
        "Nov",
        "Dec",
        "USD",
        "CHF",
        "diachrom",
    ),
    *("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday", "Mon", "Tue", "Wed", "Thu", "Fri"),
    *("Sat", "Sun", "Ctrl", "rrggbb", "bench", "example", "open", "serve"),
}


WRITTEN = {
    "paint": ("line", "name", "pigments", "note", "thinner", "needs_under", "needs_in", "needs_over"),
    "bottle": ("note", "batch", "place"),
    "recipe_version": ("name", "note"),
    "stock_entry": ("note",),  # of the demo's own year
    "paint_profile": ("source",),
    "contrast_card_reading": ("source",),  # names of devices
    "target": ("name",),
    "test_card": ("note",),
    "bait_order": ("name", "wish", "customer"),
    "session": ("name",),
    "log_entry": ("name", "customer", "wish", "clear", "note"),
    "log_fault": ("note",),
    "eye_stock": ("kind",),
    "bench_tool": ("name",),
    "opened_tin": ("name", "sealed"),
    "photo": ("name",),
}


def _own_words(bench):
    """What people wrote: it is told as they wrote it."""
    with connected(bench) as store:
        texts = [
            str(one)
            for table, columns in WRITTEN.items()
            for row in store.execute(f"SELECT {', '.join(columns)} FROM {table}")
            for one in tuple(row)
        ]
        texts = [one for one in texts if MARK not in one]
        texts += [row[0] for row in store.execute("SELECT document FROM plan_step")]
    layers = re.findall(r'"(?:name|note)": "([^"]*)"', " ".join(texts))
    return set(re.findall(r"[A-Za-z]{3,}", " ".join([*(one for one in texts if one[:1] != "{"), *layers, *FISH])))


def test_what_is_chosen_is_kept_in_the_folder_and_every_page_follows(bench):
    with connected(bench) as store:
        given = {"name": "Half 2.5, 30 ml", "kind": "ink", "size_ml": "60", "colour": "#102030"}
        cup.call_it(store, name="Cup of 2.5", note="", at=AT)
        number = keeping.add_paint(store, given, at=AT)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "60 ml" in client.get(f"/bottles/{number}").text
        chosen = {"units": "imperial", "decimals": "comma", "days": "month", "currency": "€"}
        assert "every page follows" in client.post("/settings", data=chosen).text
        assert client.post("/settings", data={"units": "furlongs"}).status_code == 422
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:  # also after another start
        page = client.get(f"/bottles/{number}").text
        assert "2,0 fl oz" in page
        assert "Half 2.5, 30 ml" in page  # as it was written
        assert "putting Half 2.5, 30 ml on the shelf" in client.get("/shelf").text
        fragment = client.post("/mix/coats", data={"coats": "2"}, headers={"HX-Request": "true"})
        assert fragment.headers["content-length"] == str(len(fragment.content))
        mix = client.get("/mix").text
        assert "Cup of 2.5 · Diachrom" in mix
        cups = re.findall(r"<b[^>]*>(\d+[.,]\d+)</b>", mix)
        assert cups
        assert all("," in one for one in cups)
        assert " €" in client.get("/shelf/shopping").text
        assert "fl oz" not in client.get("/shelf/shopping.csv").text
        assert "fl oz" not in client.get("/api/shelf").text


def test_what_was_said_in_one_language_is_told_in_the_next(bench, tmp_path):
    """Undo, the ledger's reasons and sources are kept as keys with figures; what was kept before stays as it stands."""
    with connected(bench) as store:
        keeping.shaken(store, 18, at=AT)
        last = "WHERE id = (SELECT max(id) FROM shelf_step)"
        assert store.execute(f"SELECT did FROM shelf_step {last}").fetchone()[0].startswith(MARK)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "shaking Rav Gull" in client.get("/shelf").text
        with spoken(tmp_path):
            page = client.get("/shelf").text
        assert "shaking" not in page
        assert "Rav Gull" in page
        with connected(bench) as store, writing(store):
            store.execute(f"UPDATE shelf_step SET did = 'Rav Gull, shaken' {last}")
        with spoken(tmp_path):
            assert "Rav Gull, shaken" in client.get("/shelf").text
        refused = client.post("/api/predict", json={"layers": 3})
        assert refused.status_code == 422
        with spoken(tmp_path):  # scripts are answered in English whatever a bench reads
            assert client.post("/api/predict", json={"layers": 3}).text == refused.text


def test_what_a_form_sends_is_the_same_in_each_language(bench, tmp_path):
    """Keys and figures are sent, not the words that stand for them."""
    sent = re.compile(r'<(?:option|button|input type="(?:hidden|radio|checkbox)")[^>]*\bvalue="([^"]*)"')
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client, spoken(tmp_path):
        for path in PAGES:
            values = [one for one in sent.findall(client.get(path).text) if re.search("[а-я]{3}", one)]
            assert values == [], path
