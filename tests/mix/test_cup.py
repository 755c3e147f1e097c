"""Drops, volumes, the strip and the spread."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film.grounds import GROUNDS, ground
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour, drop_volume, whole_drops
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.core.mix.strip import Over, strip
from diachrom.demo.paints import PAINTS
from diachrom.errors import BadDrops, EmptyCup, InvalidInput, UnknownGround

SHELF = {paint.id: paint.profile() for paint in PAINTS}
D65 = light("D65")
CHAR = Cup(
    [
        Pour(SHELF["rav-gull"], 6, 0.045),
        Pour(SHELF["torv-kritt"], 1, 0.048),
        Pour(SHELF["rav-nype"], 2, 0.043),
        Pour(SHELF["tynn-reducer"], 4, 0.040),
    ]
)


def test_volume_and_shares_follow_each_bottles_own_drop():
    assert CHAR.drops == 13
    assert CHAR.volume_ml == pytest.approx(6 * 0.045 + 0.048 + 2 * 0.043 + 4 * 0.040)
    assert CHAR.fractions.sum() == pytest.approx(1)
    assert CHAR.fractions[0] == pytest.approx(0.27 / 0.564)
    assert CHAR.dilution == pytest.approx(0.16 / 0.564)


@given(st.integers(1, 40), st.integers(1, 40), st.integers(1, 5))
def test_a_multiple_of_a_recipe_is_the_same_colour(yellow, red, times):
    def mixed(factor):
        pours = [Pour(SHELF["rav-gull"], yellow * factor, 0.045), Pour(SHELF["rav-nype"], red * factor, 0.043)]
        return Cup(pours).mix()

    np.testing.assert_allclose(mixed(1).absorption, mixed(times).absorption, rtol=1e-12)


@pytest.mark.parametrize("bad", [-1, 2.5, 501, float("nan"), float("inf"), None, "3", True, 10**400])
def test_drops_that_cannot_be_counted_are_refused_with_the_paints_name(bad):
    with pytest.raises(BadDrops, match=r"Rav Nype: drops must be a whole number from 0 to 500"):
        whole_drops(bad, paint="Rav Nype")


@pytest.mark.parametrize("value", [0, 500, 4.0])
def test_whole_drops_are_taken(value):
    assert whole_drops(value, paint="x") == value


@pytest.mark.parametrize("bad", [0.0, 0.6, -0.05, float("nan")])
def test_a_drop_of_impossible_size_is_refused(bad):
    with pytest.raises(InvalidInput, match="Rav Nype"):
        drop_volume(bad, paint="Rav Nype")


def test_an_empty_cup_says_what_to_do():
    with pytest.raises(EmptyCup, match="add a bottle and a drop"):
        Cup([Pour(SHELF["rav-gull"], 0)]).mix()


def test_a_cup_of_reducer_has_no_colour_of_its_own_and_leaves_the_ground_as_it_is():
    only = predict([Layer(Cup([Pour(SHELF["tynn-reducer"], 3)]), 8.0)], over=GROUNDS["white"], sheen=CLEARED, under=D65)
    bare = predict([], over=GROUNDS["white"], sheen=CLEARED, under=D65)
    assert only.cup is None
    np.testing.assert_allclose(only.diffuse.lab, bare.diffuse.lab, atol=1e-9)


@pytest.mark.parametrize("key", GROUNDS)
def test_every_field_of_the_strip_is_what_predicting_that_stack_gives(key):
    one = strip(CHAR, film_um=8.0, coats=3, over=[Over.bare(GROUNDS[key])], sheen=MATTE, under=D65)
    for coats, patch in enumerate(one.columns[0].patches, start=1):
        alone = predict([Layer(CHAR, 8.0, coats)], over=GROUNDS[key], sheen=MATTE, under=D65)
        np.testing.assert_allclose(patch.diffuse.lab, alone.diffuse.lab, atol=1e-9)
        for colour, other in zip(patch.at_angle, alone.at_angle, strict=False):
            np.testing.assert_allclose(colour.lab, other.lab, atol=1e-9)
    edge = predict([Layer(CHAR, 4.0)], over=GROUNDS[key], sheen=MATTE, under=D65)
    np.testing.assert_allclose(one.columns[0].edge.diffuse.lab, edge.diffuse.lab, atol=1e-9)
    assert bool(one.columns[0].bare.at_angle) == GROUNDS[key].has_direction


def test_the_spread_covers_what_an_uneven_hand_really_does():
    # Coats, drops and strengths drawn at random as the spread assumes: nine of ten results stay within it.
    layer = Layer(CHAR, 8.0, 2)
    middle = predict([layer], over=GROUNDS["white"], sheen=CLEARED, under=D65)
    random = np.random.default_rng(3)
    outside = 0
    for _ in range(200):
        pours = [
            Pour(pour.paint, pour.drops, pour.drop_ml * float(np.exp(0.08 * random.standard_normal())))
            for pour in CHAR.pours
        ]
        thickness = 8.0 * max(0.1, 1 + 0.2 * random.standard_normal())
        result = predict([Layer(Cup(pours), thickness, 2)], over=GROUNDS["white"], sheen=CLEARED, under=D65)
        outside += delta_e(result.diffuse.lab, middle.diffuse.lab) > middle.spread.delta_e
    assert 0 < outside <= 0.15 * 200
    assert middle.spread.cause == "the coat's thickness"


def test_a_hiding_coat_forgives_its_thickness_and_the_drops_decide():
    grey = Cup([Pour(SHELF["torv-kritt"], 5), Pour(SHELF["torv-sot"], 2)])
    result = predict([Layer(grey, 25.0, 4)], over=GROUNDS["black"], sheen=CLEARED, under=D65)
    assert result.spread.cause != "the coat's thickness"


@pytest.mark.parametrize(
    ("film_um", "coats", "field"),
    [(-1.0, 1, "film_um"), (float("nan"), 1, "film_um"), (201.0, 1, "film_um"), (8.0, 0, "coats"), (8.0, 51, "coats")],
)
def test_coats_out_of_range_are_refused_by_field(film_um, coats, field):
    with pytest.raises(InvalidInput) as caught:
        Layer(CHAR, film_um, coats)
    assert caught.value.field == field


def test_a_stack_higher_than_a_paint_job_is_refused():
    for layers in ([Layer(CHAR, 8.0)] * 60, [Layer(CHAR, 200.0, 50)]):
        with pytest.raises(InvalidInput, match="at most"):
            predict(layers, over=GROUNDS["white"], sheen=CLEARED, under=D65)


def test_an_unknown_ground_is_named_with_those_that_exist():
    with pytest.raises(UnknownGround, match=r"'chrome'.*white.*silver-foil"):
        ground("chrome")


@pytest.mark.parametrize("angle", [-1.0, 161.0, float("nan")])
def test_an_angle_no_eye_can_stand_at_is_refused(angle):
    with pytest.raises(InvalidInput, match="angle"):
        predict([Layer(CHAR, 8.0)], over=GROUNDS["white"], sheen=CLEARED, under=D65, angles_deg=[angle])
