"""Coats until a paint hides, beside another one."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix.hiding import Hides, coats_until_hidden
from diachrom.errors import InvalidInput
from diachrom.store import mist, paints
from diachrom.store.paints import PaintRecord
from diachrom.words import say
from diachrom.work.shelf.shelf_index import index

KINDS_THAT_HIDE = tuple(key for key, kind in KINDS.items() if kind.hides)


@dataclass(frozen=True, eq=False)
class HidesSeen:
    """A paint over each ground."""

    record: PaintRecord
    over: Sequence[Hides]


def see(connection: sqlite3.Connection, paint_id: str, film_um: float) -> HidesSeen:
    """Raises PaintNotFound, InvalidInput for what is sprayed to be seen through."""
    record = paints.record(connection, paint_id)
    if record.kind not in KINDS_THAT_HIDE:
        raise InvalidInput(
            say("{name} is not sprayed to hide: choose a primer or an opaque paint.", name=record.full_name),
            field="paint",
        )
    hand, paint = mist.hand(connection), paints.profile(connection, paint_id)
    droplet = 0.0 if paint.even else hand.dots_um(film_um)
    return HidesSeen(record, coats_until_hidden(paint, hand.film_um(film_um), droplet_um=droplet))


def able(connection: sqlite3.Connection) -> list[tuple[str, str]]:
    """Ids and names of what stands on the shelf and hides, by name."""
    rows = {one.bottle.paint_id: one.bottle for one in index(connection).rows if one.bottle.kind in KINDS_THAT_HIDE}
    return sorted(((key, bottle.full_name) for key, bottle in rows.items()), key=lambda one: one[1].casefold())
