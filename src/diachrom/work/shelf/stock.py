"""What is left: the ledger, how fast it goes, what a cup took, and one's own mixes kept in jars."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from diachrom import clock
from diachrom.core.shelf.keeping import ageing, shaking
from diachrom.errors import InvalidInput
from diachrom.store import bottles, paints, shelf_history
from diachrom.store.bottles import Bottle, StockEntry
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.words import quantity, say
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf

RATE_WEEKS = 8
LEDGER_SEEN = 400  # lines back, for the plot
Happening = Literal["bought", "poured", "spilled", "thrown away"]


@dataclass(frozen=True, eq=False)
class BottleSeen:
    """A bottle with what happened to it lately, the newest first, and how fast it goes."""

    row: OnShelf
    record: PaintRecord  # of the paint in it
    ledger: Sequence[StockEntry]
    weeks_left: float | None  # None when nothing was poured lately
    reminders: Sequence[str]


def see_bottle(connection: sqlite3.Connection, bottle: int, *, at: str, lines: int = LEDGER_SEEN) -> BottleSeen:
    """Raises BottleNotFound."""
    row = on_shelf(connection, [bottle])[bottle]
    ledger = bottles.ledger(connection, bottle, most=lines)
    record = paints.record(connection, row.bottle.paint_id)
    return BottleSeen(
        row, record, ledger, weeks_left(connection, [row.bottle], at=at).get(bottle), reminders(row.bottle, at=at)
    )


def rate_since(at: str) -> str:
    """The time from which on pours count for the present rate."""
    return (datetime.fromisoformat(at) - timedelta(weeks=RATE_WEEKS)).isoformat()


def weeks_left(connection: sqlite3.Connection, of: Sequence[Bottle], *, at: str) -> dict[int, float]:
    """Weeks that each bottle lasts at the rate of the last eight; left out where nothing was poured."""
    poured = bottles.poured_since(connection, rate_since(at), [bottle.id for bottle in of])
    return {
        bottle.id: max(0.0, bottle.left_ml) / (poured[bottle.id] / RATE_WEEKS)
        for bottle in of
        if poured.get(bottle.id, 0) > 0
    }


def days_between(earlier: str | None, at: str) -> float | None:
    """Days from one day to another, None where either is none."""
    then, now = clock.day_of(earlier or ""), clock.day_of(at)
    return None if then is None or now is None else (now - then).days


def reminders(bottle: Bottle, *, at: str) -> list[str]:
    """What its kind and its days ask for before it is poured."""
    if bottle.left_ml <= 0:
        return []
    opened = days_between(bottle.opened_on, at)
    said = [
        shaking(bottle.kind, days_between(bottle.shaken_on, at))
        if bottle.shaken_on or bottle.state == "settled"
        else "",
        ageing(bottle.kind, days_bought=days_between(bottle.bought_on, at), days_opened=opened),
    ]
    return [one for one in said if one]


def correct(connection: sqlite3.Connection, bottle: int, left_ml: float, *, at: str) -> None:
    """Say what is really left; the ledger gets the difference. Raises BottleNotFound and InvalidInput."""
    with writing(connection):
        old = bottles.one(connection, bottle)
        if not 0 <= left_ml <= old.size_ml:
            raise InvalidInput(
                say(
                    "{full_name}: a {size} bottle holds 0 to {size}, not {left}.",
                    full_name=old.full_name,
                    size=quantity(old.size_ml, "g", "ml"),
                    left=quantity(left_ml, "g"),
                ),
                field="left_ml",
            )
        if left_ml != old.left_ml:
            with shelf_history.step(
                connection, say("correcting {full_name}", full_name=old.full_name), at=at
            ) as recorder:
                change = left_ml - old.left_ml
                recorder.entered(bottles.enter(connection, bottle=bottle, at=at, kind="corrected", ml=change))
                if left_ml > 0 and old.state == "empty":
                    recorder.touch("bottle", bottle)
                    bottles.change(connection, bottle, state="open")


# What the ledger's entries are called.
HAPPENED = {
    "bought": say("bought"),
    "poured": say("poured"),
    "corrected": say("corrected"),
    "spilled": say("spilled"),
    "thrown away": say("thrown away"),
    "made": say("made"),
}


def happened(
    connection: sqlite3.Connection, bottle: int, kind: Happening, ml: float, *, note: str = "", at: str
) -> None:
    """Something was bought into a bottle, poured, spilled, or thrown away. Raises BottleNotFound and InvalidInput.

    More than is in it cannot be spilled: then what was left is what has to be corrected first.
    """
    with writing(connection):
        old = bottles.one(connection, bottle)
        if not 0 < ml <= old.size_ml:
            raise InvalidInput(
                say(
                    "{full_name}: 0 to {size} can be {kind}, not {ml}.",
                    full_name=old.full_name,
                    size=quantity(old.size_ml, "g", "ml"),
                    kind=HAPPENED[kind],
                    ml=quantity(ml, "g"),
                ),
                field="ml",
            )
        if kind != "bought" and ml > old.left_ml + 1e-9:
            raise InvalidInput(
                say(
                    "{full_name} has {left} left; {ml} cannot be {kind}. Correct what is left first.",
                    full_name=old.full_name,
                    left=quantity(old.left_ml, ".1f", "ml"),
                    ml=quantity(ml, "g", "ml"),
                    kind=HAPPENED[kind],
                ),
                field="ml",
            )
        with shelf_history.step(
            connection,
            say("{ml} of {full_name} {kind}", ml=quantity(ml, "g", "ml"), full_name=old.full_name, kind=HAPPENED[kind]),
            at=at,
        ) as recorder:
            signed = ml if kind == "bought" else -ml
            recorder.entered(bottles.enter(connection, bottle=bottle, at=at, kind=kind, ml=signed, note=note))
