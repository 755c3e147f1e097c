"""What stands beside a shelf, out to the JSON document and in again: each thing known by when it was."""

import sqlite3
from collections.abc import Iterator
from dataclasses import asdict

from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.store import bottles, contrast_cards, paints, planned_mixes, rounds, targets, weighings
from diachrom.store.contrast_cards import ContrastCard
from diachrom.store.targets import SeenAs
from diachrom.work.files.beside_document import (
    Beside,
    ContrastCardDoc,
    FieldReadingDoc,
    PlannedMixDoc,
    RoundDoc,
    SettingsDoc,
    TargetDoc,
    WeighingDoc,
)
from diachrom.work.kit import bench_settings

MOST = 10_000
CARDS = ("drawdown card", "contrast card")  # as they were called before


def out(connection: sqlite3.Connection) -> Beside:
    """What stands beside the shelf, as the document has it."""
    now = bench_settings.read(connection)
    told = {**asdict(now), "decimals": now.reader().decimals}  # the document has no language to take them from
    chosen = {key: value for key, value in told.items() if key in SettingsDoc.model_fields}
    usual = chosen == SettingsDoc().model_dump()
    return Beside(
        contrast_cards=[_card(card) for card in _cards(connection)],
        weighings=[
            WeighingDoc(
                bottle=number, **{key: getattr(weighing, key) for key in ("at", "drops", "ml", "source", "counts")}
            )
            for number, every in weighings.of_bottles(
                connection, [bottle.id for bottle in _bottles(connection)]
            ).items()
            for weighing in every
        ],
        planned_mixes=[PlannedMixDoc(**asdict(one)) for one in planned_mixes.every(connection)],
        targets=[_target(target) for target in reversed(targets.latest(connection, MOST))],
        rounds=[
            RoundDoc(**{key: value for key, value in asdict(trial).items() if key != "id"})
            for trial in rounds.every_guessed(connection, MOST)
        ],
        settings=None if usual else SettingsDoc(**chosen),
    )


def _bottles(connection: sqlite3.Connection) -> list[bottles.Bottle]:
    return bottles.every(connection, retired_too=True)


def _cards(connection: sqlite3.Connection) -> Iterator[ContrastCard]:
    for number in contrast_cards.numbers(connection):
        yield contrast_cards.card(connection, number)


def _card(card: ContrastCard) -> ContrastCardDoc:
    return ContrastCardDoc(
        paint=card.paint_id,
        at=card.at,
        film_um=card.film_um,
        steps=list(card.steps),
        clear_coat=card.clear_coat,
        white_paint=card.white_paint,
        white_drops=card.white_drops,
        readings=[
            FieldReadingDoc(
                field=reading.field,
                at=reading.at,
                source=reading.source,
                reflectance=list(reading.reflectance),
                counts=reading.counts,
            )
            for reading in card.readings
        ],
    )


def _target(target: targets.Target) -> TargetDoc:
    return TargetDoc(
        at=target.at,
        name=target.name,
        source=target.source,
        ground=target.seen.ground,
        clear_coat=target.seen.clear_coat,
        satin=target.seen.satin,
        views=list(target.seen.views),
        labs=[list(lab) for lab in target.labs],
        reflectance=None if target.reflectance is None else list(target.reflectance),
    )


def new_of(here: Beside, beside: Beside) -> Beside:
    """The part of a document that this bench does not have."""
    cards = {(contrast_card.paint, contrast_card.at) for contrast_card in here.contrast_cards}
    weighed = {(weighing.bottle, weighing.at, weighing.drops) for weighing in here.weighings}
    coming = {planned_mix.recipe for planned_mix in here.planned_mixes}
    aimed = {(target.at, target.name) for target in here.targets}
    guessed = {(one.at, one.skill) for one in here.rounds}
    return Beside(
        contrast_cards=[card for card in beside.contrast_cards if (card.paint, card.at) not in cards],
        weighings=[one for one in beside.weighings if (one.bottle, one.at, one.drops) not in weighed],
        planned_mixes=[one for one in beside.planned_mixes if one.recipe not in coming],
        targets=[one for one in beside.targets if (one.at, one.name) not in aimed],
        rounds=[one for one in beside.rounds if (one.at, one.skill) not in guessed],
        settings=beside.settings,
    )


def add(connection: sqlite3.Connection, new: Beside) -> None:
    """Write what is new. Inside `writing`."""
    for card in new.contrast_cards:
        card_number = contrast_cards.new(
            connection, paint_id=card.paint, at=card.at, film_um=card.film_um, steps=card.steps
        )
        contrast_cards.describe(
            connection,
            card_number,
            film_um=card.film_um,
            steps=card.steps,
            clear_coat=card.clear_coat,
            white_paint=card.white_paint,
            white_drops=card.white_drops,
        )
        for field_reading in card.readings:
            reading = contrast_cards.add_reading(
                connection, card_number, **field_reading.model_dump(exclude={"counts"})
            )
            if not field_reading.counts:
                contrast_cards.set_aside(connection, card_number, reading)
        newest = paints.profile_versions(connection, card.paint)[0]
        if newest.source.startswith(CARDS) and newest.at >= card.at:
            contrast_cards.accepted(connection, card_number, newest.version)
    for weighed in new.weighings:
        number = weighings.add(connection, **weighed.model_dump(exclude={"counts"}))
        if not weighed.counts:
            weighings.set_aside(connection, weighed.bottle, number)
    for mix in new.planned_mixes:
        planned_mixes.put(connection, **mix.model_dump())
    for target in new.targets:
        ground = target.ground if not (target.ground or "").startswith(RECIPE_GROUND) else None
        seen = SeenAs(ground, target.clear_coat, target.satin, tuple(target.views))
        targets.add(
            connection,
            seen=seen,
            **target.model_dump(include={"name", "source", "labs", "reflectance", "at"}),
        )
    for one in new.rounds:
        number = rounds.add(connection, **one.model_dump(exclude={"guess", "delta_e"}))
        rounds.guessed(connection, number, one.guess, one.delta_e)
    if new.settings is not None:
        bench_settings.change(connection, new.settings.model_dump())
