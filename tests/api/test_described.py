"""The OpenAPI description, and a client that is generated from it."""

import json
import subprocess
import sys

import pytest
from starlette.testclient import TestClient

from diachrom.web.api.described import EXAMPLES, FILES
from diachrom.web.app import create_app
from diachrom.web.server import running


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        yield client


def test_every_property_is_described_and_every_document_has_two_examples_that_are_answered(client):
    told = client.get("/openapi.json").json()
    bare = [
        (name, key)
        for name, schema in told["components"]["schemas"].items()
        for key, own in schema.get("properties", {}).items()
        if not own.get("description")
    ]
    assert bare == []
    assert told["servers"] == [{"url": "/", "description": "this bench"}]
    posts = [path for path, own in told["paths"].items() if "post" in own]
    assert sorted(posts) == sorted(EXAMPLES)
    for path in posts:
        own = told["paths"][path]["post"]
        assert {"400", "401", "403", "404", "413", "422", "503"} <= set(own["responses"])
        examples = own["requestBody"]["content"]["application/json"]["examples"]
        assert len(examples) == 2
        for one in examples.values():
            answer = client.post(path.format(number=1), json=one["value"])
            assert str(answer.status_code) in own["responses"], (path, one["summary"])
            assert answer.is_success, (path, one["summary"], answer.text)


def test_whoever_asks_and_every_file_that_goes_out_are_described(client):
    told = client.get("/openapi.json").json()
    assert told["components"]["securitySchemes"]["key"]["scheme"] == "bearer"
    assert told["security"] == [{}, {"key": []}]
    client.post("/orders/1/schedule")
    for path in FILES:
        own = told["paths"][path]["get"]
        assert {"401", "404", "422"} <= set(own["responses"])
        asked = path.format(number=1, suffix="csv", kind="svg")
        answer = client.get(asked)
        assert answer.status_code == 200, (asked, answer.text)
        assert answer.headers["content-type"].split(";")[0] in own["responses"]["200"]["content"]
    writing = [
        path
        for path, own in told["paths"].items()
        for one in own.get("post", {}).get("parameters", ())
        if one["name"] == "Idempotency-Key"
    ]
    assert len(writing) == 7


def test_the_paints_are_listed_with_ids_that_other_documents_take(client):
    paints = client.get("/api/paints").json()
    assert len(paints) > 40
    assert [one["name"] for one in paints] == sorted(one["name"] for one in paints)
    nype = next(one for one in paints if one["name"] == "Rav Nype")
    layers = [{"parts": [{"paint": nype["id"], "drops": 1}]}]
    assert client.post("/api/predict", json={"layers": layers}).status_code == 200


# What a painter's scripts are for, each by the generated client alone.
USES = """
import json, sys
from bench_client import AuthenticatedClient
from bench_client.api.default import (
    bottle, bottles, change_plan, enter_in_ledger, enter_in_log, log, match, orders, paints, plan, plan_picture,
    plans, predict, press, recipe, recipes, save_recipe, save_version, session, sessions, shelf_file,
)
from bench_client.models import (
    EntrySent, LineSent, MatchRequest, PlanDocument, PredictRequest, PressSent, RecipeSent, Refusal,
)
address, key, reads = sys.argv[1:]
bench = AuthenticatedClient(base_url=address, token=key)
said = {}

# What is nearly gone, over the whole shelf in parts.
low, after = [], None
while True:
    part = bottles.sync(client=bench, limit=9, after=after)
    low += [one.name for one in part.bottles if one.left_ml < 0.12 * one.size_ml]
    after = part.after
    if after is None:
        break
said["low"] = low
# What left a bottle lately.
white = bottles.sync(client=bench, q="torv kritt").bottles[0]
ledger = bottle.sync(white.number, client=bench, limit=2000).ledger
said["poured"] = sum(line.ml for line in ledger if line.kind == "poured")
# A scale's reading, sent twice since the answer was lost.
reading = LineSent.from_dict({"kind": "corrected", "left_ml": 12.5})
for _ in range(2):
    told = enter_in_ledger.sync(white.number, client=bench, body=reading, idempotency_key="scale-7")
said["corrected"] = [told.left_ml, len(told.ledger)]
# A colour matched, saved as a recipe, and a coat more of it.
wish = MatchRequest.from_dict({"target": {"srgb": "#8a5a2a"}, "max_paints": 3, "max_drops": 12})
found = match.sync(client=bench, body=wish).recipes[0].to_dict()
saved = save_recipe.sync(client=bench, body=RecipeSent.from_dict({"name": "Bark", "parts": found["parts"]}))
more = save_version.sync(saved.number, client=bench, body=RecipeSent.from_dict({**saved.to_dict(), "coats": 3}))
newest = recipes.sync(client=bench, q="bark", newest=True).recipes[0]
said["recipe"] = [more.number == saved.number, more.version, newest.coats]
# How it will look over black.
layers = [{"parts": [one.to_dict() for one in more.parts], "coats": 3}]
seen = predict.sync(client=bench, body=PredictRequest.from_dict({"ground": "black", "layers": layers}))
said["over black"] = [seen.diffuse.srgb, seen.contrast_ratio]
# Every plan's picture.
some = plans.sync(client=bench, limit=3).plans
pictures = [plan_picture.sync_detailed(one.number, client=bench, width=120) for one in some]
said["pictures"] = [picture.content[1:4].decode() for picture in pictures]
# A plan renamed.
document = plan.sync(1, client=bench)
document.name = "Autumn char, thin"
said["kept"] = change_plan.sync(1, client=bench, body=document).to_dict()
said["renamed"] = plan.sync(1, client=bench).name
# What is to be painted.
own = [one for one in orders.sync(client=bench).orders if one.state == "open"]
said["orders"] = [[one.name, one.baits - one.baits_done] for one in own]
# A foot switch at the bench.
number = next(one.number for one in sessions.sync(client=bench).sessions if not one.ended)
press.sync(number, client=bench, body=PressSent.from_dict({"kind": "resume"}))
stands = session.sync(number, client=bench).step
pressed = PressSent.from_dict({"kind": "tap", "step": stands.key, "bottle": stands.pours[0].bottle})
after = press.sync(number, client=bench, body=pressed, idempotency_key="switch-1").step
said["drop"] = after.pours[0].fallen - stands.pours[0].fallen
# The year in figures, and a bait of before.
old = EntrySent.from_dict({"name": "Old perch", "baits": 2, "price": 18, "day": "2025-01-31"})
enter_in_log.sync(client=bench, body=old)
year, after = [], None
while True:
    part = log.sync(client=bench, after=after)
    year += [one for one in part.log if one.at.startswith("2025")]
    after = part.after
    if after is None:
        break
said["year"] = [sum(one.baits for one in year) > 2, year[-1].name]
# The shelf as a table; and a key that reads only.
said["table"] = shelf_file.sync_detailed("csv", client=bench).content[:3] != b""
shown = AuthenticatedClient(base_url=address, token=reads)
said["paints"] = len(paints.sync(client=shown))
refused = save_recipe.sync_detailed(client=shown, body=RecipeSent.from_dict({"name": "x", "parts": found["parts"]}))
said["refused"] = [refused.status_code.value, isinstance(refused.parsed, Refusal)]
print(json.dumps(said))
"""


def test_a_client_generated_from_it_serves_what_scripts_are_for(client, bench, tmp_path_factory):
    tmp_path = tmp_path_factory.mktemp("client")
    document = tmp_path / "openapi.json"
    document.write_text(json.dumps(client.get("/openapi.json").json()))
    command = [sys.executable, "-m", "openapi_python_client", "generate", "--path", document, "--meta", "none"]
    run = subprocess.run(
        [*command, "--output-path", tmp_path / "bench_client"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stdout + run.stderr
    made = [one.stem for one in (tmp_path / "bench_client" / "api" / "default").glob("*.py")]
    told = client.get("/openapi.json").json()["paths"]
    assert set(made) - {"__init__"} == {own["operationId"] for path in told.values() for own in path.values()}
    door = client.app.state.door
    with running(bench) as address:
        said = subprocess.run(
            [sys.executable, "-c", USES, address, *(door.new_key(may, may, at="") for may in ("write", "read"))],
            capture_output=True,
            text=True,
            check=False,
            cwd=tmp_path,
        )
    assert said.returncode == 0, said.stderr
    told = json.loads(said.stdout)
    assert told["low"]
    assert told["poured"] < 0
    assert told["corrected"] == [12.5, 1]
    assert told["recipe"] == [True, 2, 3]
    assert told["over black"][0].startswith("#")
    assert 0 < told["over black"][1] <= 1
    assert told["pictures"] == ["PNG"] * 3
    assert (told["kept"], told["renamed"]) == ({"number": 1, "problem": ""}, "Autumn char, thin")
    assert told["orders"] == [["Seven for the shop window", 7]]
    assert told["drop"] == 1
    assert told["year"] == [True, "Old perch"]
    assert told["table"]
    assert told["paints"] > 40
    assert told["refused"] == [403, True]


def test_head_is_answered_without_a_body_and_405_says_what_is_allowed(client):
    head = client.head("/terms")
    assert (head.status_code, head.content) == (200, b"")
    assert int(head.headers["content-length"]) > 1000
    for method, path, allowed in (
        ("PUT", "/settings", "GET, HEAD, POST"),
        ("GET", "/mix/add", "POST"),
        ("DELETE", "/api/paints", "GET, HEAD"),
    ):
        answer = client.request(method, path)
        assert (answer.status_code, answer.headers["allow"]) == (405, allowed)
