"""The sentences that a painter would hold the predictions to, with the demo shelf's paints."""

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.surface import CLEARED, MATTE
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.core.light.lights import light
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.layers import Layer
from diachrom.core.mix.prediction import predict
from diachrom.demo.paints import PAINTS

D65 = light("D65")
SHELF = {paint.id: Pour(paint.profile(), 1, paint.drop_ml) for paint in PAINTS}


def cup(**drops):
    """cup(rav_gull=6, tynn_reducer=4)"""
    pours = [(SHELF[name.replace("_", "-")], count) for name, count in drops.items()]
    return Cup([Pour(pour.paint, count, pour.drop_ml) for pour, count in pours])


def seen(*layers, over="white", sheen=CLEARED):
    return predict(layers, over=GROUNDS[over], sheen=sheen, under=D65)


def test_a_dyes_tenth_coat_over_foil_still_flashes_at_the_glance():
    thinned = cup(lykt_rod=1, tynn_medium=3)
    for coats in (1, 10):
        result = seen(Layer(thinned, 8.0, coats), over="silver-foil")
        glance, away = result.at_angle[0], result.at_angle[-1]
        assert glance.lab[0] > away.lab[0] + 25


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
    matte, glossy = (lch(seen(dark, sheen=CLEARED if clear else MATTE).diffuse.lab) for clear in (False, True))
    assert glossy[0] < matte[0] - 8
    assert glossy[1] > matte[1] + 5
    assert delta_e(seen(white, sheen=MATTE).diffuse.lab, seen(white).diffuse.lab) < 2


def test_reducer_makes_coats_thinner_but_not_another_colour_in_the_cup():
    full, thinned = cup(rav_nype=4), cup(rav_nype=4, tynn_reducer=4)
    np.testing.assert_allclose(seen(Layer(full, 8.0)).cup.lab, seen(Layer(thinned, 8.0)).cup.lab, atol=1e-9)
    np.testing.assert_allclose(
        seen(Layer(full, 8.0)).diffuse.lab,
        seen(Layer(cup(rav_nype=4, tynn_medium=4), 8.0 * (4 * 0.043 + 4 * 0.049) / (4 * 0.043))).diffuse.lab,
        atol=1e-9,
    )
    assert seen(Layer(thinned, 8.0)).diffuse.lab[0] > seen(Layer(full, 8.0)).diffuse.lab[0]


def flop(prediction):
    """Flop index [alman1987]."""
    l15, _, l45, _, l110 = (colour.lab[0] for colour in prediction.at_angle)
    return 2.69 * max(l15 - l110, 0) ** 1.11 / l45**0.86


def hue_between(first, second):
    return abs((second.lch[2] - first.lch[2] + 180) % 360 - 180)


def test_silver_over_black_has_a_higher_flop_index_than_over_white_at_part_cover_and_the_two_meet_as_it_covers():
    silver = cup(malm_solv=1)
    thin = [flop(seen(Layer(silver, 8.0, 1), over=over)) for over in ("black", "white")]
    full = [flop(seen(Layer(silver, 14.0, 8), over=over)) for over in ("black", "white")]
    assert thin[0] > 2 * thin[1]
    assert full[0] == pytest.approx(full[1], rel=0.05)
    assert 9 < full[0] < 18


def test_a_blue_pearl_over_black_is_blue_at_15_degrees_and_over_white_it_is_pale_there_and_slightly_yellow_at_75():
    pearl = Layer(cup(perlemor_blaa=1), 8.0, 2)
    black, white = (seen(pearl, over=over) for over in ("black", "white"))
    _, chroma, hue = black.at_angle[0].lch
    assert 265 < hue < 300
    assert chroma > 35
    assert white.at_angle[0].lch[0] > 85
    assert white.at_angle[0].lch[1] < 32
    assert 80 < white.at_angle[3].lch[2] < 110
    assert 4 < white.at_angle[3].lch[1] < 25


def test_a_colour_shift_moves_in_hue_by_more_than_60_degrees_over_black_and_over_gold_it_is_lighter_and_travels_less():
    shift = Layer(cup(nordlys_fiol=1), 8.0, 1)
    black, gold = (seen(shift, over=over) for over in ("black", "gold-foil"))
    assert hue_between(black.at_angle[0], black.at_angle[3]) > 60
    assert gold.at_angle[2].lab[0] > black.at_angle[2].lab[0] + 10
    travel = [np.hypot(*(one.at_angle[3].lab - one.at_angle[0].lab)[1:]) for one in (black, gold)]
    assert travel[1] < travel[0]


def test_white_over_unsealed_red_candy_is_pink_and_over_sealed_it_is_white():
    red, white = cup(lykt_rod=1, tynn_medium=2), Layer(cup(torv_kritt=1), 14.0, 1)
    open_, sealed = (seen(Layer(red, 8.0, 2, sealed=sealed), white) for sealed in (False, True))
    assert open_.diffuse.lab[1] > 12
    assert sealed.diffuse.lch[1] < 7
    thick = Layer(cup(torv_kritt=1), 14.0, 3)
    assert delta_e(seen(Layer(red, 8.0, 2, sealed=True), thick).diffuse.lab, seen(thick).diffuse.lab) < 3


def test_red_at_8_m_in_green_water_is_near_black_and_a_fluorescent_orange_is_not():
    deep = light("green-lake@8")
    red, shining = (
        predict([Layer(mix, 8.0, 3)], over=GROUNDS["white"], sheen=CLEARED, under=deep).diffuse.lab
        for mix in (cup(torv_rogn=1), cup(glo_oransje=1))
    )
    assert red[0] < 20
    assert shining[0] > red[0] + 25


def test_a_fluorescent_paint_is_brighter_than_white_and_dull_over_black():
    over_white, over_black = (seen(Layer(cup(glo_oransje=1), 8.0, 2), over=over) for over in ("white", "black"))
    assert over_white.diffuse.radiance_factor.max() > 1.2
    assert over_black.diffuse.lab[0] < over_white.diffuse.lab[0] - 25


def test_glow_shines_in_the_dark_more_over_white_and_less_after_twenty_minutes():
    powder = Layer(cup(morild_gronn=1), 25.0, 3)

    def dark(minutes, over="white"):
        under = light(f"dark@{minutes}")
        return predict([powder], over=GROUNDS[over], sheen=CLEARED, under=under).diffuse.lab[0]

    values = [dark(minutes) for minutes in (0, 1, 5, 20)]
    assert values == sorted(values, reverse=True)
    assert values[0] > 60
    assert values[-1] > 10
    assert dark(0, "black") < values[0]
    assert predict(
        [Layer(cup(torv_kritt=1), 14.0, 3)], over=GROUNDS["white"], sheen=CLEARED, under=light("dark@0")
    ).diffuse.lab[0] == pytest.approx(0, abs=1e-6)


def test_a_candy_with_silver_flakes_is_coloured_at_the_glance():
    glance = seen(Layer(cup(lykt_rod=2, malm_solv=4, tynn_medium=2), 8.0, 2), over="black").at_angle[0]
    assert glance.lab[1] > 15
