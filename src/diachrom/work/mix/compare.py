"""Side by side: one mix over several grounds, or several mixes over one ground."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mix.strip import Strip
from diachrom.errors import InvalidInput
from diachrom.store import cups, mist, recipes
from diachrom.words import say
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.mix.cup import strip_of
from diachrom.work.mix.sprayed_over import by_key, called, over_named, recipe_key

MOST = 6
OFFERED = 60
THE_CUP = "cup"


@dataclass(frozen=True, eq=False)
class Compared:
    """One of several: what it is called, and its strip of a single column."""

    key: str
    words: str
    strip: Strip


def compare(
    connection: sqlite3.Connection, *, mixes: Sequence[str], grounds: Sequence[str], light_key: str
) -> list[Compared]:
    """Every mix over every ground, where one of the two lists has a single entry.

    Raises InvalidInput for more than six, and what resolving a key raises. An empty cup is left out.
    """
    if len(mixes) * len(grounds) > MOST:
        raise InvalidInput(say("At most {most} can stand side by side.", most=MOST), field="over")
    found = []
    for mix_key in mixes:
        # The cup under way, or a saved recipe by its key.
        if mix_key == THE_CUP:
            held = contents(connection)
            draft, cup, words = held.draft, cup_of(held), held.draft.name or say("In the cup")
        else:
            saved = by_key(connection, mix_key)
            draft, cup, words = saved.draft, cup_of(contents(connection, saved.draft)), called(saved)
        if cup.empty:
            continue
        draft = draft.looked_at(light_key=light_key, nozzle_mm=draft.nozzle_mm)
        for ground_key in grounds:
            where = over_named(connection, ground_key)
            shown = strip_of(cup, draft, [where], hand=mist.hand(connection))
            if len(mixes) == 1:
                found.append(Compared(ground_key, where.words, shown))
            else:
                found.append(Compared(mix_key, words, shown))
    return found


def mixes_to_choose(connection: sqlite3.Connection) -> list[tuple[str, str]]:
    """Keys and words of what is offered to be compared: the cup, and the latest recipes. Any other by its own page."""
    standing = cups.now(connection).draft
    named: list[tuple[str, str]] = [(THE_CUP, say("In the cup: {what}", what=standing.name or "unnamed"))]
    return named + [
        (recipe_key(version), called(version)) for version in recipes.newest_versions(connection, most=OFFERED)
    ]
