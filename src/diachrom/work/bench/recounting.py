"""Mixes of a session that were counted with a ratio which is not their recipe's, and the drops that keep it."""

import math
import sqlite3
from dataclasses import dataclass

from diachrom.core.mix.batch import batch, lowest_terms
from diachrom.core.session.script import BenchStep
from diachrom.errors import DiachromError
from diachrom.store import recipes
from diachrom.store.sessions import Session
from diachrom.words import say
from diachrom.work.plan.painting import recipe_numbers


@dataclass(frozen=True)
class Strayed:
    """What a mix asks for, and what its recipe does."""

    words: str
    value: str  # of the event that counts it anew


def strayed(connection: sqlite3.Connection, session: Session, here: BenchStep | None) -> Strayed | None:
    """Of the step that is shown; None where its ratio is the recipe's, or it is no recipe's mix."""
    if here is None or not here.pours or here.key in session.state.done:
        return None
    numbers = recipe_numbers(here.mix.partition("|")[0])
    if numbers is None:
        return None
    try:
        draft = recipes.version(connection, *numbers).draft
    except DiachromError:
        return None
    own = {part.bottle: part.drops for part in draft.parts if part.drops}
    if set(own) != {pour.bottle for pour in here.pours}:
        return None
    meant = lowest_terms([own[pour.bottle] for pour in here.pours])
    asked = [pour.drops for pour in here.pours]
    if lowest_terms(asked) == meant:
        return None
    sizes = [pour.drop_ml for pour in here.pours]
    found = batch(meant, sizes, sum(count * size for count, size in zip(asked, sizes, strict=True)) or 0.01)
    fell = [session.state.fallen(here.key, pour.bottle) for pour in here.pours]
    times = max(math.ceil(drops / count) for drops, count in zip(fell, meant, strict=True))
    counts = [max(count, times * one) for count, one in zip(found.drops, meant, strict=True)]
    return Strayed(
        say(
            "Counted {asked}, but the recipe is {meant}.",
            asked=" : ".join(map(str, asked)),
            meant=" : ".join(map(str, meant)),
        ),
        ",".join(map(str, counts)),
    )
