"""Two-part clear against figures worked out by hand."""

import pytest

from diachrom.core.finish.two_part import Clearing, Resin, batch, by_weight, floats, least_ml, pot_life_s
from diachrom.errors import InvalidInput


def test_one_to_one_by_volume_is_not_one_to_one_by_weight():
    assert Resin(1, 1, 1.10, 0.913).weight_ratio == pytest.approx(0.83)
    assert Resin(2, 1, 1.15, 1.00).weight_ratio == pytest.approx(1 / 2.3)


def test_a_ratio_by_weight_comes_back_by_weight():
    own = by_weight(100, 83, density_a=1.10, density_b=0.913)
    assert own.weight_ratio == pytest.approx(0.83)
    assert own.parts_b / own.parts_a == pytest.approx(1.0)


def test_a_batch_is_what_lies_on_the_baits_and_what_stays_behind():
    made = batch(Resin(1, 1, 1.10, 0.913), Clearing(area_mm2=8000, film_um=150, coats=2, baits=7), scale_g=0.01)
    assert made.volume_ml == pytest.approx(8000 * 150e-6 * 7 + 1.0)  # 9.4 ml a coat
    assert (made.a_ml, made.b_ml) == pytest.approx((4.7, 4.7))
    assert (made.a_g, made.b_g) == pytest.approx((5.17, 4.2911))
    assert made.on_bait_g == pytest.approx(2.4 * 1.0065)
    assert made.weighable


@pytest.mark.parametrize(("scale_g", "least"), [(0.01, 0.25 / 0.4565), (0.1, 2.5 / 0.4565), (1.0, 25 / 0.4565)])
def test_the_smallest_batch_is_weighed_within_two_percent(scale_g, least):
    resin = Resin(1, 1, 1.10, 0.913)
    found = least_ml(resin, scale_g)
    assert found == pytest.approx(least)
    smaller = found / 2 * 0.913
    assert scale_g / 2 / smaller == pytest.approx(0.02)
    assert not batch(resin, Clearing(500, baits=1, stays_ml=0.1), scale_g=1.0).weighable


def test_pot_life_halves_with_every_ten_degrees():
    resin = Resin(pot_life_min=40)
    assert pot_life_s(resin, 25) == 2400
    assert pot_life_s(resin, 35) == 1200
    assert pot_life_s(resin, 15) == 4800


def test_clear_takes_room_itself_when_a_bait_floats():
    assert floats(20.0, 25.0, 0.0, 1.1) == ("floats", 5.0)
    words, left = floats(20.0, 25.0, 5.5, 1.1)
    assert words == "floats"
    assert left == pytest.approx(4.5)  # 5.5 g of clear push away 5 ml: half a gram is lost
    assert floats(25.0, 25.0, 0.1, 1.1)[0] == "hangs"
    assert floats(30.0, 25.0, 1.0, 1.1)[0] == "sinks"


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda: Resin(parts_a=0), "Parts of A"),
        (lambda: Resin(density_b=9), "density of B"),
        (lambda: Clearing(0), "The area"),
        (lambda: Clearing(100, baits=0), "Baits"),
        (lambda: least_ml(Resin(), 0), "A scale shows"),
        (lambda: pot_life_s(Resin(), 200), "A room has"),
    ],
)
def test_what_cannot_be_is_said(make, words):
    with pytest.raises(InvalidInput, match=words):
        make()
