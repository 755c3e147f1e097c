"""The book of recipes: finding one, and looking at its versions."""

import sqlite3
from dataclasses import dataclass, replace

from diachrom.core.mix.strip import Strip
from diachrom.errors import DiachromError
from diachrom.store import hand_factor, recipes
from diachrom.store.recipes import Version
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.cup import columns_of, strip_of


@dataclass(frozen=True, eq=False)
class InBook:
    """A saved version and the bottles it names."""

    saved: Version
    contents: Contents


PAGE = 40


@dataclass(frozen=True, eq=False)
class BookPage:
    """Some recipes of those that match."""

    recipes: list[InBook]
    start: int
    more: bool


def book(connection: sqlite3.Connection, query: str = "", *, start: int = 0, most: int = PAGE) -> BookPage:
    """The newest version of the recipes that have every word of the query in name, note, number or paints."""
    found = recipes.newest_versions(connection, query=query, start=max(0, start), most=most + 1)
    shown = [InBook(saved, contents(connection, saved.draft)) for saved in found[:most]]
    return BookPage(shown, start, len(found) > most)


def versions(connection: sqlite3.Connection, recipe: int) -> list[tuple[InBook, Strip | None]]:
    """Every version of a recipe with its strip, the newest first; without one where it cannot be predicted.

    Raises RecipeNotFound.
    """
    recipes.version(connection, recipe)
    looked_at: list[tuple[InBook, Strip | None]] = []
    hand = hand_factor.now(connection)
    for saved in recipes.versions(connection, recipe):
        held = contents(connection, saved.draft)
        shown = saved.draft.over(saved.draft.ground)
        try:
            strip = strip_of(cup_of(held), shown, columns_of(connection, shown), hand=hand)
            looked_at.append((InBook(saved, held), strip))
        except DiachromError as error:
            problem = f"{saved.problem} It cannot be predicted. {error}".strip()
            looked_at.append((InBook(replace(saved, problem=problem), held), None))
    return looked_at
