"""The bait as it was really laid, against plans and recipes that were written down that way to begin with."""

import re
from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.bait.checks.look import labs_of
from diachrom.core.bait.surface import ROUGH
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.draft import Part
from diachrom.errors import InvalidInput
from diachrom.store import recipes
from diachrom.store.connection import writing
from diachrom.work.bench import as_painted
from diachrom.work.plan.painting import painted_bait

AT = "2026-11-26T18:00:00+00:00"


def seen(on, plan, instead=None):
    return labs_of(on(painted_bait, plan, cells=ROUGH, instead=instead or {})[0])


def bait(on, hand):
    return on(as_painted.bait_of, hand.session, hand.here)


def test_more_coats_are_a_plan_with_more_coats(over_plan, on):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2)
    hand.does("different", step=step.key, what="coats", value="4")  # in the place of one of three
    own = bait(on, hand)
    assert [one.coats for one in own.done.layers] == [one.coats + 3 * (one.number == 2) for one in own.planned.layers]
    meant = own.planned.changed(2, lambda layer: replace(layer, coats=6))
    assert np.array_equal(seen(on, own.done), seen(on, meant))


def test_other_drops_are_a_recipe_of_these_drops(over_plan, on):
    hand = over_plan()
    make = hand.goes_to(lambda step: step.kind == "make")
    for one in make.pours:
        for _ in range(one.drops):
            hand.does("tap", step=make.key, bottle=one.bottle)
    red = next(one for one in make.pours if "Nype" in one.name)
    for _ in range(2):
        hand.does("tap", step=make.key, bottle=red.bottle)
    step = hand.goes_to(lambda step: step.layer == 1)
    own = on(as_painted.bait_of, hand.session, step)
    assert list(own.instead) == [make.mix.partition("|")[0]]

    def as_recipe(store):
        number, version = (int(part) for part in make.mix.partition("|")[0].split(":")[1:])
        draft = recipes.version(store, number, version).draft
        state = hand.session.state
        parts = tuple(Part(one.bottle, state.fallen(make.key, one.bottle), one.drop_ml) for one in make.pours)
        with writing(store):
            saved = recipes.add_version(
                store, replace(draft, parts=parts), recipe=number, parent_version=version, at=AT
            )
        return f"recipe:{number}:{saved.version}"

    source = on(as_recipe)
    layers = tuple(
        replace(one, source=source) if one.source == make.mix.partition("|")[0] else one for one in own.planned.layers
    )
    wanted, found = seen(on, replace(own.planned, layers=layers)), seen(on, own.done, own.instead)
    assert float(delta_e(wanted, found).max()) < 0.01
    assert float(delta_e(seen(on, own.planned), found).max()) > 3


def test_as_planned_nothing_is_said(over_plan, on):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 2)
    assert not bait(on, hand).changed
    assert on(as_painted.effect, hand.session) is None


def test_darker_than_meant_is_said_for_now_and_for_the_end_with_what_mends_it(over_plan, on):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2)
    hand.does("different", step=step.key, what="coats", value="3")
    effect = on(as_painted.effect, hand.session)
    assert effect.now.startswith("Now: dE ")
    assert effect.finished.startswith("Finished: dE ")
    assert "of its skin" in effect.now
    assert [one.words for one in effect.advice] == ["No other number of coats, now or later, brings it closer."]


def test_a_coat_that_was_left_out_is_asked_for_now(over_plan, on):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2)
    hand.does("different", step=step.key, what="coats", value="0")
    effect = on(as_painted.effect, hand.session)
    assert effect.advice[0].words.startswith("1 more coat of Autumn char, back now: dE 0.0 in the mean")
    for one in effect.advice:
        told = re.search(r"dE ([\d.]+) in the mean, ([\d.]+) as", one.words)
        brought, standing = map(float, told.groups())
        assert brought < standing
    # One press adds it: as many coats as were planned, and nothing is different any more.
    count = len(hand.session.state.run(hand.session.script))
    hand.does("more", step=step.key, value=str(effect.advice[0].more))
    assert len(hand.session.state.run(hand.session.script)) == count + effect.advice[0].more
    assert bait(on, hand).done.layer(2).coats == bait(on, hand).planned.layer(2).coats
    with pytest.raises(InvalidInput, match="1 to 9 coats"):
        hand.does("more", step=step.key, value="99")


def test_what_the_eye_calls_darker_is_more_film_of_that_layer(over_plan, on):
    hand = over_plan(plan=5)
    step = hand.goes_to(lambda step: step.layer is not None and step.kind == "spray")
    hand.does("different", step=step.key, what="colour", value="darker")
    own = bait(on, hand)
    assert own.done.layer(step.layer).film_um == pytest.approx(1.4 * own.planned.layer(step.layer).film_um)


def test_each_side_has_its_own(over_plan, on):
    hand = over_plan()
    left = hand.goes_to(lambda step: step.side == "left")
    hand.does("different", step=left.key, what="coats", value="5")
    assert bait(on, hand).done.layer(3).coats == 5
    hand.goes_on()
    assert hand.here.side == "right"
    assert bait(on, hand).done.layer(3).coats == 2


def test_pictures_of_it_are_drawn_lit_up_planned_and_done(over_plan, on, client):
    hand = over_plan()
    step = hand.goes_to(lambda step: step.layer == 2)
    hand.does("different", step=step.key, what="coats", value="9")
    path = f"/bench/{hand.number}/picture.png"
    found = {
        query: client.get(f"{path}?{query}").content
        for query in (f"step={step.key}", "finished=1&done=0", "finished=1&done=1")
    }
    assert len(set(found.values())) == 3
    assert all(one.startswith(b"\x89PNG") for one in found.values())
    assert "dE" in client.get(f"/bench/{hand.number}/effect").text
    assert re.search(rf">http://[^/]+/bench/{hand.number}<", client.get(f"/bench/{hand.number}").text)


def test_coats_of_both_sides_are_not_added(over_plan, on):
    hand = over_plan()
    left = hand.goes_to(lambda step: step.side == "left")
    hand.does("different", step=left.key, what="coats", value="3")
    step = hand.goes_to(lambda step: step.layer == 7)
    assert step.side == ""
    assert on(as_painted.bait_of, hand.session, step).done.layer(3).coats == 3
