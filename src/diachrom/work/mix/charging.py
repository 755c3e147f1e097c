"""Paint that leaves its bottles: for a cup that was poured, or into a jar."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom import clock
from diachrom.core.profiles.one_paint import as_paint
from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups, paints, recipes, shelf_history
from diachrom.store.connection import writing
from diachrom.store.paints import MADE_HERE, PaintRecord
from diachrom.store.recipes import Version
from diachrom.store.shelf_history import Recorder
from diachrom.words import quantity, say
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.shelf.keeping import keep_profile, put_bottle, put_paint


@dataclass(frozen=True)
class Taken:
    """What a cup took from the bottles."""

    bottles: int
    ml: float
    below: Sequence[str]  # names of bottles that the ledger now has below nothing: to be corrected


def take_from_stock(connection: sqlite3.Connection, *, at: str) -> Taken:
    """The cup was really mixed: its drops leave the bottles. Said twice, only what has come since is taken.

    Stock may fall below nothing, since the paint was poured; such bottles are named, to be corrected.
    """
    with writing(connection):
        now = cups.now(connection)
        if not now.draft.drops:
            raise InvalidInput(say("The cup is empty: nothing was taken off the bottles."), field="parts")
        before = bottles.poured_by(connection, now.batch)
        name = now.draft.name or say("the cup")
        found = bottles.by_id(connection, [part.bottle for part in now.draft.parts])
        taken, below = [], []
        with shelf_history.step(connection, say("pouring {name}", name=name), at=at) as recorder:
            for part in now.draft.parts:
                ml = part.drops * part.drop_ml - before.get(part.bottle, 0.0)
                if abs(ml) < 1e-9:
                    continue
                bottle = found[part.bottle]
                entry = bottles.enter(
                    connection,
                    bottle=bottle.id,
                    at=at,
                    kind="poured",
                    ml=-ml,
                    note=say("for {name}", name=name),
                    recipe=now.recipe,
                    version=now.version,
                    cup_batch=now.batch,
                )
                recorder.entered(entry)
                taken.append(ml)
                if bottle.state == "sealed":
                    recorder.touch("bottle", bottle.id)
                    bottles.change(connection, bottle.id, state="open", opened_on=clock.today(at))
                if bottle.left_ml - ml < -1e-9:
                    below.append(bottle.full_name)
        return Taken(len(taken), sum(taken), below)


def keep_in_jar(
    connection: sqlite3.Connection, recipe: int, version: int | None, ml: float, *, at: str, poured: bool = False
) -> int:
    """Make a recipe to stock: its paints leave their bottles, unless it was `poured` already and this is what is left
    of it; the mix becomes a bottle that goes into recipes.

    Returns the jar's number. Raises RecipeNotFound, and InvalidInput for a mix that cannot be kept as one paint.
    """
    with writing(connection):
        saved = recipes.version(connection, recipe, version)
        cup = cup_of(contents(connection, saved.draft))
        if not 0 < ml <= 1000:
            raise InvalidInput(
                say("A jar takes more than nothing, and up to 1000 ml, not {ml}.", ml=quantity(ml, "g")), field="ml"
            )
        with shelf_history.step(
            connection, say("keeping {ml} of {name}", ml=quantity(ml, "g", "ml"), name=saved.draft.name), at=at
        ) as recorder:
            paint = jar_paint(connection, recorder, saved, at=at)
            for part in () if poured else saved.draft.parts:
                entry = bottles.enter(
                    connection,
                    bottle=part.bottle,
                    at=at,
                    kind="poured",
                    ml=-ml * part.drops * part.drop_ml / cup.volume_ml,
                    note=say("into a jar of {name}", name=paint.name),
                    recipe=saved.recipe,
                    version=saved.version,
                )
                recorder.entered(entry)
            drop_ul = 1000 * cup.volume_ml / cup.drops
            values = {"size_ml": ml, "drop_ul": drop_ul, "state": "open", "opened_on": clock.today(at)}
            note = (
                say("left of recipe {recipe}", recipe=recipe)
                if poured
                else say("made from recipe {recipe}", recipe=recipe)
            )
            made_of = (saved.recipe, saved.version)
            return put_bottle(connection, recorder, paint.id, values, at=at, note=note, made_of=made_of)


def jar_paint(connection: sqlite3.Connection, recorder: Recorder, saved: Version, *, at: str) -> PaintRecord:
    """The paint that a version of a recipe is as a jar, known by its numbers: others may be called alike.

    Inside a step. Raises InvalidInput for a mix that cannot be kept as one paint."""
    known = paints.made_of(connection, saved.recipe, saved.version)
    if known is not None and not known.retired:
        return known
    name = f"{saved.draft.name[:50]} v{saved.version}"
    name = paints.free_name(connection, line=MADE_HERE, name=name, beside=f"(recipe {saved.recipe})")
    pours = cup_of(contents(connection, saved.draft)).pours
    profile = as_paint(f"{MADE_HERE} {name}", [(pour.paint, pour.volume_ml) for pour in pours if pour.drops])
    paint = known or PaintRecord(
        "",
        MADE_HERE,
        name,
        profile.kind,
        note=say("recipe {recipe}", recipe=saved.recipe),
        recipe=saved.recipe,
        version=saved.version,
    )
    paint_id = put_paint(connection, recorder, paint, known)
    source = say("mixed by recipe {recipe}, version {version}", recipe=saved.recipe, version=saved.version)
    keep_profile(connection, profile, paint_id=paint_id, source=source, at=at)
    return replace(paint, id=paint_id)
