"""Scaling in whole drops, how much a job takes, and thinning."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.amount import Job, learned_misses
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.reducing import reduction
from diachrom.core.mix.scaling import free_volumes, scaled, times_in_whole_drops
from diachrom.demo.paints import PAINTS
from diachrom.errors import EmptyCup, InvalidInput

SHELF = {paint.id: Pour(paint.profile(), 1, paint.drop_ml) for paint in PAINTS}


def cup(**drops):
    return Cup([Pour(SHELF[key.replace("_", "-")].paint, count, 0.05) for key, count in drops.items()])


ORANGE = cup(rav_gull=6, torv_kritt=1, rav_nype=2, tynn_reducer=3)


def test_a_free_volume_costs_nothing_and_one_between_costs_something():
    assert free_volumes(cup(rav_gull=4, rav_nype=2), 0.3, most=4) == pytest.approx([0.15, 0.3, 0.45, 0.6])
    near = free_volumes(cup(rav_gull=4, rav_nype=2), 20.0, most=4)
    assert near[0] < 20.0 < near[-1]
    assert near[1] / 0.15 == pytest.approx(round(near[1] / 0.15))
    double = scaled(ORANGE, 1.2)
    assert double.drops == (12, 2, 4, 6)
    assert double.off < 1e-9
    assert scaled(ORANGE, 0.8).off > 0.01


def test_shares_that_are_no_whole_drops_are_taken_several_times():
    assert times_in_whole_drops([(0.10, 0.05), (0.05, 0.05)]) == (1, [2, 1])
    assert times_in_whole_drops([(0.075, 0.05), (0.05, 0.05)]) == (2, [3, 2])
    assert times_in_whole_drops([(0.001, 0.05)]) == (6, [1])  # a trace is never none, and six times is the most


@given(st.lists(st.integers(1, 12), min_size=1, max_size=5), st.floats(0.2, 8.0))
def test_scaled_drops_come_to_the_volume_and_keep_everything_that_was_in_it(drops, volume):
    whole = Cup([Pour(SHELF["rav-gull"].paint, count, 0.03 + 0.01 * at) for at, count in enumerate(drops)])
    found = scaled(whole, volume)
    assert all(count >= 1 for count in found.drops)
    assert found.volume_ml >= volume - 0.04
    least = sum(pour.drop_ml for pour in whole.pours)
    assert found.volume_ml <= max(volume + 0.07, least + 0.07 + volume)


def test_other_droppers_are_corrected_for():
    other = scaled(cup(rav_gull=6, rav_nype=6), 0.6, drop_ml=[0.025, 0.05])
    assert other.drops == (12, 6)


def test_what_cannot_be_scaled_is_said():
    with pytest.raises(EmptyCup):
        scaled(Cup([]), 1.0)
    for wrong in (0.0, -1.0, 2000.0, float("nan")):
        with pytest.raises(InvalidInput):
            scaled(ORANGE, wrong)
    with pytest.raises(InvalidInput, match="measure it in ml"):
        scaled(ORANGE, 900.0)


def test_the_skin_of_a_ball_and_what_it_takes():
    ball = Job(50, 50, 50, coats=2, film_um=10, misses=0.5, stays_ml=0.2)
    assert ball.area_mm2 == pytest.approx(math.pi * 50**2)
    assert ball.on_baits_ml == pytest.approx(math.pi * 2500 * 20e-6)
    assert ball.volume_ml == pytest.approx(ball.on_baits_ml * 2 + 0.2)
    assert learned_misses(ball, ball.volume_ml) == pytest.approx(0.5)
    assert Job(50, 50, 50, baits=12, stays_ml=0.0).volume_ml == pytest.approx(
        12 * Job(50, 50, 50, stays_ml=0.0).volume_ml
    )
    with pytest.raises(InvalidInput, match="less than"):
        learned_misses(ball, 0.2)


@pytest.mark.parametrize(
    "wrong", [{"length_mm": 0}, {"covers": 0}, {"misses": 1}, {"baits": 0}, {"height_mm": math.nan}]
)
def test_a_job_that_cannot_be_meant_is_refused_by_field(wrong):
    with pytest.raises(InvalidInput) as caught:
        Job(**{"length_mm": 90, "height_mm": 25, "thickness_mm": 15} | wrong)
    assert caught.value.field == next(iter(wrong))


def test_every_kind_with_a_colour_has_a_way_of_thinning():
    ways = {key: kind.thinned for key, kind in KINDS.items() if kind.thinned is not None}
    assert set(ways) == {key for key, kind in KINDS.items() if kind.colours}
    assert all(way.thick <= way.thin <= way.most < 1 for way in ways.values())


def test_added_reducer_brings_a_cup_to_the_share_that_is_said():
    dry = cup(torv_smor=6, torv_kritt=2)
    wants = reduction(dry, nozzle_mm=0.3, hand="thin")
    assert wants.share == pytest.approx(0.35)
    assert wants.add_ml / (dry.volume_ml + wants.add_ml) == pytest.approx(wants.share)
    assert (
        reduction(dry, nozzle_mm=0.2, hand="thin").share
        > wants.share
        > reduction(dry, nozzle_mm=0.5, hand="thin").share
    )
    assert reduction(dry, nozzle_mm=0.3, hand="thick").share == pytest.approx(0.10)
    assert reduction(cup(torv_smor=2, tynn_reducer=8), nozzle_mm=0.3, hand="thin").add_ml == 0.0


def test_too_thin_without_grip_and_flakes_in_a_narrow_nozzle_are_warned_of():
    def notes(one, nozzle_mm=0.5):
        return " ".join(reduction(one, nozzle_mm=nozzle_mm, hand="thin").notes)

    assert "breaks or crawls" in notes(cup(torv_smor=2, tynn_reducer=8))
    assert "no grip" in notes(cup(lykt_rod=4))
    assert "rest 10 minutes" in notes(cup(lykt_rod=4, tynn_medium=8))
    assert "no grip" not in notes(cup(lykt_rod=4, tynn_medium=8))
    assert "0.4 mm or more" in notes(cup(perlemor_blaa=4), 0.3)
    assert notes(ORANGE) == ""
    with pytest.raises(EmptyCup):
        reduction(cup(tynn_reducer=3), nozzle_mm=0.3, hand="thin")
