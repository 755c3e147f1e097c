"""A few kills of the server while two tap; `make torture` does three hundred."""

import sqlite3
from contextlib import closing

import pytest
from torture import faults, levels, torture

from diachrom.store.connection import database

KILLS = 3


pytestmark = pytest.mark.sweep


@pytest.fixture(scope="module")
def tortured(filled, tmp_path_factory):
    """What was pressed, where, and the bottles' levels before."""
    folder = tmp_path_factory.mktemp("tortured")
    with closing(sqlite3.connect(database(filled))) as old, closing(sqlite3.connect(database(folder))) as new:
        old.backup(new)
    before = levels(folder)
    return folder, torture(folder, KILLS, seed=7), before


def test_not_one_press_is_lost_or_counted_twice(tortured):
    folder, told, before = tortured
    assert sum(told.counted.values()) > 20
    assert faults(folder, told, before) == []


def test_the_torture_finds_a_press_that_was_lost(tortured):
    folder, told, before = tortured
    with closing(sqlite3.connect(database(folder), isolation_level=None)) as db:
        db.execute("DELETE FROM session_event WHERE session = ? AND seq = 9", [told.session])
    assert faults(folder, told, before)
