"""What a batch really took of each bottle, beside what was planned: the ledger is put right by weight or by eye."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from diachrom.core.shelf.keeping import density
from diachrom.errors import InstrumentError, InvalidInput, NotFound
from diachrom.store import bottles, log
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.kit.devices import SCALE, Devices
from diachrom.work.shelf import stock

# How full a bottle is to the eye, held against the light.
BY_EYE: Mapping[str, tuple[str, float]] = {
    "full": (say("full"), 1.0),
    "most": (say("three quarters"), 0.75),
    "half": (say("half"), 0.5),
    "quarter": (say("a quarter"), 0.25),
    "little": (say("a little"), 0.08),
    "empty": (say("empty"), 0.0),
}


@dataclass(frozen=True)
class Used:
    """A bottle of a batch."""

    bottle: int
    name: str
    planned_ml: float | None  # None where the entry does not tell
    poured_ml: float
    left_ml: float  # by the ledger
    made_here: bool  # a jar, which has a label to print


def used(connection: sqlite3.Connection, number: int) -> Sequence[Used]:
    """The bottles of an entry, those that took most first. Raises NotFound."""
    told = log.entry(connection, number).told or {}
    planned = _planned(told)
    rows = _poured(told)
    known = bottles.by_id(connection, [bottle for bottle in rows if _exists(connection, bottle)])
    found = [
        Used(
            one.id,
            one.full_name,
            planned_ml=planned.get(one.id),
            poured_ml=rows[one.id],
            left_ml=one.left_ml,
            made_here=one.recipe is not None,
        )
        for one in known.values()
    ]
    return sorted(found, key=lambda one: -one.poured_ml)


def _exists(connection: sqlite3.Connection, bottle: int) -> bool:
    try:
        bottles.one(connection, bottle)
    except NotFound:
        return False
    return True


def _planned(told: Mapping[str, Any]) -> dict[int, float]:
    rows = told.get("planned")
    return {
        int(row[0]): float(row[1])
        for row in (rows if isinstance(rows, list) else ())
        if isinstance(row, list) and len(row) == 2 and all(isinstance(one, (int, float)) for one in row)
    }


def _poured(told: Mapping[str, Any]) -> dict[int, float]:
    rows = told.get("paint")
    return {
        row[0]: float(row[2])
        for row in (rows if isinstance(rows, list) else ())
        if isinstance(row, list) and len(row) == 4 and isinstance(row[0], int) and isinstance(row[2], (int, float))
    }


def by_scale(connection: sqlite3.Connection, devices: Devices, bottle: int) -> float:
    """ml that left a bottle, by a scale that was set to zero with it before: what it shows now. Raises
    InstrumentError, NotFound."""
    with devices.scale(SCALE) as scale:
        grams = scale.weigh()
    if not grams:
        raise InstrumentError(
            say("The scale shows nothing: set it to zero with the bottle on it before you pour."), field="device"
        )
    return abs(grams) / density(bottles.one(connection, bottle).kind)


def put_right(
    connection: sqlite3.Connection, number: int, bottle: int, *, used_ml: float | None = None, eye: str = "", at: str
) -> None:
    """The ledger and the entry say what was really used: so many ml, or what the eye finds left. Raises InvalidInput,
    NotFound."""
    with writing(connection):
        entry = log.entry(connection, number)
        told = dict(entry.told or {})
        poured = _poured(told)
        if bottle not in poured:
            raise InvalidInput(say("That bottle is not of this entry."), field="bottle")
        own = bottles.one(connection, bottle)
        if used_ml is None:
            if eye not in BY_EYE:
                raise InvalidInput(say("Say how full it is to the eye, or what was used."), field="eye")
            left_ml = BY_EYE[eye][1] * own.size_ml
            used_ml = max(poured[bottle] + own.left_ml - left_ml, 0.0)
        else:
            left_ml = own.left_ml + poured[bottle] - used_ml
            if left_ml < 0:
                raise InvalidInput(
                    say("{name} did not hold so much: correct it on its page.", name=own.full_name), field="used_ml"
                )
        stock.correct(connection, bottle, min(left_ml, own.size_ml), at=at)
        told["paint"] = [
            [*row[:2], round(used_ml, 4), _cost(row, poured[bottle], used_ml)] if row[0] == bottle else row
            for row in told["paint"]
        ]
        log.set_told(connection, number, told)


def _cost(row: Sequence[Any], poured_ml: float, used_ml: float) -> float | None:
    return None if row[3] is None or not poured_ml else round(row[3] * used_ml / poured_ml, 3)
