"""How paint dries at this bench: the table, what was changed of it here, and what was learned from what was waited."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass, replace

from diachrom.core.mix.drying import TABLE, Dries, Waited, checked, learned
from diachrom.errors import InvalidInput
from diachrom.store import orders, settings
from diachrom.store.connection import writing
from diachrom.words import say

DRYING = "drying"  # the setting
KEYS = {"colour-shift": "shift"}  # as it is kept in older folders
SURE_WAITS = 3  # seen before the table is told apart from them


def drying_table(connection: sqlite3.Connection) -> dict[str, Dries]:
    """The table, with what was changed of it here."""
    told = settings.document(connection, DRYING)
    dryings = dict(TABLE)
    for kept_key, own in told.items():
        key = KEYS.get(kept_key, kept_key)
        if key in dryings and isinstance(own, dict):
            old = dryings[key]
            try:
                window = own.get("window", old.window)
                now = replace(
                    old,
                    flash=int(own.get("flash", old.flash)),
                    touch=int(own.get("touch", old.touch)),
                    through=int(own.get("through", old.through)),
                    window=None if window is None else (int(window[0]), int(window[1])),
                )
                dryings[key] = checked(now)
            except (InvalidInput, TypeError, ValueError, IndexError):
                continue
    return dryings


def keep_drying(connection: sqlite3.Connection, kind: str, wanted: Dries) -> None:
    """Raises InvalidInput."""
    if kind not in TABLE:
        raise InvalidInput(say("There is no kind of paint called '{kind}'.", kind=kind[:30]), field="kind")
    checked(wanted)
    with writing(connection):
        told = settings.document(connection, DRYING)
        told[kind] = {key: getattr(wanted, key) for key in ("flash", "touch", "through", "window")}
        if wanted == TABLE[kind]:
            del told[kind]
        settings.put(connection, {DRYING: json.dumps(told)})


@dataclass(frozen=True)
class Learned:
    """How a kind dries here, from what was waited."""

    factor: float
    seen: int


def drying_learned(connection: sqlite3.Connection) -> Mapping[str, Learned]:
    """What was learned of drying here, by kind."""
    by_kind: dict[str, list[Waited]] = {}
    for wait_seen in orders.waits(connection):
        if wait_seen.kind in TABLE and 0 < wait_seen.asked_min < 1e6 and 0 < wait_seen.waited_min < 1e6:
            by_kind.setdefault(wait_seen.kind, []).append(
                Waited(wait_seen.kind, wait_seen.waited_min / wait_seen.asked_min, wait_seen.dry)
            )
    return {kind: Learned(learned(seen), len(seen)) for kind, seen in by_kind.items() if len(seen) >= SURE_WAITS}
