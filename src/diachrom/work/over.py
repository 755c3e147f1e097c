"""What a cup is sprayed over: a ground of the table, or a saved recipe as sprayed on whatever it was sprayed on."""

import sqlite3

from diachrom.core.film.grounds import ground
from diachrom.core.mixing.cup import Cup, Pour
from diachrom.core.mixing.draft import RECIPE_GROUND, Draft
from diachrom.core.mixing.layers import MOST_LAYERS, Layer
from diachrom.core.mixing.strip import Over
from diachrom.errors import InvalidInput, RecipeNotFound
from diachrom.store import paints, recipes


def recipe_key(number: int, version: int) -> str:
    return f"{RECIPE_GROUND}{number}:{version}"


def over(connection: sqlite3.Connection, key: str) -> Over:
    """Resolve a ground's key. Raises UnknownGround, RecipeNotFound, and InvalidInput for a stack that is too high."""
    layers: list[Layer] = []
    words: list[str] = []
    at = key
    while at.startswith(RECIPE_GROUND):
        if len(layers) >= MOST_LAYERS:
            raise InvalidInput(f"More than {MOST_LAYERS} recipes lie on one another.", field="ground")
        number, version = _numbers(at)
        draft = recipes.version(connection, number, version).draft
        layers.append(Layer(_cup(connection, draft), draft.film_um, draft.coats, draft.sealed))
        words.append(f"No. {number}, {draft.name}")
        at = draft.ground
    base = ground(at)
    return Over(base, tuple(reversed(layers)), key, words[0] if words else base.words)


def _numbers(key: str) -> tuple[int, int]:
    number, _, version = key.removeprefix(RECIPE_GROUND).partition(":")
    if not (number.isdecimal() and version.isdecimal()):
        raise RecipeNotFound(key.removeprefix(RECIPE_GROUND) or "without a number")
    return int(number), int(version)


def _cup(connection: sqlite3.Connection, draft: Draft) -> Cup:
    pours = []
    for part in draft.parts:
        bottle = paints.bottles(connection, [part.bottle])[part.bottle]
        pours.append(Pour(paints.profile(connection, bottle.paint_id), part.drops, part.drop_ml))
    return Cup(tuple(pours))
