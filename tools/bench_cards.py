"""Test cards: predicting and comparing one, learning from many, and what learning is worth on cards left out."""

import sqlite3
import statistics
import time
from collections.abc import Callable, Sequence
from dataclasses import replace
from pathlib import Path

import numpy as np
from measuring import D65, SHELF, row, timed

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.layer import Coat
from diachrom.core.film.paint import mix
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.mixing.learning import Corrections, learn
from diachrom.core.mixing.mixes import special
from diachrom.core.mixing.spray_outs import Patch, Places, Poured, Predictor, SprayOut
from diachrom.core.mixing.where import Where
from diachrom.store import spray_outs as kept
from diachrom.store.connection import connected, writing
from diachrom.store.spray_outs import SprayOut as KeptCard
from diachrom.web.running import running
from diachrom.work import spray_outs

MANY = 500
AT = "2026-11-25T10:00:00+00:00"
Ask = Callable[..., object]
DROP_ML, NOISE = 0.045, 0.3


class SimulatedBench:
    """Ten paints off by up to 25 % in strength and 20 % in scattering, drops by 10 %, a hand by 20 %."""

    def __init__(self, seed: int, scatter: float) -> None:
        self.chance, self.scatter = np.random.default_rng(seed), scatter
        plain = [pour.paint for pour in SHELF.values() if not pour.paint.thins and not special(pour.paint)]
        self.paints = [plain[at] for at in self.chance.choice(len(plain), 10, replace=False)]
        strong, hiding = self.chance.uniform(0.75, 1.25, 10), self.chance.uniform(0.8, 1.2, 10)
        self.true = [
            replace(paint, absorption=much * paint.absorption, scattering=hides * paint.scattering)
            for paint, much, hides in zip(self.paints, strong, hiding, strict=True)
        ]
        self.drops = self.chance.uniform(0.9, 1.1, 10)
        self.hand = float(self.chance.choice([0.8, 1.2]))

    def cards(self, count: int) -> list[SprayOut]:
        return [self._card(at % 10) for at in range(count)]

    def _card(self, first: int) -> SprayOut:
        others = self.chance.choice([at for at in range(10) if at != first], 2, replace=False).tolist()
        paints, drops = [first, *others], self.chance.integers(1, 9, 3).tolist()
        volumes = np.array([count * self.drops[at] for at, count in zip(paints, drops, strict=True)])
        film_um = 16.0 * self.hand * float(np.exp(self.scatter * self.chance.standard_normal()))
        coat = Coat(mix([self.true[at] for at in paints], volumes / volumes.sum()), film_um)
        patches = []
        for key in ("white", "black", "grey"):
            seen = lab(Where(GROUNDS[key], film_um, True, D65).factor(coat)[0], under=D65)
            patches.append(Patch(GROUNDS[key], 2, seen + self.chance.normal(0, NOISE / np.sqrt(3), 3)))
        parts = [Poured(at, at, count, DROP_ML) for at, count in zip(paints, drops, strict=True)]
        return SprayOut(parts, 8.0, True, patches)

    def missed(self, found: Corrections | None, cards: Sequence[SprayOut]) -> float:
        """Median dE of cards as they are predicted with what was learned."""
        places = Places(10, 10, len(cards))
        known = np.zeros(places.size)
        if found is not None:
            known[:30] = np.stack([np.log(found.strength), np.log(found.scattering), found.tilt], axis=1).ravel()
            known[30:40], known[40] = np.log(found.drop), np.log(found.hand)
        seen = Predictor(self.paints, cards, places).labs([(at, known[None]) for at in range(len(cards))])
        far = [
            delta_e(one[0], np.array([own.lab for own in card.patches])).mean()
            for one, card in zip(seen, cards, strict=True)
        ]
        return float(np.median(far))


def worth() -> None:
    """Forty cards left out, before and after 12 and 24 cards; with an even hand, and with one that scatters by 5 %."""
    for scatter, words in ((0.0, ""), (0.05, ", coats scatter 5 %")):
        before, twelve, more = [], [], []
        for seed in range(6):
            bench = SimulatedBench(seed, scatter)
            others, cards = bench.cards(40), bench.cards(24)
            before.append(bench.missed(None, others))
            twelve.append(bench.missed(learn(bench.paints, 10, cards[:12]).corrections, others))
            more.append(bench.missed(learn(bench.paints, 10, cards).corrections, others))
        worst = max(two / one for one, two in zip(before, twelve, strict=True))
        row(f"cards left out, before{words}: median of 6", statistics.median(before), "dE", None, 0, "")
        row(f"  after 12 cards, the worst of 6{words}", max(twelve), "dE", 1.0, 0, "")
        row(f"  after 12 by before, the worst of 6{words}", worst, "", 0.5, 0, "")
        row(f"  after 24 cards, the worst of 6{words}", max(more), "dE", max(twelve), 0, "")
    bench = SimulatedBench(0, 0.0)
    cards = bench.cards(24)
    taken = timed(lambda: learn(bench.paints, 10, cards), 3)
    row("learning from 24 cards of 3 patches, ten paints", taken, "ms", 5000, 0, "")


def one_card(folder: Path) -> None:
    """A card of 12 patches: four grounds, three numbers of coats."""
    with connected(folder) as connection:
        number = spray_outs.begin(connection, 10, 1, at=AT)
        for ground in ("white", "black", "grey", "bone"):
            for coats in (1, 2, 3):
                spray_outs.add_patch(connection, number, ground, coats)
                spray_outs.typed(connection, number, ground, coats, f"{30 + 9 * coats} 20 30", at=AT)
        taken = timed(lambda: spray_outs.see(connection, number), 20)
        row("a card of 12 patches, predicted and compared", taken, "ms", 60, 0, "")


def many_cards(folder: Path, ask_at: Callable[[str], Ask]) -> None:
    """The demo's cards over and over, each read a little otherwise, learned in the running server."""
    with connected(folder) as connection:
        old = [one for one in kept.latest(connection) if one.counts]
        chance = np.random.default_rng(5)
        with writing(connection):
            for count in range(MANY - len(old)):
                _again(connection, old[count % len(old)], chance)
    with running(folder) as address:
        ask = ask_at(address)
        ask("GET", "/mix")
        alone = timed(lambda: ask("GET", "/mix"), 10)
        start, waits = time.perf_counter(), []
        ask("POST", "/learning/start", "", **{"HX-Request": "true"})
        while b"Take it" not in bytes(ask("GET", "/learning", **{"HX-Request": "true"})):  # type: ignore[call-overload]
            begun = time.perf_counter()
            ask("GET", "/mix")
            waits.append(1000 * (time.perf_counter() - begun))
            time.sleep(0.2)
        row(f"learning from {MANY} cards in the server", time.perf_counter() - start, "s", 60, 0, "")
        row("  a Mix page meanwhile, the median", statistics.median(waits), "ms", None, alone, "the same page alone")
        row("  a Mix page meanwhile, the slowest", max(waits), "ms", None, alone, "the same page alone")


def _again(connection: sqlite3.Connection, one: KeptCard, chance: np.random.Generator) -> None:
    where = [(patch.ground, patch.coats) for patch in one.patches]
    number = kept.add(connection, one.draft, where, recipe=one.recipe, version=one.version, at=one.at)
    for patch in one.patches:
        for reading in patch.readings:
            if reading.lab is not None:
                point = (np.array(reading.lab) + chance.normal(0, NOISE, 3)).tolist()
                own = kept.patch_of(connection, number, patch.ground, patch.coats)
                kept.read(connection, own, source=reading.source, lab=point, predicted=reading.predicted, at=one.at)


def cards(home: Path, fill: Callable[[Path], None], ask_at: Callable[[str], Ask]) -> None:
    worth()
    fill(home / "cards")
    one_card(home / "cards")
    many_cards(home / "cards", ask_at)
