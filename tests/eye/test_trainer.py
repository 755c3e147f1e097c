"""The eye's trainer: rounds that can be told apart, harder where they were met, more often where they were missed."""

from collections import Counter
from random import Random

import pytest

from diachrom.core.eye import trainer
from diachrom.demo.paints import PAINTS
from diachrom.errors import EmptyCup, InvalidInput

ABLE = [(one.profile(), one.drop_ml) for one in PAINTS if trainer.fit(one.profile())]
SHELF, SIZES = [one for one, _ in ABLE], [size for _, size in ABLE]


def made(rounds, seed):
    return trainer.make(SHELF, SIZES, rounds, Random(seed))


def of(one):
    return [SHELF[at] for at in one.paints], [SIZES[at] for at in one.paints]


def test_a_round_is_three_bottles_whose_every_drop_is_seen_and_the_target_itself_is_the_best_guess():
    for seed in range(8):
        one = made({}, seed)
        paints, sizes = of(one)
        assert len(set(one.paints)) == 3
        right = trainer.judge(one.skill, paints, sizes, one.drops, one.drops)
        assert right.delta_e == pytest.approx(0, abs=1e-6)
        fewer = [drop for drop in right.drops if drop.step < 0]
        assert min(drop.delta_e for drop in fewer) > 0.3
        twice = trainer.judge(one.skill, paints, sizes, one.drops, [2 * count for count in one.drops])
        assert twice.delta_e == pytest.approx(0, abs=1e-6)


def test_the_drop_that_is_missing_is_named_first():
    one = next(own for seed in range(20) if max((own := made({}, seed)).drops) > 1)
    paints, sizes = of(one)
    at = one.drops.index(max(one.drops))
    guess = [count - (place == at) for place, count in enumerate(one.drops)]
    judged = trainer.judge(one.skill, paints, sizes, one.drops, guess)
    assert judged.delta_e > 0
    assert (judged.drops[0].place, judged.drops[0].step) == (at, 1)
    assert judged.drops[0].delta_e == pytest.approx(0, abs=1e-6)


def test_the_weak_skill_comes_most_often_and_rounds_get_harder_where_they_are_met():
    weak_in_darks = {"darks": [(1, 14.0)] * 4, "hue": [(3, 1.0)] * 4, "lightness": [(3, 1.0)] * 4, "foil": [(2, 1.5)]}
    count = Counter(made(weak_in_darks, seed).skill for seed in range(30))
    assert count.most_common(1)[0][0] == "darks"
    assert count["darks"] > 20
    assert trainer.level_of([]) == 1
    assert trainer.level_of([(2, 1.0)]) == 3
    assert trainer.level_of([(2, 5.0)]) == 2
    assert trainer.level_of([(2, 20.0)]) == 1
    assert trainer.level_of([(trainer.LEVELS, 0.0)]) == trainer.LEVELS


def test_higher_levels_take_nearer_hues():
    looks = trainer.looks_of(SHELF)
    easy, hard = ({"hue": [(level, 1.0), (level, 50.0)]} for level in (1, 5))
    apart = []
    for rounds in (easy, hard):
        ones = [one for seed in range(40) if (one := made(rounds, seed)).skill == "hue"]
        turns = [abs((looks[one.paints[0], 2] - looks[one.paints[1], 2] + 180) % 360 - 180) for one in ones]
        apart.append(max(turns))
    assert apart[1] < 120 - 15 * 4
    assert apart[0] > apart[1]


def test_a_shelf_without_three_such_bottles_and_a_guess_of_nothing_are_said():
    with pytest.raises(InvalidInput, match="No 3 bottles on this shelf make a round"):
        trainer.make(SHELF[:2], SIZES[:2], {}, Random(1))
    with pytest.raises(InvalidInput, match="No 3 bottles"):
        trainer.make([], [], {}, Random(1))
    with pytest.raises(EmptyCup):
        trainer.checked([0, 0, 0])
    for wrong in ([1, 2], [1, 2, -1], [1, 2, 31]):
        with pytest.raises(InvalidInput, match="0 to 30 drops"):
            trainer.checked(wrong)
