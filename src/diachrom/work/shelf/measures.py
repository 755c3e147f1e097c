"""Measures of powder that were weighed on this bench, and what a bottle is counted in."""

import sqlite3
from collections.abc import Mapping

from pydantic import TypeAdapter

from diachrom.core.shelf.measures import MEASURES, as_drop_ml
from diachrom.errors import InvalidInput
from diachrom.store import bottles, kept, settings
from diachrom.store.connection import writing
from diachrom.words import listed, say
from diachrom.work.shelf import keeping

KEY = "measures"
GRAMS = TypeAdapter(dict[str, kept.Number])


def weighed(connection: sqlite3.Connection) -> Mapping[str, float]:
    """Grams by measure: as they were weighed, else as is usual."""
    own = kept.read(GRAMS, settings.every(connection).get(KEY), {})
    return {key: own.get(key, one.grams) for key, one in MEASURES.items()}


def use(connection: sqlite3.Connection, bottle: int, measure: str, grams: float, *, at: str) -> None:
    """Count a powder in a measure that was weighed. Raises BottleNotFound, InvalidInput naming the field."""
    if measure not in MEASURES:
        words = listed(one.words for one in MEASURES.values())
        raise InvalidInput(
            say("There is no measure '{measure}': {words}.", measure=measure[:20], words=words), field="measure"
        )
    old = bottles.one(connection, bottle)
    ml = as_drop_ml(grams, old.kind)
    with writing(connection):
        text = GRAMS.dump_json({**weighed(connection), measure: grams}).decode()
        settings.put(connection, {KEY: text})
    keeping.set_drop(connection, bottle, ml, at=at)
