"""How good the predictions have been: card by card as they were read, by kind of paint and ground; hand and drops."""

import sqlite3
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.cards.spray_out_cards import ParameterIndex, Predictor, thickness_of
from diachrom.core.shelf.dropper import DropVolume
from diachrom.store import hand_factor, learnings, spray_out_cards, weighings
from diachrom.store.bottles import Bottle
from diachrom.store.spray_out_cards import KeptCard
from diachrom.work.cards.learning import gather
from diachrom.work.cards.spray_out_cards import AsRead, as_read, missed_by
from diachrom.work.mix.contents import contents_of
from diachrom.work.mix.sprayed_over import over
from diachrom.work.shelf import droppers

LATEST = 120  # cards that are looked at


@dataclass(frozen=True)
class CardRecord:
    """A card as it was predicted when it was read, and as it is predicted today."""

    card: KeptCard
    patches: Sequence[AsRead]
    then: float  # dE, the mean over its patches
    now: float | None  # None for flakes and light of its own
    film: float | None  # times as thick as it is believed to be; None where thickness tells nothing


@dataclass(frozen=True)
class Share:
    """A kind of paint or a ground: how far off its cards were."""

    words: str
    cards: int
    delta_e: float  # the median then


@dataclass(frozen=True, eq=False)
class DropRecord:
    """A bottle's drop: as it stands on the bottle, as it was weighed, as it was learned."""

    bottle: Bottle
    weighed: DropVolume | None
    learned_from_ml: float | None  # what it was counted as before


@dataclass(frozen=True, eq=False)
class Record:
    cards: Sequence[CardRecord]  # the oldest first
    by_kind: Sequence[Share]
    by_ground: Sequence[Share]
    hand: float
    thickness: tuple[float, float] | None  # of single cards: the median, and one standard deviation of a coat
    drops: Sequence[DropRecord]
    learned_at: Sequence[str]  # when something was learned and taken

    @property
    def within(self) -> tuple[float, float]:
        """dE that half and that nine of ten patches came within."""
        far = [patch.delta_e for card in self.cards for patch in card.patches]
        return float(np.median(far)), float(np.quantile(far, 0.9))


def record(connection: sqlite3.Connection) -> Record:
    """Of the cards that count and were read."""
    every = [one for one in spray_out_cards.latest(connection, LATEST) if one.counts]
    read = {one.id: pairs for one in every if (pairs := as_read(one))}
    now, film = _today(connection, set(read))
    cards = [
        CardRecord(one, read[one.id], missed_by(read[one.id]) or 0.0, now.get(one.id), film.get(one.id))
        for one in reversed(every)
        if one.id in read
    ]
    logs = np.log([one.film for one in cards if one.film is not None])
    thickness = None
    if len(logs) >= 3:
        middle = float(np.median(logs))
        thickness = float(np.exp(middle)), 1.4826 * float(np.median(np.abs(logs - middle)))
    learned = [one.at for one in learnings.every(connection) if one.undone_at is None]
    found: dict[str, list[float]] = defaultdict(list)
    for card in cards:
        for patch in card.patches:
            found[patch.patch.ground].append(patch.delta_e)
    far_by_kind: dict[str, list[float]] = defaultdict(list)
    for one, held in zip(cards, contents_of(connection, [card.card.draft for card in cards]), strict=True):
        shelf = held.shelf
        parts = [part for part in one.card.draft.parts if part.drops]
        for kind in {shelf[part.bottle].bottle.kind for part in parts if not shelf[part.bottle].paint.thins}:
            far_by_kind[kind].append(one.then)
    return Record(
        cards=cards,
        by_kind=_shares(far_by_kind),
        by_ground=_shares({over(connection, key).words: far for key, far in found.items()}),
        hand=hand_factor.now(connection),
        thickness=thickness,
        drops=_drops(connection),
        learned_at=learned,
    )


def _today(connection: sqlite3.Connection, wanted: set[int]) -> tuple[dict[int, float], dict[int, float]]:
    """By card: dE as it is predicted now, and how many times as thick it was, by the tables."""
    gathered = gather(connection, only=wanted)
    if not gathered.cards:
        return {}, {}
    places = ParameterIndex(len(gathered.profiles), len(gathered.bottles), len(gathered.core))
    predictor = Predictor(gathered.profiles, gathered.core, places)
    now, film = {}, {}
    for index, card in enumerate(gathered.cards):
        far, times = thickness_of(predictor, index)
        now[card.id] = far
        if times is not None:
            film[card.id] = times
    return now, film


def _shares(found: dict[str, list[float]]) -> list[Share]:
    rows = [Share(words, len(far), float(np.median(far))) for words, far in found.items()]
    return sorted(rows, key=lambda share: -share.delta_e)


def _drops(connection: sqlite3.Connection) -> list[DropRecord]:
    """Of the bottles whose drop was weighed or learned."""
    learned = {bottle: before for (bottle, before), _ in learnings.drops(connection).items()}
    numbers = {*learned, *weighings.bottles(connection)}
    every = droppers.see_each(connection, sorted(numbers))
    return [DropRecord(drops_seen.bottle, drops_seen.volume, learned.get(drops_seen.bottle.id)) for drops_seen in every]
