"""What is learned from spray-out cards of a bench whose paints, droppers and hand are not what they are taken for."""

from dataclasses import replace

import numpy as np
import pytest
from simulated_bench import SimulatedBench

from diachrom.core.cards.learning import corrected, learn
from diachrom.errors import InvalidInput


@pytest.mark.parametrize("seed", [0, 1])
def test_twelve_cards_that_touch_every_paint_halve_the_error_on_forty_others_and_more_never_harm(seed):
    bench = SimulatedBench(seed)
    others = bench.cards(40)
    cards = bench.cards(30)
    before = np.median(bench.missed(None, others))
    medians = [
        np.median(bench.missed(learn(bench.paints, 10, cards[:count]).corrections, others)) for count in (12, 30)
    ]
    assert medians[0] < 1.0
    assert medians[0] < before / 2
    assert medians[1] < medians[0] + 0.05


def test_the_hand_and_the_strong_paints_are_found_and_what_cards_left_out_gain_is_told():
    bench = SimulatedBench(2)
    cards, shares = bench.cards(24), []
    found = learn(bench.paints, 10, cards, progress=shares.append)
    assert found.corrections.hand == pytest.approx(bench.hand, rel=0.06)
    assert np.corrcoef(found.corrections.strength, bench.strength)[0, 1] > 0.7
    assert np.median(found.left_out) < np.median(found.before) / 2
    assert found.aside == []
    assert shares == sorted(shares)
    assert shares[-1] == 1.0


def test_a_heavy_hand_is_learned_where_the_paints_are_what_they_are_taken_for():
    bench = SimulatedBench(6)
    bench.true, bench.drops, bench.hand = bench.paints, np.ones(10), 1.25
    found = learn(bench.paints, 10, bench.cards(16))
    assert found.corrections.hand == pytest.approx(1.25, rel=0.04)
    assert np.abs(np.log(found.corrections.strength)).max() < 0.08


def test_a_card_that_fits_nothing_is_set_aside_and_spoils_nothing():
    bench = SimulatedBench(3)
    cards = bench.cards(24)
    wrong = replace(cards[5], parts=[replace(part, paint=(part.paint + 4) % 10) for part in cards[5].parts])
    found = learn(bench.paints, 10, [*cards[:5], wrong, *cards[6:]])
    assert found.aside == [5]
    assert np.median(bench.missed(found.corrections, bench.cards(20))) < 1.0


def test_readings_of_nothing_but_noise_teach_nothing():
    bench = SimulatedBench(4)
    noise = [
        replace(
            card, patches=[replace(one, lab=bench.chance.uniform([10, -60, -60], [90, 60, 60])) for one in card.patches]
        )
        for card in bench.cards(12)
    ]
    found = learn(bench.paints, 10, noise)
    assert found.helped == []
    assert np.allclose(found.corrections.strength, 1)
    assert found.corrections.hand == 1


def test_too_few_cards_and_cards_of_nothing_are_said():
    bench = SimulatedBench(5)
    cards = bench.cards(6)
    with pytest.raises(InvalidInput, match="5 cards or more"):
        learn(bench.paints, 10, cards[:4])
    for empty in ({"patches": []}, {"parts": []}):
        with pytest.raises(InvalidInput, match="tells nothing"):
            learn(bench.paints, 10, [*cards, replace(cards[0], **empty)])


def test_the_strengths_of_flakes_and_of_fluorescent_dyes_are_learned_too():
    bench = SimulatedBench(5, specials=("malm-solv", "glo-oransje"))
    others, cards = bench.cards(12), bench.cards(14)
    found = learn(bench.paints, 10, cards)
    assert found.aside == []
    assert {8, 9} & set(found.helped)
    for at in (8, 9):
        assert found.corrections.strength[at] == pytest.approx(bench.strength[at], rel=0.12)
    assert np.median(bench.missed(found.corrections, others)) < np.median(bench.missed(None, others)) / 2
    shone = corrected(bench.paints[9], found.corrections, 9)
    assert shone.fluorescence.strength_per_um == pytest.approx(
        bench.paints[9].fluorescence.strength_per_um * found.corrections.strength[9]
    )
