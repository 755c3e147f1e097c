"""Spray-out cards in the JSON document, with what was learned of the hand and the drops."""

import sqlite3

from diachrom.core.mix.draft import Draft
from diachrom.store import hand_factor, learnings, spray_out_cards
from diachrom.store.learnings import NewDrop
from diachrom.store.spray_out_cards import How, KeptCard
from diachrom.work.files.bundle_document import Bundle, CardDoc, LearnedDropDoc, PartDoc, PatchDoc, ReadingDoc
from diachrom.work.files.bundle_recipes import parts_of


def every_card(connection: sqlite3.Connection) -> list[CardDoc]:
    """All spray-out cards, as the document has them."""
    return [_card(one) for one in sorted(spray_out_cards.latest(connection), key=lambda card: card.id)]


def learned_drops(connection: sqlite3.Connection) -> list[LearnedDropDoc]:
    """What was learned of drops, as the document has it."""
    found = learnings.drops(connection)
    return [LearnedDropDoc(bottle=bottle, counted_ml=counted, ml=ml) for (bottle, counted), ml in found.items()]


def _card(card: KeptCard) -> CardDoc:
    draft = card.draft
    patches = [
        PatchDoc(
            ground=patch.ground,
            coats=patch.coats,
            readings=[
                ReadingDoc(
                    at=reading.at,
                    source=reading.source,
                    lab=None if reading.lab is None else list(reading.lab),
                    words=reading.words,
                    counts=reading.counts,
                    predicted=None if reading.predicted is None else list(reading.predicted),
                )
                for reading in patch.readings
            ],
        )
        for patch in card.patches
    ]
    return CardDoc(
        number=card.id,
        at=card.at,
        recipe=card.recipe,
        version=card.version,
        name=draft.name,
        mix_note=draft.note,
        note=card.note,
        ground=draft.ground,
        film_um=draft.film_um,
        coats=draft.coats,
        clear_coat=draft.clear_coat,
        sealed=draft.sealed,
        satin=draft.satin,
        **vars(card.how),
        counts=card.counts,
        parts=[PartDoc(bottle=part.bottle, drops=part.drops, drop_ml=part.drop_ml) for part in draft.parts],
        patches=patches,
    )


def add(connection: sqlite3.Connection, card: CardDoc) -> None:
    """Write a new card under its own number."""
    draft = Draft(
        parts=parts_of(card.parts),
        name=card.name,
        note=card.mix_note,
        ground=card.ground,
        film_um=card.film_um,
        coats=card.coats,
        clear_coat=card.clear_coat,
        sealed=card.sealed,
        satin=card.satin,
    )
    patches = [(patch.ground, patch.coats) for patch in card.patches]
    number = spray_out_cards.add(
        connection, draft, patches, recipe=card.recipe, version=card.version, at=card.at, number=card.number
    )
    spray_out_cards.describe(
        connection, number, draft, How(card.nozzle_mm, card.pressure_bar, card.reduction), card.note
    )
    if not card.counts:
        spray_out_cards.turn_card(connection, number)
    for patch in card.patches:
        own = spray_out_cards.patch_of(connection, number, patch.ground, patch.coats)
        for reading in patch.readings:
            spray_out_cards.read(connection, own, **reading.model_dump())


def learn_again(connection: sqlite3.Connection, whole: Bundle, *, at: str) -> None:
    """What was learned of hand and drops, on a bench that has learned nothing yet."""
    if learnings.every(connection) or (whole.hand == hand_factor.now(connection) and not whole.learned_drops):
        return
    before = hand_factor.now(connection)
    hand_factor.set_to(connection, whole.hand, at=at)
    drops = [
        NewDrop(learned_drop.bottle, learned_drop.counted_ml, learned_drop.ml) for learned_drop in whole.learned_drops
    ]
    learnings.add(connection, cards=0, profiles=(), drops=drops, hand=(before, whole.hand), delta_e=(0.0, 0.0), at=at)
