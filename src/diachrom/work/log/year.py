"""A year in figures: baits, hours, paint, cost, faults by clear and by paint, predictions that came true."""

import sqlite3
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom import clock
from diachrom.store import log
from diachrom.store.log import FAULTS, Entry
from diachrom.words import say
from diachrom.work.cards import record

MONTHS = (
    say("Jan"),
    say("Feb"),
    say("Mar"),
    say("Apr"),
    say("May"),
    say("Jun"),
    say("Jul"),
    say("Aug"),
    say("Sep"),
    say("Oct"),
    say("Nov"),
    say("Dec"),
)
NO_CLEAR = say("without clear")
ARMS_LENGTH_DE = 2.5


@dataclass(frozen=True)
class Month:
    words: str
    baits: int
    hours: float


@dataclass(frozen=True)
class Share:
    """How many of the baits with something were told to have a fault."""

    words: str
    faults: int
    entries: int


@dataclass(frozen=True)
class Hits:
    """Patches of spray-out cards whose colour came out as it was predicted."""

    patches: int
    hit: int  # the same at arm's length

    @property
    def percent(self) -> float:
        """Of all, in percent."""
        return 100 * self.hit / self.patches


@dataclass(frozen=True)
class Year:
    year: int
    years: Sequence[int]
    months: Sequence[Month]
    baits: int
    hours: float
    paint_ml: float
    cost: float
    price: float
    hits: Hits | None  # of what was predicted, by the spray-out cards of that year
    by_fault: Sequence[tuple[str, int]]
    by_clear: Sequence[Share]
    by_paint: Sequence[Share]
    by_pattern: Sequence[tuple[str, int, float]]  # baits, hours: where time goes


def year(connection: sqlite3.Connection, wanted: int | None) -> Year:
    """A year of the log; the latest that has entries where none is asked for."""
    years = log.years(connection)
    chosen = wanted if wanted in years else years[0] if years else int(clock.today(clock.now())[:4])
    rows = log.of_year(connection, chosen)
    own = [(entry, moment.month) for entry in rows if (moment := clock.moment(entry.at)) is not None]
    faults = log.faults(connection, [one.number for one, _ in own])
    faulty = {one.number for one, _ in own if one.number in faults}
    paint = [row for one, _ in own for row in _paint(one)]
    far = [
        patch.delta_e
        for card in record.record(connection).cards
        if card.card.at.startswith(f"{chosen}-")
        for patch in card.patches
    ]
    return Year(
        year=chosen,
        years=years,
        months=[_month(index, own) for index in range(1, 13)],
        baits=sum(one.baits for one, _ in own),
        hours=sum(one.minutes for one, _ in own) / 60,
        paint_ml=sum(ml for _, ml, _ in paint),
        cost=sum(cost for _, _, cost in paint),
        price=sum((one.price or 0.0) * one.baits for one, _ in own),
        hits=Hits(len(far), sum(one <= ARMS_LENGTH_DE for one in far)) if far else None,
        by_fault=Counter(
            FAULTS.get(each.fault, each.fault) for one, _ in own for each in faults.get(one.number, ())
        ).most_common(),
        by_clear=_shares([(one.number, {one.clear.partition(",")[0] or NO_CLEAR}) for one, _ in own], faulty),
        by_paint=_shares([(one.number, {name for name, _, _ in _paint(one)}) for one, _ in own], faulty),
        by_pattern=_patterns([one for one, _ in own]),
    )


def _month(at: int, own: Sequence[tuple[Entry, int]]) -> Month:
    rows = [entry for entry, month in own if month == at]
    return Month(MONTHS[at - 1], sum(row.baits for row in rows), sum(one.minutes for one in rows) / 60)


def _paint(entry: Entry) -> list[tuple[str, float, float]]:
    """(paint, ml, cost) of what it took."""
    rows = (entry.told or {}).get("paint")
    return [
        (str(row[1]), float(row[2]), float(row[3]) if isinstance(row[3], (int, float)) else 0.0)
        for row in (rows if isinstance(rows, list) else ())
        if isinstance(row, list) and len(row) == 4 and isinstance(row[2], (int, float))
    ]


def _shares(own: Sequence[tuple[int, set[str]]], faulty: set[int]) -> list[Share]:
    """By what they have: those with faults first."""
    every: Counter[str] = Counter()
    bad: Counter[str] = Counter()
    for number, having in own:
        every.update(having)
        bad.update(having if number in faulty else ())
    rows = [Share(words, bad[words], count) for words, count in every.items()]
    return sorted(rows, key=lambda share: (-share.faults / share.entries, -share.entries, share.words))


def _patterns(own: Sequence[Entry]) -> list[tuple[str, int, float]]:
    found: dict[str, tuple[int, float]] = {}
    for entry in own:
        baits, hours = found.get(entry.name, (0, 0.0))
        found[entry.name] = (baits + entry.baits, hours + entry.minutes / 60)
    rows = [(name, baits, hours) for name, (baits, hours) in found.items()]
    return sorted(rows, key=lambda row: -row[2])
