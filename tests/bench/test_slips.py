"""Slips and how the plan goes on from there; what was different, what is left over; ledgers after all of it."""

import pytest

from diachrom.core.session.repeated_step import run_of
from diachrom.errors import InvalidInput
from diachrom.store import bottles, paints
from diachrom.store.finish import eyes
from diachrom.web.bench.view import bench_page
from diachrom.work.bench import sessions


def levels(on):
    return {one.id: one.left_ml for one in on(bottles.every)}


def test_a_slip_puts_its_layers_in_again_on_its_bait_alone(over_plan):
    hand = over_plan(baits=3)
    here = hand.goes_to(lambda step: step.kind == "mask" and step.side == "right")
    place, count = hand.session.state.position, len(hand.session.script.steps)
    hand.does("slip", step=here.key, what="run", bait=1)
    hand.does("mend", step=here.key, value="1,2,3", bait=1, note="Block it out, then lay it again.")
    own = hand.session
    run = own.state.run(own.script)
    again = run[place : place + len(run) - count]
    by_hand, *again = again
    assert (by_hand.kind, by_hand.words, by_hand.first, by_hand.last) == ("mend", "Block it out", 1, 2)
    assert all(one.words.startswith("Again: ") for one in again if one.kind != "make")
    assert {(one.first, one.last) for one in again if one.kind != "make"} == {(1, 2)}
    assert [one.layer for one in again if one.kind != "make"] == [1, 1, 1, 2, 2, 2]  # its own layer is still to come
    assert [one.kind for one in again if one.kind == "make"] == ["make", "make"]  # each mix once
    assert run[place + 1 + len(again)].key == here.key
    assert all(not one.block for one in again)


def test_a_spot_takes_what_is_tapped_for_it_and_no_more(over_plan, on):
    hand = over_plan()
    here = hand.goes_to(lambda step: step.layer == 2)
    hand.does("mend", step=here.key, value="1", bait=0)
    assert hand.here.kind == "mend"
    hand.goes_on()
    make = hand.here
    assert make.kind == "make"
    assert make.drops == 0
    before = levels(on)
    one = make.pours[0]
    for _ in range(2):
        hand.does("tap", step=make.key, bottle=one.bottle)
    hand.goes_on()
    after = levels(on)
    assert before[one.bottle] - after[one.bottle] == pytest.approx(2 * one.drop_ml)
    assert {key: ml for key, ml in after.items() if key != one.bottle} == pytest.approx(
        {key: ml for key, ml in before.items() if key != one.bottle}
    )


def test_what_is_mended_without_laying_again_only_says_so(over_plan):
    hand = over_plan()
    here = hand.goes_to(lambda step: step.layer == 1)
    hand.does("slip", what="splatter", bait=0)
    hand.does("mend", value="", bait=0, note="left as it is")
    own = hand.session
    assert run_of(own.script, own.state.again) is own.script.steps
    assert own.state.here(own.script) == here


@pytest.mark.parametrize(
    ("kind", "more", "words"),
    [
        ("mend", {"value": "1,x"}, "give their numbers"),
        ("slip", {"what": "run", "bait": 7}, "not of bait 8"),
        ("different", {"what": "coats", "value": "many"}, "is no number"),
        ("different", {"what": "coats", "value": "99"}, "Coats: 0 to 50"),
        ("different", {"what": "colour", "value": "pink"}, "darker than meant"),
        ("fact", {"what": "moon", "value": "1"}, "Nothing called 'moon'"),
        ("fact", {"what": "temperature_c", "value": "99"}, "Temperature: -20 to 60"),
        ("left", {"what": "river"}, "What is left goes"),
        ("photo", {"what": "top", "value": "1"}, "left or the right side"),
    ],
)
def test_what_cannot_be_told_is_said(over_plan, kind, more, words):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    before = hand.session
    with pytest.raises(InvalidInput, match=words):
        hand.does(kind, **more)
    assert hand.session == before


def test_all_of_it_pours_the_rest_of_every_bottle(over_plan, on):
    hand = over_plan()
    make = hand.goes_to(lambda step: step.kind == "make")
    before = levels(on)
    hand.does("tap", step=make.key, bottle=make.pours[0].bottle)
    hand.goes_on(value="all")
    after = levels(on)
    for one in make.pours:
        assert before[one.bottle] - after[one.bottle] == pytest.approx(one.drops * one.drop_ml)


def test_two_drops_more_told_afterwards_are_charged_as_well(over_plan, on):
    hand = over_plan()
    make = hand.goes_to(lambda step: step.kind == "make")
    one = make.pours[0]
    before = levels(on)
    hand.goes_on()
    hand.does("back")
    for _ in range(2):
        hand.does("tap", step=make.key, bottle=one.bottle)
    assert before[one.bottle] - levels(on)[one.bottle] == pytest.approx((one.drops + 2) * one.drop_ml)
    hand.goes_on()
    assert before[one.bottle] - levels(on)[one.bottle] == pytest.approx((one.drops + 2) * one.drop_ml)


def test_a_bottle_that_stood_in_is_charged_in_the_place_of_the_other(over_plan, on):
    hand = over_plan()
    make = hand.goes_to(lambda step: step.kind == "make")
    one, other = make.pours[0], 31
    before = levels(on)
    hand.does("different", step=make.key, what="bottle", bottle=one.bottle, value=str(other))
    hand.goes_on()
    after = levels(on)
    assert after[one.bottle] == before[one.bottle]
    assert before[other] - after[other] == pytest.approx(one.drops * one.drop_ml)
    with pytest.raises(Exception, match="no bottle number 9999"):
        hand.does("different", what="bottle", bottle=one.bottle, value="9999")


def test_what_was_told_is_taken_back_with_what_it_charged(over_plan, on):
    hand = over_plan()
    make = hand.goes_to(lambda step: step.kind == "make")
    one, other = make.pours[0], 31
    before = levels(on)
    hand.does("different", step=make.key, what="bottle", bottle=one.bottle, value=str(other))
    hand.goes_on()
    hand.goes_on()
    hand.does("unsay")
    after = levels(on)
    assert after[other] == pytest.approx(before[other])
    assert before[one.bottle] - after[one.bottle] == pytest.approx(one.drops * one.drop_ml)
    with pytest.raises(InvalidInput, match="Nothing was reported"):
        hand.does("unsay")


def test_what_was_told_at_a_step_that_came_again_is_taken_back_as_well(over_plan, on):
    hand = over_plan()
    here = hand.goes_to(lambda step: step.layer == 2)
    hand.does("mend", step=here.key, value="1", bait=0)
    hand.goes_on()
    make, other = hand.here, 31
    one, before = make.pours[0], levels(on)
    hand.does("different", step=make.key, what="bottle", bottle=one.bottle, value=str(other))
    hand.does("tap", step=make.key, bottle=one.bottle)
    hand.goes_on()
    assert before[other] - levels(on)[other] == pytest.approx(one.drop_ml)
    hand.does("unsay")
    after = levels(on)
    assert after[other] == pytest.approx(before[other])
    assert before[one.bottle] - after[one.bottle] == pytest.approx(one.drop_ml)


def test_what_is_left_of_a_recipe_goes_into_a_jar_that_is_a_bottle_and_takes_nothing_more(over_plan, on, client):
    hand = over_plan()
    hand.goes_to(lambda step: step.kind == "clean")
    before = levels(on)
    session = hand.does("left", what="jar", value="0.2")
    jar = session.state.leftovers[-1].bottle
    after = levels(on)
    assert after.pop(jar) == pytest.approx(0.2)
    assert after == pytest.approx(before)
    assert on(bottles.by_id, [jar])[jar].recipe == 2
    assert on(paints.record, on(bottles.by_id, [jar])[jar].paint_id).name.startswith("Autumn char, back")
    assert f"jar No. {jar}" in client.get(f"/bench/{hand.number}").text
    with pytest.raises(InvalidInput, match="more than nothing"):
        hand.does("left", what="jar")


def test_what_came_straight_from_a_bottle_needs_no_jar(over_plan):
    hand = over_plan()
    hand.goes_to(lambda step: step.kind == "rinse")
    with pytest.raises(InvalidInput, match="by a recipe"):
        hand.does("left", what="jar", value="0.2")
    assert hand.does("left", what="waste").state.leftovers[-1].what == "waste"


def test_the_right_side_shows_what_the_left_one_really_had(over_plan, on):
    hand = over_plan()
    left = hand.goes_to(lambda step: step.side == "left")

    def twin():
        return on(lambda store: bench_page(store, sessions.session(store, hand.number))).twin

    assert twin() is None
    hand.does("different", step=left.key, what="coats", value="3")
    hand.does("different", step=left.key, what="pressure", value="1,1")
    hand.goes_on()
    assert hand.here.side == "right"
    assert twin().settings == ["Other coats: 3", "Another pressure: 1.1 bar"]


def test_more_on_the_same_baits_ends_a_timer_and_other_baits_keep_theirs(over_plan):
    hand = over_plan(baits=2, one_by_one=True)
    hand.goes_to(lambda step: step.kind == "spray" and step.first == 1)
    assert {one.baits[1] for one in hand.session.state.timers} == {0}
    hand.goes_on()
    hand.goes_on()
    timers = [one for one in hand.session.state.timers if one.of == "dries"]
    assert [one.baits[1] for one in timers] == [0, 1]  # the coat before it on bait 2 dries no more


def test_eyes_leave_the_stock_by_pairs_and_once(over_plan, on):
    hand = over_plan(baits=2)
    step = hand.goes_to(lambda step: step.kind == "eyes")
    before = {one.id: one.pairs for one in on(eyes)}
    assert "5 mm" in step.figures[0][1]  # of a socket of 4.95 mm
    hand.goes_on()
    hand.does("back")
    hand.goes_on()
    assert before[step.eyes] - {one.id: one.pairs for one in on(eyes)}[step.eyes] == 2
