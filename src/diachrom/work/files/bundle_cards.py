"""Test cards in the JSON document, with what was learned of the hand and the drops."""

import sqlite3
from collections.abc import Mapping, Sequence

from diachrom.core.mix.draft import Draft, Part
from diachrom.store import hand_factor, learnings, test_cards
from diachrom.store.learnings import NewDrop
from diachrom.store.test_cards import How, KeptCard
from diachrom.work.files.bundle_document import Bundle, CardDoc, LearnedDropDoc, PartDoc, PatchDoc, ReadingDoc
from diachrom.work.files.bundle_recipes import ground_here


def every_card(connection: sqlite3.Connection) -> list[CardDoc]:
    return [_card(one) for one in sorted(test_cards.latest(connection), key=lambda card: card.id)]


def learned_drops(connection: sqlite3.Connection) -> list[LearnedDropDoc]:
    found = learnings.drops(connection)
    return [LearnedDropDoc(bottle=bottle, counted_ml=counted, ml=ml) for (bottle, counted), ml in found.items()]


def _card(one: KeptCard) -> CardDoc:
    draft = one.draft
    patches = [
        PatchDoc(
            ground=patch.ground,
            coats=patch.coats,
            readings=[
                ReadingDoc(
                    at=own.at,
                    source=own.source,
                    lab=None if own.lab is None else list(own.lab),
                    words=own.words,
                    counts=own.counts,
                    predicted=None if own.predicted is None else list(own.predicted),
                )
                for own in patch.readings
            ],
        )
        for patch in one.patches
    ]
    return CardDoc(
        number=one.id,
        at=one.at,
        recipe=one.recipe,
        version=one.version,
        name=draft.name,
        mix_note=draft.note,
        note=one.note,
        ground=draft.ground,
        film_um=draft.film_um,
        coats=draft.coats,
        clear_coat=draft.clear_coat,
        sealed=draft.sealed,
        satin=draft.satin,
        **vars(one.how),
        counts=one.counts,
        parts=[PartDoc(bottle=part.bottle, drops=part.drops, drop_ml=part.drop_ml) for part in draft.parts],
        patches=patches,
    )


def known_cards(connection: sqlite3.Connection, whole: Bundle) -> dict[int, int]:
    """Number in the document -> number here, of the cards that are here already."""
    here = {(one.at, one.draft.name): one.id for one in test_cards.latest(connection)}
    return {one.number: here[one.at, one.name] for one in whole.cards if (one.at, one.name) in here}


def fate_of(connection: sqlite3.Connection, one: CardDoc) -> str:
    """What becomes of a card that is new."""
    if not test_cards.is_taken(connection, one.number):
        return "new card"
    return f"new card; there is another card {one.number}, so it gets the next free number"


def add_cards(
    connection: sqlite3.Connection, cards: Sequence[CardDoc], *, places: Mapping[int, int], numbers: Mapping[int, int]
) -> dict[int, int]:
    """Write new cards -> number in the document: number here. They come under their own numbers
    where these are free; bottles and recipes may have other numbers here.

    Those that keep their number come first, so that none of the others takes it.
    """
    in_order = sorted(cards, key=lambda card: test_cards.is_taken(connection, card.number))
    return {one.number: _add(connection, one, places, numbers) for one in in_order}


def _add(connection: sqlite3.Connection, one: CardDoc, places: Mapping[int, int], numbers: Mapping[int, int]) -> int:
    parts = tuple(Part(places[part.bottle], part.drops, part.drop_ml) for part in one.parts)
    ground = ground_here(one.ground, numbers)
    draft = Draft(
        parts=parts,
        name=one.name,
        note=one.mix_note,
        ground=ground,
        film_um=one.film_um,
        coats=one.coats,
        clear_coat=one.clear_coat,
        sealed=one.sealed,
        satin=one.satin,
    )
    recipe = None if one.recipe is None else numbers[one.recipe]
    number = test_cards.add(
        connection,
        draft,
        [(ground_here(patch.ground, numbers), patch.coats) for patch in one.patches],
        recipe=recipe,
        version=one.version,
        at=one.at,
        number=None if test_cards.is_taken(connection, one.number) else one.number,
    )
    how = How(one.nozzle_mm, one.pressure_bar, one.reduction)
    test_cards.describe(connection, number, draft, how, one.note)
    if not one.counts:
        test_cards.turn_card(connection, number)
    for patch in one.patches:
        own = test_cards.patch_of(connection, number, ground_here(patch.ground, numbers), patch.coats)
        for reading in patch.readings:
            test_cards.read(connection, own, **reading.model_dump())
    return number


def learn_again(connection: sqlite3.Connection, whole: Bundle, *, places: Mapping[int, int], at: str) -> None:
    """What was learned of hand and drops, on a bench that has learned nothing yet."""
    if learnings.every(connection) or (whole.hand == hand_factor.now(connection) and not whole.learned_drops):
        return
    before = hand_factor.now(connection)
    hand_factor.set_to(connection, whole.hand, at=at)
    drops = [NewDrop(places[one.bottle], one.counted_ml, one.ml) for one in whole.learned_drops]
    learnings.add(connection, cards=0, profiles=(), drops=drops, hand=(before, whole.hand), delta_e=(0.0, 0.0), at=at)
