"""A year of the log: sixty batches, three of them made again, and five faults that were told later."""

import random
import sqlite3
from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any

from diachrom import clock
from diachrom.store import log, plans
from diachrom.store.connection import writing
from diachrom.work.log import entries, filling

BATCHES, PLANS = 60, 9
CUSTOMERS = ("Harbour shop", "The lighthouse", "Ferry crew", "Northern boathouse", "", "")
WISHES = ("", "", "", "Bright belly, please.", "As last time.", "One of them for the wall.")
AGAIN = {14: 3, 33: 12, 51: 27}  # batch -> the one that it repeats
FAULTS = (
    (8, 40, "chipped", "at the tail, on rock; no sealer under the clear"),
    (17, 21, "tacky", "it was 14 °C in the workshop that evening"),
    (36, 60, "faded", "the orange, after a summer in the window"),
    (41, 12, "bled", "candy into the white of the belly: it was not sealed"),
    (46, 30, "came-back", "the hook hanger was painted shut"),
)
YEAR = 365
STEP_DAYS = 6.0


def written(connection: sqlite3.Connection) -> None:
    """Filled as sessions would have filled it, from the plans as they stand."""
    dice = random.Random(2026)
    today = datetime.fromisoformat(clock.now())
    told = {number: _of_plan(connection, number) for number in range(1, PLANS + 1)}
    with writing(connection):
        batches: dict[int, Mapping[str, Any]] = {}
        for index in range(1, BATCHES + 1):
            like = batches.get(AGAIN.get(index, 0))
            plan = dice.randint(1, PLANS) if like is None else int(like["plan"])
            baits = dice.choice((1, 1, 2, 2, 3, 4, 6))
            day = today - timedelta(days=YEAR - STEP_DAYS * index + dice.random() * 3)
            own: dict[str, Any] = {
                **told[plan],
                "at": day.isoformat(timespec="seconds"),
                "plan": plan,
                "baits": baits,
                "customer": dice.choice(CUSTOMERS) if like is None else like["customer"],
                "wish": dice.choice(WISHES),
                "price": dice.choice((24.0, 26.0, 30.0, 36.0)),
                "minutes": round(35 + baits * dice.uniform(18, 34), 1),
                "weight_g": round(dice.uniform(9, 34), 1),
                "note": f"As No. {AGAIN[index]}." if index in AGAIN else "",
            }
            own["told"] = _for_baits(told[plan]["told"], baits)
            batches[index] = {**own, "number": log.add(connection, own)}
        for index, days, fault, note in FAULTS:
            when = min(datetime.fromisoformat(batches[index]["at"]) + timedelta(days=days), today)
            log.add_fault(
                connection, entry=batches[index]["number"], at=when.date().isoformat(), fault=fault, note=note
            )
        for batch in batches.values():
            entries.keep_words(connection, batch["number"])


def _of_plan(connection: sqlite3.Connection, number: int) -> dict[str, Any]:
    saved = plans.versions(connection, number)[0]
    return {"version": saved.version, **filling.as_planned(connection, saved.document)}


def _for_baits(told: Mapping[str, Any], baits: int) -> dict[str, Any]:
    """The paint of so many."""
    paint = [
        [bottle, name, round(baits * ml, 4), cost and round(baits * cost, 3)]
        for bottle, name, ml, cost in told["paint"]
    ]
    return {**told, "paint": paint}
