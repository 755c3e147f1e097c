"""Paints, bottles and recipes as one versioned JSON document.

It keeps everything: what goes out and comes into an empty folder is equal. On a shelf that has things already, what is
there stays, and what is new is added.
"""

import json
import sqlite3
from dataclasses import dataclass, replace

from pydantic import ValidationError

from diachrom.errors import BadFile
from diachrom.exchange.apart import apart
from diachrom.exchange.json_bounds import check_json
from diachrom.exchange.text import check_size
from diachrom.store import bottles, paints, recipes, steps
from diachrom.store.paints import PaintRecord
from diachrom.work.files import bundle_beside, bundle_cards, bundle_merge, bundle_photos
from diachrom.work.files.beside_document import Beside
from diachrom.work.files.bundle_checks import check_whole
from diachrom.work.files.bundle_document import FORMAT, VERSION, BottleDoc, Bundle, PaintDoc
from diachrom.work.files.bundle_recipes import add_recipe
from diachrom.work.files.inventory import Progress
from diachrom.work.files.inventory_preview import RowFate
from diachrom.work.kit.document_values import paint_of
from diachrom.work.kit.documents import first_problem
from diachrom.work.kit.looks import look


def is_ours(content: bytes) -> bool:
    """Whether a document says so where it begins, or holds what only a shelf holds."""
    return FORMAT.encode() in content[:2000] or b'"format"' in content[:2000] or b'"bottles"' in content


def read(name: str, content: bytes) -> Bundle:
    """Raises BadFile, naming the place, for what is no such document or a newer one."""
    check_size(name, len(content))
    apart(name, check_json, content)
    try:
        head = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise BadFile(name, f"it is not valid JSON ({error}): is it cut off?") from None
    if not isinstance(head, dict) or head.get("format") != FORMAT:
        raise BadFile(name, f"it is no '{FORMAT}' document.")
    if isinstance(head.get("version"), int) and head["version"] > VERSION:
        raise BadFile(
            name, f"it was written by a newer Diachrom (version {head['version']}; this one reads {VERSION})."
        )
    try:
        whole = Bundle.model_validate(head)
    except ValidationError as error:
        raise BadFile(name, first_problem(error)[1]) from None
    check_whole(name, whole)
    return whole


@dataclass(frozen=True, eq=False)
class BundlePlan:
    """What is new in a document, and where the rest is already."""

    whole: Bundle
    paints: dict[str, str]  # id in the document -> id on the shelf, for what is there
    bottles: dict[int, int]
    recipes: dict[int, int]
    cards: dict[int, int]
    card_fates: dict[int, str]  # of those that are new

    news: bundle_merge.News  # of what is here already
    beside: Beside  # what is new of it

    @property
    def fates(self) -> list[RowFate]:
        """In words, a thing a row."""
        found = []
        for at, paint in enumerate(self.whole.paints, start=1):
            fate = self._fate(paint.id, "profiles") if paint.id in self.paints else "new paint"
            found.append(RowFate(at, f"{paint.line} {paint.name}".strip(), fate))
        for at, bottle in enumerate(self.whole.bottles, start=1):
            fate = self._fate(bottle.number, "entries") if bottle.number in self.bottles else "new bottle"
            found.append(RowFate(at, f"bottle {bottle.number} of {bottle.paint}", fate))
        for at, recipe in enumerate(self.whole.recipes, start=1):
            fate = self._fate(recipe.number, "versions") if recipe.number in self.recipes else "new recipe"
            found.append(RowFate(at, recipe.versions[-1].name, fate))
        for at, card in enumerate(self.whole.cards, start=1):
            fate = self.card_fates.get(card.number) or self._fate(card.number, "readings", "photos")
            found.append(RowFate(at, f"test card {card.number}", fate))
        if self.whole.beside.count():
            new = self.beside.count()
            words = f"new beside the shelf: {new} of {self.whole.beside.count()}" if new else "is there already"
            found.append(RowFate(1, "contrast cards, weighings, what is coming, targets, rounds", words))
        return found

    def _fate(self, key: object, *sorts: str) -> str:
        new = [words for sort in sorts if (words := self.news.of(sort, key))]
        return f"gains {' and '.join(new)}" if new else "is there already"


def plan(connection: sqlite3.Connection, whole: Bundle) -> BundlePlan:
    """Find what is on the shelf already: paints by name, bottles by paint and first ledger line, recipes by content."""
    known_paints = bundle_merge.known_paints(connection, whole)
    known_bottles: dict[int, int] = {}
    for bottle in whole.bottles:
        if bottle.paint in known_paints:
            for own in bottles.of_paint(connection, known_paints[bottle.paint]):
                entries = bottles.ledger(connection, own.id)
                if not entries or not bottle.ledger:
                    same_bottle = not entries and not bottle.ledger
                else:
                    bottle_first = min(entries, key=lambda entry: entry.id)
                    same_bottle = (bottle_first.at, bottle_first.ml) == (bottle.ledger[0].at, bottle.ledger[0].ml)
                if same_bottle and own.id not in known_bottles.values():
                    known_bottles[bottle.number] = own.id
                    break
    known_recipes = {}
    if whole.recipes:
        saved = {number: recipes.versions(connection, number)[-1] for number in recipes.numbers(connection)}
        first = {(one.at, one.draft.name): number for number, one in saved.items()}
        for recipe in whole.recipes:
            same = first.get((recipe.versions[0].at, recipe.versions[0].name))
            if same is not None:
                known_recipes[recipe.number] = same
    known_cards = bundle_cards.known_cards(connection, whole)
    fates = {one.number: bundle_cards.fate_of(connection, one) for one in whole.cards if one.number not in known_cards}
    found = bundle_merge.news(
        connection, whole, known=known_paints, places=known_bottles, numbers=known_recipes, cards=known_cards
    )
    here = bundle_beside.Here(known_paints, known_bottles, known_recipes, found.numbers)
    return BundlePlan(
        whole=whole,
        paints=known_paints,
        bottles=known_bottles,
        recipes=known_recipes,
        cards=known_cards,
        card_fates=fates,
        news=found,
        beside=bundle_beside.new_of(connection, whole.beside, here),
    )


def apply(connection: sqlite3.Connection, found: BundlePlan, *, name: str, at: str, progress: Progress) -> None:
    """Write what is new. Call it inside `writing`: all of it is kept, or nothing. Raises DiachromError."""
    whole = found.whole
    total = len(whole.paints) + len(whole.bottles) + len(whole.recipes) + len(whole.cards)
    done = 0
    with steps.step(connection, f"importing {name}", at=at) as recorder:
        numbers = dict(found.recipes)
        new_recipes = [one for one in whole.recipes if one.number not in numbers]
        for recipe in new_recipes:
            numbers[recipe.number] = recipes.new_recipe(connection, recipe.number)
        ids = dict(found.paints)
        for paint in whole.paints:
            if paint.id not in ids:
                ids[paint.id] = _add_paint(connection, recorder, paint, numbers)
            progress(done := done + 1, total)
        for paint in whole.paints:
            if paint.merged_into in ids and paint.id not in found.paints:
                paints.change(connection, ids[paint.id], merged_into=ids[paint.merged_into])
        places = dict(found.bottles)
        for bottle in whole.bottles:
            if bottle.number not in places:
                places[bottle.number] = _add_bottle(connection, recorder, bottle, ids[bottle.paint], numbers)
            progress(done := done + 1, total)
        for recipe in new_recipes:
            add_recipe(connection, recipe, places=places, numbers=numbers)
            progress(done := done + 1, total)
        _bring_together(connection, recorder, found, ids=ids, places=places, numbers=numbers)
        new_cards = [one for one in whole.cards if one.number not in found.cards]
        added = bundle_cards.add_cards(connection, new_cards, places=places, numbers=numbers)
        shown = [one for one in whole.cards if one.number in added or one.number in found.news.photos]
        bundle_photos.bring_photos(connection, shown, found.cards | added)
        bundle_beside.add(connection, found.beside, bundle_beside.Here(ids, places, numbers, found.news.numbers))
        if bundle_merge.profiles_are_theirs(connection, whole, ids):  # hand and profiles were learned together
            bundle_cards.learn_again(connection, whole, places=places, at=at)
        progress(total, total)


def _bring_together(
    connection: sqlite3.Connection,
    recorder: steps.Recorder,
    found: BundlePlan,
    *,
    ids: dict[str, str],
    places: dict[int, int],
    numbers: dict[int, int],
) -> None:
    """What is new of all that is here already."""
    news = found.news
    for paint in found.whole.paints:
        if paint.id in news.profiles:
            own = ids[paint.id]
            recorder.measured(own, *bundle_merge.add_profiles(connection, paint, own, news.profiles[paint.id]))
    for recipe in found.whole.recipes:
        if recipe.number in news.versions:
            bundle_merge.add_versions(connection, recipe, news, places=places, numbers=numbers)
    for bottle in found.whole.bottles:
        if bottle.number in news.entries:
            for entry in bundle_merge.add_entries(connection, bottle, places[bottle.number], news, numbers):
                recorder.entered(entry)
    for card in found.whole.cards:
        if card.number in news.readings:
            bundle_merge.add_readings(connection, card, found.cards[card.number], news, numbers)


def _add_paint(
    connection: sqlite3.Connection, recorder: steps.Recorder, paint: PaintDoc, numbers: dict[int, int]
) -> str:
    own = paint.model_dump(exclude={"profiles", "merged_into", "id", "recipe"})
    tried = (paint.id, *(f"{paint.id[:60]}-in-{number}" for number in range(1, 1000)))
    paint_id = next(one for one in tried if not paints.has_id(connection, one))
    recipe = numbers.get(paint.recipe) if paint.recipe else None
    if recipe is not None:
        own["name"] = paints.free_name(connection, line=paint.line, name=paint.name, beside=f"(recipe {recipe})")
    paints.add(connection, PaintRecord(id=paint_id, recipe=recipe, **own))
    for one in paint.profiles:
        profile = replace(paint_of(one.profile), name=f"{paint.line} {paint.name}".strip())
        paints.add_profile(
            connection, profile, paint_id=paint_id, source=one.source, at=one.at, uncertain_nm=one.uncertain_nm
        )
    bead = look(profile).bead
    if bead is not None:
        lab = bead.lab.tolist()
        paints.keep_colour(connection, paint_id, (lab[0], lab[1], lab[2]))
    if not paint.retired:
        recorder.made("paint", paint_id)
    return paint_id


def _add_bottle(
    connection: sqlite3.Connection,
    recorder: steps.Recorder,
    bottle: BottleDoc,
    paint_id: str,
    numbers: dict[int, int],
) -> int:
    own = bottle.model_dump(exclude={"number", "paint", "ledger"})
    number = bottles.add(connection, paint_id=paint_id, number=bottle.number, **own)
    for entry in bottle.ledger:
        recipe = numbers.get(entry.recipe) if entry.recipe else None
        bottles.enter(connection, bottle=number, **{**entry.model_dump(), "recipe": recipe})
    if not bottle.retired:
        recorder.made("bottle", number)
    return number
