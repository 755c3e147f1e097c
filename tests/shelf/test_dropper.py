"""A dropper's volume from counted drops, and how paint keeps."""

import numpy as np
import pytest

from diachrom.core.shelf.dropper import WANTED, Counted, drop_volume_from
from diachrom.core.shelf.keeping import ageing, shaking
from diachrom.errors import InvalidInput


def weighed(chance, *, drops, times, true=0.045, spread=0.06):
    return [
        Counted(drops, max(0.01, round(float(chance.normal(true, spread * true, drops).sum()), 2)))
        for _ in range(times)
    ]


def test_the_truth_lies_within_what_is_said_to_be_sure_in_most_cases():
    chance = np.random.default_rng(2)
    inside = 0
    for _ in range(400):
        found = drop_volume_from(weighed(chance, drops=20, times=3))
        inside += abs(found.mean_ml - 0.045) <= found.sure_ml
    assert 0.93 <= inside / 400 <= 1.0


def test_more_drops_make_it_surer_until_they_are_enough():
    chance = np.random.default_rng(3)
    rows, widths, found = [], [], None
    while found is None or found.more_drops:
        rows += weighed(chance, drops=20, times=1)
        found = drop_volume_from(rows)
        widths.append(found.sure_ml)
        assert len(rows) < 20
    assert widths[0] > widths[-1]
    assert found.sure_ml <= WANTED * found.mean_ml
    assert 30 <= found.drops <= 200


def test_one_drop_on_a_scale_of_hundredths_says_next_to_nothing():
    found = drop_volume_from([Counted(1, 0.05)])
    assert found.sure_ml / found.mean_ml > 0.15
    assert found.more_drops >= 20


def test_the_mean_is_over_drops_and_not_over_weighings():
    found = drop_volume_from([Counted(10, 0.5), Counted(30, 1.2)])
    assert found.mean_ml == pytest.approx(1.7 / 40)
    assert found.drops == 40


@pytest.mark.parametrize(("drops", "ml"), [(0, 1.0), (501, 1.0), (5, 0.0), (5, -1.0), (5, float("nan"))])
def test_counts_that_cannot_be_meant_are_refused(drops, ml):
    with pytest.raises(InvalidInput):
        Counted(drops, ml)
    with pytest.raises(InvalidInput, match="Count some drops first"):
        drop_volume_from([])


def test_every_kind_keeps_somehow_and_only_what_settles_wants_shaking():
    assert shaking("pearl", 8) == "shake: 8 days since the last time"
    assert shaking("pearl", 60).startswith("shake well")
    assert shaking("pearl", 5) == shaking("candy", 500) == ""
    assert shaking("glow", None) == "shake before use"


def test_age_counts_from_the_opening_and_before_it_from_the_buying():
    assert ageing("fluorescent", days_bought=400, days_opened=400).startswith("open for 13 months")
    assert ageing("fluorescent", days_bought=600, days_opened=None).startswith("20 months old")
    assert ageing("fluorescent", days_bought=400, days_opened=None) == ""
    assert ageing("fluorescent", days_bought=None, days_opened=None) == ""
