"""The demo bench's spray-out cards: two dozen over a year, read by the simulated reader, whose truth is not the
shelf's."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import THE_EYE
from diachrom.store import spray_out_cards
from diachrom.store.connection import writing
from diachrom.store.recipes import Version
from diachrom.store.spray_out_cards import How
from diachrom.work.cards import compare_prediction
from diachrom.work.cards.compare_prediction import NewReading
from diachrom.work.sim import simulated_truth

NOISE = 0.3  # dE of a reading
READER = "The bench reader"
Shelf = Mapping[str, tuple[int, float]]  # a paint's first bottle and its drop, by the paint's id


@dataclass(frozen=True)
class DemoCard:
    """A card of a recipe's version, or of a mix that was never kept."""

    day: str
    recipe: str = ""
    version: int = 1
    drops: tuple[tuple[str, int], ...] = ()
    coats: tuple[int, ...] = (2,)
    grounds: tuple[str, ...] = ("white", "black", "grey")
    clear: bool = True
    nozzle_mm: float = 0.3
    pressure_bar: float = 1.4
    note: str = ""
    instead: tuple[str, str] | None = None  # the paint that was meant, and the one that was poured
    read: int = 99  # patches
    eye: str = ""


def _mix(day: str, *drops: tuple[str, int], **more: object) -> DemoCard:
    return DemoCard(day, drops=drops, **more)  # type: ignore[arg-type]


CARDS = (
    DemoCard("2026-03-09", "Night saithe, back"),
    DemoCard("2026-03-21", "Autumn char, back", coats=(1, 2)),
    DemoCard("2026-04-11", "Cuckoo wrasse, ground", coats=(2, 4), pressure_bar=1.2),
    DemoCard("2026-04-11", "Cuckoo wrasse, maze", coats=(3,)),
    _mix("2026-04-25", ("rav-nype", 5), ("rav-gull", 3), ("tynn-reducer", 3), note="Too red for the belly."),
    _mix("2026-05-03", ("torv-himmel", 6), ("rav-fjord", 2), ("tynn-reducer", 3)),
    DemoCard("2026-05-30", "Capelin, back over foil", grounds=("white", "grey", "silver-foil"), nozzle_mm=0.2),
    _mix("2026-06-07", ("torv-rust", 4), ("torv-kritt", 2), ("rav-honning", 2), ("tynn-reducer", 3)),
    DemoCard("2026-06-18", "Shore crab, shell", coats=(1, 2), eye="clearly darker"),
    DemoCard("2026-06-20", "Shore crab, shell", 2),
    _mix("2026-06-28", ("rav-siv", 5), ("torv-mose", 2), ("tynn-reducer", 3)),
    DemoCard("2026-07-07", "Butterfish, bars", coats=(1, 2)),
    _mix("2026-07-19", ("rav-multe", 6), ("rav-nype", 1), ("tynn-reducer", 3), clear=False, note="Left matte."),
    _mix("2026-08-02", ("torv-hav", 4), ("torv-kritt", 4), ("rav-fiol", 1), ("tynn-reducer", 4)),
    DemoCard("2026-08-14", "Spring prawn, body", coats=(2, 3), grounds=("white", "grey")),
    _mix("2026-08-23", ("torv-leire", 4), ("rav-te", 3), ("tynn-reducer", 3)),
    DemoCard("2026-09-02", "Autumn char, belly", coats=(1, 2, 3)),
    DemoCard("2026-09-03", "Autumn char, belly", 2, coats=(1, 2)),
    DemoCard("2026-09-02", "Autumn char, back", 2),
    _mix(
        "2026-09-20",
        ("rav-gull", 6),
        ("rav-lyng", 2),
        ("tynn-reducer", 3),
        instead=("rav-lyng", "rav-fjord"),
        note="Came out green?",
    ),
    DemoCard("2026-10-03", "Lumpsucker, mottle", coats=(1, 2)),
    _mix("2026-10-11", ("torv-gulrot", 5), ("torv-smor", 3), ("tynn-reducer", 3)),
    DemoCard("2026-10-12", "Hornbeam, back", coats=(3,), grounds=("black", "white"), nozzle_mm=0.4),
    DemoCard("2026-11-15", "Cuckoo wrasse, ground", coats=(4,), read=1, note="To be read on."),
)


def lay_out(connection: sqlite3.Connection, shelf: Shelf, saved: Sequence[Version]) -> None:
    """Spray and read every card."""
    for number, card in enumerate(CARDS, start=1):
        chance = np.random.default_rng([number, 25])
        at = f"{card.day}T17:30:00+00:00"
        if not card.recipe:
            parts = tuple(Part(shelf[paint][0], drops, shelf[paint][1]) for paint, drops in card.drops)
            draft, version = Draft(parts, coats=max(card.coats), clear_coat=card.clear), None
        else:
            draft_version = next(old for old in saved if old.draft.name == card.recipe and old.version == card.version)
            draft, version = replace(draft_version.draft.kept(), coats=max(card.coats)), draft_version
        patches = [(ground, coats) for ground in card.grounds for coats in card.coats]
        with writing(connection):
            spray_out_cards.add(
                connection,
                draft,
                patches,
                recipe=version.recipe if version else None,
                version=version.version if version else None,
                at=at,
                number=number,
            )
            spray_out_cards.describe(connection, number, draft, How(card.nozzle_mm, card.pressure_bar), card.note)
        poured = _instead(draft, shelf, card.instead) if card.instead else draft
        true = simulated_truth.patches_of(connection, poured, patches, card=number)
        labs = lab(np.stack(true), under=light("D65")) + chance.normal(0, NOISE / np.sqrt(3), (len(true), 3))
        readings = [
            NewReading(ground, coats, point, READER)
            for (ground, coats), point in list(zip(patches, labs.round(2).tolist(), strict=True))[: card.read]
        ]
        with writing(connection):
            compare_prediction.keep(connection, number, readings, at=at)
            if card.eye:
                patch = spray_out_cards.patch_of(connection, number, *patches[0])
                spray_out_cards.read(connection, patch, source=THE_EYE, lab=None, words=card.eye, at=at)


def _instead(draft: Draft, shelf: Shelf, bottles: tuple[str, str]) -> Draft:
    meant, taken = (shelf[paint] for paint in bottles)
    parts = tuple(Part(taken[0], part.drops, taken[1]) if part.bottle == meant[0] else part for part in draft.parts)
    return replace(draft, parts=parts)
