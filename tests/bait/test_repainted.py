"""A picture of which only some cells changed is the one that is reckoned from nothing."""

from dataclasses import replace

import numpy as np
import pytest
from bait.painting import on, paint
from bait.test_strokes import by_hand, line

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.deposit import Skin
from diachrom.core.bait.mask import Mask
from diachrom.core.bait.picture import picture
from diachrom.core.bait.plan import Plan
from diachrom.core.bait.tabled import Kept

CELLS = (60, 24)
PAINTS = {
    "opaque": paint(torv_mose=1),
    "dots": replace(paint(torv_kritt=1), droplet_um=3.0),
    "transparent": paint(rav_honning=1),
    "flakes": paint(malm_bronse=1),
    "black": paint(torv_sot=1),
}


def seen(kept, state, *rows):
    plan = Plan(blank=Blank("minnow", 110, state=state))
    for layer, _ in rows:
        plan = plan.with_layer(layer)
    skin = Skin(plan.blank.surface(CELLS), plan.blank.form.landmarks, {})
    return picture(plan, [one for _, one in rows], skin, kept).factors


BASE = (
    (on("back", "above", coats=2), PAINTS["opaque"]),
    (on("flank", "side", mask=Mask("net", 6.0, 0.8)), PAINTS["dots"]),
    (on("belly", "below"), PAINTS["transparent"]),
)
STROKE = by_hand(line(0.3, 0.6), film_um=14.0)
AFTER = {
    "a stroke more": (*BASE, (STROKE, PAINTS["black"])),
    "a stroke under the last": (*BASE[:2], (STROKE, PAINTS["black"]), BASE[2]),
    "another stroke": (*BASE, (replace(STROKE, strokes=(*STROKE.strokes, line(0.5, 0.8, v=0.2))), PAINTS["black"])),
    "a layer less": BASE[:2],
    "other paint": (BASE[0], BASE[1], (BASE[2][0], PAINTS["black"])),
    "flakes come in": (*BASE, (STROKE, PAINTS["flakes"])),
    "nothing": (),
}


@pytest.mark.parametrize("state", ["primed-white", "foil-silver"])
@pytest.mark.parametrize("change", AFTER)
def test_what_changed_alone_is_the_same_as_all_of_it(state, change):
    kept = Kept()
    seen(kept, state, *BASE)
    if change == "another stroke":
        seen(kept, state, *AFTER["a stroke more"])
    whole, some = seen(Kept(), state, *AFTER[change]), seen(kept, state, *AFTER[change])
    # Where more of a paint lies than before, what was reckoned of it stands by the steps of a finer table.
    np.testing.assert_allclose(some, whole, atol=4e-3 if change == "another stroke" else 2e-4)


def test_a_stroke_is_reckoned_where_it_lies_and_nowhere_else():
    kept = Kept()
    before = seen(kept, "primed-white", *BASE)
    after = seen(kept, "primed-white", *AFTER["a stroke more"])
    changed = (before != after).any(axis=(0, 1))
    assert 0 < changed.mean() < 0.2
    again = seen(kept, "primed-white", *AFTER["a stroke more"])
    np.testing.assert_array_equal(after, again)


def test_a_dye_that_rises_and_what_shines_are_reckoned_whole():
    rows = ((on(coats=2), paint(lykt_rod=1)), (on("flank"), paint(torv_kritt=1)), (STROKE, PAINTS["black"]))
    kept = Kept()
    seen(kept, "primed-white", *rows[:2])
    np.testing.assert_allclose(seen(kept, "primed-white", *rows), seen(Kept(), "primed-white", *rows), atol=2e-4)
    shining = ((on("flank"), paint(glo_oransje=1)), (STROKE, PAINTS["black"]))
    seen(kept, "primed-white", *shining[:1])
    np.testing.assert_allclose(seen(kept, "primed-white", *shining), seen(Kept(), "primed-white", *shining), atol=2e-4)
