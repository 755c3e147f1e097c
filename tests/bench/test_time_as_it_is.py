"""Real times: when things were done, what an evening that ended early gives back, what is in the airbrush."""

from datetime import datetime, timedelta

import pytest
from at_bench import Hand

from diachrom import clock
from diachrom.core.schedule.search import solve
from diachrom.store import log
from diachrom.store import orders as stored
from diachrom.work.bench import sessions
from diachrom.work.kit import schedules
from diachrom.work.log import filling
from diachrom.work.orders import airbrush, orders, scheduling
from diachrom.work.orders.todo import to_do

AT = "2026-11-26T18:00:00+00:00"  # a Thursday; the bench is open from six to ten


def later(minutes):
    return (datetime.fromisoformat(AT) + timedelta(minutes=minutes)).isoformat()


def planned(on, number):
    def plan_it(store):
        wanted = to_do(store, number, at=AT)
        scheduling.keep(store, wanted, solve(wanted.work, lambda found: False))

    on(plan_it)
    return schedules.read(on(stored.order, number).schedule)


@pytest.fixture
def evening(on):
    """A session over an order, begun as it was planned."""
    order = on(orders.new_with, {"name": "Harbour shop"}, plan=1, baits=2, at=AT)
    planned(on, order)
    return order, Hand(on, on(sessions.begin, order, at=AT))


def test_the_schedule_goes_on_from_what_was_done_and_the_evening_gives_its_hours_back(on, evening):
    order, hand = evening
    first = schedules.read(on(stored.order, order).schedule)
    for minute in (0, 20, 41):  # slower than it was planned
        hand.goes_on(later(minute))
    on(filling.end, hand.number, at=later(45))
    second = schedules.read(on(stored.order, order).schedule)
    done = on(stored.done, [order])[order]
    left = schedules.left(second, done)
    assert left
    begins = min(second.at(block.start) for block in left)
    assert begins.date() > datetime.fromisoformat(AT).date()  # not in the hours that were left of this evening
    assert second.ends_at >= first.ends_at
    # Another order has them.
    other = on(orders.new_with, {"name": "Boathouse"}, plan=1, baits=1, at=AT)
    todo = on(to_do, other, at=later(45))
    assert todo.work.bench.hours.fit(0, 30) == 0


def test_all_done_nothing_is_planned_anew(on, evening):
    order, hand = evening
    while hand.here is not None:
        hand.goes_on(AT)
    before = on(stored.order, order)
    on(filling.end, hand.number, at=later(200))
    assert on(stored.order, order) == before


def test_an_entry_tells_its_hours(on, evening, client):
    _, hand = evening
    for minute in range(0, 120, 15):
        hand.goes_on(later(minute))
    (entry,) = on(filling.end, hand.number, at=later(110))
    began, ended = on(log.entry, entry).told["hours"]
    assert (clock.moment(began), clock.moment(ended)) == (
        datetime.fromisoformat(AT),
        datetime.fromisoformat(later(105)),
    )
    assert "18:00 to 19:45" in client.get(f"/log/{entry}").text


def test_what_is_in_the_airbrush_is_known_until_it_is_cleaned_or_left_alone(on, evening):
    order, hand = evening
    now = sessions.seconds(AT)
    assert on(airbrush.loaded, now) == ()
    while not (hand.here.mix and hand.here.kind != "make"):
        hand.goes_on(AT)
    mix = hand.here.mix
    hand.goes_on(AT)
    assert on(airbrush.loaded, now + 60) == (mix,)
    assert on(to_do, order, at=later(1)).work.bench.loaded == (mix,)
    assert on(airbrush.loaded, now + 7 * 3600) == ()
    while hand.here.kind != "clean":
        hand.goes_on(AT)
    hand.goes_on(AT)
    assert on(airbrush.loaded, now + 60) == ()
