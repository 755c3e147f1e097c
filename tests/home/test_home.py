"""The first page: what is under way and at which drop, what dries, what is due, what runs low."""

from datetime import datetime, timedelta

from starlette.testclient import TestClient

from diachrom.core.schedule.search import solve
from diachrom.store.migrate import migrate
from diachrom.web.app import create_app
from diachrom.work.home import now
from diachrom.work.log import entries, filling
from diachrom.work.orders import orders, scheduling
from diachrom.work.orders.todo import to_do

EVENING = "2026-11-26T16:00:00+00:00"  # a Thursday: the bench opens at 18:00


def test_what_is_under_way_says_at_which_drop_it_stopped_and_goes_on_by_one_press(client, on):
    found = on(now.now, at=EVENING)
    assert [(one.name, one.words, one.drop) for one in found.under_way] == [
        ("Butterfish", "step 3 of 18: Mix Butterfish, spots", "2 of 7 drops of Glo Oransje are in")
    ]
    page = client.get("/", follow_redirects=True).text
    assert "2 of 7 drops of Glo Oransje are in" in page
    assert 'href="/bench/1"' in page


def test_what_dries_soonest_stands_first_and_a_window_by_its_closing(over_plan, on):
    hand = over_plan(plan=1, baits=2, one_by_one=True)
    hand.goes_to(lambda step: step.kind == "spray" and step.first == 1)
    hand.goes_on()
    waiting = on(now.now, at=EVENING).waiting
    assert len(waiting) >= 2
    assert {one.session for one in waiting} == {hand.number}


def test_a_step_that_an_order_has_for_today_is_due_until_it_is_done(on, client):
    order = on(orders.new_with, {"name": "Quick"}, plan=1, baits=1, at=EVENING)

    def plan_it(store):
        wanted = to_do(store, order, at=EVENING)
        scheduling.keep(store, wanted, solve(wanted.work, lambda found: False))

    on(plan_it)
    due = on(now.now, at=EVENING).due
    assert due
    assert due[0].words.startswith("Sand")
    assert [one.at for one in due] == sorted(one.at for one in due)
    assert on(now.now, at="2027-06-01T10:00:00+00:00").due == []
    tomorrow = (datetime.fromisoformat(EVENING) + timedelta(days=60)).date().isoformat()
    on(orders.set_order, order, {"due": f"{tomorrow}T18:00"}, at=EVENING)
    ready = on(now.now, at=f"{tomorrow}T08:00:00+00:00").due
    assert [(one.name, one.words) for one in ready] == [("Quick", "due")]


def test_what_runs_low_must_be_shaken_or_is_past_its_day(on):
    found = on(now.now, at=EVENING)
    assert found.to_buy > 0
    assert [one.state for one in found.to_shake] == ["settled"]
    assert [one.tin.school for one in found.tins] == ["dip"]


def test_an_empty_folder_leads_into_the_first_evening(tmp_path):
    migrate(tmp_path)
    with TestClient(create_app(tmp_path), base_url="http://127.0.0.1") as client:
        for path in ("/", "/home"):
            assert client.get(path, follow_redirects=False).headers["location"] == "/shelf/start"


def test_what_was_cleared_may_not_be_fished_before_it_has_cured(over_plan, on, client):
    hand = over_plan(plan=1, baits=1)
    while hand.here is not None:
        hand.goes_on(at="2026-11-26T20:00:00+00:00")
    (number,) = on(filling.end, hand.number, at="2026-11-26T20:30:00+00:00")
    laid = datetime.fromisoformat("2026-11-26T20:00:00+00:00").timestamp()
    (told,) = [one for one in on(entries.one, number).entry.told["cleared"] if one == "two-part"]
    assert told == "two-part"

    def cures(at):
        return on(lambda store: now._curing(store, at))

    (one,) = cures(laid + 3600)
    assert (one.entry, one.handle, one.fish) == (number, laid + 86_400, laid + 3 * 86_400)
    assert cures(laid + 4 * 86_400) == []
    assert client.get("/home").status_code == 200
