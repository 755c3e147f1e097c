"""The sentences that a painter would hold the predictions to, with the demo shelf's paints."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.core.light.lights import light
from diachrom.core.mixing.cup import Cup, Pour
from diachrom.core.mixing.layers import Layer
from diachrom.core.mixing.prediction import predict
from diachrom.demo.paints import PAINTS

D65 = light("D65")
SHELF = {paint.id: Pour(paint.profile(), 1, paint.drop_ml) for paint in PAINTS}


def cup(**drops):
    """cup(rav_gull=6, tynn_reducer=4)"""
    pours = [(SHELF[name.replace("_", "-")], count) for name, count in drops.items()]
    return Cup.of([Pour(pour.paint, count, pour.drop_ml) for pour, count in pours])


def seen(*layers, over="white", clear_coat=True):
    return predict(layers, over=GROUNDS[over], clear_coat=clear_coat, under=D65)


def test_a_dyes_tenth_coat_over_foil_still_flashes_at_the_glance():
    thinned = cup(lykt_rod=1, tynn_medium=3)
    for coats in (1, 10):
        result = seen(Layer(thinned, 8.0, coats), over="silver-foil")
        glance, away = result.at_angle[0], result.at_angle[-1]
        assert glance.lab[0] > away.lab[0] + 40


def test_an_opaque_whites_third_coat_hides_foil_and_black_alike():
    three = Layer(cup(torv_kritt=1), 14.0, 3)
    white = seen(three).diffuse.lab
    assert seen(three).contrast_ratio > 0.95
    assert delta_e(seen(three, over="black").diffuse.lab, white) < 2
    for colour in seen(three, over="silver-foil").at_angle:
        assert delta_e(colour.lab, white) < 2


@pytest.mark.parametrize("mix", [cup(rav_nype=3, tynn_reducer=1), cup(rav_fjord=2, rav_sitron=5), cup(rav_gull=1)])
def test_a_transparent_mix_is_lighter_on_a_white_bait_than_in_the_cup_and_lighter_still_at_the_glance_over_foil(mix):
    one = Layer(mix, 8.0, 1)
    on_white = seen(one)
    assert on_white.diffuse.lab[0] > on_white.cup.lab[0] + 15
    assert seen(one, over="silver-foil").at_angle[0].lab[0] > on_white.diffuse.lab[0]


def test_blue_over_yellow_is_green():
    colour = seen(Layer(cup(rav_sitron=1), 8.0, 2), Layer(cup(rav_fjord=1), 8.0, 1)).diffuse.lab
    lightness, chroma, hue = lch(colour)
    assert 130 < hue < 175
    assert chroma > 40
    assert lightness > 40


def test_yellow_over_a_black_ground_is_olive_green():
    # The haze of the finest yellow particles is bluer than they are yellow, and black swallows the rest.
    colour = seen(Layer(cup(torv_smor=1), 8.0, 1), over="black").diffuse.lab
    _, chroma, hue = lch(colour)
    assert 95 < hue < 125
    assert chroma > 20


def test_yellow_under_red_and_orange_makes_the_three_blend_more_evenly_than_yellow_beside_them():
    yellow = Layer(cup(rav_sitron=1), 8.0, 2)
    red = Layer(cup(rav_nype=1, tynn_reducer=2), 8.0, 1)
    orange = Layer(cup(rav_multe=1, tynn_reducer=2), 8.0, 1)
    alone = seen(yellow).diffuse.lab
    beside = [delta_e(alone, seen(layer).diffuse.lab) for layer in (red, orange)]
    under = [delta_e(alone, seen(yellow, layer).diffuse.lab) for layer in (red, orange)]
    assert all(step < other for step, other in zip(under, beside, strict=True))


def test_the_first_drop_of_black_in_ten_of_yellow_changes_the_colour_more_than_the_second():
    points = [seen(Layer(cup(torv_smor=10, torv_sot=black), 8.0, 2)).diffuse.lab for black in range(3)]
    assert delta_e(points[0], points[1]) > 1.5 * delta_e(points[1], points[2])


def test_white_in_a_dye_makes_it_hide():
    plain, with_white = (seen(Layer(mix, 8.0, 3)) for mix in (cup(lykt_rod=4), cup(lykt_rod=4, torv_kritt=4)))
    assert plain.contrast_ratio < 0.1
    assert with_white.contrast_ratio > 0.7


def test_a_clear_coat_lowers_the_lightness_of_a_matte_dark_film_raises_its_chroma_and_hardly_moves_white():
    dark, white = Layer(cup(torv_rogn=3, torv_hav=1), 8.0, 3), Layer(cup(torv_kritt=1), 14.0, 3)
    matte, glossy = (lch(seen(dark, clear_coat=clear).diffuse.lab) for clear in (False, True))
    assert glossy[0] < matte[0] - 8
    assert glossy[1] > matte[1] + 5
    assert delta_e(seen(white, clear_coat=False).diffuse.lab, seen(white).diffuse.lab) < 2


def test_reducer_makes_coats_thinner_but_not_another_colour_in_the_cup():
    full, thinned = cup(rav_nype=4), cup(rav_nype=4, tynn_reducer=4)
    np.testing.assert_allclose(seen(Layer(full, 8.0)).cup.lab, seen(Layer(thinned, 8.0)).cup.lab, atol=1e-9)
    np.testing.assert_allclose(
        seen(Layer(full, 8.0)).diffuse.lab,
        seen(Layer(cup(rav_nype=4, tynn_medium=4), 8.0 * (4 * 0.043 + 4 * 0.049) / (4 * 0.043))).diffuse.lab,
        atol=1e-9,
    )
    assert seen(Layer(thinned, 8.0)).diffuse.lab[0] > seen(Layer(full, 8.0)).diffuse.lab[0]
