"""What earlier versions wrote down wrongly: found, told in a sentence each, and put right where that is wanted."""

import re
import sqlite3
from collections.abc import Iterator

from diachrom.errors import DiachromError
from diachrom.store import bottles, paints, recipes, steps
from diachrom.store.bottles import Bottle
from diachrom.work.mix.charging import jar_paint

MADE_FROM = re.compile(r"(?:made from|left of) recipe (\d+)")


def jars(connection: sqlite3.Connection, *, mend: bool = False, at: str = "") -> Iterator[str]:
    """Jars that were given the paint of another recipe, or version, of the same name."""
    for bottle in bottles.every(connection, retired_too=True):
        made_of = _made_of(connection, bottle)
        paint = paints.record(connection, bottle.paint_id)
        if made_of is None or made_of == (paint.recipe, paint.version):
            continue
        sentence = f"Bottle {bottle.id}, {bottle.full_name}, was made from recipe {made_of[0]}, version {made_of[1]}, "
        if not mend:
            yield f"{sentence}but has the colour of recipe {paint.recipe}, version {paint.version}."
            continue
        try:
            saved = recipes.version(connection, *made_of)
            with steps.step(connection, f"the paint in bottle {bottle.id}", at=at) as recorder:
                right = jar_paint(connection, recorder, saved, at=at)
                recorder.touch("bottle", bottle.id)
                bottles.change(connection, bottle.id, paint_id=right.id)
            yield f"{sentence}and is now {right.full_name}, with that colour."
        except DiachromError as error:
            yield f"{sentence}and stays as it is: {error}"


def _made_of(connection: sqlite3.Connection, bottle: Bottle) -> tuple[int, int] | None:
    """The recipe and version that a jar was made of, by its ledger; None where that does not tell."""
    if bottle.recipe is None:
        return None
    first = bottles.ledger(connection, bottle.id)[-1:]
    told = MADE_FROM.fullmatch(first[0].note) if first and first[0].kind == "bought" else None
    if told is None:
        return None
    if first[0].recipe is not None and first[0].version is not None:
        return first[0].recipe, first[0].version
    # Before the ledger told it: by what was poured into it in the same step, else by the name that it was given.
    number = int(told[1])
    own = {one.version: one for one in recipes.versions(connection, number)}
    poured = bottles.poured_into(connection, number, first[0].at)
    by_name = [key for key, one in own.items() if f"{one.draft.name} v{key}"[:60] == bottle.name]
    known = paints.record(connection, bottle.paint_id)
    same = [known.version] if known.recipe == number and known.version is not None else []
    return next(((number, one) for one in (poured, *same, *by_name) if one in own), None)
