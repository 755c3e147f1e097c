"""Masks are things: put on, over several layers, over each other, taken off; stencils in their place."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import on
from bait.test_strokes import LONG, by_hand, line, skin

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin, film_um, films, open_at
from diachrom.core.bait.mask import FREE, Mask
from diachrom.core.bait.masks import ANCHORS, MASKS
from diachrom.core.bait.plan import MASK, UNMASK, Layer, Plan, checked_layer, worn
from diachrom.errors import InvalidInput

THINGS = [key for key, way in MASKS.items() if way.thing]
SQUARE = (((0.0, 0.0), (10.0, 0.0), (10.0, 6.0), (0.0, 6.0)),)


def mask(kind, **figures):
    return replace(MASKS[kind].usual(), **figures)


def plan_of(*layers):
    plan = Plan(blank=Blank("minnow", LONG))
    for layer in layers:
        plan = plan.with_layer(layer)
    return plan


def put_on(kind, **more):
    figures = more.pop("figures", {})
    return Layer(0, MASK, mask=mask(kind, **figures), **more)


def own_skin(stencil=SQUARE):
    blank = Blank("minnow", LONG)
    return Skin(blank.surface(), blank.form.landmarks, {"own": stencil, "bars-tapered": stencil})


@pytest.mark.parametrize("kind", [key for key in THINGS if key != "tape"])
@pytest.mark.parametrize("lift_mm", [0.0, 1.5])
def test_a_mask_over_two_layers_equals_the_same_mask_given_to_each(kind, lift_mm):
    own = own_skin()
    two = on(coats=2, origin="side"), on(coats=1, origin="above", rake_deg=0.0)
    figures = {"lift_mm": lift_mm} if any(field.key == "lift_mm" for field in MASKS[kind].fields) else {}
    over = plan_of(put_on(kind, figures=figures), *two, Layer(0, UNMASK), on(coats=1))
    each = plan_of(*(replace(one, mask=mask(kind, **figures), soft_mm=None) for one in two), on(coats=1))
    _, *thing = films(over.layers, own)
    given = films(each.layers, own)
    for one, other in zip([thing[0], thing[1], thing[3]], given, strict=True):
        np.testing.assert_allclose(one, other, atol=1e-9)
    assert thing[2].max() == 0  # taking off lays nothing


def test_two_masks_at_once_keep_off_what_either_covers():
    own = own_skin()
    net, stencil = put_on("net"), put_on("stencil", figures={"stencil": "own", "size_mm": 30.0})
    spray = on(origin="around")
    net_alone, stencil_alone, both = (
        films(plan_of(*masks, spray).layers, own)[-1] for masks in ([net], [stencil], [net, stencil])
    )
    assert (both <= np.minimum(net_alone, stencil_alone) + 1e-9).all()
    assert 0 < both.sum() < stencil_alone.sum()


def test_what_is_taken_off_is_the_one_that_is_named_or_all():
    plan = plan_of(put_on("net"), put_on("stencil"), Layer(0, UNMASK, source="1"), on(), Layer(0, UNMASK), on())
    assert [[one.number for one in masks] for masks in worn(plan.layers)] == [[], [1], [1, 2], [2], [2], []]
    assert plan.left_on == ()
    assert plan_of(put_on("net")).taking_off().source == "1"
    with pytest.raises(InvalidInput, match="No mask is on"):
        plan.taking_off()


def test_a_mask_that_is_switched_off_keeps_nothing_off():
    own = own_skin()
    plan = plan_of(replace(put_on("net"), on=False), on())
    np.testing.assert_array_equal(films(plan.layers, own)[1], film_um(on(), own))


def test_tape_covers_where_it_lies_and_leaves_the_rest_open():
    own = own_skin()
    open_ = open_at(put_on("tape", region="belly"), own)
    fine = own.surface.fine_places
    belly = fine.folded > 0.4
    assert open_[belly].max() < 0.02
    assert open_[fine.folded < 0.3].min() > 0.99


def test_a_stroke_goes_through_what_lies_there():
    own = own_skin()
    stroke = by_hand(line(0.2, 0.8), distance_mm=60.0)
    netted = films(plan_of(put_on("net", figures={"size_mm": 6.0, "gap_mm": 1.5}), stroke).layers, own)[1]
    given = film_um(replace(stroke, mask=mask("net", size_mm=6.0, gap_mm=1.5)), own)
    np.testing.assert_allclose(netted, given, atol=1e-9)


@pytest.mark.parametrize("kind", [key for key, way in MASKS.items() if not way.thing])
def test_what_is_no_thing_is_not_put_on(kind):
    with pytest.raises(InvalidInput, match="what is put on"):
        checked_layer(put_on(kind))


def stencilled(**figures):
    return on(origin="around", mask=Mask("stencil", stencil="own", **{"size_mm": 10.0, **figures}))


def lies_at(layer, own):
    """Middle and extent of what is open: u, v, and mm along."""
    film = film_um(layer, own)[:, :48]
    rows, columns = np.nonzero(film > 0.5 * film.max())
    return (rows.mean() + 0.5) / 240, (columns.mean() + 0.5) / 96, (np.ptp(rows) + 1) * LONG / 240


def test_a_stencil_lies_where_it_is_anchored_and_moves_by_mm():
    own = own_skin()
    gill = own.landmarks.gill_u
    u, v, wide = lies_at(stencilled(anchor="gill"), own)
    assert u == pytest.approx(gill - 5.0 / LONG, abs=0.01)  # its end towards the tail lies at the plate's edge
    assert v == pytest.approx(0.25, abs=0.02)
    assert wide == pytest.approx(10.0, abs=0.6)
    moved, low, _ = lies_at(stencilled(anchor="gill", along_mm=7.0, down_mm=4.0), own)
    assert (moved - u) * LONG == pytest.approx(7.0, abs=0.3)
    girth = float(own.surface.girths_mm[int(moved * 240)])
    assert (low - v) * girth == pytest.approx(4.0, abs=0.6)


@pytest.mark.parametrize("anchor", [key for key in ANCHORS if key])
def test_on_another_blank_it_lies_at_the_same_part(anchor):
    places = []
    for shape in ("minnow", "deep"):
        blank = Blank(shape, LONG)
        own = Skin(blank.surface(), blank.form.landmarks, {"own": SQUARE})
        u, _, _ = lies_at(stencilled(anchor=anchor, size_mm=6.0), own)
        end = ANCHORS[anchor].end
        places.append(u + end * 3.0 / LONG - ANCHORS[anchor].place(blank.form.landmarks)[0])
    assert places == pytest.approx([0, 0], abs=0.02)


def test_a_stencils_edge_is_blurred_by_its_lift_and_by_nothing_else():
    """Under a Gaussian of 0.4 of the lift an edge rises from a sixth to five sixths over about twice that."""
    own = own_skin()
    rises = []
    for lift_mm in (0.0, 2.0, 4.0):
        film = film_um(stencilled(anchor="gill", size_mm=30.0, lift_mm=lift_mm, along_mm=40.0), own)[:, 24]
        profile = film / film.max()
        rising = np.interp([1 / 6, 5 / 6], np.maximum.accumulate(profile[:140]), np.arange(140) * LONG / 240)
        rises.append(float(np.diff(rising)[0]))
    assert rises[0] < LONG / 240 * 1.5
    assert rises[1:] == pytest.approx([2 * 0.97 * 0.4 * lift for lift in (2.0, 4.0)], rel=0.2)


def test_a_region_with_a_soft_edge_never_blurs_the_stencil():
    own = own_skin()
    whole = replace(stencilled(anchor="gill"), soft_mm=10.0)
    through, free = (
        [film_um(replace(whole, region=region, mask=mask), own) for region in ("head", "all")]
        for mask in (whole.mask, FREE)
    )
    edge = film_um(replace(whole, soft_mm=0.0), own)
    open_, shut = edge > 0.999 * free[1], edge == 0
    assert (open_ & (free[0] > 0) & (free[0] < 0.9 * free[1])).any()  # the head ends within it
    np.testing.assert_allclose(through[0][open_], free[0][open_], rtol=1e-6)
    assert through[0][shut].max() == 0


def test_a_net_is_bought_by_its_pitch_from_thread_to_thread():
    """2.1 mm for a cell whose diagonal is 3."""
    field = MASKS["net"].fields[0]
    assert 3.0 / field.times == pytest.approx(2.12, abs=0.01)
    # Of a square mesh with such a pitch, threads of 0.4 mm leave (1 - 0.4 / 2.12) squared open.
    open_ = open_at(on(mask=mask("net", size_mm=3.0, gap_mm=0.4, amount=0.0)), own_skin())
    assert open_.mean() == pytest.approx((1 - 0.4 / 2.12) ** 2, abs=0.02)


def test_a_free_layer_is_as_it_was():
    own = skin()
    np.testing.assert_array_equal(film_um(on(mask=FREE), own), film_um(on(mask=FREE), own, ()))
