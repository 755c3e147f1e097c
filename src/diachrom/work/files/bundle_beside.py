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
from diachrom.work.kit.bench_settings import CHOICES

MOST = 10_000


def out(connection: sqlite3.Connection) -> Beside:
    chosen = {key: value for key, value in asdict(bench_settings.read(connection)).items() if key in CHOICES}
    usual = chosen == SettingsDoc().model_dump()
    return Beside(
        contrast_cards=[_card(one) for one in _cards(connection)],
        weighings=[
            WeighingDoc(bottle=number, **{key: getattr(one, key) for key in ("at", "drops", "ml", "source", "counts")})
            for number, every in weighings.of_bottles(connection, [one.id for one in _bottles(connection)]).items()
            for one in every
        ],
        planned_mixes=[PlannedMixDoc(**asdict(one)) for one in planned_mixes.every(connection)],
        targets=[_target(one) for one in reversed(targets.latest(connection, MOST))],
        rounds=[
            RoundDoc(**{key: value for key, value in asdict(one).items() if key != "id"})
            for one in rounds.every_guessed(connection, MOST)
        ],
        settings=None if usual else SettingsDoc(**chosen),
    )


def _bottles(connection: sqlite3.Connection) -> list[bottles.Bottle]:
    return bottles.every(connection, retired_too=True)


def _cards(connection: sqlite3.Connection) -> Iterator[ContrastCard]:
    for number in contrast_cards.numbers(connection):
        yield contrast_cards.card(connection, number)


def _card(one: ContrastCard) -> ContrastCardDoc:
    return ContrastCardDoc(
        paint=one.paint_id,
        at=one.at,
        film_um=one.film_um,
        steps=list(one.steps),
        clear_coat=one.clear_coat,
        white_paint=one.white_paint,
        white_drops=one.white_drops,
        readings=[
            FieldReadingDoc(
                field=reading.field,
                at=reading.at,
                source=reading.source,
                reflectance=list(reading.reflectance),
                counts=reading.counts,
            )
            for reading in one.readings
        ],
    )


def _target(one: targets.Target) -> TargetDoc:
    return TargetDoc(
        at=one.at,
        name=one.name,
        source=one.source,
        ground=one.seen.ground,
        clear_coat=one.seen.clear_coat,
        satin=one.seen.satin,
        views=list(one.seen.views),
        labs=[list(lab) for lab in one.labs],
        reflectance=None if one.reflectance is None else list(one.reflectance),
    )


def new_of(here: Beside, beside: Beside) -> Beside:
    """The part of a document that this bench does not have."""
    cards = {(one.paint, one.at) for one in here.contrast_cards}
    weighed = {(one.bottle, one.at, one.drops) for one in here.weighings}
    coming = {one.recipe for one in here.planned_mixes}
    aimed = {(one.at, one.name) for one in here.targets}
    guessed = {(one.at, one.skill) for one in here.rounds}
    return Beside(
        contrast_cards=[one for one in beside.contrast_cards if (one.paint, one.at) not in cards],
        weighings=[one for one in beside.weighings if (one.bottle, one.at, one.drops) not in weighed],
        planned_mixes=[one for one in beside.planned_mixes if one.recipe not in coming],
        targets=[one for one in beside.targets if (one.at, one.name) not in aimed],
        rounds=[one for one in beside.rounds if (one.at, one.skill) not in guessed],
        settings=beside.settings,
    )


def add(connection: sqlite3.Connection, new: Beside) -> None:
    """Write what is new. Inside `writing`."""
    for card in new.contrast_cards:
        _add_card(connection, card)
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


def _add_card(connection: sqlite3.Connection, card: ContrastCardDoc) -> None:
    number = contrast_cards.new(connection, paint_id=card.paint, at=card.at, film_um=card.film_um, steps=card.steps)
    contrast_cards.describe(
        connection,
        number,
        film_um=card.film_um,
        steps=card.steps,
        clear_coat=card.clear_coat,
        white_paint=card.white_paint,
        white_drops=card.white_drops,
    )
    for one in card.readings:
        reading = contrast_cards.add_reading(connection, number, **one.model_dump(exclude={"counts"}))
        if not one.counts:
            contrast_cards.set_aside(connection, number, reading)
    newest = paints.profile_versions(connection, card.paint)[0]
    if newest.source.startswith("contrast card") and newest.at >= card.at:
        contrast_cards.accepted(connection, number, newest.version)
