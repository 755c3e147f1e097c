"""What a session goes through: an order's schedule, a plan step by step or bait by bait, a single cup."""

from itertools import pairwise

import pytest

from diachrom.errors import InvalidInput
from diachrom.store import bottles, recipes
from diachrom.work.bench import scripts, sessions
from diachrom.work.mix import charging
from diachrom.work.plan import plans

AT = "2026-11-26T18:00:00+00:00"


def script(on, **more):
    return on(scripts.of_plan, 1, **{"baits": 3, "one_by_one": False, "at": AT, **more})


def levels(on):
    return {one.id: one.left_ml for one in on(bottles.every)}


def test_a_step_goes_over_all_baits_and_both_sides_before_the_next_colour(on):
    steps = script(on).steps
    assert {(one.first, one.last) for one in steps if one.layer} == {(0, 3)}
    sides = [(one.layer, one.side) for one in steps if one.side]
    assert sides == [
        pair for at in range(0, len(sides), 2) for pair in ((sides[at][0], "left"), (sides[at][0], "right"))
    ]
    loaded = [one.mix for one in steps if one.kind in ("spray", "mask", "pattern")]
    assert sum(a != b for a, b in pairwise(loaded)) == 4


def test_a_net_is_put_on_once_and_taken_off_once_with_all_that_goes_through_it_between(on):
    """On the prawn: a net over three colours, bars pressed on it for the second."""
    steps = on(scripts.of_plan, 12, baits=2, one_by_one=True, at=AT).steps
    first = [one for one in steps if one.layer and one.first == 0 and one.side != "right"]
    masks = [(one.kind, one.words.partition(" on bait")[0]) for one in first if one.kind in ("put on", "take off")]
    assert masks == [
        ("put on", "Put on: netting"),
        ("put on", "Put on: stencil “seven bars that taper”"),
        ("take off", "Take off: stencil “seven bars that taper”"),
        ("take off", "Take off: netting"),
    ]
    between = [one.layer for one in first]
    assert between.index(2) < between.index(3) < between.index(4) < between.index(5) < between.index(6)
    assert all(not one.mix for one in first if one.kind in ("put on", "take off"))


def test_bait_by_bait_each_is_finished_before_the_next(on):
    steps = [one for one in script(on, one_by_one=True).steps if one.last > one.first]
    assert [one.first for one in steps] == sorted(one.first for one in steps)
    assert {one.first for one in steps} == {0, 1, 2}
    assert all(one.last == one.first + 1 for one in steps)


def test_a_mix_is_made_once_after_the_blanks_are_ready_and_before_it_is_sprayed(on):
    steps = script(on).steps
    assert steps[0].kind == "prepare"
    made = {}
    for at, one in enumerate(steps):
        if one.kind == "make":
            assert one.mix not in made
            made[one.mix] = at
        elif one.mix:
            assert made[one.mix] < at


def test_the_airbrush_is_cleaned_where_the_next_colour_does_not_bear_the_last(on):
    steps = script(on).steps
    cleaned = [at for at, one in enumerate(steps) if one.kind in ("clean", "rinse")]
    for at in cleaned:
        before = next(one.mix for one in reversed(steps[:at]) if one.kind in ("spray", "mask", "pattern"))
        assert next(one.mix for one in steps[at:] if one.kind in ("spray", "mask", "pattern")) != before
    assert len(cleaned) == 3


def test_two_part_clear_is_weighed_and_its_pot_life_begins_then(on):
    *_, weigh, clear = script(on).steps
    assert (weigh.kind, weigh.timer, clear.kind) == ("weigh", "pot", "clear")
    assert weigh.dries_s == pytest.approx(35 * 60 * 2**0.5, abs=1)  # 20 °C: half a ten below 25
    (_, a), (_, b) = weigh.figures[:2]
    assert float(b.split()[0]) / float(a.split()[0]) == pytest.approx(0.95 / 1.10, rel=0.01)
    assert clear.notes
    assert clear.cautions == ("resin",)


@pytest.mark.parametrize(
    ("plan", "baits", "words"), [(1, 0, "1 to 60 baits"), (1, 61, "1 to 60 baits"), (999, 1, "no plan")]
)
def test_what_cannot_be_taken_to_the_bench_is_said(client, plan, baits, words):
    answer = client.post("/bench", data={"plan": plan, "baits": baits}, headers={"HX-Request": "true"})
    assert answer.status_code in (404, 422)
    assert words in answer.text


def test_a_plan_without_a_name_is_named_first(on, client):
    number = on(plans.new, plans.Blank(), at=AT)
    answer = client.post("/bench", data={"plan": number}, headers={"HX-Request": "true"})
    assert "Give the plan a name" in answer.text


def test_a_recipe_is_gone_through_as_a_cup_so_many_times(on, client):
    saved = on(recipes.version, 5, None)
    client.post("/bench", data={"recipe": "5", "times": "3"})
    own = on(sessions.session, 2)
    make = next(one for one in own.script.steps if one.kind == "make")
    assert [one.drops for one in make.pours] == [3 * part.drops for part in saved.draft.parts]
    assert make.dries_s == 600  # a candy rests
    coats = [one for one in own.script.steps if one.kind == "spray"]
    assert len(coats) == saved.draft.coats
    assert coats[-1].dries_s >= coats[0].dries_s > 0
    with pytest.raises(InvalidInput, match="1 to 40 times"):
        on(sessions.begin_cup, 5, times=41, at=AT)


def test_the_cup_that_was_charged_already_is_not_charged_again(on):
    on(charging.take_from_stock, at=AT)
    taken = levels(on)
    number = on(sessions.begin_cup, None, times=1, at=AT)
    for step in on(sessions.session, number).script.steps[:2]:
        on(sessions.record_event, number, sessions.Event("next", 1e9, step=step.key), at=AT)
    assert levels(on) == pytest.approx(taken)


def test_the_cup_poured_at_the_bench_is_not_charged_again_on_mix(on):
    before = levels(on)
    number = on(sessions.begin_cup, None, times=1, at=AT)
    own = on(sessions.session, number)
    for step in own.script.steps[:2]:
        on(sessions.record_event, number, sessions.Event("next", 1e9, step=step.key), at=AT)
    poured = levels(on)
    for pour in own.script.steps[1].pours:
        assert before[pour.bottle] - poured[pour.bottle] == pytest.approx(pour.drops * pour.drop_ml)
    on(charging.take_from_stock, at=AT)
    assert levels(on) == pytest.approx(poured)
