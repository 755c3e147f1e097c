"""The book of recipes: finding one, and looking at its versions."""

import sqlite3
from dataclasses import dataclass

from diachrom.core.mixing.strip import Strip
from diachrom.store import recipes
from diachrom.store.recipes import Version
from diachrom.work.contents import Contents, contents, cup_of
from diachrom.work.cup import columns_of, strip_of


@dataclass(frozen=True, eq=False)
class InBook:
    """A saved version and the bottles it names."""

    saved: Version
    contents: Contents


def book(connection: sqlite3.Connection, query: str = "") -> list[InBook]:
    """The newest version of every recipe that has every word of the query in its name, note, number or paints."""
    words = query.casefold().split()
    found = []
    for saved in recipes.newest_versions(connection):
        held = contents(connection, saved.draft)
        names = " ".join(on_shelf.bottle.full_name for on_shelf in held.shelf.values())
        text = f"{saved.recipe} {saved.draft.name} {saved.draft.note} {names}".casefold()
        if all(word in text for word in words):
            found.append(InBook(saved, held))
    return found


def versions(connection: sqlite3.Connection, recipe: int) -> list[tuple[InBook, Strip]]:
    """Every version of a recipe with its strip, the newest first. Raises RecipeNotFound."""
    recipes.version(connection, recipe)
    looked_at = []
    for saved in recipes.versions(connection, recipe):
        held = contents(connection, saved.draft)
        shown = saved.draft.over(saved.draft.ground)
        looked_at.append((InBook(saved, held), strip_of(cup_of(held), shown, columns_of(connection, shown))))
    return looked_at
