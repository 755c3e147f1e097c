"""Something went wrong: where, on which layer, wet or dry; the ways out by what lies beneath, there and on that side
alone."""

import numpy as np
import pytest

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.bait.surface import ROUGH
from diachrom.core.session.events import SLIPS
from diachrom.core.session.mends import MEANS, ORDER, repaired, ways
from diachrom.core.session.places import Spot, read
from diachrom.errors import InvalidInput
from diachrom.web.bench.view import bench_page
from diachrom.work.bench import as_painted, repairs
from diachrom.work.plan.painting import painted_bait

SPOT = Spot("left", 0.4, 0.2, 8.0)


def plan_of(*whats, state="primed-white"):
    plan = Plan(blank=Blank("minnow", 110, state=state))
    for at, what in enumerate(whats):
        name = f"{what} {at + 1}"
        plan = plan.with_layer(Layer(0, "paint" if what == "paint" else what, "torv-sot", name, film_um=8.0))
    return plan


def keys(plan, layer, slip, **more):
    return [one.key for one in ways(plan, layer, slip, **more)]


def test_there_are_twelve_kinds_of_mishap_and_each_has_its_ways():
    assert len(SLIPS) == 12
    assert SLIPS.keys() == ORDER.keys()
    assert {key for order in ORDER.values() for key in order} <= MEANS.keys()


@pytest.mark.parametrize("slip", SLIPS)
def test_each_mishap_has_a_way_out_whatever_lies_beneath(slip):
    for plan in (plan_of("paint"), plan_of("paint", "paint"), plan_of("varnish", "paint"), plan_of("foil", "paint")):
        for wet in (True, False):
            found = ways(plan, plan.layers[-1].number, slip, wet=wet)
            assert found
            assert all(one.looks for one in found)
            assert all(one.minutes > 0 for one in found if one.by_hand)


@pytest.mark.parametrize(
    ("whats", "slip", "wet", "first", "missing"),
    [
        (("paint", "paint"), "run", True, "swab", "flat"),
        (("paint", "paint"), "run", False, "flat", "swab"),
        (("paint", "paint"), "splatter", False, "lift", "swab"),
        (("paint", "paint"), "missed", True, "again", "block"),
        (("foil", "paint"), "too-much", True, "swab", "block"),
        (("paint",), "lifted", False, "again", "hole"),
        (("paint", "paint"), "tip-dry", True, "needle", "seal"),
    ],
)
def test_the_gentlest_comes_first_and_what_cannot_be_is_left_out(whats, slip, wet, first, missing):
    plan = plan_of(*whats)
    found = keys(plan, plan.layers[-1].number, slip, wet=wet)
    assert found[0] == first
    assert missing not in found


def test_over_a_seal_a_swab_is_safe_and_the_way_back_ends_there():
    sealed, open_ = plan_of("paint", "varnish", "paint"), plan_of("varnish", "paint", "paint")
    swab, back = (
        next(one for one in ways(sealed, 3, "run") if one.key == "swab"),
        next(one for one in ways(open_, 3, "run") if one.key == "seal"),
    )
    assert "nothing seals" not in swab.risks
    assert back.again == (2, 3)
    assert "varnish 1" in back.words
    bare = next(one for one in ways(open_, 3, "run") if one.key == "swab")
    assert "paint 2 with it" in bare.risks


def test_what_covers_it_is_named_where_something_does():
    plan = plan_of("paint", "paint")
    assert any("paint 2 covers it" in one.words for one in ways(plan, 1, "splatter"))
    assert "on" not in keys(plan, 2, "splatter")


def test_a_run_on_a_line_takes_six_steps_at_most_beside_waits(over_plan):
    hand = over_plan(baits=2)
    here = hand.goes_to(lambda step: step.layer == 4)
    count = len(hand.session.state.run(hand.session.script))
    hand.does("slip", step=here.key, what="run", bait=0, place=SPOT.text())
    found = hand.on(lambda store: repairs.mends_here(store, hand.session, hand.session.state.slips[-1]))
    assert found[0].key == "swab"
    for one in found:
        again = ",".join(map(str, one.again))
        hand.does("mend", step=hand.here.key, what=one.key, value=again, bait=0, place=SPOT.text(), note=one.words)
        own = hand.session
        added = own.state.run(own.script)[own.state.position :]
        mine = [step for step in added if "+" in step.key]
        own_steps = len(own.state.run(own.script)) - count
        assert own_steps <= (2 * len(one.again) + 1)
        if one.key == "swab":
            assert own_steps <= 6
        assert {(step.first, step.last) for step in mine if step.kind != "make"} <= {(0, 1)}
        assert all(step.side in ("left", "") for step in mine)
        count = len(own.state.run(own.script))


def test_the_page_offers_the_layer_just_sprayed_after_it_has_gone_on(over_plan):
    hand = over_plan()
    here = hand.goes_to(lambda step: step.layer == 2)
    hand.goes_on()
    layers = repairs.layers_so_far(hand.session)
    assert layers[0][0] in (2, hand.here.layer)
    assert 2 in [number for number, _ in layers]
    hand.does("slip", what="fingerprint", layer=2, bait=0)
    found = hand.on(lambda store: repairs.mends_here(store, hand.session, hand.session.state.slips[-1]))
    assert found
    assert all(2 in one.again for one in found if one.key in ("swab", "flat", "block"))
    assert here.layer == 2


def test_paint_that_had_time_to_dry_is_not_swabbed(over_plan):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 2)
    hand.goes_on()
    hand.does("slip", at="2026-11-26T22:00:00+00:00", what="run", layer=2, bait=0)
    found = hand.on(lambda store: repairs.mends_here(store, hand.session, hand.session.state.slips[-1]))
    assert "swab" not in [one.key for one in found]


def test_what_was_blocked_out_lies_there_and_nowhere_else(store):
    plan = plan_of("paint")
    plan = plan.changed(1, lambda one: Layer(1, "paint", "rav-honning", film_um=8.0, coats=2))
    before, _ = painted_bait(store, plan, cells=ROUGH)
    after, _ = painted_bait(store, repaired(plan, "block", [1], SPOT, "torv-kritt"), cells=ROUGH)
    changed = (abs(after.factors - before.factors).max(axis=(0, 1)) > 1e-3).nonzero()
    u, v = (np.array(changed[0]) + 0.5) / ROUGH[0], (np.array(changed[1]) + 0.5) / ROUGH[1]
    assert len(u)
    assert (v < 0.5).all()  # on that side alone
    girth = 49.0
    assert (np.hypot((u - SPOT.u) * 110, (v - SPOT.v) * girth) < SPOT.wide_mm / 2 + 3).all()


def test_what_takes_off_leaves_the_plan_as_it_was():
    plan = plan_of("paint", "paint")
    for way in ("swab", "flat", "lift", "seal", "bare"):
        assert repaired(plan, way, [2], SPOT, "torv-kritt") is plan


def test_a_repair_is_seen_in_what_was_done_and_the_log_holds_it(over_plan):
    hand = over_plan(baits=1)
    here = hand.goes_to(lambda step: step.layer == 3)
    hand.does("slip", step=here.key, what="run", bait=0, place=SPOT.text())
    hand.does("mend", step=here.key, what="hole", value="2,3", bait=0, place=SPOT.text())
    own = hand.on(lambda store: as_painted.bait_of(store, hand.session, hand.here))
    assert own.changed
    assert len(own.done.layers) == len(own.planned.layers) + 2
    local = own.done.layers[own.done.place(3) + 1]
    assert (local.sides, local.strokes[0].points[0][:2]) == ("left", (0.4, 0.2))
    assert own.so_far(3) == 5
    assert own.so_far(2) == 2


@pytest.mark.parametrize("place", [" ", "left", "left 2 0.2 6", "top 0.2 0.2 6", "left x y z", "left 0.5 0.2 900"])
def test_a_place_that_is_none_is_said(place):
    with pytest.raises(InvalidInput, match="Touch the place"):
        read(place)


def test_a_place_is_kept_and_told_in_words():
    assert read(SPOT.text()) == SPOT
    assert read("") is None
    assert SPOT.words(110.0) == "left side, 44 mm from the nose, high on the flank"


def test_a_touch_on_the_picture_is_a_place_of_the_bait(over_plan):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    middle, nose = (
        hand.on(lambda store, x=x: repairs.spot_at(store, hand.session, "left", x, 0.5)) for x in (0.6, 0.3)
    )
    assert middle.u > nose.u
    right = hand.on(lambda store: repairs.spot_at(store, hand.session, "right", 0.3, 0.4))
    assert right.u > 0.6  # seen from its right its nose is on the right
    with pytest.raises(InvalidInput, match="beside the bait"):
        hand.on(lambda store: repairs.spot_at(store, hand.session, "left", 0.5, 0.02))


def test_what_went_wrong_is_mended_later_where_nobody_said_how(over_plan):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2 and step.coats)
    hand.does("slip", step=step.key, what="splatter", place=Spot("left", 0.3, 0.2).text())
    hand.goes_on()
    hand.goes_on()
    page = hand.on(bench_page, hand.session)
    assert page.slipped is None
    assert "splatter" in page.unmended.words
    assert page.unmended.ways
    hand.does("mend", what=page.unmended.ways[0].key, place=page.unmended.place, note="Lifted")
    assert hand.on(bench_page, hand.session).unmended is None
