"""What leaves the core is a number, whatever is sprayed over whatever in whatever light at whatever tilt."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.kinds import KINDS
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.lights import WORDS, light
from diachrom.core.light.water import WATERS
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.core.mix.strip import Over, strip
from diachrom.demo.paints import PAINTS

LIGHTS = [*WORDS, *(f"{water}@{depth}" for water in WATERS for depth in (0, 7.5, 20)), "dark@0", "dark@60"]
ANGLES = (0, 15, 45, 110, 160)
ONE_OF_EACH = [next(one for one in PAINTS if one.kind == kind).profile() for kind in KINDS]


def finite(colour):
    return bool(np.isfinite([*colour.radiance_factor, *colour.lab, *colour.lch]).all())


@pytest.mark.parametrize("key", LIGHTS)
def test_every_kind_over_every_ground_is_a_number_at_every_tilt(key):
    # One diffuser is as another: all of them in daylight, in any other light the darkest and the brightest.
    over = [Over.bare(one) for one in GROUNDS.values() if one.glossy or key == "D65" or one.key in ("white", "black")]
    for paint in ONE_OF_EACH:
        cup = Cup([Pour(paint, 3)])
        seen = strip(cup, film_um=8, coats=2, over=over, sheen=CLEARED, under=light(key), angles_deg=ANGLES)
        for column in seen.columns:
            patches = (column.bare, column.edge, *column.patches)
            assert all(finite(colour) for patch in patches for colour in (patch.diffuse, *patch.at_angle)), paint.kind


@given(
    parts=st.lists(st.tuples(st.sampled_from(ONE_OF_EACH), st.integers(1, 500)), min_size=1, max_size=4),
    film_um=st.sampled_from([5e-324, 1e-300, 1e-12, 1e-5, 0.01, 8.0, 200.0]),
    coats=st.sampled_from([1, 2, 25]),
    ground=st.sampled_from(list(GROUNDS)),
    key=st.sampled_from(LIGHTS),
    clear=st.booleans(),
)
def test_any_mix_of_any_thickness_is_a_number(parts, film_um, coats, ground, key, clear):
    layers = [Layer(Cup([Pour(paint, drops) for paint, drops in parts]), film_um, coats)]
    seen = predict(layers, over=GROUNDS[ground], sheen=CLEARED if clear else MATTE, under=light(key), angles_deg=ANGLES)
    assert all(finite(colour) for colour in (*seen.at_angle, seen.diffuse, *([seen.cup] if seen.cup else [])))
    assert np.isfinite([seen.contrast_ratio, seen.spread.delta_e]).all()
