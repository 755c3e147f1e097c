"""What another profile of a paint does to the recipes that it is in: before and after."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.light import words
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.cup import Cup
from diachrom.core.mix.strip import Strip
from diachrom.errors import InvalidInput
from diachrom.store import mist, paints, recipes
from diachrom.store.recipes import Version
from diachrom.words import say
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.cup import strip_of
from diachrom.work.mix.sprayed_over import over

MOST_SHOWN = 24


@dataclass(frozen=True, eq=False)
class Effect:
    """A recipe as it was thought to look, and as it is thought to look now."""

    saved: Version
    contents: Contents
    before: Strip  # of a single column
    after: Strip
    delta_e: float
    words: str


def effects(connection: sqlite3.Connection, paint_id: str, before: int, after: int) -> tuple[Sequence[Effect], int]:
    """The recipes that name the paint under two versions of its profile, the latest first, and how many there are."""
    versions = {one.version: one.paint for one in paints.profile_versions(connection, paint_id)}
    for version in (before, after):
        if version not in versions:
            raise InvalidInput(say("There is no version {version} of that profile.", version=version), field="version")
    having = recipes.with_paint(connection, paint_id)
    found = []
    for saved in having[:MOST_SHOWN]:
        held = contents(connection, saved.draft)
        own = {part.bottle for part in saved.draft.parts if held.shelf[part.bottle].bottle.paint_id == paint_id}
        strips = []
        for version in (before, after):
            pours = [
                replace(pour, paint=versions[version]) if part.bottle in own else pour
                for part, pour in zip(saved.draft.parts, cup_of(held).pours, strict=True)
            ]
            where = over(connection, saved.draft.ground)
            strips.append(strip_of(Cup(pours), saved.draft, [where], hand=mist.hand(connection)))
        one, two = (
            strip.columns[0]
            .patches[saved.draft.coats - 1 if saved.draft.coats <= len(strip.columns[0].patches) else -1]
            .diffuse.lab
            for strip in strips
        )
        far = float(delta_e(one, two))
        found.append(
            Effect(
                saved=saved,
                contents=held,
                before=strips[0],
                after=strips[1],
                delta_e=far,
                words=words.difference(one, two),
            )
        )
    return found, len(having)
