"""Spray-out cards: predicting and comparing one, learning from many, and what learning is worth on cards left out."""

import sqlite3
import time
from collections.abc import Callable
from pathlib import Path
from statistics import median

import numpy as np
from measuring import row, timed
from simulated_bench import NOISE, SimulatedBench

from diachrom.core.cards.learning import learn
from diachrom.store import spray_out_cards as kept
from diachrom.store.connection import connected, writing
from diachrom.store.spray_out_cards import KeptCard
from diachrom.web.server import running
from diachrom.work.cards import spray_out_cards

MANY = 500
AT = "2026-11-25T10:00:00+00:00"
Ask = Callable[..., object]


def worth() -> None:
    """Forty cards left out, before and after 12 and 24 cards; with an even hand, and with one that scatters by 5 %."""
    for scatter, words in ((0.0, ""), (0.05, ", coats scatter 5 %")):
        before, twelve, more = [], [], []
        for seed in range(4):
            bench = SimulatedBench(seed, scatter)
            others, cards = bench.cards(40), bench.cards(24)
            before.append(median(bench.missed(None, others)))
            twelve.append(median(bench.missed(learn(bench.paints, 10, cards[:12]).corrections, others)))
            more.append(median(bench.missed(learn(bench.paints, 10, cards).corrections, others)))
        worst = max(two / one for one, two in zip(before, twelve, strict=True))
        row(f"cards left out, before{words}: median of 4", median(before), "dE", None, 0, "")
        row(f"  after 12 cards, the worst of 4{words}", max(twelve), "dE", 1.0, 0, "")
        row(f"  after 12 by before, the worst of 4{words}", worst, "", 0.5, 0, "")
        row(f"  after 24 cards, the worst of 4{words}", max(more), "dE", max(twelve), 0, "")
    bench = SimulatedBench(0, 0.0)
    cards = bench.cards(24)
    taken = timed(lambda: learn(bench.paints, 10, cards), 3)
    row("learning from 24 cards of 3 patches, ten paints", taken, "ms", 5000, 0, "")


def one_card(folder: Path) -> None:
    """A card of 12 patches: four grounds, three numbers of coats."""
    with connected(folder) as connection:
        number = spray_out_cards.begin(connection, 10, 1, at=AT)
        for ground in ("white", "black", "grey", "bone"):
            for coats in (1, 2, 3):
                spray_out_cards.add_patch(connection, number, ground, coats)
                spray_out_cards.typed(connection, number, ground, coats, f"{30 + 9 * coats} 20 30", at=AT)
        taken = timed(lambda: spray_out_cards.see(connection, number), 20)
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
        while b"Use what was learned" not in bytes(ask("GET", "/learning", **{"HX-Request": "true"})):  # type: ignore[call-overload]
            begun = time.perf_counter()
            ask("GET", "/mix")
            waits.append(1000 * (time.perf_counter() - begun))
            time.sleep(0.2)
        row(f"learning from {MANY} cards in the server", time.perf_counter() - start, "s", 60, 0, "")
        row("  a Mix page meanwhile, the median", median(waits), "ms", None, alone, "the same page alone")
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
