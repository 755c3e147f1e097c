"""What is learned from spray-outs of a bench whose paints, droppers and hand are not what they are taken for."""

from dataclasses import replace

import numpy as np
import pytest

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.mixing.learning import learn
from diachrom.core.mixing.spray_outs import Patch, Places, Poured, Predictor, SprayOut
from diachrom.core.mixing.where import Where
from diachrom.demo.paints import PAINTS
from diachrom.errors import InvalidInput

D65 = light("D65")
PLAIN = [one for paint in PAINTS if not ((one := paint.profile()).thins or one.flake or one.fluorescence or one.glow)]
FIELDS = [GROUNDS[key] for key in ("white", "black", "grey")]
DROP = 0.045


class Bench:
    """Ten paints with a truth of their own; its hand sprays every coat too thick or too thin."""

    def __init__(self, seed):
        self.chance = np.random.default_rng(seed)
        self.paints = [PLAIN[at] for at in self.chance.choice(len(PLAIN), 10, replace=False)]
        strength, scattering = self.chance.uniform(0.75, 1.25, 10), self.chance.uniform(0.8, 1.2, 10)
        self.true = [
            replace(paint, absorption=paint.absorption * much, scattering=paint.scattering * hides)
            for paint, much, hides in zip(self.paints, strength, scattering, strict=True)
        ]
        self.strength, self.drops = strength, self.chance.uniform(0.9, 1.1, 10)
        self.hand = float(self.chance.choice([0.8, 1.2]))

    def card(self, first):
        others = self.chance.choice([at for at in range(10) if at != first], 2, replace=False).tolist()
        paints, drops = [first, *others], self.chance.integers(1, 9, 3).tolist()
        parts = [Poured(paint, paint, count, DROP) for paint, count in zip(paints, drops, strict=True)]
        volumes = np.array([count * DROP * self.drops[paint] for paint, count in zip(paints, drops, strict=True)])
        film_um = 16.0 * self.hand
        coat = Coat(mix([self.true[paint] for paint in paints], volumes / volumes.sum()), film_um)
        patches = []
        for ground in FIELDS:
            seen = lab(Where(ground, film_um, True, D65).factor(coat)[0], under=D65)
            patches.append(Patch(ground, 2, seen + self.chance.normal(0, 0.3 / np.sqrt(3), 3)))
        return SprayOut(parts, 8.0, True, patches)

    def cards(self, count):
        return [self.card(at % 10) for at in range(count)]

    def misses(self, found, cards):
        """dE of every card as it is predicted with what was learned."""
        places = Places(10, 10, len(cards))
        own = np.zeros(places.size)
        if found is not None:
            own[:30] = np.stack([np.log(found.strength), np.log(found.scattering), found.tilt], axis=1).ravel()
            own[30:40], own[40] = np.log(found.drop), np.log(found.hand)
        seen = Predictor(self.paints, cards, places).labs([(at, own[None]) for at in range(len(cards))])
        return [
            float(delta_e(one[0], np.array([patch.lab for patch in card.patches])).mean())
            for one, card in zip(seen, cards, strict=True)
        ]


@pytest.mark.parametrize("seed", [0, 1])
def test_twelve_cards_that_touch_every_paint_halve_the_error_on_forty_others_and_more_never_harm(seed):
    bench = Bench(seed)
    others = bench.cards(40)
    cards = bench.cards(30)
    before = np.median(bench.misses(None, others))
    medians = [
        np.median(bench.misses(learn(bench.paints, 10, cards[:count]).corrections, others)) for count in (12, 30)
    ]
    assert medians[0] < 1.0
    assert medians[0] < before / 2
    assert medians[1] < medians[0] + 0.05


def test_the_hand_and_the_strong_paints_are_found_and_what_cards_left_out_gain_is_told():
    bench = Bench(2)
    cards, shares = bench.cards(24), []
    found = learn(bench.paints, 10, cards, progress=shares.append)
    assert found.corrections.hand == pytest.approx(bench.hand, rel=0.06)
    assert np.corrcoef(found.corrections.strength, bench.strength)[0, 1] > 0.7
    assert np.median(found.left_out) < np.median(found.before) / 2
    assert found.aside == []
    assert shares == sorted(shares)
    assert shares[-1] == 1.0


def test_a_heavy_hand_is_learned_where_the_paints_are_what_they_are_taken_for():
    bench = Bench(6)
    bench.true, bench.drops, bench.hand = bench.paints, np.ones(10), 1.25
    found = learn(bench.paints, 10, bench.cards(16))
    assert found.corrections.hand == pytest.approx(1.25, rel=0.04)
    assert np.abs(np.log(found.corrections.strength)).max() < 0.08


def test_a_card_that_fits_nothing_is_set_aside_and_spoils_nothing():
    bench = Bench(3)
    cards = bench.cards(24)
    wrong = replace(cards[5], parts=[replace(part, paint=(part.paint + 4) % 10) for part in cards[5].parts])
    found = learn(bench.paints, 10, [*cards[:5], wrong, *cards[6:]])
    assert found.aside == [5]
    assert np.median(bench.misses(found.corrections, bench.cards(20))) < 1.0


def test_readings_of_nothing_but_noise_teach_nothing():
    bench = Bench(4)
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
    bench = Bench(5)
    cards = bench.cards(6)
    with pytest.raises(InvalidInput, match="5 cards or more"):
        learn(bench.paints, 10, cards[:4])
    for empty in ({"patches": []}, {"parts": []}):
        with pytest.raises(InvalidInput, match="tells nothing"):
            learn(bench.paints, 10, [*cards, replace(cards[0], **empty)])
