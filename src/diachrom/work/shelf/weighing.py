"""What is left in a bottle by its weight: the whole bottle, less what an empty one of its line and size weighs."""

import sqlite3
from collections.abc import Mapping

from pydantic import TypeAdapter

from diachrom.errors import InvalidInput
from diachrom.store import bottles, kept, settings
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.shelf import droppers, stock

KEY = "empty_bottles"
GRAMS = TypeAdapter(dict[str, kept.Number])
SLACK = 0.03  # of its size, that a full bottle may hold more


def _known(connection: sqlite3.Connection) -> Mapping[str, float]:
    return kept.read(GRAMS, settings.every(connection).get(KEY), {})


def _make(bottle: Bottle) -> str:
    return f"{bottle.line}|{bottle.size_ml:g}"


def empty_g(connection: sqlite3.Connection, bottle: Bottle) -> float | None:
    """What an empty bottle like it weighs, g; None where nobody weighed one."""
    return _known(connection).get(_make(bottle))


def left_by_weight(connection: sqlite3.Connection, number: int, *, grams: float, empty: float, at: str) -> None:
    """Enter what is left; the empty bottle's weight is remembered for all that are like it.
    Raises BottleNotFound, InvalidInput."""
    bottle = bottles.one(connection, number)
    left = (grams - empty) / droppers.see(connection, number).density
    if left < -SLACK * bottle.size_ml:
        raise InvalidInput(
            say(
                "The bottle weighs {whole}, and an empty one {empty}: weigh both again.",
                whole=quantity(grams, ".2f", "g"),
                empty=quantity(empty, ".2f", "g"),
            ),
            field="grams",
        )
    if left > (1 + SLACK) * bottle.size_ml:
        raise InvalidInput(
            say(
                "That would be {left} in a {size} bottle: is it the empty bottle's weight, with its cap?",
                left=quantity(left, ".1f", "ml"),
                size=quantity(bottle.size_ml, "g", "ml"),
            ),
            field="grams",
        )
    left = min(max(left, 0.0), bottle.size_ml)
    with writing(connection):
        text = GRAMS.dump_json({**_known(connection), _make(bottle): empty}).decode()
        settings.put(connection, {KEY: text})
        stock.correct(connection, number, left, at=at)
