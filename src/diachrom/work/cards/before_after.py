"""What other profiles of some paints make of the painter's own spray-out cards."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from statistics import median

from diachrom.core.film.paint import Paint
from diachrom.core.light.difference import delta_e
from diachrom.errors import DiachromError
from diachrom.store import spray_out_cards
from diachrom.work.cards import compare_prediction
from diachrom.work.mix.contents import contents_of

LATEST = 60  # cards that are looked at
Changed = Mapping[str, tuple[Paint, Paint]]  # by the paint's id: as it was, and as it is now


@dataclass(frozen=True)
class Achieved:
    """The medians over all patches of the latest cards that were read."""

    cards: int
    before: float  # dE
    after: float


def achieved(connection: sqlite3.Connection, changed: Changed) -> Achieved | None:
    """Of the cards that hold one of these paints. None where no such card was read."""
    befores, afters, cards = [], [], 0
    every = [one for one in spray_out_cards.latest(connection, LATEST) if one.counts] if changed else []
    contents_of(connection, [one.draft for one in every])  # read at once
    for card in every:
        try:
            # dE of each patch that was read, before and after; nothing where none of the paints is in it.
            means = [(patch, compare_prediction.mean_of(patch)[0]) for patch in card.patches if patch.coats]
            told = [(one, mean) for one, mean in means if mean is not None]
            off = changed.keys() & compare_prediction.paints_of(connection, card)
            if not told or not off:
                own = []
            else:
                sides = []
                for side in (0, 1):
                    profiles = {key: changed[key][side] for key in off}
                    looks = compare_prediction.predicted(connection, card, [one for one, _ in told], profiles=profiles)
                    pairs = zip(looks, told, strict=True)
                    sides.append([float(delta_e(colour.lab, mean)) for (_, colour), (_, mean) in pairs])
                own = list(zip(*sides, strict=True))
        except DiachromError:
            continue  # its page says what is wrong with it
        cards += bool(own)
        befores += [before for before, _ in own]
        afters += [after for _, after in own]
    return Achieved(cards, median(befores), median(afters)) if cards else None
