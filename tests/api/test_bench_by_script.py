"""A bench by script: read in parts, written once, undone as by hand, and open to nobody without a key."""

from concurrent.futures import ThreadPoolExecutor

import pytest
from starlette.testclient import TestClient

from diachrom.web.app import create_app

HOST = "http://192.0.2.7:8765"
WORDS = "four plain words here"
LISTS = ("bottles", "recipes", "plans", "orders", "sessions", "log")
BACKUP = ("GET", "/files/backups/day-2026-12-02.sqlite3")  # a page, whatever its name
SPILL = {"kind": "spilled", "ml": 1.5, "note": "over the mat"}


@pytest.fixture(scope="module")
def reading(filled):
    with TestClient(create_app(filled), base_url="http://127.0.0.1") as client:
        yield client


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1", follow_redirects=False) as client:
        yield client


@pytest.fixture
def elsewhere(bench):
    """(a machine on the network without a key, what makes a key)"""
    app = create_app(bench)
    app.state.names.network = HOST
    app.state.door.set_passphrase(WORDS)
    with TestClient(app, base_url=HOST, follow_redirects=False) as client:
        yield client, app.state.door


def bearing(key):
    return {"Authorization": f"Bearer {key}"}


@pytest.mark.parametrize("name", LISTS)
def test_a_list_comes_in_parts_each_once_from_either_end(reading, name):
    whole = reading.get(f"/api/{name}?limit=2000").raise_for_status().json()
    numbers = [one["number"] for one in whole[name]]
    assert numbers == sorted(set(numbers))
    assert numbers
    assert whole["after"] is None
    for newest in (False, True):
        walked, after = [], ""
        while after is not None:
            part = reading.get(f"/api/{name}?limit=7&newest={newest}{after}").json()
            walked += [one["number"] for one in part[name]]
            after = None if part["after"] is None else f"&after={part['after']}"
        assert walked == sorted(numbers, reverse=newest)
    assert reading.get(f"/api/{name}?after={2**53}").json()[name] == []


def test_words_find_what_the_pages_find(reading):
    def found(name, query):
        return [one["number"] for one in reading.get(f"/api/{name}", params={"q": query}).json()[name]]

    assert found("bottles", "nothing is called so") == []
    pearls = reading.get("/api/bottles?q=pearl&limit=2000").json()["bottles"]
    assert {"pearl"} <= {one["kind"] for one in pearls}
    assert len(pearls) < len(reading.get("/api/bottles?limit=2000").json()["bottles"])
    assert found("recipes", "hornbeam") == found("recipes", "Nordlys Fiol") == [11]
    assert found("plans", "cuckoo") == [2]
    assert found("orders", "harbour") == [1]
    assert found("sessions", "butterfish") == [1]
    assert 1 in found("log", "cuckoo wrasse wall")
    kinds = {one["kind"] for one in reading.get("/api/sessions/1?q=tap").json()["events"]}
    assert kinds == {"tap"}


@pytest.mark.parametrize(
    ("path", "status", "field"),
    [
        ("bottles?limit=0", 422, "limit"),
        ("bottles?limit=2001", 422, "limit"),
        ("log?after=1e999", 422, "after"),
        (f"log?after={10**30}", 422, "after"),
        (f"plans?q={'x' * 201}", 422, "q"),
        ("recipes/999", 404, "recipe"),
        ("bottles/999", 404, "bottle"),
        ("plans/999", 404, "plan"),
        ("sessions/999", 404, "session"),
        (f"plans/{10**30}", 422, "number"),
    ],
)
def test_what_cannot_be_read_is_said_with_its_field(reading, path, status, field):
    answer = reading.get(f"/api/{path}")
    assert (answer.status_code, answer.json()["field"].split(".")[-1]) == (status, field)
    assert len(answer.json()["error"]) > 10


def test_what_is_sent_again_is_done_once_and_answered_the_same(client):
    before = client.get("/api/bottles/3").json()["left_ml"]
    own = {"Idempotency-Key": "tuesday-1"}
    with ThreadPoolExecutor(6) as threads:
        answers = list(threads.map(lambda _: client.post("/api/bottles/3/ledger", json=SPILL, headers=own), range(6)))
    assert {answer.status_code for answer in answers} == {201}
    assert len({answer.text for answer in answers}) == 1
    assert client.get("/api/bottles/3").json()["left_ml"] == before - 1.5
    other = client.post("/api/bottles/3/ledger", json={**SPILL, "ml": 2}, headers=own)
    assert (other.status_code, other.json()["field"]) == (422, "Idempotency-Key")
    elsewhere = client.post("/api/bottles/4/ledger", json=SPILL, headers=own)
    assert elsewhere.status_code == 422
    for key in ("x" * 201, "\x07"):
        odd = client.post("/api/bottles/3/ledger", json=SPILL, headers={"Idempotency-Key": key})
        assert (odd.status_code, odd.json()["field"]) == (422, "Idempotency-Key")
    refused = {"Idempotency-Key": "wednesday"}  # what was refused may be sent again, put right
    assert client.post("/api/bottles/3/ledger", json={**SPILL, "ml": 9999}, headers=refused).status_code == 422
    assert client.post("/api/bottles/3/ledger", json=SPILL, headers=refused).status_code == 201
    assert client.get("/api/bottles/3").json()["left_ml"] == before - 3


def test_what_a_script_writes_is_undone_as_by_hand(client):
    bottle = client.get("/api/bottles/3?limit=2000").json()
    for line in (
        {"kind": "bought", "ml": 20},
        {"kind": "poured", "ml": 2.5, "note": "by the scale"},
        {"kind": "thrown away", "ml": 4},
        {"kind": "corrected", "left_ml": 31},
    ):
        told = client.post("/api/bottles/3/ledger", json=line).json()
        assert [one["kind"] for one in told["ledger"]] == [line["kind"]]
    assert told["left_ml"] == 31
    same = client.post("/api/bottles/3/ledger", json={"kind": "corrected", "left_ml": 31}).json()
    assert (same["left_ml"], same["ledger"]) == (31, [])
    for _ in range(4):
        assert client.post("/shelf/undo").status_code == 303
    assert client.get("/api/bottles/3").json()["left_ml"] == bottle["left_ml"]

    plan = client.get("/api/plans/1").json()
    less = {**plan, "layers": plan["layers"][:1], "name": "Thinner"}
    assert client.post("/api/plans/1", json=less).json() == {"number": 1, "problem": ""}
    assert client.get("/api/plans/1").json()["name"] == "Thinner"
    client.post("/plan/1/undo")
    assert client.get("/api/plans/1").json() == plan

    session = client.get("/api/sessions/1").json()
    step = session["step"]
    first = step["pours"][0]
    client.post("/api/sessions/1/press", json={"kind": "resume"}).raise_for_status()
    press = {"kind": "tap", "step": step["key"], "bottle": first["bottle"]}
    once = {"Idempotency-Key": "drop-1"}
    for _ in range(2):
        told = client.post("/api/sessions/1/press", json=press, headers=once).json()
        assert [one["kind"] for one in told["events"]] == ["tap"]
        assert told["step"]["pours"][0]["fallen"] == first["fallen"] + 1
    back = {"kind": "untap", "step": step["key"], "bottle": first["bottle"]}
    assert client.post("/api/sessions/1/press", json=back).json()["step"]["pours"][0]["fallen"] == first["fallen"]


def test_what_one_document_answers_the_other_takes(client):
    recipe = client.get("/api/recipes/10").json()
    made = client.post("/api/recipes", json=recipe).json()
    assert made["number"] != 10
    for key in ("name", "note", "parts", "ground", "film_um", "coats", "clear_coat", "sealed"):
        assert made[key] == recipe[key]
    next_one = client.post("/api/recipes/10", json={**recipe, "coats": recipe["coats"] + 1}).json()
    assert (next_one["number"], next_one["version"]) == (10, recipe["version"] + 1)
    again = client.post("/api/recipes/10", json=next_one).json()
    assert again["version"] == next_one["version"]  # the same makes no double
    layers = [{"parts": recipe["parts"], "film_um": recipe["film_um"], "coats": recipe["coats"]}]
    assert client.post("/api/predict", json={"layers": layers}).status_code == 200

    found = client.post("/api/match", json={"target": {"srgb": "#8a5a2a"}, "max_drops": 12}).json()["recipes"][0]
    saved = client.post("/api/recipes", json={"name": "Matched", "parts": found["parts"]}).json()
    assert [(one["paint"], one["drops"]) for one in saved["parts"]] == [
        (one["paint"], one["drops"]) for one in found["parts"]
    ]

    plan = client.get("/api/plans/2").json()
    number = client.post("/api/plans", json=plan).json()["number"]
    brought = client.get(f"/api/plans/{number}").json()
    odd = ("number", "saved_version")
    assert {key: one for key, one in brought.items() if key not in odd} == {
        key: one for key, one in plan.items() if key not in odd
    }

    entry = client.get("/api/log?newest=true&limit=1").json()["log"][0]
    logged = client.post("/api/log", json=entry).json()
    assert logged["number"] != entry["number"]
    for key in ("name", "baits", "customer", "wish", "price", "clear", "weight_g", "minutes", "note", "plan"):
        assert logged[key] == entry[key]
    assert logged["at"][:10] == entry["at"][:10]


@pytest.mark.parametrize(
    ("path", "sent", "words"),
    [
        ("recipes", {"name": "x", "parts": []}, "parts"),
        ("recipes", {"name": " ", "parts": [{"bottle": 4, "drops": 1}]}, "name"),
        ("recipes", {"name": "x", "parts": [{"drops": 1}]}, "Say which bottle"),
        ("recipes", {"name": "x", "parts": [{"paint": "nope", "drops": 1}]}, "No bottle of 'nope'"),
        ("recipes", {"name": "x", "parts": [{"bottle": 999, "drops": 1}]}, "no bottle number 999"),
        ("recipes", {"name": "x", "parts": [{"bottle": 4, "drops": 1}], "coat": 2}, "coat"),
        ("recipes", {"name": "x", "parts": [{"bottle": 4, "drops": 1}], "coats": 99}, "Coats must be"),
        ("recipes", {"name": "x", "parts": [{"bottle": 4, "drops": 1}], "ground": "lava"}, "lava"),
        ("recipes", {"name": "x", "parts": [{"bottle": 4, "drops": 1}], "ground": "recipe:77:1"}, "does not exist"),
        ("bottles/3/ledger", {"kind": "drunk", "ml": 1}, "kind"),
        ("bottles/3/ledger", {"kind": "spilled"}, "needs ml"),
        ("bottles/3/ledger", {"kind": "corrected", "ml": 3}, "needs left_ml"),
        ("bottles/3/ledger", {"kind": "spilled", "ml": -1}, "0 to"),
        ("bottles/3/ledger", {"kind": "spilled", "ml": 119}, "Correct what is left first"),
        ("plans", {"format": "tune", "version": 1}, "no plan of a bait"),
        ("plans", {"format": "diachrom-plan", "version": 99}, "newer version"),
        ("log", {"name": "x", "day": "2999-01-01"}, "still to come"),
        ("log", {"name": "x", "day": "soon"}, "no day"),
        ("log", {"name": "x", "plan": 999}, "no plan 999"),
        ("sessions/1/press", {"kind": "dance"}, "Nothing called 'dance'"),
        ("sessions/9/press", {"kind": "next"}, "no session 9"),
    ],
)
def test_what_cannot_be_written_is_refused_and_changes_nothing(client, path, sent, words):
    before = {name: client.get(f"/api/{name}?limit=2000").text for name in LISTS}
    answer = client.post(f"/api/{path}", json=sent)
    assert answer.status_code in (404, 422)
    assert words in f"{answer.json()['field']}: {answer.json()['error']}"
    assert {name: client.get(f"/api/{name}?limit=2000").text for name in LISTS} == before


def test_a_plan_that_is_read_in_part_says_what_was_left_out(client):
    plan = client.get("/api/plans/1").json()
    broken = {**plan, "layers": [*plan["layers"][:2], {"number": "two", "what": 7}]}
    kept = client.post("/api/plans", json=broken).json()
    assert kept["problem"] == "Layer 3 cannot be read and is left out."
    assert len(client.get(f"/api/plans/{kept['number']}").json()["layers"]) == 2


def test_from_elsewhere_a_key_reads_or_writes_and_is_away_once_it_is_sent_away(elsewhere):
    client, door = elsewhere
    bare = client.get("/api/bottles")
    assert (bare.status_code, bare.headers["www-authenticate"]) == (401, "Bearer")
    reads, writes = (door.new_key(name, may, at="") for name, may in (("phone", "read"), ("scale", "write")))
    assert client.get("/api/bottles", headers=bearing(reads)).status_code == 200
    assert client.post("/api/predict", headers=bearing(reads), json={"layers": []}).status_code == 200
    assert client.get("/files/shelf.csv", headers=bearing(reads)).status_code == 200
    assert client.get("/openapi.json", headers=bearing(reads)).status_code == 200
    denied = client.post("/api/bottles/3/ledger", headers=bearing(reads), json=SPILL)
    assert (denied.status_code, "reads only" in denied.json()["error"]) == (403, True)
    assert client.post("/api/bottles/3/ledger", headers=bearing(writes), json=SPILL).status_code == 201
    for method, path in (
        ("GET", "/home"),
        ("GET", "/access"),
        ("POST", "/shelf/undo"),
        ("POST", "/files/bench"),
        BACKUP,
    ):
        page = client.request(method, path, headers=bearing(writes))
        assert (page.status_code, page.json()["error"]) == (403, "A key opens /api/ and files, not pages.")
    client.cookies.set("device", reads)
    assert client.get("/api/bottles").status_code == 401  # no key comes in as a browser
    client.cookies.clear()
    door.set_passphrase("other plain words")
    assert client.get("/api/bottles", headers=bearing(reads)).status_code == 200  # it was never let in by one
    for device in door.every():
        door.send_away(device.number)
    for key in (reads.encode(), writes.encode(), b"", b"x" * 500, "ключ".encode()):
        away = client.get("/api/bottles", headers={"Authorization": b"Bearer " + key})
        assert (away.status_code, away.json()["field"]) == (401, "Authorization")
        assert "sent away" in away.json()["error"]


def test_at_the_machine_no_key_is_needed_and_one_that_was_sent_away_is_refused_all_the_same(client):
    said = client.post("/access/key", data={"name": "night job", "may": "read"})
    key = said.text.split('<samp id="key">')[1].split("<")[0]
    assert "night job" in said.text
    assert key not in client.get("/access").text
    assert client.get("/api/log", headers=bearing(key)).status_code == 200
    assert client.post("/api/log", headers=bearing(key), json={"name": "x"}).status_code == 403
    assert client.post("/api/log", json={"name": "x"}).status_code == 201
    number = client.get("/access").text.split('name="number"')[1].split('value="')[1].split('"')[0]
    client.post("/access/away", data={"number": number})
    assert client.get("/api/log", headers=bearing(key)).status_code == 401
    assert client.get("/api/log", headers={"Authorization": "Basic eDp5"}).status_code == 200  # a proxy's own
    for form, words in (({"may": "read"}, "what the key is for"), ({"name": "x", "may": "fly"}, "reads, or reads and")):
        assert words in client.post("/access/key", data=form).text


def test_an_event_tells_by_which_key_it_came_and_two_scripts_may_have_the_same_key_of_their_own(elsewhere):
    client, door = elsewhere
    own = [bearing(door.new_key(name, "write", at="")) for name in ("scale", "button")]
    for headers in own:
        told = client.post(
            "/api/sessions/1/press", json={"kind": "back"}, headers={**headers, "Idempotency-Key": "1"}
        ).raise_for_status()
    assert [one["by"] for one in told.json()["events"]] == ["button"]
    events = client.get("/api/sessions/1?newest=true&limit=2", headers=own[0]).json()["events"]
    assert [one["by"] for one in events] == ["button", "scale"]
