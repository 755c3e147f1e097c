"""Two states of one shelf brought together: of what is here already a document adds what it alone knows - versions of
profiles and recipes, entries of ledgers, readings of cards - each known by what it is and when it was."""

import sqlite3
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from diachrom.errors import counted
from diachrom.store import bottles, paints, recipes, stories, test_cards
from diachrom.store.paints import PaintRecord
from diachrom.work.files.bundle_document import BottleDoc, Bundle, CardDoc, PaintDoc, RecipeDoc, VersionDoc
from diachrom.work.files.bundle_recipes import draft_here, ground_here, told_here
from diachrom.work.kit.document_values import paint_of
from diachrom.work.shelf.keeping import keep_profile

Known = Mapping[int, int]  # number in the document -> number here


@dataclass(frozen=True)
class News:
    """What a document knows that is not here: places in its own lists, by paint, bottle, recipe, card."""

    profiles: dict[str, list[int]] = field(default_factory=dict)
    entries: dict[int, list[int]] = field(default_factory=dict)
    versions: dict[int, list[int]] = field(default_factory=dict)
    readings: dict[int, list[tuple[int, int]]] = field(default_factory=dict)
    photos: dict[int, list[int]] = field(default_factory=dict)
    numbers: dict[tuple[int, int], int] = field(default_factory=dict)  # (recipe, version) there -> version here

    def of(self, sort: str, key: object) -> str:
        """What is new of a thing that is here, in words; "" if nothing is."""
        what = {"profiles": "profile", "entries": "entry of its ledger", "versions": "version"}
        what |= {"readings": "reading", "photos": "photo"}
        found = getattr(self, sort).get(key, ())
        words = what[sort]
        if len(found) > 1 and sort == "entries":
            return f"{len(found)} entries of its ledger"
        return counted(len(found), words) if found else ""


def known_paints(connection: sqlite3.Connection, whole: Bundle) -> dict[str, str]:
    """Id in the document -> id here: by id where both have a profile or the name in common, else by name; what went
    into another paint here is that one. A mix kept in a jar is known by its profile alone: recipes may be called
    alike."""
    here = {one.id: one for one in paints.every_record(connection)}
    jars = {
        key: {(one.at, one.source) for one in versions if one.version}
        for key, versions in paints.versions_of(connection, [one.id for one in here.values() if one.recipe]).items()
    }
    found: dict[str, str] = {}
    for paint in whole.paints:
        if paint.recipe is None:
            own, named = here.get(paint.id), paints.named(connection, line=paint.line, name=paint.name)
            if own is None or (named is not None and named.id != own.id):
                known = named
            else:
                known = own if named is not None or _told_alike(connection, paint, own) else None
        else:
            told = {(one.at, one.source) for one in paint.profiles}
            known = next((here[key] for key, own in jars.items() if own & told), None)
        if known is not None:
            while known.merged_into and known.merged_into in here:
                known = here[known.merged_into]
            found[paint.id] = known.id
    return found


def _told_alike(connection: sqlite3.Connection, paint: PaintDoc, own: PaintRecord) -> bool:
    """Whether both have a profile in common."""
    told = {(one.at, one.source) for one in paint.profiles}
    return any((one.at, one.source) in told for one in paints.profile_versions(connection, own.id))


def news(
    connection: sqlite3.Connection,
    whole: Bundle,
    *,
    known: Mapping[str, str],
    places: Known,
    numbers: Known,
    cards: Known,
) -> News:
    """What is new of all that is here already."""
    found = News()
    for paint in whole.paints:
        if paint.id in known:
            _profiles(connection, paint, known[paint.id], found)
    for bottle in whole.bottles:
        if bottle.number in places:
            _entries(connection, bottle, places[bottle.number], found)
    for recipe in whole.recipes:
        if recipe.number in numbers:
            own = numbers[recipe.number]
            here = {
                (one.at, one.draft.name, len(one.draft.parts)): one.version for one in recipes.versions(connection, own)
            }
            missing = []
            for at, one in enumerate(recipe.versions):
                same = here.get((one.at, one.name, len(one.parts)))
                if same is None:
                    missing.append(at)
                else:
                    found.numbers[recipe.number, at + 1] = same
            if missing:
                found.versions[recipe.number] = missing
    for card in whole.cards:
        if card.number in cards:
            _readings(connection, card, cards[card.number], found, numbers)
    return found


def _profiles(connection: sqlite3.Connection, paint: PaintDoc, own: str, found: News) -> None:
    here = {(one.at, one.source) for one in paints.profile_versions(connection, own)}
    missing = [at for at, one in enumerate(paint.profiles) if (one.at, one.source) not in here]
    if missing:
        found.profiles[paint.id] = missing


def _entries(connection: sqlite3.Connection, bottle: BottleDoc, own: int, found: News) -> None:
    """The same may have happened twice in a second: as often as the document has it more."""
    here = Counter((one.at, one.kind, round(one.ml, 6)) for one in bottles.ledger(connection, own))
    missing = []
    for at, one in enumerate(bottle.ledger):
        key = (one.at, one.kind, round(one.ml, 6))
        if here[key] > 0:
            here[key] -= 1
        else:
            missing.append(at)
    if missing:
        found.entries[bottle.number] = missing


def _readings(connection: sqlite3.Connection, card: CardDoc, own: int, found: News, numbers: Known) -> None:
    kept = test_cards.one(connection, own)
    here = {
        (patch.ground, patch.coats): {(one.at, one.source, one.words) for one in patch.readings}
        for patch in kept.patches
    }
    missing = [
        (at, place)
        for at, patch in enumerate(card.patches)
        for place, one in enumerate(patch.readings)
        if (one.at, one.source, one.words)
        not in here.get((ground_here(patch.ground, numbers, found.numbers), patch.coats), set())
    ]
    if missing:
        found.readings[card.number] = missing
    if card.photo is not None and kept.photo is None:
        found.photos[card.number] = [own]


def add_profiles(connection: sqlite3.Connection, paint: PaintDoc, own: str, missing: Sequence[int]) -> tuple[int, int]:
    """Versions that are not here; the latest of both stays the one that counts. Returns the version that counted, and
    the one whose profile does now."""
    newest = paints.profile_versions(connection, own)[0]
    told = sorted((paint.profiles[at] for at in missing), key=lambda one: one.at)
    name = paints.record(connection, own).full_name
    for one in told:
        profile = replace(paint_of(one.profile), name=name)
        last = keep_profile(
            connection, profile, paint_id=own, source=one.source, at=one.at, uncertain_nm=one.uncertain_nm
        )
    if told[-1].at < newest.at:
        keep_profile(
            connection,
            newest.paint,
            paint_id=own,
            source=newest.source,
            at=newest.at,
            uncertain_nm=newest.uncertain_nm,
        )
        last = newest.version
    return newest.version, last


def add_entries(connection: sqlite3.Connection, bottle: BottleDoc, own: int, found: News, numbers: Known) -> list[int]:
    """Returns their numbers here."""
    entered = []
    for at in found.entries[bottle.number]:
        one = bottle.ledger[at]
        recipe = numbers.get(one.recipe) if one.recipe else None
        version = (
            found.numbers.get((one.recipe, one.version), one.version) if one.recipe and one.version else one.version
        )
        number = bottles.enter(
            connection, bottle=own, at=one.at, kind=one.kind, ml=one.ml, note=one.note, recipe=recipe, version=version
        )
        entered.append(number)
    return entered


def add_versions(
    connection: sqlite3.Connection, recipe: RecipeDoc, found: News, *, places: Known, numbers: Known
) -> None:
    """Behind those that are here, in their order; each comes from the one that it came from."""
    for at in found.versions[recipe.number]:
        version: VersionDoc = recipe.versions[at]
        parent = found.numbers.get((recipe.number, version.parent)) if version.parent else None
        saved = recipes.add_version(
            connection,
            draft_here(version, places, numbers, found.numbers),
            recipe=numbers[recipe.number],
            parent_version=parent,
            at=version.at,
        )
        found.numbers[recipe.number, at + 1] = saved.version
        if version.story:
            told = [told_here(one, places) for one in version.story]
            stories.keep(connection, saved.recipe, saved.version, told)


def add_readings(connection: sqlite3.Connection, card: CardDoc, own: int, found: News, numbers: Known) -> None:
    for at, place in found.readings[card.number]:
        patch = card.patches[at]
        ground = ground_here(patch.ground, numbers, found.numbers)
        kept = test_cards.one(connection, own)
        if (ground, patch.coats) not in {(one.ground, one.coats) for one in kept.patches}:
            test_cards.add_patch(connection, own, ground, patch.coats)
        number = test_cards.patch_of(connection, own, ground, patch.coats)
        test_cards.read(connection, number, **patch.readings[place].model_dump())


def profiles_are_theirs(connection: sqlite3.Connection, whole: Bundle, ids: Mapping[str, str]) -> bool:
    """Whether every paint of the document counts here by the profile by which it counts there."""
    for paint in whole.paints:
        own = ids.get(paint.id)
        if own is None:
            continue
        newest, theirs = paints.profile_versions(connection, own)[0], paint.profiles[-1]
        if (newest.at, newest.source) != (theirs.at, theirs.source):
            return False
    return True
