"""No stored state takes a page down: every page of a folder full of awkward rows answers, and what is wrong is said."""

import re
from shutil import copyfile

import pytest
from awkward import ODD_DRAFTS, put_cup, spoil
from starlette.testclient import TestClient

from diachrom.store.connection import connected, database
from diachrom.store.migrate import backup
from diachrom.web.app import create_app
from diachrom.work.files.checking import check_folder
from diachrom.work.kit.bench_settings import BenchSettings

pytestmark = pytest.mark.sweep

NUMBERS = {
    "bottle": (900, 901, 902, 903, 904, 907, 911),
    "number": (90, 91, 93, 94, 96, 77, 900, 905, 909, 911, 912),
    "card": (1, 5, 9),
}
PAINTS = ("odd-0", "odd-4", "odd-7", "odd-kind", "bare", "rav-gull")


@pytest.fixture(scope="module")
def copied(copied, tmp_path_factory):
    """The demo bench spoilt, in one file."""
    folder = tmp_path_factory.mktemp("spoilt")
    copyfile(copied, database(folder))
    spoil(folder)
    with connected(folder) as connection:
        backup(connection, folder / "whole")
    return folder / "whole"


@pytest.fixture
def odd(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1", raise_server_exceptions=True) as client:
        yield client, bench


def addresses(app):
    """Every address that a page can be got at, with the rows that were spoilt."""
    for route in app.routes:
        if "GET" not in (getattr(route, "methods", None) or ()):
            continue
        names = re.findall(r"{(\w+)[^}]*}", route.path)
        if not names:
            yield route.path
        paints = PAINTS[1:3] if "substitutes" in route.path else PAINTS
        for value in paints if "paint_id" in names else NUMBERS.get(names[0], (900,)) if names else ():
            yield re.sub(r"{\w+[^}]*}", str(value), route.path)
    for suffix in ("csv", "xlsx", "json", "gpl", "ase", "cgats", "cxf"):
        yield f"/files/shelf.{suffix}"
    for number in range(1, 20):
        yield f"/shelf-sheets/{number}"
        yield f"/shelf-sheets/{number}/sheet"
    for number in range(90, 104):
        yield f"/plan/{number}?layer=1"
        yield f"/plan/{number}/skin?rough=1"
        yield f"/plan/{number}/at?u=0.4&v=0.2&light=moon"
        yield f"/plan/{number}/at?u=0.4&v=0.2"
        yield f"/plan/{number}/picture.png?width=90"
        yield f"/plan/{number}/reference"
        yield f"/bench/{number}"
        yield f"/bench/{number}/effect"
        yield f"/log/{number}"
        yield f"/log/{number}/again"
        yield f"/log/{number}/card"
        yield f"/log/{number}/page.html"
        yield f"/bench/{number}/sides"
        yield f"/bench/{number}/sides/left.png"
        yield f"/bench/{number}/picture.png"
        yield f"/finish/{number}"
        yield f"/finish/faults?session={number}&fault=tacky"
        yield f"/orders/{number}"
        yield f"/orders/{number}/paint"
        yield f"/orders/{number}/calendar.ics"
    yield from (
        "/shelf?order=hue",
        "/shelf?order=low&gone=true",
        "/shelf?q=olive",
        "/compare?by=mix&mix=recipe:90:1",
        "/shelf/labels?bottle=900&bottle=911",
    )


def test_every_page_of_a_folder_full_of_awkward_rows_answers(odd):
    client, _ = odd
    answers = {path: client.get(path).status_code for path in dict.fromkeys(addresses(client.app))}
    assert {path: status for path, status in answers.items() if status >= 500} == {}
    whole = (
        "/mix",
        "/pour",
        "/shelf",
        "/recipes",
        "/match",
        "/amounts",
        "/compare",
        "/test-cards",
        "/record",
        "/learning",
        "/orders",
        "/orders/bench",
        "/orders/91",
        "/orders/92",
        "/bench",
        "/bench/91",
        "/bench/98",
        "/bench/99",
        "/finish",
        "/home",
        "/log",
        "/log/year",
        "/log/answers",
        "/bench/timers",
        "/log/91",
    )
    assert [path for path in whole if answers.get(path) != 200] == []
    client.app.state.settings = lambda: BenchSettings(units="imperial", decimals="comma", days="year")
    assert [path for path in whole if client.get(path).status_code != 200] == []
    assert len(answers) > 100
    for letter in "aeio1":
        assert client.get("/home/search", params={"q": letter}).status_code == 200


@pytest.mark.parametrize("draft", ODD_DRAFTS)
def test_an_awkward_cup_is_shown_said_and_can_be_changed_and_undone(odd, draft):
    client, bench = odd
    put_cup(bench, draft)
    for path in ("/mix", "/pour", "/amounts", "/compare", "/family", "/mix/next", "/test-cards", "/match"):
        assert client.get(path).status_code < 500, path
    page = client.get("/mix")
    assert page.status_code == 200
    assert 'hx-post="/mix/undo"' in page.text
    added = client.post("/mix/add", data={"bottle": "22"}, headers={"HX-Request": "true"})
    assert added.status_code == 200
    assert "drop" in added.text
    assert client.post("/mix/undo", headers={"HX-Request": "true"}).status_code == 200


def test_check_names_everything_that_is_awkward(odd):
    _, bench = odd
    found = "\n".join(check_folder(bench))
    for words in (
        "has the kind 'varnish'",
        "has the id 'a/b'",
        "has the id '..'",
        "it has no profile",
        "its profile cannot be used",
        "Recipe 77 has no version",
        "Its ground cannot be 'mud'",
        "More than 40 recipes lie on one another",
        "Version 1 of recipe 9999 does not exist",
        "Spray-out card 900: It cannot be read",
        "Target 1 cannot be read",
        "What was learned as number",
        "of the trainer cannot be read",
        "What was learned as number 5 cannot be read as a whole",
        "Spray-out card 900: a colour of its reading",
        "How recipe 90, version 1, was poured cannot be read as a whole",
        "How recipe 14, version 1, was poured cannot be read as a whole",
        "bought_on: '2026-99-99' is no day",
        "at: 'then' is no time",
        "holds a character that cannot be written",
        "inf is no amount",
    ):
        assert words in found, words
