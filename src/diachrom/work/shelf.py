"""Looking along the shelf: bottles, what they hold and how it looks; finding one."""

import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from diachrom.core.film.paint import KINDS, Paint
from diachrom.store import paints
from diachrom.store.paints import Bottle
from diachrom.work.looks import PaintLook, look

NEARLY_GONE = 0.12  # of the bottle


@dataclass(frozen=True, eq=False)
class OnShelf:
    """A bottle with its paint's profile and look."""

    bottle: Bottle
    paint: Paint
    look: PaintLook

    @property
    def condition(self) -> str:
        """What a painter should know before reaching for it, "" when there is nothing to say."""
        if self.bottle.left_ml <= 0:
            return "empty"
        if self.bottle.left_ml < NEARLY_GONE * self.bottle.size_ml:
            return "nearly gone"
        return "" if self.bottle.state == "open" else self.bottle.state

    @property
    def drops_left(self) -> int:
        return max(0, int(self.bottle.left_ml / self.bottle.drop_ml))


def on_shelf(connection: sqlite3.Connection, bottle_ids: Iterable[int]) -> dict[int, OnShelf]:
    """These bottles, by their numbers. Raises BottleNotFound."""
    found = {}
    for number, bottle in paints.bottles(connection, bottle_ids).items():
        paint = paints.profile(connection, bottle.paint_id)
        found[number] = OnShelf(bottle, paint, look(paint))
    return found


def shelf(connection: sqlite3.Connection, query: str = "", kind: str = "") -> list[OnShelf]:
    """The bottles that match every word of the query and the kind, best match first."""
    profiles = paints.all_profiles(connection)
    rows = [row for row in paints.all_bottles(connection) if kind in ("", row.kind)]
    words = query.casefold().split()
    found = [(_rank(row, words), row) for row in rows]
    ordered = sorted((pair for pair in found if pair[0] is not None), key=lambda pair: pair[0] or 0)
    return [OnShelf(row, profiles[row.paint_id], look(profiles[row.paint_id])) for _, row in ordered]


def _rank(row: Bottle, words: list[str]) -> int | None:
    """0 when each word begins a word of the name, 1 when each is found anywhere, None when one is not."""
    name = row.full_name.casefold()
    text = " ".join([name, KINDS[row.kind].words, row.kind, row.state, row.note, row.paint_id]).casefold()
    if row.discontinued:
        text += " discontinued"
    if not all(word in text for word in words):
        return None
    return 0 if all(any(part.startswith(word) for part in name.split()) for word in words) else 1


def kinds_on_shelf(connection: sqlite3.Connection) -> list[str]:
    """The kinds of paint that stand on the shelf, in the table's order."""
    present = {row.kind for row in paints.all_bottles(connection)}
    return [key for key in KINDS if key in present]
