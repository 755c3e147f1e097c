"""The OpenAPI description, and a client that is generated from it."""

import json
import subprocess
import sys

import pytest
from starlette.testclient import TestClient

from diachrom.web.api.described import EXAMPLES
from diachrom.web.app import create_app
from diachrom.web.server import running


@pytest.fixture(scope="module")
def client(filled):
    with TestClient(create_app(filled), base_url="http://127.0.0.1") as client:
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
        assert {"400", "403", "404", "413", "422", "503"} <= set(own["responses"])
        examples = own["requestBody"]["content"]["application/json"]["examples"]
        assert len(examples) == 2
        for one in examples.values():
            assert client.post(path, json=one["value"]).status_code == 200, (path, one["summary"])


def test_the_paints_are_listed_with_ids_that_other_documents_take(client):
    paints = client.get("/api/paints").json()
    assert len(paints) > 40
    assert [one["name"] for one in paints] == sorted(one["name"] for one in paints)
    nype = next(one for one in paints if one["name"] == "Rav Nype")
    layers = [{"parts": [{"paint": nype["id"], "drops": 1}]}]
    assert client.post("/api/predict", json={"layers": layers}).status_code == 200


def test_a_client_generated_from_it_works(client, filled, tmp_path):
    document = tmp_path / "openapi.json"
    document.write_text(json.dumps(client.get("/openapi.json").json()))
    command = [sys.executable, "-m", "openapi_python_client", "generate", "--path", document, "--meta", "none"]
    run = subprocess.run(
        [*command, "--output-path", tmp_path / "bench_client"], capture_output=True, text=True, check=False
    )
    assert run.returncode == 0, run.stdout + run.stderr
    told = json.dumps(EXAMPLES["/api/predict"]["two coats on white"])
    script = (
        "import json, sys\n"
        "from bench_client import Client\n"
        "from bench_client.api.default import paints, predict\n"
        "from bench_client.models import PredictRequest\n"
        "bench = Client(base_url=sys.argv[1])\n"
        f"asked = PredictRequest.from_dict(json.loads({told!r}))\n"
        "answer = predict.sync(client=bench, body=asked)\n"
        "print(len(paints.sync(client=bench)), answer.diffuse.srgb, answer.contrast_ratio)\n"
    )
    with running(filled) as address:
        said = subprocess.run(
            [sys.executable, "-c", script, address], capture_output=True, text=True, check=False, cwd=tmp_path
        )
    assert said.returncode == 0, said.stderr
    many, srgb, ratio = said.stdout.split()
    assert int(many) > 40
    assert srgb.startswith("#")
    assert 0 < float(ratio) <= 1


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
