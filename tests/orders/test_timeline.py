"""The timeline: what dries and the windows for the next coat stand where the clock has them."""

from datetime import UTC, datetime

import pytest

from diachrom.web.orders.timeline import LEFT, WIDE, timeline
from diachrom.work.kit.schedules import Schedule, ScheduledBlock

START = datetime(2026, 11, 27, 18, 0, tzinfo=UTC)


def scheduled(*visits):
    return Schedule(START, 0, 0, 0, proven=True, cleaning=0, visits=visits, sequence=[], lines={1: ("Char", 1)})


def clear(start, end, *, opens, closes):
    return ScheduledBlock(
        "a", "work", start, end, line=1, words="clear", kind="clear", last=1, dries=opens, closes=closes
    )


def test_a_recoat_window_opens_and_closes_where_it_does():
    lane = timeline(
        scheduled(clear(0, 10, opens=60, closes=100), clear(110, 120, opens=0, closes=None)),
        done=frozenset(),
        pinned=frozenset(),
    ).lanes[0]
    (x, width, _, words), *rest = lane.windows
    minute = (WIDE - 2 * LEFT) / 120
    assert x == pytest.approx(LEFT + 70 * minute, abs=0.1)
    assert width == pytest.approx(40 * minute, abs=0.2)
    assert words.startswith("Recoat window of clear: ")
    assert not rest


def test_a_window_that_opens_after_the_evening_is_not_on_its_lane():
    lane = timeline(scheduled(clear(0, 10, opens=600, closes=900)), done=frozenset(), pinned=frozenset()).lanes[0]
    assert lane.windows == []
    assert lane.drying
