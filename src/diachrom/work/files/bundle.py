"""Paints, bottles and recipes as one versioned JSON document.

It keeps everything: what goes out and comes into an empty folder is equal. On the same bench, what is there stays as it
is, and what is not is added. Of another bench it is refused: the whole bench's file is for that.
"""

import json
import sqlite3
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

from pydantic import ValidationError

from diachrom.errors import BadFile
from diachrom.exchange.json_bounds import check_json
from diachrom.exchange.sandbox import run_sandboxed
from diachrom.exchange.text import check_size
from diachrom.store import bottles, paints, recipes, shelf_history
from diachrom.store.paints import PaintRecord
from diachrom.words import say
from diachrom.work.files import bundle_beside, bundle_cards, bundle_out, bundle_photos
from diachrom.work.files.bundle_checks import check_whole
from diachrom.work.files.bundle_document import FORMAT, VERSION, Bundle
from diachrom.work.files.bundle_recipes import add_recipe
from diachrom.work.files.inventory import Progress
from diachrom.work.files.inventory_preview import RowOutcome
from diachrom.work.kit.document_values import paint_of
from diachrom.work.kit.documents import first_problem
from diachrom.work.kit.looks import look


def is_ours(content: bytes) -> bool:
    """Whether a document says so where it begins, or holds what only a shelf holds."""
    return FORMAT.encode() in content[:2000] or b'"format"' in content[:2000] or b'"bottles"' in content


def read(name: str, content: bytes) -> Bundle:
    """Raises BadFile, naming the place, for what is no such document or a newer one."""
    check_size(name, len(content))
    run_sandboxed(name, check_json, content)
    try:
        head = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise BadFile(name, say("it is not valid JSON ({error}): is it cut off?", error=error)) from None
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise BadFile(name, say("it is no '{format}' document.", format=FORMAT))
    if isinstance(head.get("version"), int) and head["version"] > VERSION:
        raise BadFile(
            name,
            say(
                "it was written by a newer Diachrom (version {newer}; this one reads {version}).",
                newer=head["version"],
                version=VERSION,
            ),
        )
    if head.get("version") == 1:
        _as_of_before(head)
    try:
        whole = Bundle.model_validate(head)
    except ValidationError as error:
        raise BadFile(name, first_problem(error)[1]) from None
    check_whole(name, whole)
    return whole


@dataclass(frozen=True)
class Sort:
    """A sort of thing in the document: by what it is known on the same bench, and which of its lists only grows."""

    field: str
    number: Callable[[Any], object]
    words: Callable[[Any], str]
    identity: Callable[[Any], object]  # differs where the same number means something else
    grown: Callable[[Any], int]


SORTS = {
    "new paint": Sort(
        "paints",
        number=lambda one: one.id,
        words=lambda one: f"{one.line} {one.name}".strip(),
        identity=lambda one: [(first.at, first.source) for first in one.profiles[:1]],
        grown=lambda one: len(one.profiles),
    ),
    "new bottle": Sort(
        "bottles",
        number=lambda one: one.number,
        words=lambda one: say("bottle {number} of {paint}", number=one.number, paint=one.paint),
        identity=lambda one: [(first.at, round(first.ml, 6)) for first in one.ledger[:1]],
        grown=lambda one: len(one.ledger),
    ),
    "new recipe": Sort(
        "recipes",
        number=lambda one: one.number,
        words=lambda one: one.versions[-1].name,
        identity=lambda one: (one.versions[0].at, one.versions[0].name),
        grown=lambda one: len(one.versions),
    ),
    "new card": Sort(
        "cards",
        number=lambda one: one.number,
        words=lambda one: say("spray-out card {number}", number=one.number),
        identity=lambda one: (one.at, one.name),
        grown=lambda one: sum(len(patch.readings) for patch in one.patches),
    ),
}


@dataclass(frozen=True, eq=False)
class BundlePlan:
    """What is new in a document; all else is there already."""

    new: Bundle
    fates: Sequence[RowOutcome]  # in words, a thing a row
    hand: bool  # hand and drops were learned with these profiles, and come with them


def _as_of_before(head: dict[str, Any]) -> None:
    """Profiles of a document of version 1 say themselves that their light is that of before."""
    for paint in head["paints"] if isinstance(head.get("paints"), list) else ():
        for one in paint.get("profiles", ()) if isinstance(paint, dict) else ():
            if isinstance(one, dict) and isinstance(one.get("profile"), dict):
                one["profile"].setdefault("version", 1)


def plan(connection: sqlite3.Connection, name: str, whole: Bundle) -> BundlePlan:
    """Compare a document with the one that this bench would write. Raises BadFile where a number means something else
    here, InvalidInput where this bench cannot stand in a document."""
    here = bundle_out.document(connection)
    fates: list[RowOutcome] = []
    new: dict[str, list[Any]] = {}
    for fate, sort in SORTS.items():
        known = {sort.number(one): one for one in getattr(here, sort.field)}
        new[sort.field] = []
        for place, one in enumerate(getattr(whole, sort.field), start=1):
            own, told = known.get(sort.number(one)), fate
            if own is None:
                new[sort.field].append(one)
            elif sort.identity(own) != sort.identity(one):
                raise BadFile(
                    name,
                    say(
                        "it belongs to another bench: its {words} is another thing here. Import it into an empty "
                        "folder, or import that whole bench.",
                        words=sort.words(one),
                    ),
                )
            elif sort.grown(one) > sort.grown(own):
                told = say("is there in an older state, which stays: only the whole bench's file brings the newer one")
            else:
                told = say("is there already")
            fates.append(RowOutcome(place, sort.words(one), told))
    beside = bundle_beside.new_of(here.beside, whole.beside)
    if count := whole.beside.count():
        words = (
            say("new besides the shelf: {count} of {all}", count=beside.count(), all=count)
            if beside.count()
            else say("is there already")
        )
        fates.append(RowOutcome(1, say("drawdown cards, weighings, what is coming, targets, rounds"), words))
    names = {(one.line.casefold(), one.name.casefold()): one for one in here.paints}
    for paint in new["paints"]:
        if (paint.line.casefold(), paint.name.casefold()) in names:
            own = names[paint.line.casefold(), paint.name.casefold()]
            raise BadFile(
                name,
                say(
                    "its paint '{id}' is called as '{other_id}' is here: rename one of the two.",
                    id=paint.id,
                    other_id=own.id,
                ),
            )
    bundle = whole.model_copy(update={**new, "beside": beside})
    return BundlePlan(bundle, fates, hand=not here.paints)


def apply(connection: sqlite3.Connection, found: BundlePlan, *, name: str, at: str, progress: Progress) -> None:
    """Write what is new. Call it inside `writing`: all of it is kept, or nothing. Raises DiachromError."""
    new = found.new
    total = len(new.paints) + len(new.bottles) + len(new.recipes) + len(new.cards)
    done = 0
    with shelf_history.step(connection, say("importing {name}", name=name), at=at) as recorder:
        for recipe in new.recipes:
            recipes.new_recipe(connection, recipe.number)
        for paint in new.paints:
            fields = paint.model_dump(exclude={"profiles", "merged_into"})
            paints.add(connection, PaintRecord(**fields))
            for one in paint.profiles:
                profile = replace(paint_of(one.profile), name=f"{paint.line} {paint.name}".strip())
                paints.add_profile(
                    connection, profile, paint_id=paint.id, source=one.source, at=one.at, uncertain_nm=one.uncertain_nm
                )
            bead = look(profile).bead
            if bead is not None:
                lab = bead.lab.tolist()
                paints.keep_colour(connection, paint.id, (lab[0], lab[1], lab[2]))
            if not paint.retired:
                recorder.made("paint", paint.id)
            progress(done := done + 1, total)
        for paint in new.paints:
            if paint.merged_into is not None:
                paints.change(connection, paint.id, merged_into=paint.merged_into)
        for bottle in new.bottles:
            own = bottle.model_dump(exclude={"number", "paint", "ledger"})
            bottles.add(connection, paint_id=bottle.paint, number=bottle.number, **own)
            for entry in bottle.ledger:
                bottles.enter(connection, bottle=bottle.number, **entry.model_dump())
            if not bottle.retired:
                recorder.made("bottle", bottle.number)
            progress(done := done + 1, total)
        for recipe in new.recipes:
            add_recipe(connection, recipe)
            progress(done := done + 1, total)
        for card in new.cards:
            bundle_cards.add(connection, card)
            bundle_photos.bring_photo(connection, card)
            progress(done := done + 1, total)
        bundle_beside.add(connection, new.beside)
        if found.hand:
            bundle_cards.learn_again(connection, new, at=at)
        progress(total, total)
