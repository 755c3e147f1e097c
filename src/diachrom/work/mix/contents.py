"""What a draft holds: the bottles that it names, and the cup that the core knows."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.draft import Draft, Part
from diachrom.store import cups, learnings
from diachrom.store.learnings import Drops
from diachrom.work.shelf.on_shelf import OnShelf, on_shelf


@dataclass(frozen=True, eq=False)
class Contents:
    """A draft, and the bottles that it names."""

    draft: Draft
    shelf: dict[int, OnShelf]  # by bottle
    learned: Drops  # what counted drops really were

    def drop_ml(self, part: Part) -> float:
        """The drop of a part as it is believed to have been."""
        return self.learned.get((part.bottle, part.drop_ml), part.drop_ml)


def contents(connection: sqlite3.Connection, draft: Draft | None = None) -> Contents:
    """What is in the cup now, or in the draft given."""
    draft = cups.now(connection).draft if draft is None else draft
    shelf = on_shelf(connection, [part.bottle for part in draft.parts])
    return Contents(draft, shelf, learnings.drops(connection))


def contents_of(connection: sqlite3.Connection, drafts: Sequence[Draft]) -> list[Contents]:
    """Of several drafts, read at once."""
    on_shelf(connection, {part.bottle for draft in drafts for part in draft.parts})
    return [contents(connection, draft) for draft in drafts]


def cup_of(held: Contents) -> Cup:
    """The cup that the core knows: paints, drops and their volumes."""
    return Cup([Pour(held.shelf[part.bottle].paint, part.drops, held.drop_ml(part)) for part in held.draft.parts])
