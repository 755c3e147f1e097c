"""Bodies that a plan starts from, with what the shelf has; eyes painted as layers."""

import pytest

from diachrom.core.bait.bodies import BODIES
from diachrom.core.bait.checks import findings
from diachrom.core.bait.plan import checked_layer
from diachrom.errors import InvalidInput, NotFound
from diachrom.store import paints
from diachrom.work.bench import scripts
from diachrom.work.plan import bodies, checking, plans

AT = "2026-11-26T18:00:00+00:00"


@pytest.mark.parametrize("key", BODIES)
def test_a_body_begins_a_plan_that_can_be_taken_to_the_bench(on, key):
    number = on(bodies.begin, key, name=f"A {key}", at=AT)
    plan = on(plans.now, number).plan
    assert [checked_layer(one) for one in plan.layers] == list(plan.layers)
    assert all(one.source for one in plan.layers if one.what == "paint")
    look = on(checking.look_at, plan)
    assert not any(one.made.painted.mix is None for one in look.painting)
    told = {one.check.id for one in findings(look)}
    assert not told & {"metal-bare", "moist", "unsanded"}
    script = on(scripts.of_plan, number, baits=2, one_by_one=False, at=AT)
    assert any(one.kind == "clear" for one in script.steps)


def test_what_a_body_asks_for_is_there_on_its_steps(on):
    def words(key):
        number = on(bodies.begin, key, name="x", at=AT)
        return " / ".join(one.words for one in on(scripts.of_plan, number, baits=1, one_by_one=False, at=AT).steps)

    assert "Wash, and dry to the bone" in words("soft")
    assert "dipped hot" in words("soft")
    assert "Burnish the foil" in words("foiled")
    repaint = words("repaint")
    assert "Scuff it wet, degrease, tape" in repaint
    assert repaint.index("Take the tape off") < repaint.index("Clear coat")
    assert "big, middle, small" in words("spoon")


def test_the_shelf_gives_what_is_nearest(on):
    number = on(bodies.begin, "spoon", at=AT)
    layers = {one.name: one for one in on(plans.now, number).plan.layers}
    assert on(paints.record, layers["glow"].source).kind == "glow"
    dots = next(one for one in on(plans.now, number).plan.layers if one.mask.kind == "dots")
    assert dots.source == "torv-sot"


def test_an_empty_shelf_leaves_the_paints_to_be_chosen(on):
    def empty(store):
        return bodies._best({}, BODIES["spoon"].layers[1][1])

    assert on(empty) == ""


def test_eyes_are_painted_beneath_the_clear_smaller_and_smaller_and_once(on, client):
    on(bodies.paint_eyes, 1, at=AT)
    plan = on(plans.now, 1).plan
    own = [one for one in plan.layers if one.region == "eye"]
    assert [one.name for one in own] == ["eye, rim", "eye, iris", "eye, pupil"]
    widths = [one.box.u1 - one.box.u0 for one in own]
    assert widths == sorted(widths, reverse=True)
    assert plan.layers[-1].what == "clear"
    assert plan.eyes == "painted"
    with pytest.raises(InvalidInput, match="already has painted eyes"):
        on(bodies.paint_eyes, 1, at=AT)
    spoon = on(bodies.begin, "spoon", at=AT)
    with pytest.raises(InvalidInput, match="no place for eyes"):
        on(bodies.paint_eyes, spoon, at=AT)
    with pytest.raises(NotFound, match="no body"):
        on(bodies.begin, "moon", at=AT)
