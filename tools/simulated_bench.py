"""A bench whose paints, droppers and hand are not what they are taken for, and its spray-out cards; for bench and
tests."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from measuring import D65, SHELF

from diachrom.core.cards.learning import Corrections
from diachrom.core.cards.spray_out_cards import CardPart, ParameterIndex, Predictor, ReadPatch, TestCard
from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.film.surface import CLEARED
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.light.lab import lab_of_radiance
from diachrom.core.mix.mixes import special
from diachrom.core.mix.where import Where

DROP_ML, NOISE = 0.045, 0.3


class SimulatedBench:
    """Ten paints off by up to 25 % in strength and 20 % in scattering, drops by 10 %, a hand by 20 %; some of them with
    flakes or light of their own."""

    def __init__(self, seed: int, scatter: float = 0.0, specials: Sequence[str] = ()) -> None:
        self.chance, self.scatter = np.random.default_rng(seed), scatter
        plain = [pour.paint for pour in SHELF.values() if not pour.paint.thins and not special(pour.paint)]
        some = [plain[at] for at in self.chance.choice(len(plain), 10 - len(specials), replace=False)]
        self.paints = [*some, *(SHELF[key].paint for key in specials)]
        self.strength, hiding = self.chance.uniform(0.75, 1.25, 10), self.chance.uniform(0.8, 1.2, 10)
        self.true = [
            replace(
                paint,
                absorption=much * paint.absorption,
                scattering=hides * paint.scattering,
                flake=paint.flake and replace(paint.flake, cover_per_um=much * paint.flake.cover_per_um),
                fluorescence=paint.fluorescence
                and replace(paint.fluorescence, strength_per_um=much * paint.fluorescence.strength_per_um),
            )
            for paint, much, hides in zip(self.paints, self.strength, hiding, strict=True)
        ]
        self.drops = self.chance.uniform(0.9, 1.1, 10)
        self.hand = float(self.chance.choice([0.8, 1.2]))

    def cards(self, count: int) -> list[TestCard]:
        return [self._card(at % 10) for at in range(count)]

    def _card(self, first: int) -> TestCard:
        others = self.chance.choice([at for at in range(10) if at != first], 2, replace=False).tolist()
        paints, drops = [first, *others], self.chance.integers(1, 9, 3).tolist()
        volumes = np.array([count * self.drops[at] for at, count in zip(paints, drops, strict=True)])
        film_um = 16.0 * self.hand * float(np.exp(self.scatter * self.chance.standard_normal()))
        coat = Coat(mix([self.true[at] for at in paints], volumes / volumes.sum()), film_um)
        patches = []
        for key in ("white", "black", "grey"):
            seen = lab_of_radiance(Where(GROUNDS[key], film_um, CLEARED, D65).radiance(coat)[0], under=D65)
            patches.append(ReadPatch(GROUNDS[key], 2, seen + self.chance.normal(0, NOISE / np.sqrt(3), 3)))
        parts = [CardPart(at, at, count, DROP_ML) for at, count in zip(paints, drops, strict=True)]
        return TestCard(parts, 8.0, CLEARED, patches)

    def missed(self, found: Corrections | None, cards: Sequence[TestCard]) -> list[float]:
        """dE of each card as it is predicted with what was learned."""
        places = ParameterIndex(10, 10, len(cards))
        known = np.zeros(places.size)
        if found is not None:
            known[:30] = np.stack([np.log(found.strength), np.log(found.scattering), found.tilt], axis=1).ravel()
            known[30:40], known[40] = np.log(found.drop), np.log(found.hand)
        seen = Predictor(self.paints, cards, places).labs([(at, known[None]) for at in range(len(cards))])
        return [
            float(mean_delta_e(one[0], np.array([own.lab for own in card.patches])))
            for one, card in zip(seen, cards, strict=True)
        ]
