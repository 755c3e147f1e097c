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
from diachrom.words import quantity, say
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
            what_to_do = say("run 'diachrom migrate'") if has < LATEST else say("start the newer one")
            other = say(
                "The data are of version {has}, this Diachrom is of {latest}: {what_to_do}.",
                has=has,
                latest=LATEST,
                what_to_do=what_to_do,
            )
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
        yield say("The check of its {what} could not be ended: {error}.", what=check.__name__.strip("_"), error=error)


def _file(connection: sqlite3.Connection) -> Iterator[str]:
    for words in integrity.damage(connection):
        yield say("The file is damaged: {words}.", words=words)
    for table, named in integrity.dangling(connection):
        yield say("A row of {table} names one of {named} that is not there.", table=table, named=named)


def _sums(connection: sqlite3.Connection) -> Iterator[str]:
    for bottle, left_ml, summed in integrity.ledger_sums(connection):
        if not abs(left_ml - summed) <= SUM_TOLERANCE_ML * max(1.0, abs(summed)):
            yield say(
                "Bottle {bottle} is said to hold {left}, its ledger comes to {summed}.",
                bottle=bottle,
                left=quantity(left_ml, ".6g", "ml"),
                summed=quantity(summed, ".6g", "ml"),
            )


def _paints(connection: sqlite3.Connection) -> Iterator[str]:
    for key, name, kind in integrity.kinds(connection):
        if kind not in KINDS:
            yield say("{name} has the kind '{kind}', which does not exist.", name=name, kind=kind)
        if not re.fullmatch(PAINT_ID, key):
            yield f"{name} has the id {key!r}, which no address and no file can hold."
        for one in paints.profile_versions(connection, key):
            if one.paint.problem:
                yield say(
                    "{name}, version {version}: {problem}.", name=name, version=one.version, problem=one.paint.problem
                )


def _recipes(connection: sqlite3.Connection) -> Iterator[str]:
    for number in recipes.numbers(connection):
        versions = recipes.versions(connection, number)
        if not versions:
            yield say("Recipe {number} has no version.", number=number)
        for one in versions:
            place = say("Recipe {number}, version {version}", number=number, version=one.version)
            if one.problem:
                yield f"{place}: {one.problem}"
            if not one.draft.parts:
                yield say("{place}, pours nothing.", place=place)
            yield from _ground(connection, place, one.draft.ground)


def _ground(connection: sqlite3.Connection, place: str, key: str) -> Iterator[str]:
    try:
        over_named(connection, key)
    except DiachromError as error:
        yield f"{place}: {error}"


def _cards(connection: sqlite3.Connection) -> Iterator[str]:
    for card in spray_out_cards.latest(connection):
        if card.problem:
            yield say("Spray-out card {id}: {problem}", id=card.id, problem=card.problem)
        for ground in {patch.ground for patch in card.patches}:
            yield from _ground(connection, say("Spray-out card {id}", id=card.id), ground)


def _cup(connection: sqlite3.Connection) -> Iterator[str]:
    now = cups.now(connection)
    if now.problem:
        yield say("The cup under way: {problem}", problem=now.problem)
    yield from _ground(connection, say("The cup under way"), now.draft.ground)


def _documents(connection: sqlite3.Connection) -> Iterator[str]:
    for number in targets.unreadable(connection):
        yield say("Target {number} cannot be read.", number=number)
    for number in learnings.unreadable(connection):
        yield say("What was learned as number {number} cannot be read as a whole.", number=number)
    for card, number in spray_out_cards.unreadable(connection):
        yield say("Spray-out card {card}: a colour of its reading {number} cannot be read.", card=card, number=number)
    for number in rounds.unreadable(connection):
        yield say("Round {number} of the trainer cannot be read.", number=number)
    for recipe, number in stories.unreadable(connection):
        yield say(
            "How recipe {recipe}, version {number}, was poured cannot be read as a whole.", recipe=recipe, number=number
        )


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
            yield say("{place}: it holds a character that cannot be written.", place=one.place)
    for one in integrity.absurd(connection):
        yield say("{place}: {value} is no amount.", place=one.place, value=one.value)


def _no(one: Kept, what: str) -> str:
    return f"{one.place}: {str(one.value)[:40]!r} is no {what}."


CHECKS: tuple[Check, ...] = (
    *(_file, _sums, _paints, _recipes, _cards, _cup, _documents, _values),
    *kept_wrongly.FOUND,
)
