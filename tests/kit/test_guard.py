"""Who is answered, what a fault is answered with, and that what was saved is said to be."""

from random import Random

import pytest
from awkward import ODD_DRAFTS, put_cup, spoil
from fuzzing import PNG, request, routes
from starlette.testclient import TestClient

from diachrom.errors import Busy, ReadersBusy
from diachrom.exchange import sheets
from diachrom.store import cups
from diachrom.store.connection import connected
from diachrom.web.app import create_app
from diachrom.web.kit.guard import HEADERS
from diachrom.web.pour import routes as pages

HTMX = {"HX-Request": "true"}
HUGE = 10**30


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        yield client


def drops(folder):
    with connected(folder) as store:
        return cups.now(store).draft.drops


@pytest.mark.parametrize("host", ["127.0.0.1", "127.0.0.1:8765", "localhost:8765", "[::1]:8765", "LOCALHOST"])
def test_this_machine_is_answered_under_its_own_names(client, host):
    assert client.get("/mix", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "host", ["evil.invalid", "127.0.0.1.evil.example:8765", "localhost.evil.example", "", "127.0.0.1:x"]
)
def test_a_name_that_somebody_else_pointed_here_is_not_answered(client, bench, host):
    before = drops(bench)
    for method, path in (("GET", "/files/shelf.json"), ("POST", "/mix/new"), ("GET", "/static/kit.css")):
        answer = client.request(method, path, headers={"Host": host})
        assert answer.status_code == 421
        assert "answers to 127.0.0.1" in answer.text
    assert drops(bench) == before


@pytest.mark.parametrize("site", ["cross-site", "same-site"])
def test_other_sites_change_nothing_and_have_nothing_computed(client, bench, site):
    before = drops(bench)
    for method, path in (("POST", "/mix/new"), ("GET", "/match/found"), ("POST", "/api/predict"), ("GET", "/mix/next")):
        assert client.request(method, path, headers={"Sec-Fetch-Site": site}).status_code == 403
    assert drops(bench) == before
    link = {"Sec-Fetch-Site": site, "Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}
    assert client.get("/recipes/10", headers=link).status_code == 200


@pytest.mark.parametrize(
    "there", ["http://evil.example/shelf", "http://127.0.0.1//evil.example/", "http://127.0.0.1@evil.example/", "x"]
)
def test_nobody_is_sent_to_a_foreign_address(client, there):
    answer = client.post("/theme", data={"theme": "booth"}, headers={"Referer": there}, follow_redirects=False)
    assert answer.headers["location"] == "/mix"


def test_codes_on_paper_name_this_server_and_not_what_a_request_calls_it(client):
    pages_of = [
        client.get("/shelf/labels?bottle=22", headers={"Host": host}).text for host in ("127.0.0.1", "localhost:1")
    ]
    assert pages_of[0] == pages_of[1]


def test_every_answer_carries_the_headers_that_of_a_fault_too(client, monkeypatch):
    monkeypatch.setattr(cups, "now", lambda _: 1 / 0)
    for path, status in (("/mix", 500), ("/nowhere", 404), ("/static/kit.css", 200), ("/bottles/x", 422)):
        answer = client.get(path)
        assert answer.status_code == status
        assert {name: answer.headers.get(name) for name in HEADERS} == HEADERS


def _busy(*_):
    raise Busy


def test_a_saved_drop_is_never_called_unsaved_when_its_page_cannot_be_drawn(client, bench, monkeypatch):
    before = drops(bench)
    monkeypatch.setattr(pages, "pour_page", lambda *_: 1 / 0)
    answer = client.post("/pour/fall", data={"bottle": 22}, headers=HTMX)
    assert drops(bench) == before + 1
    assert (answer.status_code, answer.headers["HX-Retarget"]) == (200, "#said")
    assert answer.text.startswith("Saved; this page could not be drawn.")
    monkeypatch.setattr(pages, "pour_page", _busy)
    answer = client.post("/pour/fall", data={"bottle": 22}, headers=HTMX)
    assert (drops(bench), answer.status_code) == (before + 2, 200)
    assert answer.text.strip() == "Saved; this page could not be drawn."
    monkeypatch.setattr(cups, "append", lambda *_, **__: 1 / 0)
    answer = client.post("/pour/fall", data={"bottle": 22}, headers=HTMX)
    assert (answer.status_code, drops(bench)) == (500, before + 2)
    assert "was not saved" in answer.text


def test_a_press_that_is_sent_again_is_answered_and_not_counted_again(client, bench):
    before = drops(bench)
    answers = [client.post("/pour/fall", data={"bottle": 22}, headers={**HTMX, "X-Tap": "one"}) for _ in range(3)]
    assert drops(bench) == before + 1
    assert [answer.status_code for answer in answers] == [200, 204, 204]
    odd = client.post("/theme", data={"theme": "booth"}, headers={"Referer": "http://["}, follow_redirects=False)
    assert odd.headers["location"] == "/mix"
    plain = {"X-Tap": "one", "Referer": "http://127.0.0.1/pour"}
    answer = client.post("/pour/fall", data={"bottle": 22}, headers=plain, follow_redirects=False)
    assert (answer.status_code, answer.headers["location"]) == (303, "/pour")
    assert client.post("/pour/fall", data={"bottle": 22}, headers={"X-Tap": "x" * 81}).status_code == 422


def test_what_is_typed_goes_into_no_header_as_it_stands(client):
    photo = {"file": ("p.png", PNG.getvalue(), "image/png")}
    card = client.post("/paints/rav-gull/card", headers=HTMX).headers["HX-Redirect"]
    for field in ("over_white", "\U0001f41f", "a\r\nSet-Cookie: x=y"):
        answer = client.post(f"{card}/photo", data={"field": field}, files=photo, headers=HTMX)
        assert answer.status_code == 204
        assert "set-cookie" not in answer.headers
        assert answer.headers["HX-Redirect"].isascii()


def test_too_many_files_at_once_is_busy_and_no_fault_of_the_folder(client, monkeypatch):
    def crowded(*_, **__):
        raise ReadersBusy

    monkeypatch.setattr(sheets, "run_sandboxed", crowded)
    answer = client.post("/files/import", files={"file": ("a.csv", b"name,kind")})
    assert answer.status_code == 503
    assert "Too many files are being read right now" in answer.text


def test_a_damaged_folder_is_called_damaged_and_not_full(client, bench):
    path = bench / "diachrom.sqlite3"
    path.write_bytes(b"")
    answer = client.get("/shelf")
    assert answer.status_code == 503
    assert "The data are damaged" in answer.text


@pytest.mark.parametrize(
    "path", ["/bottles/{}", "/recipes/{}", "/contrast-cards/{}", "/test-cards/{}", "/trainer/{}", "/files/import/{}"]
)
def test_a_number_beyond_any_row_is_said_in_a_path_and_in_a_form(client, path):
    assert client.get(path.format(HUGE)).status_code == 422
    for form in ("/mix/add", "/mix/pour", "/match/choose", "/match/leave-out", "/pour/fall"):
        answer = client.post(form, data={"bottle": HUGE, "target": HUGE, "drops": 1}, headers=HTMX)
        assert answer.status_code == 422


def test_whatever_is_sent_to_any_route_of_an_awkward_folder_is_answered(bench):
    """A short form of a long run: 10,000 such requests were sent when this was written."""
    spoil(bench)
    random = Random(3)
    with TestClient(create_app(bench), base_url="http://127.0.0.1", follow_redirects=False) as client:
        known = list(routes(client.app))
        assert len(known) > 120
        for at in range(250):
            if at % 40 == 0:
                put_cup(bench, random.choice(ODD_DRAFTS))
            method, path, given = request(random, known)
            assert client.request(method, path, **given).status_code < 500, (method, path, given)
