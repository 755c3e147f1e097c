"""Light and shade on a bait, as paper and lists have them: told alike to the page, true in a flank's middle."""

import io

import numpy as np
import pytest
from bait.painting import CLEAR, D65, SMALL, on, paint, painted
from PIL import Image

from diachrom.core.bait.fitted import with_fittings
from diachrom.core.bait.screened import linear
from diachrom.core.bait.shading import LAMP, described, lit, rolled
from diachrom.core.bait.shapes import SHAPES
from diachrom.core.bait.view import SIDES, drawn, framed
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import delta_e
from diachrom.core.light.screen import hex_to_lab, linear_to_lab, to_linear
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.strip import Over, strip
from diachrom.demo.paints import PAINTS
from diachrom.exchange import images

PAINT = {one.id: one.profile() for one in PAINTS}


def image(state, *layers, side="left", width=400, shape="minnow", sheen=0.0):
    seen, skin = painted(state, *layers, shape=shape, cells=SMALL)
    frame = framed(SHAPES[shape], skin.surface, side)
    return drawn(seen, linear(seen, D65, sheen=sheen), skin.surface, frame, side=side, width=width), skin


def column(one, share=0.5):
    """Lab down a column of the bait, from its back to its belly."""
    at = int(np.argmin(abs(one.cell_u[0] - share)))
    rows = np.flatnonzero(one.cover[:, at] > 0.99)
    return linear_to_lab(to_linear(one.rgb[rows, at] / 255))


def test_a_white_bait_is_nowhere_burnt_out_and_its_belly_is_no_grey():
    labs = column(image("primed-white")[0])
    back, middle, belly = labs[2, 0], labs[len(labs) // 2, 0], labs[-3, 0]
    assert back <= 97
    assert 90 < middle < 97
    assert belly >= 75
    assert back > middle - 4 > belly


@pytest.mark.parametrize("key", ["torv-himmel", "rav-fjord", "torv-rust", "torv-kritt", "torv-sot"])
def test_the_middle_of_a_flank_is_the_colour_that_mix_shows(key):
    labs = column(image("primed-white", (on(film_um=8.0, coats=2), paint(**{key: 1})), (on(film_um=8.0), CLEAR))[0])
    told = strip(
        Cup([Pour(PAINT[key], 10)]),
        film_um=8.0,
        coats=4,
        over=[Over.bare(GROUNDS["white"])],
        sheen=CLEARED,
        under=D65,
    )
    wanted = hex_to_lab(told.columns[0].after(2).diffuse.shown.srgb)  # what the screen cannot show is greyed for both
    assert delta_e(labs[len(labs) // 2], wanted) < 2


def test_light_is_rolled_off_and_never_moves_the_hue():
    bright = np.linspace(0, 5, 200)[:, None] * np.array([1.0, 0.6, 0.2])
    shown = rolled(bright)
    assert shown.max() <= 1
    assert (np.diff(shown[:, 0]) > 0).all()
    np.testing.assert_allclose(shown[1:, 1] / shown[1:, 0], 0.6)
    np.testing.assert_array_equal(rolled(bright[:30]), bright[:30])


def test_a_place_that_faces_the_eye_shows_its_own_colour():
    colour = np.array([0.3, 0.5, 0.1])
    towards = lit(colour, colour, np.array(LAMP[2]), np.array(0.0))
    np.testing.assert_allclose(towards, colour, rtol=0.002)
    told = described()
    assert told["direct"] * LAMP[2] + told["around"] == pytest.approx(1.0, abs=0.002)


@pytest.mark.parametrize("side", SIDES)
@pytest.mark.parametrize("shape", ["minnow", "deep", "spoon-flat", "glide"])
def test_edges_run_smoothly_and_what_is_fitted_stands_beside(side, shape):
    bare, skin = image("primed-white", side=side, shape=shape, width=300)
    rgb, cover = with_fittings(bare, SHAPES[shape], skin.surface, side=side)
    assert (cover >= bare.cover - 1e-9).all()
    soft = (bare.cover > 0.02) & (bare.cover < 0.98)
    edge = np.abs(np.diff(bare.cover, axis=0)).sum()
    assert soft.sum() > 0.4 * edge
    with Image.open(io.BytesIO(images.png(rgb, cover))) as one:
        alpha = np.asarray(one)[..., 3]
    assert len(np.unique(alpha)) > 20
