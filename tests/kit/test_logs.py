"""What the server says of itself: a line a request that failed or took long, a line a task, nothing that was typed."""

import logging

import pytest
from starlette.testclient import TestClient

from diachrom.errors import InvalidInput
from diachrom.web.app import create_app
from diachrom.web.kit import logs
from diachrom.work.kit.tasks import Task


@pytest.fixture
def said(caplog, monkeypatch):
    monkeypatch.setattr(logging.getLogger("diachrom"), "propagate", True)
    caplog.set_level(logging.INFO, "diachrom")
    return lambda: [(record.levelname, record.getMessage()) for record in caplog.records]


def test_a_request_is_a_line_by_its_route_and_only_what_failed_is_a_warning(bench, said, monkeypatch):
    app = create_app(bench)

    @app.get("/broken/{name}")
    def broken(name):
        raise RuntimeError(name)

    with TestClient(app, base_url="http://127.0.0.1", raise_server_exceptions=False) as client:
        client.get("/recipes?q=secret-trout")
        client.post("/plan/1/name", data={"name": "secret-trout"}, follow_redirects=False)
        client.get("/secret-trout")
        assert client.get("/broken/secret-trout").status_code == 500
        monkeypatch.setattr(logs, "SLOW_S", -1.0)
        client.get("/recipes/10")
    # A task of a test before may end meanwhile, and say so.
    every = [(level, line.partition(" in ")[0]) for level, line in said()]
    lines = [(level, line) for level, line in every if line.startswith(("GET", "POST"))]
    assert lines == [
        ("INFO", "GET /recipes: 200"),
        ("INFO", "POST /plan/{number}/name: 303"),
        ("INFO", "GET another address: 404"),
        ("WARNING", "GET /broken/{name}: 500"),
        ("WARNING", "GET /recipes/{number}: 200"),
    ]
    assert "secret" not in str(said())


def pluck(text):
    raise InvalidInput(f"'{text}' is no number.", field="x")


@pytest.mark.parametrize(
    ("does", "line"),
    [
        (lambda: None, ("INFO", "Digging finished")),
        (
            lambda: (_ for _ in ()).throw(InvalidInput("'secret-trout' is no number.", field="x")),
            ("INFO", "Digging refused by InvalidInput"),
        ),
        (lambda: 1 / 0, ("WARNING", "Digging failed")),
    ],
)
def test_a_task_is_a_line_when_it_is_over(tmp_path, said, does, line):
    class Digging(Task):
        def work(self, folder):
            does()

    task = Digging()
    try:
        task._run(tmp_path)
    except ZeroDivisionError:
        assert task.problem
    assert [(level, text.partition(" after ")[0]) for level, text in said()] == [line]


def test_a_server_is_quiet_unless_it_is_asked_to_tell_all(capsys):
    ours = logging.getLogger("diachrom")
    before = list(ours.filters), list(ours.handlers), ours.level, ours.propagate
    try:
        logs.install()
        assert not logs.REQUESTS.isEnabledFor(logging.INFO)
        logs.install(verbose=True)
        assert logs.REQUESTS.isEnabledFor(logging.INFO)
        assert sum(type(one) is logging.StreamHandler for one in ours.handlers) == 1
    finally:
        ours.filters[:], ours.handlers[:], ours.level, ours.propagate = before
