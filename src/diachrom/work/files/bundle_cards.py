"""Test cards in the JSON document, with what was learned of the hand and the drops."""

import sqlite3

from diachrom.core.mix.draft import Draft
from diachrom.store import hand_factor, learnings, spray_out_cards
from diachrom.store.learnings import NewDrop
from diachrom.store.spray_out_cards import How, KeptCard
from diachrom.work.files.bundle_document import Bundle, CardDoc, LearnedDropDoc, PartDoc, PatchDoc, ReadingDoc
from diachrom.work.files.bundle_recipes import parts_of


def every_card(connection: sqlite3.Connection) -> list[CardDoc]:
    return [_card(one) for one in sorted(spray_out_cards.latest(connection), key=lambda card: card.id)]


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


def add(connection: sqlite3.Connection, one: CardDoc) -> None:
    """Write a new card under its own number."""
    draft = Draft(
        parts=parts_of(one.parts),
        name=one.name,
        note=one.mix_note,
        ground=one.ground,
        film_um=one.film_um,
        coats=one.coats,
        clear_coat=one.clear_coat,
        sealed=one.sealed,
        satin=one.satin,
    )
    patches = [(patch.ground, patch.coats) for patch in one.patches]
    number = spray_out_cards.add(
        connection, draft, patches, recipe=one.recipe, version=one.version, at=one.at, number=one.number
    )
    spray_out_cards.describe(connection, number, draft, How(one.nozzle_mm, one.pressure_bar, one.reduction), one.note)
    if not one.counts:
        spray_out_cards.turn_card(connection, number)
    for patch in one.patches:
        own = spray_out_cards.patch_of(connection, number, patch.ground, patch.coats)
        for reading in patch.readings:
            spray_out_cards.read(connection, own, **reading.model_dump())


def learn_again(connection: sqlite3.Connection, whole: Bundle, *, at: str) -> None:
    """What was learned of hand and drops, on a bench that has learned nothing yet."""
    if learnings.every(connection) or (whole.hand == hand_factor.now(connection) and not whole.learned_drops):
        return
    before = hand_factor.now(connection)
    hand_factor.set_to(connection, whole.hand, at=at)
    drops = [NewDrop(one.bottle, one.counted_ml, one.ml) for one in whole.learned_drops]
    learnings.add(connection, cards=0, profiles=(), drops=drops, hand=(before, whole.hand), delta_e=(0.0, 0.0), at=at)
