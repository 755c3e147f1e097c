"""The wrong bottle, the wrong count: the cup as it is, what brings it back, a new cup with the rest in a jar."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.mixes import exact_labs
from diachrom.core.mix.where import Where
from diachrom.core.pour.bringing_back import UNSEEN, returns
from diachrom.core.session.after import replayed
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import bottles, paints, recipes, sessions
from diachrom.work.bench import as_painted, cup_now
from diachrom.work.bench import sessions as bench


def levels(on):
    return {one.id: one.left_ml for one in on(bottles.every)}


@pytest.fixture
def at_cup(over_plan, on):
    """The hand at a mix of two paints or more, and a bottle that is none of them."""
    hand = over_plan()
    made = hand.goes_to(lambda step: step.kind == "make" and len(step.pours) > 1)
    inside = {one.bottle for one in made.pours}
    other = next(
        one for one in on(bottles.every) if one.id not in inside and one.left_ml > 1 and "ack" in one.full_name
    )
    return hand, made, other


def test_too_many_drops_of_its_own_are_answered_exactly(at_cup, on):
    hand, made, _ = at_cup
    small = min(made.pours, key=lambda one: one.drops)
    hand.does("astray", bottle=small.bottle, value="2")
    found = on(cup_now.cup_now, hand.session)
    assert found.step == made.key
    counts = [[int(part) for part in way.value.split(",")] for way in found.ways]
    asked = [one.drops for one in made.pours]
    fell = [max(hand.session.state.fallen(made.key, one.bottle), one.drops) for one in made.pours]
    assert all(new >= old for row in counts for new, old in zip(row, fell, strict=True))
    off = [np.ptp(np.array(row) / np.array(asked)) for row in counts]
    assert min(off) < 0.5  # one of the ways is the ratio once more, as near as whole drops come
    hand.does("recount", what=made.key, value=found.ways[0].value)
    assert [one.drops for one in hand.here.pours] == counts[0]
    assert hand.session.state.left(hand.here) > 0  # they are still to fall, a press each


def test_a_wrong_bottle_is_in_the_picture_in_the_ledger_and_in_the_words(at_cup, on, client):
    hand, made, other = at_cup
    before = levels(on)
    hand.does("astray", bottle=other.id, value="3")
    page = client.get(f"/bench/{hand.number}").text
    assert f"3 drops of {other.full_name} that should not have fallen" in page
    assert other.full_name in client.get(f"/bench/{hand.number}/bottles").text
    found = on(cup_now.cup_now, hand.session)
    assert found.meant != found.now
    told = client.get(f"/bench/{hand.number}/effect").text
    assert found.now in told
    assert "Mix a new cup" in told
    hand.goes_on(value="all")
    after = levels(on)
    assert before[other.id] - after[other.id] == pytest.approx(3 * other.drop_ml)
    step = hand.goes_to(lambda step: step.mix == made.mix and step.plan)
    own = on(as_painted.bait_of, hand.session, step)
    (mix,) = own.instead.values()
    assert len(mix) == len(made.pours) + 1
    assert sum(share for _, share in mix) == pytest.approx(1)


def test_told_while_it_is_sprayed_what_is_added_has_fallen_and_is_charged(at_cup, on):
    hand, made, other = at_cup
    hand.goes_on(value="all")
    hand.goes_to(lambda step: step.mix == made.mix and step.plan)
    before = levels(on)
    hand.does("astray", bottle=other.id, value="2", what=made.key)
    assert before[other.id] - levels(on)[other.id] == pytest.approx(2 * other.drop_ml)
    way = on(cup_now.cup_now, hand.session).ways[0]
    hand.does("recount", what=made.key, value=way.value)
    after = levels(on)
    for pour, count in zip(made.pours, way.value.split(","), strict=False):
        assert before[pour.bottle] - after[pour.bottle] == pytest.approx((int(count) - pour.drops) * pour.drop_ml)


@pytest.mark.parametrize("later", [False, True])
def test_a_new_cup_is_poured_whole_and_the_rest_is_a_jar_of_what_it_really_is(at_cup, on, client, later):
    hand, made, other = at_cup
    if later:
        hand.goes_on(value="all")
        hand.goes_to(lambda step: step.mix == made.mix and step.plan)
    hand.does("astray", bottle=other.id, value="3", what=made.key)
    before = levels(on)
    if not later:  # of a cup of which nothing was tapped it is not known what there is to keep
        for one in made.pours:
            hand.does("tap", step=made.key, bottle=one.bottle)
    hand.does("afresh", what=made.key, value="0.3")
    jar = hand.session.state.mends[-1].bottle
    kept = on(bottles.by_id, [jar])[jar]
    parts = {part.bottle for part in on(recipes.version, kept.recipe, None).draft.parts}
    assert other.id in parts
    assert f"bottle={jar}" in client.get(f"/bench/{hand.number}").text  # its label
    here = hand.here
    assert here.kind == "make"
    assert {one.bottle: one.drops for one in here.pours if one.drops} == {one.bottle: one.drops for one in made.pours}
    hand.goes_on(value="all")
    after = levels(on)
    for one in made.pours:
        times = 1 if later else 1 + 1 / one.drops  # the cup that was given up left its bottle as well
        assert before[one.bottle] - after[one.bottle] == pytest.approx(times * one.drops * one.drop_ml)
    step = hand.goes_to(lambda step: step.mix == made.mix and step.plan)
    assert on(as_painted.bait_of, hand.session, step).instead == {}
    events = on(sessions.events, hand.number)
    assert replayed(hand.session.script, events) == hand.session.state


def test_it_brings_back_what_another_solver_calls_the_same(at_cup, on):
    _, made, other = at_cup
    shelf = on(bottles.by_id, [*(one.bottle for one in made.pours), other.id])
    profiles = [on(paints.profile, shelf[key].paint_id) for key in shelf]
    sizes = [one.drop_ml for one in made.pours] + [other.drop_ml]
    meant = [one.drops for one in made.pours] + [0]
    where = Where(GROUNDS["white"], 16.0, 0.0, light("D65"))
    standing, ways = returns(profiles, sizes, meant, [*meant[:-1], 1], where)
    assert standing > 0
    volumes = np.array([meant, [*meant[:-1], 1], *(way.drops for way in ways)]) * np.array(sizes)
    labs = exact_labs(profiles, volumes / volumes.sum(axis=1, keepdims=True), where)
    off = mean_delta_e(labs[1:], labs[0])
    assert off[0] == pytest.approx(standing, abs=0.6)
    assert off[1:] == pytest.approx([way.delta_e for way in ways], abs=0.6)
    assert all(far < max(off[0], UNSEEN) for far in off[1:])


@pytest.mark.parametrize(
    ("kind", "more", "words"),
    [
        ("astray", {"bottle": 1, "value": "none"}, "how many drops"),
        ("astray", {"bottle": 1, "value": "0"}, "how many drops"),
        ("astray", {"bottle": 99_999, "value": "1"}, "99999"),
        ("afresh", {"what": "nothing"}, "No cup was mixed"),
        ("afresh", {"value": "much"}, "is no number"),
        ("recount", {"value": "1,2,3,4,5,6,7"}, "for each bottle"),
    ],
)
def test_what_cannot_be_in_a_cup_is_said_and_changes_nothing(at_cup, kind, more, words):
    hand, _, _ = at_cup
    before = hand.session
    with pytest.raises(DiachromError, match=words):
        hand.does(kind, **more)
    assert hand.session.state == before.state


def test_before_any_cup_there_is_none(over_plan):
    hand = over_plan()
    assert hand.here.kind != "make"
    with pytest.raises(InvalidInput, match="No cup was mixed"):
        hand.does("astray", bottle=1, value="1")
    assert bench.left_over(hand.session) is None


def test_thinned_more_is_less_film_of_that_layer(over_plan, on):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2)
    hand.does("different", step=step.key, what="thinned", value="25")
    own = on(as_painted.bait_of, hand.session, step)
    assert own.done.layer(2).film_um == pytest.approx(own.planned.layer(2).film_um / 1.25)
    assert own.done.layer(1) == own.planned.layer(1)
