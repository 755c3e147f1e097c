"""Looking along the shelf: bottles, what they hold and how it looks."""

import sqlite3
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from diachrom.core.film.paint import GUESSED, Paint
from diachrom.store import bottles, paints
from diachrom.store.bottles import Bottle
from diachrom.work.kit.looks import PaintLook, look
from diachrom.work.shelf.shelf_index import FoundBottles, WantedBottles, condition, find, index


@dataclass(frozen=True, eq=False)
class OnShelf:
    """A bottle with its paint's profile and look."""

    bottle: Bottle
    paint: Paint
    look: PaintLook

    @property
    def condition(self) -> str:
        """What a painter should know before reaching for it, "" when there is nothing to say."""
        return condition(self.bottle)

    @property
    def guess(self) -> bool:
        """Its profile was never measured or described."""
        return self.paint.uncertainty >= GUESSED

    @property
    def drops_left(self) -> int:
        """Drops that it still holds."""
        return max(0, int(self.bottle.left_ml / self.bottle.drop_ml))


def seen(connection: sqlite3.Connection, found: Iterable[Bottle]) -> list[OnShelf]:
    """These bottles with the looks of their paints."""
    rows = list(found)
    known = paints.profiles(connection, [bottle.paint_id for bottle in rows])
    return [OnShelf(row, known[row.paint_id], look(known[row.paint_id])) for row in rows]


def on_shelf(connection: sqlite3.Connection, bottle_ids: Iterable[int]) -> dict[int, OnShelf]:
    """These bottles, by their numbers. Raises BottleNotFound."""
    return {row.bottle.id: row for row in seen(connection, bottles.by_id(connection, bottle_ids).values())}


@dataclass(frozen=True, eq=False)
class Page:
    """A page of what was found."""

    rows: Sequence[OnShelf]
    found: FoundBottles
    start: int

    @property
    def more(self) -> bool:
        """Whether there are more."""
        return self.start + len(self.rows) < len(self.found.rows)


def page(connection: sqlite3.Connection, wanted: WantedBottles, *, start: int = 0, most: int) -> Page:
    """Some of the bottles that match, from the one at `start` on."""
    found = find(connection, wanted)
    start = min(max(start, 0), len(found.rows))
    return Page(seen(connection, (row.bottle for row in found.rows[start : start + most])), found, start)


def to_pour(connection: sqlite3.Connection, query: str, *, most: int) -> list[OnShelf]:
    """The best bottles for the cup: what is empty cannot be poured."""
    rows = [row.bottle for row in find(connection, WantedBottles(query)).rows if row.condition != "empty"]
    return seen(connection, rows[:most])


def at_hand(connection: sqlite3.Connection) -> list[Bottle]:
    """One bottle of every paint that can be poured."""
    whole = index(connection)
    return [whole.rows[at].bottle for at in whole.to_pour]
