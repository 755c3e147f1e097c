"""Times are kept in UTC and said as the bench's own day."""

import time
import zipfile
from types import SimpleNamespace

import pytest

from diachrom import clock
from diachrom.web.kit.formatting import day, short_day
from diachrom.work.files.checking import check_folder


@pytest.fixture
def far_east(monkeypatch):
    monkeypatch.setenv("TZ", "XST-10")
    time.tzset()
    yield
    monkeypatch.undo()
    time.tzset()


@pytest.mark.usefixtures("far_east")
def test_an_evening_in_utc_is_the_next_morning_at_the_bench():
    assert day("2026-11-24T20:00:00+00:00") == "25 November 2026"
    assert short_day("2026-11-24T20:00:00+00:00") == "25 Nov 2026"
    assert clock.today("2026-11-24T20:00:00+00:00") == "2026-11-25"
    assert day("2026-11-24") == "24 November 2026"  # a day that was kept as one is that day everywhere


@pytest.mark.parametrize("text", ["", "then", "2026-99-99", "0001-01-01T00:00:00+00:00", "9999-12-31T23:59:59-12:00"])
def test_what_is_no_time_is_shown_as_it_stands(text):
    assert clock.moment(text) is None
    assert day(text) == text[:20]


@pytest.mark.parametrize("year", [1970, 1979, 2108, 2150, 9999])
def test_a_clock_that_is_centuries_off_keeps_nothing_from_being_kept_or_going_out(client, monkeypatch, year):
    class Wrong(clock.datetime):
        @classmethod
        def now(cls, zone=None):
            return clock_of_then(year, 6, 1, 10, tzinfo=zone)

    clock_of_then, seconds = clock.datetime, (year - 1970) * 365.25 * 86_400
    monkeypatch.setattr(clock, "datetime", Wrong)
    wrong = SimpleNamespace(time=lambda: seconds, localtime=time.localtime, strftime=time.strftime)
    monkeypatch.setattr(zipfile, "time", wrong)
    assert client.post("/bottles/22/shaken").status_code == 200
    for path in (
        "/home",
        "/bottles/22",
        "/log",
        "/orders/1",
        "/files/bench.zip",
        "/files/shelf.xlsx",
        "/files/shelf.json",
    ):
        assert client.get(path).status_code == 200, path
    assert check_folder(client.app.state.folder) == []
