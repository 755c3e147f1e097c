"""What the log answers: which colours took the most coats, which faults come back with what, how long a bait really
takes beside its plan, what it costs and earns."""

import sqlite3
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from statistics import median
from typing import Any

from diachrom.core.schedule.steps import steps
from diachrom.errors import DiachromError
from diachrom.store import log, plans
from diachrom.store.log import FAULTS, Entry
from diachrom.words import quantity, say
from diachrom.work.orders.bench import ways
from diachrom.work.orders.laying import laid_plan, mixes

COATS = say("coats")  # how an entry tells them
MOST_ENTRIES = 2000  # the latest
MOST = 14  # rows that are shown
SEEN_TOGETHER = 2  # baits with a fault and something else, before that is worth a word
MORE_OFTEN = 1.3  # times as often as without it
DAMP = 65.0  # % relative humidity, from which a clear may stay tacky
RUSHED = 0.75  # of a wait that was planned


@dataclass(frozen=True)
class Coats:
    """A colour, and the coats that it took on a bait: in the mean, and as planned."""

    name: str
    baits: int
    coats: float
    planned: float


@dataclass(frozen=True)
class ComesWith:
    """A fault, and what it comes back with: entries that have both, and how often the fault comes without."""

    fault: str
    having: str
    both: int
    of: int
    share: float  # of those that have it, percent
    without: float  # of the others, percent


@dataclass(frozen=True)
class Takes:
    """A pattern: minutes a bait, really and by its plan; what a bait costs in paint, earns, and earns an hour."""

    name: str
    baits: int
    minutes: float
    planned: float | None  # None where its plan is gone, or was not asked yet
    cost: float
    price: float
    an_hour: float | None  # None where nothing was asked for it
    latest: Entry | None = None  # of which there is a plan


@dataclass(frozen=True)
class Answers:
    entries: int
    coats: Sequence[Coats]
    comes_with: Sequence[ComesWith]
    takes: Sequence[Takes]


def answers(connection: sqlite3.Connection) -> Answers:
    """Of the whole log."""
    every = log.latest(connection, MOST_ENTRIES)
    faults = log.faults(connection, [one.number for one in every])
    return Answers(
        len(every),
        _coats(every),
        _comes_with(every, {key: {one.fault for one in found} for key, found in faults.items()}),
        _takes(every),
    )


def beside_plans(connection: sqlite3.Connection, found: Answers) -> Sequence[Takes]:
    """The same patterns with what a bait takes by its plan, hands alone; that takes a while."""
    return [replace(one, planned=_planned(connection, one.latest)) for one in found.takes]


def _rows(entry: Entry, key: str) -> Iterator[Any]:
    found = (entry.told or {}).get(key)
    yield from found if isinstance(found, list) else ()


def _figure(value: object) -> float | None:
    try:
        return float(str(value).split()[0])
    except (ValueError, IndexError):
        return None


def _coats(every: Sequence[Entry]) -> list[Coats]:
    found: dict[str, list[tuple[int, float, float]]] = {}
    for entry in every:
        own: dict[str, tuple[float, float]] = {}
        for layer in _rows(entry, "layers"):
            if not isinstance(layer, dict) or not isinstance(layer.get("rows"), list):
                continue
            for row in layer["rows"]:
                if isinstance(row, list) and len(row) == 3 and row[0] == COATS:
                    planned, done = _figure(row[1]), _figure(row[2])
                    if planned is not None and done is not None:
                        name = str(layer.get("name", ""))
                        before = own.get(name, (0.0, 0.0))
                        own[name] = before[0] + done, before[1] + planned
        for name, (done, planned) in own.items():
            found.setdefault(name, []).append((entry.baits, done, planned))
    rows = [
        Coats(
            name,
            sum(baits for baits, _, _ in own),
            sum(baits * done for baits, done, _ in own) / sum(baits for baits, _, _ in own),
            sum(baits * planned for baits, _, planned in own) / sum(baits for baits, _, _ in own),
        )
        for name, own in found.items()
        if name
    ]
    return sorted(rows, key=lambda one: (-one.coats, -one.baits, one.name))[:MOST]


def _having(entry: Entry) -> set[str]:
    """What may have to do with a fault: clear, paints, waits that were cut short, what went wrong, damp air."""
    found = {entry.clear.partition(",")[0]} if entry.clear else {say("no clear")}
    found |= {str(row[1]) for row in _rows(entry, "paint") if isinstance(row, list) and len(row) == 4}
    for row in _rows(entry, "waits"):
        planned, waited = (_figure(one) for one in row[1:]) if isinstance(row, list) and len(row) == 3 else (None, None)
        if planned and waited is not None and waited < RUSHED * planned:
            found.add(say("a wait cut short"))
    facts = (entry.told or {}).get("facts")
    humidity = facts.get("humidity_percent") if isinstance(facts, dict) else None
    if isinstance(humidity, (int, float)) and humidity > DAMP:
        found.add(say("air above {damp} humidity", damp=quantity(DAMP, "g", "%")))
    if any(True for _ in _rows(entry, "told")):
        found.add(say("something not as planned"))
    return found


def _comes_with(every: Sequence[Entry], faults: Mapping[int, set[str]]) -> list[ComesWith]:
    having = {entry.number: _having(entry) for entry in every}
    rows = []
    for fault in FAULTS:
        bad = {number for number in having if fault in faults.get(number, ())}
        for what in {one for number in bad for one in having[number]}:
            own = {number for number, all_of in having.items() if what in all_of}
            both, others = len(own & bad), len(having) - len(own)
            share, without = 100 * both / len(own), 100 * (len(bad) - both) / max(others, 1)
            if both >= SEEN_TOGETHER and share > MORE_OFTEN * without:
                rows.append(ComesWith(FAULTS[fault], what, both, of=len(own), share=share, without=without))
    return sorted(rows, key=lambda one: (-(one.share - one.without), -one.both, one.having))[:MOST]


def _takes(every: Sequence[Entry]) -> list[Takes]:
    groups: dict[str, list[Entry]] = {}
    for entry in every:
        groups.setdefault(entry.name, []).append(entry)
    order = sorted(groups.items(), key=lambda row: -sum(one.baits for one in row[1]))[:MOST]
    rows = []
    for name, own in order:
        baits = sum(one.baits for one in own)
        timed = [one for one in own if one.minutes > 0]
        minutes = median(one.minutes / one.baits for one in timed) if timed else 0.0
        costs = [sum(row[3] for row in _rows(one, "paint") if _is_priced(row)) for one in own]
        priced = [one for one in own if one.price]
        price = sum((one.price or 0.0) * one.baits for one in priced) / max(sum(one.baits for one in priced), 1)
        cost = sum(costs) / baits
        rows.append(
            Takes(
                name=name,
                baits=baits,
                minutes=minutes,
                planned=None,
                cost=cost,
                price=price,
                an_hour=60 * (price - cost) / minutes if price and minutes else None,
                latest=next((one for one in timed or own if one.plan is not None and one.version is not None), None),
            )
        )
    return rows


def _is_priced(row: object) -> bool:
    return isinstance(row, list) and len(row) == 4 and isinstance(row[3], (int, float))


def _planned(connection: sqlite3.Connection, latest: Entry | None) -> float | None:
    """Minutes a bait by an entry's plan, as many at once as were painted."""
    if latest is None or latest.plan is None or latest.version is None:
        return None
    try:
        plan = plans.version(connection, latest.plan, latest.version).document
        laid, how = laid_plan(connection, plan, latest.baits), ways(connection)
        hands = sum(step.minutes for step in steps(plan, laid.laid, how))
        return hands + sum(mix.minutes for mix in mixes([laid], how.pace).values()) / latest.baits
    except DiachromError:
        return None
