"""What a cup is sprayed over: a ground of the table, or a saved recipe as sprayed on whatever it was sprayed on."""

import sqlite3
from collections.abc import Iterable

from diachrom.core.film.grounds import ground, laid
from diachrom.core.mix.draft import RECIPE_GROUND, Draft
from diachrom.core.mix.layers import MOST_LAYERS, Layer
from diachrom.core.mix.strip import Over
from diachrom.errors import DiachromError, InvalidInput, RecipeNotFound
from diachrom.store import foil, mist, recipes
from diachrom.store.recipes import Version
from diachrom.words import say
from diachrom.work.mix.contents import contents, contents_of, cup_of

RECIPES_OFFERED = 30


def recipe_key(saved: Version) -> str:
    """The key of a version as a ground."""
    return f"{RECIPE_GROUND}{saved.recipe}:{saved.version}"


def called(saved: Version) -> str:
    """A recipe as it is named where it stands beside grounds and other mixes."""
    return say("No. {recipe}, {name}", recipe=saved.recipe, name=saved.draft.name)


def by_key(connection: sqlite3.Connection, key: str) -> Version:
    """The version that a recipe's key means. Raises RecipeNotFound."""
    found = _numbers(key)
    if found is None:
        raise RecipeNotFound(key.removeprefix(RECIPE_GROUND) or say("without a number"))
    return recipes.version(connection, *found)


def read_at_once(connection: sqlite3.Connection, keys: Iterable[str]) -> None:
    """Recipes that these keys mean, what they lie on, and their bottles, so that none is read by itself afterwards."""
    drafts: list[Draft] = []
    known: set[tuple[int, int]] = set()
    while wanted := {one for key in keys if (one := _numbers(key)) is not None} - known:
        known |= wanted
        versions = recipes.several(connection, sorted(wanted))
        drafts += [saved.draft for saved in versions.values()]
        keys = [saved.draft.ground for saved in versions.values()]
    contents_of(connection, drafts)


def _numbers(key: str) -> tuple[int, int] | None:
    """Recipe and version; None for what is no recipe's key."""
    number, _, version = key.removeprefix(RECIPE_GROUND).partition(":")
    able = key.startswith(RECIPE_GROUND) and number.isdecimal() and version.isdecimal()
    return (int(number), int(version)) if able else None


def over(connection: sqlite3.Connection, key: str) -> Over:
    """What was kept as a ground; bare white in its place, called by what is wrong, where that cannot be had."""
    try:
        return over_named(connection, key)
    except DiachromError as error:
        return Over(ground("white"), (), key, say("white, since: {error}", error=str(error)[:120]))


def over_named(connection: sqlite3.Connection, key: str) -> Over:
    """Resolve a ground's key as it was named just now.

    Raises UnknownGround, RecipeNotFound, and InvalidInput for a stack that is too high.
    """
    hand = mist.hand(connection)
    layers: list[Layer] = []
    words: list[str] = []
    at = key
    while at.startswith(RECIPE_GROUND):
        if len(layers) >= MOST_LAYERS:
            raise InvalidInput(
                say("More than {most_layers} recipes lie on one another.", most_layers=MOST_LAYERS), field="ground"
            )
        saved = by_key(connection, at)
        draft = saved.draft
        cup = cup_of(contents(connection, draft))
        layers.append(hand.layer(cup, draft.film_um, draft.coats, sealed=draft.sealed))
        words.append(called(saved))
        at = draft.ground
    base = laid(at, foil.now(connection).tilt_deg)
    return Over(base, tuple(reversed(layers)), key, words[0] if words else base.words)


def offered(connection: sqlite3.Connection) -> list[Version]:
    """The recipes, newest first, that a choice of grounds offers; any other by its own page."""
    return recipes.newest_versions(connection, most=RECIPES_OFFERED)
