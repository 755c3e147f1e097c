"""Orders as a painter takes them on: lines, days, time, paint, what is done, the drawer; what is said of bad ones."""

import json
import time
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import pairwise

import icalendar
import numpy as np
import pytest

from diachrom.core.film.paint import Fluorescence, clear_paint, mix
from diachrom.core.mix.rinse import CLEAN, FOLLOWS, RINSE, follows
from diachrom.core.schedule.search import solve
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import connection, paints, recipes
from diachrom.store import orders as stored
from diachrom.web.orders.view import clock_change
from diachrom.work.bench import sessions as at_bench
from diachrom.work.files.checking import check_folder, mend_folder
from diachrom.work.kit import schedules
from diachrom.work.kit.bench_settings import BenchSettings
from diachrom.work.kit.tasks import Tasks
from diachrom.work.orders import bench as bench_time
from diachrom.work.orders import dragging, orders, paint, scheduling, stand_ins, waiting, work_evenings
from diachrom.work.orders.found import schedule_of
from diachrom.work.orders.laying import all_cups, following, laid_plan
from diachrom.work.orders.todo import to_do
from diachrom.work.plan import plans
from diachrom.work.shelf import shopping

AT = "2026-11-26T10:00:00+00:00"


@pytest.fixture
def taken(on):
    """Four of one plan, planned with the first answer of the search."""
    number = on(orders.new_with, {"name": "Harbour shop"}, plan=1, baits=4, at=AT)
    planned(on, number)
    return number


def planned(on, number, at=AT):
    def find(store):
        wanted = to_do(store, number, at=at)
        found = solve(wanted.work, lambda one: False)
        scheduling.keep(store, wanted, found)
        return schedule_of(wanted, found)

    return on(find)


def test_a_schedule_is_kept_as_it_was_found(on, taken):
    wanted = planned(on, taken)
    assert schedules.read(on(orders.order, taken).schedule) == wanted
    assert {visit.what for visit in wanted.visits} == {"work", "make", "clean"}
    assert wanted.lines[next(iter(wanted.lines))] == ("Autumn char", 4)


@pytest.mark.parametrize(
    "spoil",
    [
        lambda told: {**told, "format": 99},
        lambda told: {**told, "start": "then"},
        lambda told: {**told, "visits": [{"block": "x"}]},
        lambda told: {**told, "visits": [{**told["visits"][0], "start": 1e300}]},
        lambda told: [told],
    ],
)
def test_a_schedule_that_cannot_be_read_takes_no_page_down(on, taken, client, spoil):
    def spoiled(store):
        one = stored.order(store, taken)
        with connection.writing(store):
            stored.change(store, replace(one, schedule=json.dumps(spoil(json.loads(one.schedule)))))

    on(spoiled)
    for path in ("/orders", f"/orders/{taken}", f"/orders/{taken}/print"):
        assert client.get(path).status_code == 200
    assert "Schedule" in client.get(f"/orders/{taken}").text


def test_the_calendar_is_read_by_another_reader(on, taken, client):
    found = planned(on, taken)
    answer = client.get(f"/orders/{taken}/calendar.ics")
    assert answer.headers["content-type"].startswith("text/calendar")
    events = list(icalendar.Calendar.from_ical(answer.content).walk("VEVENT"))
    own = work_evenings.sessions(found)
    titles = [str(one["SUMMARY"]) for one in events]
    assert titles.count("At the bench: Harbour shop") == len(own)
    assert [one.decoded("DTSTART") for one in events[: len(own)]] == [one.start for one in own]
    ready = next(one for one in events if str(one["SUMMARY"]) == "Ready: Harbour shop")
    assert ready.decoded("DTSTART") == found.ends_at
    assert len({str(one["UID"]) for one in events}) == len(events)
    assert "Mix Autumn char, belly" in str(events[0]["DESCRIPTION"])


def test_what_is_dragged_says_what_becomes_late(on, taken):
    found = planned(on, taken)
    coat = next(one for one in found.visits if one.kind == "spray")
    late = (found.at(coat.start) + timedelta(days=3)).isoformat()
    said = on(dragging.drag, taken, coat.block, late, at=AT)
    assert "later" in said
    after = schedules.read(on(orders.order, taken).schedule)
    moved = next(one for one in after.visits if one.block == coat.block and one.what == "work")
    assert after.at(moved.start) >= datetime.fromisoformat(late)
    assert after.ends_at > found.ends_at
    # What came before it stays where it was.
    assert [one.start for one in after.visits][:2] == [one.start for one in found.visits][:2]
    on(dragging.let_go, taken)
    assert planned(on, taken).ends_at == found.ends_at
    with pytest.raises(InvalidInput, match="no longer on the schedule"):
        on(dragging.drag, taken, "9:moon:0", late, at=AT)


def test_what_was_dragged_while_a_search_went_on_stays(bench, on, taken, monkeypatch):
    found = planned(on, taken)
    coat = next(one for one in found.visits if one.kind == "spray")
    late = (found.at(coat.start) + timedelta(days=3)).isoformat()

    def dragged_meanwhile(work, go_on):
        first = solve(work, lambda one: False)
        go_on(first)
        on(dragging.drag, taken, coat.block, late, at=AT)
        return first

    monkeypatch.setattr(scheduling, "solve", dragged_meanwhile)
    task = scheduling.start(Tasks(bench), taken, at=AT)
    assert task.wait(30)
    after = schedules.read(on(orders.order, taken).schedule)
    assert after.at(next(one.start for one in after.visits if one.block == coat.block)) >= datetime.fromisoformat(late)
    assert (task.stopped, task.problem) == (True, "")
    assert on(stored.needs)
    monkeypatch.undo()
    again = scheduling.start(Tasks(bench), taken, at=AT)
    assert again.wait(30)
    assert again.finished


def test_of_two_searches_the_later_counts_also_when_the_earlier_ends_meanwhile(bench, on, taken, monkeypatch):
    def found_meanwhile(work, go_on):
        found = solve(work, lambda one: False)
        planned(on, taken, at="2026-11-27T10:00:00+00:00")  # by another
        return found

    monkeypatch.setattr(scheduling, "solve", found_meanwhile)
    task = scheduling.start(Tasks(bench), taken, at=AT)
    assert task.wait(30)
    assert (task.finished, task.problem) == (True, "")
    assert schedules.read(on(orders.order, taken).schedule).start == datetime.fromisoformat(AT)


def test_what_is_done_is_not_planned_again_and_teaches_how_paint_dries(on, client, taken):
    found = planned(on, taken)
    blocks = list(dict.fromkeys(one.block for one in found.visits if one.what != "clean"))
    sprayed = [one for one in found.visits if one.kind == "spray"]
    first, second = sprayed[0].block, sprayed[1].block
    at = datetime(2026, 11, 26, 18, 0, tzinfo=UTC)
    for block in blocks[: blocks.index(first) + 1]:
        on(waiting.done, taken, block, at=at.isoformat())
    hands = sum(one.end - one.start for one in found.visits if one.block == second)
    dry_after = 9
    on(waiting.done, taken, second, beneath="dry", at=(at + timedelta(minutes=dry_after + hands)).isoformat())
    seen = on(stored.waits)
    assert [(one.kind, one.waited_min, one.dry) for one in seen] == [(sprayed[0].paint, dry_after, True)]
    later = planned(on, taken, at=(at + timedelta(hours=1)).isoformat())
    assert not {first, second, blocks[0]} & {one.block for one in later.visits}
    assert later.sequence
    assert "Undo the last step done" in client.get(f"/orders/{taken}").text
    client.post(f"/orders/{taken}/take-back")
    again = planned(on, taken, at=(at + timedelta(hours=1)).isoformat())
    assert second in {one.block for one in again.visits}


def test_waits_that_were_too_short_make_the_next_schedule_wait_longer(on):
    before = on(bench_time.ways).of("opaque", 10, (20, 50))

    def wet(store):
        with connection.writing(store):
            for _ in range(8):
                stored.add_wait(store, stored.WaitSeen("opaque", 15, 10, False), at=AT)
                stored.add_wait(store, stored.WaitSeen("opaque", 22, 10, True), at=AT)

    on(wet)
    after = on(bench_time.ways).of("opaque", 10, (20, 50))
    assert 1.6 < after.touch / before.touch < 2.1


def test_a_schedule_of_other_baits_says_so(on, client, taken):
    changed = "This order has changed since"
    assert changed not in client.get(f"/orders/{taken}").text
    line = on(orders.lines_now, taken)[0].line
    client.post(f"/orders/{taken}/lines/{line.id}", data={"ordered": 4, "baits": 6})
    assert changed in client.get(f"/orders/{taken}").text
    planned(on, taken)
    assert changed not in client.get(f"/orders/{taken}").text


def test_other_orders_keep_the_painter_busy(on, taken):
    first = schedules.read(on(orders.order, taken).schedule)
    other = on(orders.new_with, {"name": "Another"}, plan=2, baits=2, at=AT)
    second = planned(on, other)
    own = [(first.at(one.start), first.at(one.end)) for one in first.visits]
    for one in second.visits:
        begin, end = second.at(one.start), second.at(one.end)
        assert all(end <= start or begin >= last for start, last in own)


def listed(on, number):
    return next(one for one in on(orders.listed) if one.order.number == number)


def everything_done(on, number, at):
    for block in dict.fromkeys(one.block for one in schedules.read(on(orders.order, number).schedule).visits):
        on(waiting.done, number, block, at=at)


def test_work_that_is_done_keeps_nobody_busy_and_is_offered_no_more(on, client, taken):
    alone = on(orders.new_with, {"name": "Another"}, plan=2, baits=2, at=AT)
    for number in (taken, alone):
        on(orders.set_state, number, "away" if number == taken else "open")
    free = planned(on, alone)
    on(orders.set_state, taken, "open")
    assert planned(on, alone).ends > free.ends
    some = schedules.read(on(orders.order, taken).schedule)
    on(waiting.done, taken, next(one.block for one in some.visits if one.what == "work"), at=AT)
    half = listed(on, taken)
    assert (half.baits_done, half.anything_left, half.to_hand_over) == (0, True, False)
    everything_done(on, taken, AT)
    assert planned(on, alone).ends == free.ends
    done = listed(on, taken)
    assert (done.baits_done, done.anything_left, done.to_hand_over) == (4, False, True)
    with pytest.raises(InvalidInput, match="Every step of this order is done"):
        on(at_bench.begin, taken, at=AT)
    assert f'name="order" value="{taken}"' not in client.get("/bench").text
    assert "To the bench" not in client.get(f"/orders/{taken}").text
    assert "hand it over" in client.get("/orders").text
    line = on(orders.lines_now, taken)[0].line
    client.post(f"/orders/{taken}/lines/{line.id}", data={"ordered": 5, "baits": 5})
    assert not listed(on, taken).to_hand_over  # one more than it was planned for
    assert "hand it over" not in client.get("/orders").text


def test_a_rack_is_full_until_what_hangs_there_is_dry_counted_from_when_it_was_done(on, taken):
    found = schedules.read(on(orders.order, taken).schedule)
    holding = next(one for one in found.visits if one.holds and one.held)
    on(waiting.done, taken, holding.block, at=AT)
    other = on(orders.new_with, {"name": "Another"}, plan=2, baits=1, at=AT)

    def places(store):
        return to_do(store, other, at=AT).work.bench.taken

    assert (holding.holds, 0, holding.held) in on(places)


def test_who_an_order_is_for_is_not_what_it_is_called(on, client):
    form = {"name": "", "customer": "Harbour shop", "plan": "1", "baits": "2"}
    made = client.post("/orders", data=form, follow_redirects=False).headers["location"]
    number = int(made.rpartition("/")[2])
    own = on(orders.order, number)
    assert (own.name, own.customer) == ("Autumn char", "Harbour shop")
    client.post(made, data={"name": "The window", "customer": "Ferry crew"})
    own = on(orders.order, number)
    assert (own.name, own.customer) == ("The window", "Ferry crew")
    assert "For Ferry crew" in client.get(made).text


def test_one_bait_of_every_plan_of_the_bench_is_proven_to_be_ready_as_early_as_can_be(on):
    for number in range(1, 10):
        order = on(orders.new_with, {"name": "One"}, plan=number, baits=1, at=AT)
        found = solve(on(to_do, order, at=AT).work, lambda one: not one.proven)
        assert found.proven, number
        assert found.timed.ends >= found.bound


@pytest.mark.parametrize("pair", [(1, 2), (3, 5)])
def test_twelve_of_two_plans_are_ready_within_a_tenth_of_what_nothing_can_beat(on, pair):
    order = on(orders.new_with, {"name": "Twelve"}, plan=pair[0], baits=6, at=AT)
    on(orders.add_line, order, pair[1], 6, at=AT)
    found = solve(on(to_do, order, at=AT).work, lambda one: one.timed.ends > 1.1 * one.bound)
    assert found.timed.ends <= 1.1 * found.bound


def test_ready_by_begins_as_late_as_the_day_allows(on, taken):
    soon = planned(on, taken)
    form = {"due": "2026-12-12T18:00", "ready_by": "yes"}
    on(orders.set_order, taken, form, at=AT)
    wanted = on(to_do, taken, at=AT)
    found = schedule_of(wanted, scheduling.late_enough(wanted, lambda one: False))
    due = datetime(2026, 12, 12, 18).astimezone()
    assert found.ends_at <= due
    assert found.at(found.visits[0].start) > soon.at(soon.visits[0].start) + timedelta(days=5)


def test_two_plans_pour_a_shared_mix_once(on):
    number = on(orders.new_with, {"name": "Two"}, plan=1, baits=3, at=AT)
    on(orders.add_line, number, 1, 2, at=AT)
    together = on(paint.paint, number).job
    one = on(paint.paint, on(orders.new_with, {"name": "One"}, plan=1, baits=5, at=AT)).job
    assert together.volume_ml == pytest.approx(one.volume_ml, rel=1e-6)
    assert len(together.poured) == len(one.poured)


def test_what_was_really_used_is_learned(on, taken):
    before = on(paint.paint, taken).job
    cup = before.poured[0]
    share = on(paint.used, taken, cup.key, 2 * cup.volume_ml, at=AT)
    assert share > 0.7
    assert on(paint.paint, taken).job.volume_ml > 1.3 * before.volume_ml
    with pytest.raises(InvalidInput, match="less than what lies on the baits"):
        on(paint.used, taken, cup.key, 0.01, at=AT)


def test_a_wash_and_two_thinnings_of_one_recipe_each_have_their_own_row(on, client):
    def draw(store):
        layers = [plans.layer_of(store, "recipe", "recipe:2:2"), plans.layer_of(store, "wash", "torv-sot")]
        layers.insert(1, replace(layers[0], reducer=0.5))
        plan = plans.now(store, 1).plan
        number = plans.new(store, plan.blank, name="Washed", at=AT)
        for layer in layers:
            plans.change(store, number, lambda one, layer=layer: one.with_layer(layer), did="x", at=AT)
        return number

    order = on(orders.new_with, {"name": "Wash"}, plan=on(draw), baits=2, at=AT)
    poured = on(paint.paint, order).job.poured
    assert len(poured) == 3
    text = client.get(f"/orders/{order}/paint").text
    assert all(text.count(f'value="{one.key}"') == 1 for one in poured)
    found = planned(on, order)
    assert any(one.kind == "wash" and one.mix for one in found.visits)
    assert on(paint.used, order, poured[0].key, 3 * poured[0].volume_ml, at=AT) > 0.5
    told = client.post(f"/orders/{order}/used", data={"key": poured[0].key, "used_ml": "2,5 ml"})
    assert "missed the baits" in told.text


def test_a_drag_after_some_is_done_keeps_the_order_of_the_rest(on, taken):
    found = planned(on, taken)
    blocks = list(dict.fromkeys(one.block for one in found.visits if one.what != "clean"))
    for block in blocks[:4]:
        on(waiting.done, taken, block, at=AT)
    rest = [one.block for one in found.visits if one.what != "clean" and one.block in blocks[4:]]
    last = found.visits[-1]
    on(dragging.drag, taken, last.block, (found.at(last.start) + timedelta(minutes=5)).isoformat(), at=AT)
    after = schedules.read(on(orders.order, taken).schedule)
    assert list(dict.fromkeys(one.block for one in after.visits if one.what != "clean")) == list(dict.fromkeys(rest))
    assert after.bound <= after.ends


def test_what_a_customer_wrote_stays_as_it_is_in_inches(on, client, taken):
    on(orders.set_order, taken, {"wish": "spots of 3 mm"}, at=AT)
    client.app.state.settings = lambda: BenchSettings(units="imperial")
    assert "spots of 3 mm" in client.get(f"/orders/{taken}/print").text


def test_the_shopping_list_knows_open_orders(on, client, taken):
    assert on(shopping.shopping_list, at=AT).orders == []
    client.post(f"/orders/{taken}/lines", data={"plan": 5, "baits": 150})
    found = on(shopping.shopping_list, at=AT)
    assert [(one.number, one.name) for one in found.orders] == [(taken, "Harbour shop")]
    assert any("short of what is coming" in row.why for row in found.rows)
    assert "Harbour shop" in client.get("/shelf/shopping").text
    on(orders.set_state, taken, "away")
    assert on(shopping.shopping_list, at=AT).orders == []


def test_a_stand_in_is_shown_on_the_bait(on, taken, client):
    paint_id = next(one.paint for one in on(paint.paint, taken).job.bottles if one.name.startswith("Torv"))
    found = on(stand_ins.stand_in, taken, paint_id)
    assert "stands in for" in found.words
    assert "dE" in found.seen[0].words
    line = found.seen[0].line
    own, other = (
        client.get(f"/orders/{taken}/stand-in.png", params={"line": line, "paint": paint_id, "key": key}).content
        for key in ("", found.key)
    )
    assert own[:4] == other[:4] == b"\x89PNG"
    assert own != other


def test_a_stand_in_that_is_the_paint_itself_changes_nothing(on, taken):
    own = next(one for one in on(paint.paint, taken).job.bottles if one.name.startswith("Torv"))

    def both(store):
        plan = orders.lines_now(store, taken)[0].plan
        same = {own.paint: [(paints.profile(store, own.paint), 1.0)]}
        return [stand_ins.painted_bait(store, plan, cells=(60, 24), instead=one)[0].factors for one in ({}, same)]

    assert np.allclose(*on(both), atol=1e-6)


def test_what_is_over_lies_in_the_drawer_and_is_taken_for_the_next_order(on, client, taken):
    line = on(orders.lines_now, taken)[0].line
    client.post(f"/orders/{taken}/lines/{line.id}", data={"ordered": 4, "baits": 6})
    client.post(f"/orders/{taken}/finish", data={f"painted-{line.id}": "6"})
    assert [(one.count, name) for one, name in on(orders.drawer)] == [(2, "Autumn char")]
    assert on(orders.order, taken).state == "done"
    following = on(orders.new_with, {"name": "Next"}, plan=1, baits=5, at=AT)
    own = on(orders.lines_now, following)[0]
    assert own.in_stock == 2
    assert on(orders.from_drawer, following, own.line.id, at=AT) == 2
    assert on(orders.lines_now, following)[0].line.baits == 3
    assert on(orders.drawer) == []
    # Painted as many as were left: nothing is over.
    assert on(orders.finish, following, {}, at=AT) == 0


def test_an_order_that_is_finished_again_brings_its_surplus_once(on, client, taken):
    line = on(orders.lines_now, taken)[0].line
    client.post(f"/orders/{taken}/lines/{line.id}", data={"ordered": 4, "baits": 6})
    for painted, over in (("6", 2), ("6", 2), ("7", 3), ("4", 0)):
        client.post(f"/orders/{taken}/finish", data={f"painted-{line.id}": painted})
        assert sum(one.count for one, _ in on(orders.drawer)) == over
        client.post(f"/orders/{taken}/state", data={"state": "open"})


def test_baits_of_the_drawer_lie_there_again_when_their_line_is_taken_off_or_painted_after_all(on, client, taken):
    on(orders.take_out, 1, on(orders.lines_now, taken)[0].line.version, -3, at=AT)
    line = on(orders.lines_now, taken)[0].line
    on(orders.from_drawer, taken, line.id, at=AT)
    assert on(orders.drawer) == []
    client.post(f"/orders/{taken}/lines/{line.id}", data={"ordered": 4, "baits": 3})
    assert [one.count for one, _ in on(orders.drawer)] == [2]
    client.post(f"/orders/{taken}/lines/{line.id}/remove")
    assert on(orders.lines_now, taken) == []
    assert [one.count for one, _ in on(orders.drawer)] == [3]


def test_drawers_that_were_kept_wrongly_are_put_right(on, bench, taken):
    line = on(orders.lines_now, taken)[0].line
    of = (line.plan, line.version)

    def wrong(store):
        with connection.writing(store):
            for why, count, own in ((stored.AGAIN, 2, None), (stored.OVER, 2, None), (stored.TAKEN, -1, 999)):
                stored.put_stock(store, of, count, order=taken, why=why, line=own, at=AT)

    on(wrong)
    told = [one for one in check_folder(bench) if one.startswith(f"Order {taken}")]
    assert [("twice" in one, "not on it any more" in one) for one in told] == [(True, False), (False, True)]
    mend_folder(bench)
    assert [one.count for one, _ in on(orders.drawer)] == [2]
    assert check_folder(bench) == []


def test_a_plan_and_a_recipe_that_changed_since_are_told(on, client, taken):
    assert on(orders.lines_now, taken)[0].changed == []
    on(plans.change, 1, lambda plan: plan.copied(plan.layers[0].number), did="more", at=AT)
    on(plans.save, 1, at=AT)
    told = on(orders.lines_now, taken)[0]
    assert told.newest > told.line.version
    assert f"The plan is at version {told.newest} since" in client.get(f"/orders/{taken}").text
    client.post(f"/orders/{taken}/lines/{told.line.id}/newest")
    assert on(orders.lines_now, taken)[0].line.version == told.newest


def test_a_recipe_that_was_changed_since_is_told(on, client, taken):
    def changed(store):
        with connection.writing(store):
            saved = recipes.version(store, 10)
            recipes.add_version(store, saved.draft, recipe=10, parent_version=saved.version, at=AT)

    on(changed)
    told = on(orders.lines_now, taken)[0].changed
    assert told == ["Autumn char, belly is at version 3 since; this plan sprays version 2."]
    assert told[0] in client.get(f"/orders/{taken}").text


@pytest.mark.parametrize(
    ("path", "data", "words"),
    [
        ("/orders", {"name": "x", "plan": "1", "baits": "0"}, "1 to 500 baits, not 0"),
        ("/orders", {"name": "x", "plan": "1", "baits": "many"}, "a whole number"),
        ("/orders", {"name": "x", "due": "2020-01-04T18:00"}, "is over"),
        ("/orders", {"name": "x", "due": "someday"}, "as a day and an hour"),
        (
            "/orders/bench",
            {"from-monday": "22:00", "until-monday": "18:00"},
            "Monday: the bench closes at 18:00 before",
        ),
        ("/orders/bench", {"from-monday": "25:00", "until-monday": "26:00"}, "hours and minutes"),
        ("/orders/bench", {"rack": "0"}, "rack of none holds no bait"),
        ("/orders/bench", {"turner": "-2"}, "turner of none"),
        ("/orders/bench", {"coat": "999"}, "0 to 240 minutes"),
        ("/orders/drying", {"kind": "opaque", "flash": "90", "touch": "5", "through": "12"}, "no longer than"),
        (
            "/orders/drying",
            {"kind": "two-part", "flash": "1", "touch": "2", "through": "3", "opens": "6", "closes": "1"},
            "closes before it opens",
        ),
        ("/orders/drying", {"kind": "moon"}, "no kind of paint"),
    ],
)
def test_bad_input_is_said_plainly_and_loses_nothing(client, on, path, data, words):
    before = len(on(stored.every))
    answer = client.post(path, data=data, headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert words in answer.text
    assert len(on(stored.every)) == before
    assert on(bench_time.bench_time) == bench_time.BenchTime()


def test_nobody_at_the_bench_is_said(on):
    with pytest.raises(InvalidInput, match="No hours at the bench"):
        on(bench_time.keep, replace(bench_time.BenchTime(), hours=(("", ""),) * 7))


def test_two_hundred_baits_are_planned_and_counted(on):
    number = on(orders.new_with, {"name": "Many"}, plan=2, baits=200, at=AT)
    found = planned(on, number)
    done = {(one.step, bait) for one in found.visits if one.what == "work" for bait in range(one.first, one.last)}
    steps = {one.step for one in found.visits if one.what == "work"}
    assert len(done) == 200 * len(steps)
    assert found.ends > 7 * 24 * 60


def test_an_order_that_never_fits_says_so(on, client, taken):
    on(bench_time.keep, replace(bench_time.BenchTime(), hours=(("18:00", "18:05"), *((("", ""),) * 6))))
    client.post(f"/orders/{taken}/schedule")
    for _ in range(100):
        text = client.get(f"/orders/{taken}/schedule", headers={"HX-Request": "true"}).text
        if "longest time at the bench" in text:
            break
        time.sleep(0.05)
    assert "the longest time at the bench is 5 min" in text
    assert "The last schedule is still there" in text


@pytest.fixture
def northern(monkeypatch):
    """A place whose clocks change on 28 March 2027 and on 31 October."""
    monkeypatch.setenv("TZ", "Europe/Oslo")
    time.tzset()
    yield
    monkeypatch.undo()
    time.tzset()


def test_evenings_are_by_the_clock_when_the_clocks_change(northern):
    start = datetime(2027, 3, 26, 12, 0, tzinfo=UTC)  # a Friday
    evenings = (("18:00", "22:00"),) * 7
    hours = bench_time.hours_from(evenings, start, days=4).windows
    begins = [start + timedelta(minutes=at) for at, _ in hours]
    assert [one.astimezone().hour for one in begins] == [18, 18, 18, 18]
    assert [one.hour for one in begins] == [17, 17, 16, 16]
    assert clock_change(start, start + timedelta(days=4)) == "Sunday 28 March"
    assert clock_change(start, start + timedelta(days=1)) == ""
    night = bench_time.hours_from((("01:00", "05:00"),) * 7, start, days=4).windows
    assert [last - first for first, last in night] == [240, 180, 240]


def test_a_cup_is_cleaned_where_a_rest_would_be_seen():
    def own(absorption, scattering):
        base = clear_paint("x", "opaque")
        return mix([replace(base, absorption=np.full(36, absorption), scattering=np.full(36, scattering))], np.ones(1))

    white, grey, black = own(0.0005, 0.6), own(0.01, 0.3), own(0.9, 0.02)
    table = follows([white, grey, black])
    assert table[0][2] == FOLLOWS  # a rest of white in black
    assert table[2][0] in (CLEAN, RINSE)
    assert table[2][0] != FOLLOWS
    assert [table[at][at] for at in range(3)] == [FOLLOWS] * 3
    assert follows([]) == []


def test_between_a_colour_and_white_or_what_shines_it_is_always_cleaned():
    def own(absorption, scattering, **more):
        base = clear_paint("x", "opaque")
        profile = replace(base, absorption=np.full(36, absorption), scattering=np.full(36, scattering), **more)
        return mix([profile], np.ones(1))

    shining = Fluorescence(450, 30, 0.2, 520, 20, 0.4)
    white, pale, pink, neon = (
        own(0.0005, 0.6),
        own(0.004, 0.4),
        own(0.02, 0.02, fluorescence=replace(shining, emits_nm=610)),
        own(0.02, 0.02, fluorescence=shining),
    )
    table = follows([white, pale, pink, neon])
    assert table[1][0] == CLEAN  # a colour, and then white
    assert table[1][3] == CLEAN
    assert table[2][3] == CLEAN  # pink, and then neon yellow
    assert table[0][1] == FOLLOWS


def test_mixes_stand_in_the_order_of_the_layers_that_take_them(on):
    laid = [on(lambda store, number=number: laid_plan(store, plans.now(store, number).plan, 1)) for number in (1, 2)]
    cups = {key: one for key, one in all_cups(laid).items() if "|" in key}
    costs = {(one.first, one.second): one.how for one in following(cups)}
    found = paint.cup_order(laid)
    assert len(found) == len(cups)
    assert [one.layer for one in found] == sorted(one.layer for one in found)
    alone = paint.cup_order(laid[:1])
    assert [one.key for one in alone] == list(dict.fromkeys(step.mix for step in laid[0].laid if "|" in step.mix))
    assert [one.before for one in found[1:]] == [costs[one.key, other.key] for one, other in pairwise(found)]


def test_orders_that_are_gone_say_so(client):
    for path in ("/orders/999", "/orders/999/paint", "/orders/999/calendar.ics", "/orders/999/print"):
        assert client.get(path).status_code == 404
    assert client.post("/orders/1/lines/999/remove").status_code == 404
    assert client.get("/orders/1/calendar.ics").status_code == 422


def test_a_day_before_its_beginning_is_refused(on, taken):
    on(orders.set_order, taken, {"due": "2026-12-05T18:00", "price": "210,50"}, at=AT)
    with pytest.raises(DiachromError, match="cannot begin"):
        on(orders.set_order, taken, {"starts": "2026-12-06T09:00"}, at=AT)
    assert on(orders.order, taken).price == 210.5
    with pytest.raises(InvalidInput, match="Give the date"):
        on(orders.set_order, taken, {"due": "", "ready_by": "yes"}, at=AT)
