"""Whether a data folder is whole: the file, its sums, what it names, and that everything kept in it can be read."""

import re
import sqlite3
from collections.abc import Callable, Iterator
from pathlib import Path

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.errors import DiachromError
from diachrom.exchange.text import writable
from diachrom.store import (
    backups,
    cups,
    integrity,
    learnings,
    mending,
    paints,
    recipes,
    rounds,
    spray_out_cards,
    stories,
    targets,
)
from diachrom.store.connection import connected, foreign_keys_later, writing
from diachrom.store.integrity import Kept
from diachrom.store.schema import LATEST, version
from diachrom.work.files import kept_wrongly
from diachrom.work.files.bundle_types import PAINT_ID
from diachrom.work.mix.sprayed_over import over_named

SUM_TOLERANCE_ML = 1e-6
WRITTEN = ("id", "line", "name", "note", "place", "batch", "source", "words", "did", "pigments", "thinner")  # by people
Check = Callable[[sqlite3.Connection], Iterator[str]]


def check_folder(folder: Path) -> list[str]:
    """What is wrong, a sentence each; nothing when all is well. Raises StoreError when it cannot be opened at all."""
    with connected(folder, any_version=True) as connection:
        has = version(connection)
        if has != LATEST:
            what_to_do = "run 'diachrom migrate'" if has < LATEST else "start the newer one"
            other = f"The data are of version {has}, this Diachrom is of {LATEST}: {what_to_do}."
            return [*_said(_file, connection), other]
        return [sentence for check in CHECKS for sentence in _said(check, connection)]


def mend_folder(folder: Path) -> tuple[Path, list[str]]:
    """Put right what can be, after a copy was made: where that is, and what was done, a sentence each. Raises
    StoreError; then nothing was changed."""
    now = clock.now()[:19].replace(":", "-")
    before = backups.folder_of(folder) / f"before-mending-{now}.sqlite3"
    backups.take(folder, before, whole=False)
    with connected(folder) as connection, foreign_keys_later(connection):
        with writing(connection):
            done = [
                *mending.reindex(connection),
                *mending.orphans(connection),
                *mending.ledger_sums(connection, SUM_TOLERANCE_ML),
                *(told for each in kept_wrongly.FOUND for told in each(connection, mend=True, at=clock.now())),
            ]
        done += mending.give_back(connection)
    return before, done


def _said(check: Check, connection: sqlite3.Connection) -> Iterator[str]:
    """What a check finds; where it cannot go on, that is a finding, and the next check is made."""
    try:
        yield from check(connection)
    except (sqlite3.Error, DiachromError, ValueError, TypeError, KeyError) as error:
        yield f"The check of its {check.__name__.strip('_')} could not be ended: {error}."


def _file(connection: sqlite3.Connection) -> Iterator[str]:
    for words in integrity.damage(connection):
        yield f"The file is damaged: {words}."
    for table, named in integrity.dangling(connection):
        yield f"A row of {table} names one of {named} that is not there."


def _sums(connection: sqlite3.Connection) -> Iterator[str]:
    for bottle, left_ml, summed in integrity.ledger_sums(connection):
        if not abs(left_ml - summed) <= SUM_TOLERANCE_ML * max(1.0, abs(summed)):
            yield f"Bottle {bottle} is said to hold {left_ml:.6g} ml, its ledger comes to {summed:.6g} ml."


def _paints(connection: sqlite3.Connection) -> Iterator[str]:
    for key, name, kind in integrity.kinds(connection):
        if kind not in KINDS:
            yield f"{name} has the kind '{kind}', which does not exist."
        if not re.fullmatch(PAINT_ID, key):
            yield f"{name} has the id {key!r}, which no address and no file can hold."
        for one in paints.profile_versions(connection, key):
            if one.paint.problem:
                yield f"{name}, version {one.version}: {one.paint.problem}."


def _recipes(connection: sqlite3.Connection) -> Iterator[str]:
    for number in recipes.numbers(connection):
        versions = recipes.versions(connection, number)
        if not versions:
            yield f"Recipe {number} has no version."
        for one in versions:
            place = f"Recipe {number}, version {one.version}"
            if one.problem:
                yield f"{place}: {one.problem}"
            if not one.draft.parts:
                yield f"{place}, pours nothing."
            yield from _ground(connection, place, one.draft.ground)


def _ground(connection: sqlite3.Connection, place: str, key: str) -> Iterator[str]:
    try:
        over_named(connection, key)
    except DiachromError as error:
        yield f"{place}: {error}"


def _cards(connection: sqlite3.Connection) -> Iterator[str]:
    for card in spray_out_cards.latest(connection):
        if card.problem:
            yield f"Spray-out card {card.id}: {card.problem}"
        for ground in {patch.ground for patch in card.patches}:
            yield from _ground(connection, f"Spray-out card {card.id}", ground)


def _cup(connection: sqlite3.Connection) -> Iterator[str]:
    now = cups.now(connection)
    if now.problem:
        yield f"The cup under way: {now.problem}"
    yield from _ground(connection, "The cup under way", now.draft.ground)


def _documents(connection: sqlite3.Connection) -> Iterator[str]:
    for number in targets.unreadable(connection):
        yield f"Target {number} cannot be read."
    for number in learnings.unreadable(connection):
        yield f"What was learned as number {number} cannot be read as a whole."
    for card, number in spray_out_cards.unreadable(connection):
        yield f"Spray-out card {card}: a colour of its reading {number} cannot be read."
    for number in rounds.unreadable(connection):
        yield f"Round {number} of the trainer cannot be read."
    for recipe, number in stories.unreadable(connection):
        yield f"How recipe {recipe}, version {number}, was poured cannot be read as a whole."


def _values(connection: sqlite3.Connection) -> Iterator[str]:
    """Times, days, texts and amounts, wherever they stand."""
    for one in integrity.texts(connection, lambda column: column in ("at", "undone_at")):
        if clock.moment(str(one.value)) is None:
            yield _no(one, "time")
    for one in integrity.texts(connection, lambda column: column.endswith("_on")):
        if clock.day_of(str(one.value)) is None:
            yield _no(one, "day")
    for one in integrity.texts(connection, lambda column: column in WRITTEN):
        if writable(str(one.value)) != one.value:
            yield f"{one.place}: it holds a character that cannot be written."
    for one in integrity.absurd(connection):
        yield f"{one.place}: {one.value} is no amount."


def _no(one: Kept, what: str) -> str:
    return f"{one.place}: {str(one.value)[:40]!r} is no {what}."


CHECKS: tuple[Check, ...] = (
    *(_file, _sums, _paints, _recipes, _cards, _cup, _documents, _values),
    *kept_wrongly.FOUND,
)
