"""So much of a mix in whole drops: the ratio that is poured is the recipe's."""

import random
from fractions import Fraction
from math import gcd

import pytest

from diachrom.core.mix.batch import batch, check_countable, closest, lowest_terms
from diachrom.errors import EmptyCup, InvalidInput


def test_a_small_bait_gets_the_recipe_and_what_is_over_is_told():
    small = batch([1, 4, 4], [0.05] * 3, 0.2)
    assert small.drops == (1, 4, 4)
    assert (small.ml, small.over_ml) == (pytest.approx(0.45), pytest.approx(0.25))
    assert batch([12, 12], [0.05] * 2, 0.3).drops == (3, 3)
    assert batch([8, 2], [0.05, 0.05], 0.4).drops == (8, 2)


def test_of_many_recipes_and_volumes_the_poured_ratio_is_exact_and_the_batch_the_smallest():
    chance = random.Random(36)
    for _ in range(400):
        drops = [chance.randint(1, 24) for _ in range(chance.randint(1, 6))]
        sizes = [chance.uniform(0.02, 0.08) for _ in drops]
        ml = chance.uniform(0.05, 30)
        found = batch(drops, sizes, ml)
        assert {Fraction(a, b) for a, b in zip(found.drops, drops, strict=True)} == {Fraction(found.drops[0], drops[0])}
        assert found.ml >= ml - 1e-9
        assert found.over_ml == pytest.approx(found.ml - ml, abs=1e-9)
        times = gcd(*found.drops)
        assert times == 1 or found.ml * (times - 1) / times < ml  # one time fewer would not do


def test_where_the_ratio_may_change_no_more_is_made_and_nothing_is_left_out():
    chance = random.Random(4)
    for _ in range(100):
        drops = [chance.randint(1, 12) for _ in range(chance.randint(2, 5))]
        ml = chance.uniform(0.05 * len(drops), 3)
        found = closest(drops, [0.05] * len(drops), ml)
        assert min(found.drops) >= 1
        assert found.ml <= ml + 1e-9
    assert closest([1, 4, 4], [0.05] * 3, 0.2).drops in ((1, 1, 2), (1, 2, 1))
    assert closest([1, 4, 4], [0.05] * 3, 0.91).drops == (2, 8, 8)


def test_what_cannot_be_poured_is_said():
    assert lowest_terms([0, 12, 12]) == (0, 1, 1)
    with pytest.raises(EmptyCup):
        batch([], [], 1)
    with pytest.raises(EmptyCup):
        batch([0, 0], [0.05, 0.05], 1)
    for wrong in (0, -1, float("inf"), float("nan")):
        with pytest.raises(InvalidInput, match="at most"):
            batch([1, 1], [0.05, 0.05], wrong)
    with pytest.raises(InvalidInput, match="A drop of each"):
        closest([1, 1, 1], [0.05] * 3, 0.1)
    with pytest.raises(InvalidInput, match="at most"):
        check_countable(batch([1, 1], [0.05, 0.05], 10_000))
    with pytest.raises(InvalidInput, match="measure it in ml"):
        check_countable(batch([1, 1], [0.05, 0.05], 100))
