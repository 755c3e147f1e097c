"""What could stand in for a paint that is missing, dropped by its maker, or nearly gone; and taking it over."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.film.paint import Paint
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.mix.cup import MOST_DROPS, Cup, Pour
from diachrom.core.mix.draft import LONGEST_NOTE, Draft, Part
from diachrom.core.mix.mixes import Parts
from diachrom.core.mix.scaling import times_in_whole_drops
from diachrom.core.mix.strip import Strip
from diachrom.core.profiles.substitutes import Found, find_substitutes
from diachrom.errors import InvalidInput
from diachrom.store import bottles, paints, recipes
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.store.paints import PaintRecord
from diachrom.store.recipes import Version
from diachrom.words import listed, say
from diachrom.work.kit.looks import PaintLook, look, shelf_strip
from diachrom.work.shelf.on_shelf import OnShelf, seen
from diachrom.work.shelf.shelf_index import index

MOST_CANDIDATES = 90
MOST_DROPS_EACH = 60


@dataclass(frozen=True, eq=False)
class Substitute:
    """One paint or mix, with the bottles it would come from."""

    parts: Sequence[tuple[OnShelf, int]]
    found: Found

    @property
    def key(self) -> str:
        """ "12x3-7x1": bottles and drops, as they stand in an address."""
        return "-".join(f"{row.bottle.id}x{drops}" for row, drops in self.parts)


@dataclass(frozen=True, eq=False)
class WantedSubstitute:
    """The paint that is missing, dropped or nearly gone."""

    record: PaintRecord
    paint: Paint
    look: PaintLook


@dataclass(frozen=True, eq=False)
class Substitutes:
    """What could stand in for it, and where it is wanted."""

    wanted: WantedSubstitute
    singles: Sequence[Substitute]
    mixes: Sequence[Substitute]
    recipes: Sequence[Version]  # that name it


def wanted(connection: sqlite3.Connection, paint_id: str) -> WantedSubstitute:
    """Raises PaintNotFound, and InvalidInput for what has no colour."""
    record = paints.record(connection, paint_id)
    target = paints.profile(connection, paint_id)
    if target.thins:
        raise InvalidInput(
            say(
                "{full_name} has no colour: any {kind} stands in for it.", full_name=record.full_name, kind=record.kind
            ),
            field="paint",
        )
    return WantedSubstitute(record, target, look(target))


def substitutes_for(connection: sqlite3.Connection, paint_id: str) -> Substitutes:
    """Raises what `wanted` raises, and InvalidInput when there is nothing else on the shelf."""
    missing = wanted(connection, paint_id)
    # A bottle of every other paint that can be poured; on a large shelf those that are nearest, and the strong ones
    # that lie far out and are good to mix with.
    whole = index(connection)
    best = [at for at in whole.to_pour if whole.rows[at].bottle.paint_id != paint_id]
    if len(best) <= MOST_CANDIDATES:
        candidates = [whole.rows[at].bottle for at in best]
    else:
        own = [at for at, row in enumerate(whole.rows) if row.bottle.paint_id == paint_id]
        aim = whole.labs[own[0]] if own else _lab(connection, paint_id)
        places = [at for at in best if not np.isnan(whole.labs[at, 0])]
        near = delta_e(whole.labs[places], aim)
        strong = np.hypot(whole.labs[places, 1], whole.labs[places, 2])
        order = [places[at] for at in np.argsort(near)[: 2 * MOST_CANDIDATES // 3]]
        order += [places[at] for at in np.argsort(-strong)[: MOST_CANDIDATES // 3]]
        thinners = [at for at in best if np.isnan(whole.labs[at, 0])]
        candidates = [whole.rows[at].bottle for at in (*dict.fromkeys(order), *thinners[:3])]
    rows = seen(connection, candidates)
    if not rows:
        raise InvalidInput(say("There is no other bottle with paint in it on the shelf."), field="paint")
    singles, mixes = find_substitutes(missing.paint, [row.paint for row in rows])

    def with_bottles(found: Sequence[Found]) -> list[Substitute]:
        return [Substitute([(rows[at], drops) for at, drops in one.parts], one) for one in found]

    return Substitutes(missing, with_bottles(singles), with_bottles(mixes), recipes.with_paint(connection, paint_id))


def strip_of(substitute: Substitute) -> Strip:
    """A substitute as the shelf would show it."""
    return shelf_strip(Cup([Pour(row.paint, drops) for row, drops in substitute.parts]))


def _lab(connection: sqlite3.Connection, paint_id: str) -> Floats:
    bead = look(paints.profile(connection, paint_id)).bead
    return np.zeros(3) if bead is None else bead.lab


def read_key(key: str) -> Parts:
    """ "12x3-7x1" -> ((12, 3), (7, 1)). Raises InvalidInput."""
    parts = [part.split("x") for part in key.split("-")]
    if not all(
        len(part) == 2 and part[0].isdecimal() and part[1].isdecimal() and len("".join(part)) < 16 for part in parts
    ):
        raise InvalidInput(say("'{key}' names no bottles and drops.", key=key[:40]), field="parts")
    found = tuple((int(bottle), int(drops)) for bottle, drops in parts)
    if not all(1 <= drops <= MOST_DROPS_EACH for _, drops in found):
        raise InvalidInput(
            say("1 to {most_drops_each} drops of each bottle can be taken.", most_drops_each=MOST_DROPS_EACH),
            field="parts",
        )
    return found


def take_over(connection: sqlite3.Connection, recipe: int, paint_id: str, key: str, *, at: str) -> Version:
    """Save a recipe's next version with the substitute in place of the paint.

    Raises RecipeNotFound, BottleNotFound, and InvalidInput when the recipe does not name the paint.
    """
    asked = read_key(key)
    with writing(connection):
        saved = recipes.version(connection, recipe)
        own = bottles.by_id(connection, [part.bottle for part in saved.draft.parts])
        instead = bottles.by_id(connection, [bottle for bottle, _ in asked])
        gone = [part for part in saved.draft.parts if own[part.bottle].paint_id == paint_id]
        if not gone:
            raise InvalidInput(say("Recipe {recipe} does not name that paint.", recipe=recipe), field="recipe")
        volume = sum(part.drops * part.drop_ml for part in gone)
        total = sum(drops for _, drops in asked)
        shares = [(instead[bottle], volume * drops / total) for bottle, drops in asked]
        times, counts = times_in_whole_drops([(ml, bottle.drop_ml) for bottle, ml in shares])
        kept = [replace(part, drops=part.drops * times) for part in saved.draft.parts if part not in gone]
        for (bottle, _), drops in zip(shares, counts, strict=True):
            kept = _with(kept, bottle, drops)
        names = listed((bottle.full_name for bottle, _ in shares), " and ")
        said = f"{own[gone[0].bottle].full_name} replaced by {names}" + (
            f"; {times} times as much" if times > 1 else ""
        )
        note = f"{said}. {saved.draft.note}".strip()[:LONGEST_NOTE]
        draft: Draft = replace(saved.draft, parts=tuple(kept), note=note)
        return recipes.add_version(connection, draft.to_save(), recipe=recipe, parent_version=saved.version, at=at)


def _with(parts: list[Part], bottle: Bottle, drops: int) -> list[Part]:
    """More drops of a bottle, be it in the recipe already or not."""
    for at, part in enumerate(parts):
        if part.bottle == bottle.id:
            more = part.drops + max(1, round(drops * bottle.drop_ml / part.drop_ml))
            return [*parts[:at], replace(part, drops=min(MOST_DROPS, more)), *parts[at + 1 :]]
    return [*parts, Part(bottle.id, min(MOST_DROPS, drops), bottle.drop_ml)]
