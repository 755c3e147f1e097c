"""A match by way of first cups: each is made and kept as a bottle, and the mix is poured in drops of it."""

import sqlite3
from collections.abc import Sequence

from diachrom.core.mix.draft import Draft
from diachrom.errors import InvalidInput
from diachrom.store import bottles, recipes
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.mix import charging
from diachrom.work.pour.aim_at_cup import into_cup

Parts = Sequence[tuple[int, int]]  # bottles and drops
MOST_NAME = 40


def make(connection: sqlite3.Connection, first: Sequence[tuple[Parts, int]], rest: Parts, *, at: str) -> list[int]:
    """Make first cups as recipes, keep each as a bottle, and pour so many drops of each, and the rest, into a new cup.

    Returns the numbers of the new bottles. Undo brings the cup back, and the shelf's undo the bottles. Raises
    BottleNotFound, InvalidInput.
    """
    if not first or any(not parts or drops < 1 for parts, drops in first):
        raise InvalidInput(say("Name what is let down, and how many drops of it the mix takes."), field="first")
    jars = []
    for parts, _ in first:
        found = bottles.by_id(connection, [bottle for bottle, _ in parts])
        names = [found[bottle].name for bottle, _ in parts]
        ratio = " : ".join(str(drops // parts[0][1]) for _, drops in parts)
        draft = Draft(name=f"{names[0][:MOST_NAME]} {ratio}")
        for bottle, drops in parts:
            draft = draft.with_bottle(bottle, drop_ml=found[bottle].drop_ml, paint=found[bottle].full_name)
            draft = draft.with_drops(bottle, drops, paint=found[bottle].full_name)
        with writing(connection):
            recipe = recipes.new_recipe(connection)
            saved = recipes.add_version(connection, draft.to_save(), recipe=recipe, parent_version=None, at=at)
        ml = sum(drops * found[bottle].drop_ml for bottle, drops in parts)
        jars.append(charging.keep_in_jar(connection, saved.recipe, saved.version, round(ml, 3), at=at))
    used = [(jar, drops) for jar, (_, drops) in zip(jars, first, strict=True)]
    into_cup(connection, [*used, *rest], at=at)
    return jars
