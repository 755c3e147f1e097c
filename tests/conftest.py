"""Shared by all tests: the same random examples on every run, and a demo bench to change."""

import os
from fcntl import LOCK_EX, flock
from shutil import copyfile

import pytest
from at_bench import over_plan_with, visits
from hypothesis import settings
from in_browser import accessible, address, browser_context_args, browser_type_launch_args, page, refusals, still
from starlette.testclient import TestClient

from diachrom.demo.bench import fill
from diachrom.store.connection import connected, database
from diachrom.store.migrate import backup, migrate
from diachrom.web.app import create_app
from diachrom.work.sim.bench import devices as simulated

__all__ = ["accessible", "address", "browser_context_args", "browser_type_launch_args", "page", "refusals", "still"]

LONG = ("test_awkward", "test_log", "test_rows_at_once", "test_targets")

settings.register_profile("steady", derandomize=True, deadline=None, max_examples=60)
settings.load_profile("steady")


def pytest_collection_modifyitems(config, items):
    """Of the sweeps a third by turns, where a turn is given (TURN=0, 1 or 2). Long files first: whoever runs them is
    not waited for at the end."""
    turn = os.environ.get("TURN", "")
    if turn:
        sweeps = sorted((item for item in items if item.get_closest_marker("sweep")), key=lambda item: item.nodeid)
        waiting = [item for place, item in enumerate(sweeps) if place % 3 != int(turn) % 3]
        config.hook.pytest_deselected(items=waiting)
        left = set(waiting)
        items[:] = [item for item in items if item not in left]
    items.sort(key=lambda item: not (item.path.stem.endswith("_in_browser") or item.path.stem in LONG))


@pytest.fixture(scope="session")
def copied(tmp_path_factory):
    """The demo bench in one file, whole, with nobody at it: filled by the first who needs it, for all that run."""
    base = tmp_path_factory.getbasetemp()
    shared = base.parent if "PYTEST_XDIST_WORKER" in os.environ else base
    file = shared / "whole"
    with (shared / "filling").open("w") as lock:
        flock(lock, LOCK_EX)
        if not file.exists():
            folder = tmp_path_factory.mktemp("bench")
            fill(folder)
            with connected(folder) as connection:
                backup(connection, file)
    return file


@pytest.fixture(scope="session")
def filled(copied, tmp_path_factory):
    """The demo bench as it is delivered; not to be changed."""
    folder = tmp_path_factory.mktemp("bench")
    copyfile(copied, database(folder))
    return folder


@pytest.fixture
def bench(copied, tmp_path):
    """A copy of the demo bench that a test may change."""
    copyfile(copied, database(tmp_path))
    return tmp_path


@pytest.fixture
def store(bench):
    """A copy of the demo bench, opened, for what a user can do."""
    with connected(bench) as connection:
        yield connection


@pytest.fixture
def empty(tmp_path):
    """An empty folder, opened."""
    folder = tmp_path / "empty"
    migrate(folder)
    with connected(folder) as connection:
        yield connection


class Clock:
    """Seconds that pass when a test says so."""

    now = 0.0

    def __call__(self):
        return self.now

    def wait(self, seconds):
        self.now += seconds


@pytest.fixture
def clock():
    return Clock()


@pytest.fixture
def unplugged(bench, clock):
    """The simulated devices of the bench."""
    return simulated(bench, clock=clock, wait=clock.wait)


@pytest.fixture
def devices(unplugged, clock):
    """All of them plugged in and warm, the bench reader on its tile."""
    for key in (*unplugged.readers, *unplugged.scales):
        unplugged.plug(key, plugged=True)
    clock.wait(60)
    with unplugged.reader("bench") as reader:
        reader.calibrate()
    return unplugged


@pytest.fixture
def on(bench):
    """Do something on the bench as it is by then: a visit of its own each time."""
    return visits(bench)


@pytest.fixture
def over_plan(on):
    """A session over a plan of the bench."""
    return over_plan_with(on)


@pytest.fixture
def client(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        yield client
