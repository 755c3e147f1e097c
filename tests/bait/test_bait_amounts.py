"""Paint for a job, against drops thrown at the bait's silhouette."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import through

from diachrom.core.bait.amounts import amount, masked_away
from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin, film_um
from diachrom.core.bait.plan import Layer
from diachrom.core.bait.through import FREE
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
    bars = Layer(1, film_um=10.0, coats=1, through=through("bars", size_mm=9.0, gap_mm=3.0, amount=0.0))
    own, without = film_um(bars, skin), film_um(replace(bars, through=FREE), skin)
    assert masked_away(own, without, skin.surface) == pytest.approx(2 / 3, abs=0.04)
    none = amount(np.zeros((60, 24)), skin.surface, baits=3)
    assert (none.volume_ml, none.covers_mm2) == (0.0, 0.0)
    assert masked_away(np.zeros((60, 24)), np.zeros((60, 24)), skin.surface) == 0.0
