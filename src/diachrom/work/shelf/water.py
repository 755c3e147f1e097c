"""Water: it is always there, costs nothing, and never runs out."""

import sqlite3

from diachrom.core.film.paint import clear_paint
from diachrom.store import bottles, paints, shelf_history
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.words import say
from diachrom.work.shelf.keeping import keep_profile, put_bottle, put_paint
from diachrom.work.shelf.shelf_index import WATER

JUG_ML = 1000.0
CALLED = ("water", "wasser", "eau", "agua", "acqua")


def is_meant(query: str) -> bool:
    """Whether somebody looks for it."""
    word = query.strip().casefold()
    return len(word) > 1 and any(one.startswith(word) for one in CALLED)


def bottle(connection: sqlite3.Connection, *, at: str) -> int:
    """The number of its bottle, which is put there where there is none."""
    known = paints.record(connection, WATER) if paints.has_id(connection, WATER) else None
    own = [] if known is None else [one for one in bottles.of_paint(connection, WATER) if not one.retired]
    if own:
        return own[0].id
    with writing(connection), shelf_history.step(connection, say("putting water on the shelf"), at=at) as recorder:
        paint_id = put_paint(connection, recorder, known or PaintRecord("", "", "Water", "reducer"), known)
        keep_profile(connection, clear_paint("Water", "reducer"), paint_id=paint_id, source=say("it is water"), at=at)
        return put_bottle(connection, recorder, paint_id, {"size_ml": JUG_ML, "state": "open"}, at=at)
