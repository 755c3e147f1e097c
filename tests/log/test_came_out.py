"""The same again, as it came out: coats, drops and stand-ins that were told at the bench are repeated."""

import numpy as np
import pytest

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.difference import delta_e
from diachrom.store import log, orders, plans, recipes
from diachrom.work.bench import as_painted
from diachrom.work.log import again, came_out, filling
from diachrom.work.plan.painting import painted_bait

AT = "2026-11-27T10:00:00+00:00"
SPOT = "left 0.400 0.200 8"


def finished(hand):
    """To the end of the session, and into the log; the entry's number."""
    while hand.here is not None:
        hand.goes_on(value="all")
    return hand.on(filling.end, hand.number, at=AT)[0]


def seen(store, plan, instead=None):
    return labs_of(painted_bait(store, plan, cells=ROUGH, instead=instead or {})[0])


@pytest.fixture
def darker(over_plan):
    """A char whose back had two coats more, and twice the dark drops in its cup."""
    hand = over_plan(baits=1, one_by_one=True)
    make = hand.goes_to(lambda step: step.kind == "make" and "back" in step.words)
    bottle = make.pours[-1].bottle
    for pour in make.pours:
        for _ in range(pour.drops):
            hand.does("tap", step=make.key, bottle=pour.bottle)
    for _ in range(make.pours[-1].drops):
        hand.does("tap", step=make.key, bottle=bottle)
    hand.goes_on()
    here = hand.goes_to(lambda step: step.layer == 3)
    hand.does("different", step=here.key, what="coats", value="4")
    return hand, finished(hand)


def test_it_is_repeated_as_it_came_out_where_the_eye_tells_them_apart(darker, on):
    _, number = darker
    found = on(again.again, number, baits=2, length_mm=None)
    assert found.came is not None
    assert found.came.delta_e > came_out.DIFFERS
    assert found.as_done
    assert found.plan.layer(3).coats == 4
    planned = on(again.again, number, baits=2, length_mm=None, as_done=False)
    assert planned.plan.layer(3).coats == 2
    assert not planned.as_done


def test_its_order_has_the_plan_and_the_cup_of_then_and_looks_as_the_log_does(darker, on):
    hand, number = darker
    known = set(on(recipes.numbers))
    order = on(again.order, number, baits=3, length_mm=None, at=AT)
    line = on(orders.lines, [order])[order][0]
    made = on(plans.version, line.plan, line.version).document
    assert "as it came out" in made.name
    fresh = set(on(recipes.numbers)) - known
    assert len(fresh) == 1
    draft = on(recipes.version, fresh.pop()).draft
    assert draft.name.endswith("as poured")

    def apart(store):
        entry = log.entry(store, number)
        own = as_painted.bait_of(store, hand.session, hand.session.script.steps[-1])
        assert entry.plan == 1
        return delta_e(seen(store, own.done, own.instead), seen(store, made)).max()

    assert on(apart) < 0.5


def test_another_size_of_it_grows_with_its_elements(darker, on):
    _, number = darker
    order = on(again.order, number, baits=1, length_mm=220.0, at=AT)
    line = on(orders.lines, [order])[order][0]
    made = on(plans.version, line.plan, line.version).document
    assert made.blank.length_mm == 220
    assert made.layer(3).coats == 4
    assert made.layer(3).mask.size_mm == pytest.approx(6.0)


def test_what_went_as_planned_has_one_way_alone(over_plan, on):
    number = finished(over_plan(baits=1, one_by_one=True))
    found = on(again.again, number, baits=1, length_mm=None)
    assert found.came is None
    assert not found.as_done


def test_a_repair_at_a_spot_is_that_baits_own_and_not_repeated(over_plan, on):
    hand = over_plan(baits=1, one_by_one=True)
    here = hand.goes_to(lambda step: step.layer == 3)
    hand.does("slip", step=here.key, what="run", bait=0, place=SPOT)
    hand.does("mend", step=here.key, what="hole", value="2,3", bait=0, place=SPOT)
    number = finished(hand)
    assert on(came_out.came_out, on(log.entry, number)) is None


def test_the_page_shows_both_and_makes_the_order_that_is_chosen(darker, client, on):
    _, number = darker
    page = client.get(f"/log/{number}/again").text
    assert "as it came out" in page
    assert "another than it was planned" in page
    count = len(on(orders.every))
    for way in ("done", "planned"):
        answer = client.post(f"/log/{number}/again", data={"baits": "1", "way": way}, follow_redirects=False)
        assert answer.status_code in (200, 204, 303)
    own = on(orders.every)
    assert len(own) == count + 2
    told = {line.plan for order in own for line in on(orders.lines, [order.number])[order.number]}
    assert 1 in told
    assert np.any([number > 12 for number in told])
