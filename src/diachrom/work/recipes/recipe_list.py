"""The list of recipes: finding one, looking at its versions, and choosing among them."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.mix.strip import Strip
from diachrom.errors import DiachromError
from diachrom.store import mist, paints, recipes
from diachrom.store.connection import writing
from diachrom.store.recipes import Version
from diachrom.work.mix.contents import Contents, contents_of, cup_of
from diachrom.work.mix.cup import columns_of, strip_of
from diachrom.work.mix.sprayed_over import read_at_once


@dataclass(frozen=True, eq=False)
class ListedRecipe:
    """A saved version and the bottles it names."""

    saved: Version
    contents: Contents


PAGE = 40


@dataclass(frozen=True, eq=False)
class ListedRecipes:
    """Some recipes of those that match."""

    recipes: list[ListedRecipe]
    start: int
    more: bool


def listed(
    connection: sqlite3.Connection, query: str = "", *, start: int = 0, most: int = PAGE, retired: bool = False
) -> ListedRecipes:
    """The newest version of the recipes that have every word of the query in name, note, number or paints."""
    found = recipes.newest_versions(connection, query=query, start=max(0, start), most=most + 1, retired=retired)
    shown = found[:most]
    held = contents_of(connection, [saved.draft for saved in shown])
    return ListedRecipes(list(map(ListedRecipe, shown, held)), start, len(found) > most)


def is_retired(connection: sqlite3.Connection, recipe: int) -> bool:
    """Whether it stepped back from the lists."""
    return recipes.is_retired(connection, recipe)


def retire(connection: sqlite3.Connection, recipe: int) -> bool:
    """Let a recipe step back, or bring it back; whether it is retired now. Raises RecipeNotFound."""
    recipes.version(connection, recipe)
    retired = recipes.is_retired(connection, recipe)
    with writing(connection):
        recipes.retire(connection, recipe, back=retired)
    return not retired


def versions(connection: sqlite3.Connection, recipe: int) -> list[tuple[ListedRecipe, Strip | None]]:
    """Every version of a recipe with its strip, the newest first; without one where it cannot be predicted.

    Raises RecipeNotFound.
    """
    recipes.version(connection, recipe)
    looked_at: list[tuple[ListedRecipe, Strip | None]] = []
    hand = mist.hand(connection)
    every = recipes.versions(connection, recipe)
    read_at_once(connection, [saved.draft.ground for saved in every])
    for saved, held in zip(every, contents_of(connection, [saved.draft for saved in every]), strict=True):
        shown = saved.draft.over(saved.draft.ground)
        try:
            strip = strip_of(cup_of(held), shown, columns_of(connection, shown), hand=hand)
            looked_at.append((ListedRecipe(saved, held), strip))
        except DiachromError as error:
            problem = f"{saved.problem} It cannot be predicted. {error}".strip()
            looked_at.append((ListedRecipe(replace(saved, problem=problem), held), None))
    return looked_at


def made_of(connection: sqlite3.Connection, paint_id: str) -> Version | None:
    """What a jar was made of, the version too; None for a paint of no recipe. Raises PaintNotFound, RecipeNotFound."""
    paint = paints.record(connection, paint_id)
    return None if paint.recipe is None else recipes.version(connection, paint.recipe, paint.version)


def chosen(
    connection: sqlite3.Connection, numbers: Sequence[int] | None, query: str = "", *, most: int
) -> list[Version]:
    """The newest versions of these recipes, or of those that a search finds. Raises RecipeNotFound."""
    if numbers:
        recipes.several(connection, [(number, None) for number in numbers[:most]])  # read at once
        return [recipes.version(connection, number) for number in numbers[:most]]
    return recipes.newest_versions(connection, query=query, most=most)
