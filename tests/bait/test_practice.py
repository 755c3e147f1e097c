"""Practice: what the film comes to along a line, as the hand went."""

import numpy as np
import pytest

from diachrom.core.bait.practice import COAT_UM, TARGETS, drawn, practised
from diachrom.core.bait.strokes import USUAL_MM_S
from diachrom.errors import InvalidInput

STRAIGHT = TARGETS["straight"]


def went(points, speed=USUAL_MM_S, times=None):
    """Along places at a speed in mm/s, each stretch so many times as slow."""
    path = np.array(points, dtype=float)
    seconds = np.hypot(*np.diff(path, axis=0).T) / speed * (1 if times is None else np.array(times))
    return np.column_stack([path, np.concatenate([[0], np.cumsum(seconds)])])


def judged(*strokes, target=STRAIGHT, disc_mm=4.0, distance_mm=40.0, pressure_bar=1.4):
    return practised(strokes, target, disc_mm=disc_mm, distance_mm=distance_mm, pressure_bar=pressure_bar)


@pytest.mark.parametrize("key", TARGETS)
def test_a_line_followed_at_the_usual_speed_is_even_and_a_coat_thick(key):
    target = TARGETS[key]
    way = np.array(target.points)
    first, last = way[0] - 0.1 * (way[1] - way[0]), way[-1] + 0.1 * (way[-1] - way[-2])
    found = judged(went([first, *way[1:-1], last]), target=target)
    assert found.verdict == "even"
    assert np.median(found.film_um) == pytest.approx(COAT_UM, rel=0.03)
    assert np.nanmax(np.abs(found.off_mm)) < 0.5


def test_half_as_fast_is_twice_as_thick():
    slow, fast = (judged(went([(5, 25), (95, 25)], speed)).film_um for speed in (20.0, 40.0))
    assert np.median(slow) == pytest.approx(2 * np.median(fast), rel=1e-6)


def test_a_hand_that_stops_and_goes_leaves_bands():
    x = np.linspace(5, 95, 37)
    found = judged(went([(a, 25) for a in x], times=[0.4 if k % 4 < 2 else 1.8 for k in range(36)]))
    assert found.verdict == "banded"


def test_so_wet_from_so_near_it_spiders_and_from_farther_not():
    near, far = (judged(went([(5, 25), (95, 25)], 15.0), distance_mm=mm) for mm in (12.0, 60.0))
    assert near.verdict == "spidered"
    assert far.verdict == "even"


def test_beside_the_line_and_next_to_nothing_are_told():
    beside = judged(went([(5, 28), (95, 28)]))
    assert "beside the line" in beside.words
    assert np.nanmean(np.abs(beside.off_mm)) == pytest.approx(3, abs=0.3)
    assert judged(went([(5, 25), (12, 25)])).verdict == "missed"


@pytest.mark.parametrize("strokes", [[], [[]], ["much"], [[[1, 2]]], [[[float("nan"), 0, 0]]], [[[1e9, 0, 0]]]])
def test_what_is_no_stroke_is_said(strokes):
    with pytest.raises(InvalidInput, match=r"[Dd]raw"):
        drawn(strokes)


def test_a_long_stroke_is_thinned_and_a_tap_is_a_dot():
    assert len(drawn([[[k * 0.01, 25, k * 0.001] for k in range(5000)]])[0]) <= 240
    dot = judged(*drawn([[[50, 25, 0], [50, 25, 1.0]]]))
    assert dot.film_um.max() > COAT_UM
    assert dot.verdict == "missed"
