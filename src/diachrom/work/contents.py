"""What a draft holds: the bottles that it names, and the cup that the core knows."""

import sqlite3
from dataclasses import dataclass

from diachrom.core.mixing.cup import Cup, Pour
from diachrom.core.mixing.draft import Draft
from diachrom.store import cups
from diachrom.work.shelf import OnShelf, on_shelf


@dataclass(frozen=True, eq=False)
class Contents:
    """A draft, and the bottles that it names."""

    draft: Draft
    shelf: dict[int, OnShelf]  # by bottle


def contents(connection: sqlite3.Connection, draft: Draft | None = None) -> Contents:
    """What is in the cup now, or in the draft given."""
    draft = cups.now(connection).draft if draft is None else draft
    return Contents(draft, on_shelf(connection, [part.bottle for part in draft.parts]))


def cup_of(held: Contents) -> Cup:
    """The cup that the core knows: paints, drops and their volumes."""
    return Cup([Pour(held.shelf[part.bottle].paint, part.drops, part.drop_ml) for part in held.draft.parts])
