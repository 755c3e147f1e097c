"""What a press at the bench says, whoever sends it: a page, a phone that was away, a script."""

import math
import sqlite3
from collections.abc import Mapping

from diachrom import clock
from diachrom.core.session.events import LONGEST_NOTE, Event
from diachrom.errors import InvalidInput
from diachrom.words import say
from diachrom.work.bench import repairs

LONGEST_WAIT_S = 30 * 86_400.0
MOST_BAIT = 10_000


def moment_of(ago: object) -> float:
    """When something was pressed so many seconds before it was sent, in the session's time; now where that is none."""
    try:
        seconds = float(str(ago))
    except ValueError:
        seconds = 0.0
    if not math.isfinite(seconds):
        seconds = 0.0
    return clock.monotonic_epoch() - min(max(seconds, 0.0), LONGEST_WAIT_S)


def event_of(connection: sqlite3.Connection, number: int, values: Mapping[str, str], *, at: float, by: str) -> Event:
    """What a press says. Raises InvalidInput."""
    told = {key: values.get(key, "") for key in ("kind", "step", "what", "value", "note")}
    numbers = {key: values.get(key, "") for key in ("bottle", "bait", "layer")}
    for key, text in numbers.items():
        if text and not (text.removeprefix("-").isdecimal() and len(text) < 15):
            raise InvalidInput(say("'{text}' is no number.", text=text[:20]), field=key)
    place, touched = values.get("place", ""), (values.get("across", ""), values.get("down", ""))
    place = repairs.place_of(connection, number, place, touched, values.get("zone", ""))
    return Event(
        kind=told["kind"][:20],
        at=at,
        step=told["step"][:80],
        bottle=max(int(numbers["bottle"] or 0), 0),
        what=told["what"][:80],
        value=told["value"][:80],
        note=told["note"][: LONGEST_NOTE + 1],
        bait=min(max(int(numbers["bait"] or -1), -1), MOST_BAIT),
        layer=max(int(numbers["layer"] or 0), 0),
        place=place[:60],
        by=by,
    )
