"""Paint for a job, against drops thrown at the bait's silhouette."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import on, through

from diachrom.core.bait.amounts import amount, masked_away
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.fittings import Fitting
from diachrom.core.bait.mask import FREE, Mask
from diachrom.core.bait.plan import Layer, Plan, checked_layer
from diachrom.core.bait.stroke import checked, drawn
from diachrom.core.mix.amount import MISSES, STAYS_ML

DROPS = 40_000


def skin_of(shape):
    blank = Blank(shape, 110)
    return Skin(blank.surface((60, 24)), blank.form.landmarks, {})


def landed_ml(surface, film, *, axis):
    """Drops thrown evenly from along an axis onto the rectangle around a bait: those that meet its outline stay."""
    corners = surface.corners  # (u, v, xyz)
    across = np.delete(corners, axis, axis=-1)  # along, and across the throw
    rng = np.random.default_rng(5)
    along = np.median(across[..., 0], axis=1)
    low, high = across[..., 1].min(axis=1), across[..., 1].max(axis=1)
    x = rng.uniform(along.min(), along.max(), DROPS)
    y = rng.uniform(low.min(), high.max(), DROPS)
    hits = (y > np.interp(x, along, low)) & (y < np.interp(x, along, high))
    return hits.mean() * np.ptp(along) * (high.max() - low.min()) * film * 1e-6  # mm2 x um -> ml


@pytest.mark.parametrize("shape", ["pencil", "minnow", "squat"])
@pytest.mark.parametrize(("origin", "axis", "turns"), [("side", 1, 2), ("below", 2, 1)])
def test_what_lands_is_what_thrown_drops_leave(shape, origin, axis, turns):
    skin = skin_of(shape)
    layer = Layer(1, film_um=10.0, coats=3, origin=origin, soft_mm=0.5)
    film = film_um(layer, skin)
    told = amount(film, skin.surface, baits=4)
    thrown = 4 * turns * landed_ml(skin.surface, 30.0, axis=axis)
    assert told.on_baits_ml == pytest.approx(thrown, rel=0.1)
    assert told.volume_ml == pytest.approx(thrown / (1 - MISSES) + STAYS_ML, rel=0.1)
    assert 0 < told.covers_mm2 < skin.surface.area_mm2


def test_a_mask_takes_what_it_covers_and_no_layer_takes_no_paint():
    skin = skin_of("pencil")
    bars = Layer(1, film_um=10.0, coats=1, mask=through("bars", size_mm=9.0, gap_mm=3.0, amount=0.0))
    own, without = film_um(bars, skin), film_um(replace(bars, mask=FREE), skin)
    assert masked_away(own, without, skin.surface) == pytest.approx(2 / 3, abs=0.04)
    none = amount(np.zeros((60, 24)), skin.surface, baits=3)
    assert (none.volume_ml, none.covers_mm2) == (0.0, 0.0)
    assert masked_away(np.zeros((60, 24)), np.zeros((60, 24)), skin.surface) == 0.0


def test_fins_and_tails_that_are_painted_take_their_share_and_a_bare_bill_none():
    blank = Blank("minnow", 100)
    skin = Skin(blank.surface((60, 24)), blank.form.landmarks, {})
    film = film_um(Layer(1, film_um=10.0, coats=2), skin)
    whole = {"baits": 3, "misses": 0.0, "stays_ml": 0.0}
    bare = amount(film, skin.surface, **whole).volume_ml
    square = Fitting("fin", "fin", ((0.4, 0.1), (0.6, 0.1), (0.6, 0.2), (0.4, 0.2)))
    finned = amount(film, skin.surface, fittings=(square,), **whole).volume_ml
    # Two faces of 20 x 10 mm under 20 um, on three baits.
    assert finned - bare == pytest.approx(3 * 2 * 200 * 20 * 1e-6, rel=0.05)
    unpainted = replace(square, painted=False)
    assert amount(film, skin.surface, fittings=(unpainted,), **whole).volume_ml == bare
    plate = Fitting("bill", "bill", ((0.0, 0.0), (0.1, 0.0), (0.1, 0.0)), halves=(0.02, 0.02))
    assert plate.area == pytest.approx(2 * 0.1 * 0.04)


def test_a_scaled_plan_keeps_film_and_distance():
    plan = Plan(blank=Blank("minnow", 60)).with_layer(
        Layer(0, "paint", "x", film_um=12.0, distance_mm=80.0, region="flank", mask=through("net", size_mm=3.0))
    )
    long = plan.on_blank(Blank("minnow", 150), scaled=True)
    (layer,) = long.layers
    assert (layer.film_um, layer.distance_mm, layer.mask.size_mm) == (12.0, 80.0, 7.5)
    assert layer.softness_mm == pytest.approx(2.5 * plan.layers[0].softness_mm)
    films = [
        film_um(replace(own.layers[0], mask=FREE), Skin(own.blank.surface((60, 24)), own.blank.form.landmarks, {}))
        for own in (plan, long)
    ]
    assert films[1].max() == pytest.approx(films[0].max(), rel=0.02)
    taped = replace(plan.layers[0], mask=Mask("tape"))
    assert taped.scaled(2.5).softness_mm == 0


def test_what_is_scaled_to_a_larger_bait_can_still_be_changed_and_read():
    plan = Plan(blank=Blank("minnow", 60)).with_layer(
        on(
            mask=Mask("stencil", stencil="spots", size_mm=300.0, along_mm=-250.0),
            strokes=(drawn([(0.4, 0.2, 1.0)], "dot", size_mm=50.0), drawn([(0.5, 0.2, 0.0), (0.6, 0.2, 1.0)])),
        )
    )
    for wanted in (Blank("minnow", 180), Blank("minnow", 30)):
        layer = plan.on_blank(wanted, scaled=True).layers[0]
        assert checked_layer(layer) == layer
        assert all(checked(one) == one for one in layer.strokes)
    small = plan.on_blank(Blank("minnow", 30), scaled=True).layers[0]
    assert (small.mask.size_mm, small.mask.along_mm, small.strokes[0].size_mm) == (150.0, -125.0, 25.0)
