"""Whether a data folder is whole: the file, its sums, what it names."""

import json
import sqlite3
from collections.abc import Callable, Iterator
from pathlib import Path

from diachrom.core.film.paint import KINDS
from diachrom.errors import DiachromError
from diachrom.store import bottles, cups, integrity, paints, recipes, spray_outs
from diachrom.store.connection import connected
from diachrom.store.schema import LATEST, version
from diachrom.work.over import over

SUM_TOLERANCE_ML = 1e-6
Check = Callable[[sqlite3.Connection], Iterator[str]]


def check_folder(folder: Path) -> list[str]:
    """What is wrong, a sentence each; nothing when all is well. Raises StoreError when it cannot be opened at all."""
    with connected(folder, any_version=True) as connection:
        has = version(connection)
        if has != LATEST:
            other = f"The data are of version {has}, this Diachrom is of {LATEST}: {_what_to_do(has)}."
            return [*_file(connection), other]
        return [sentence for check in CHECKS for sentence in _said(check, connection)]


def _what_to_do(has: int) -> str:
    return "run 'diachrom migrate'" if has < LATEST else "start the newer one"


def _said(check: Check, connection: sqlite3.Connection) -> Iterator[str]:
    """What a check finds; where it cannot go on, that is a finding, and the next check is made."""
    try:
        yield from check(connection)
    except (sqlite3.Error, DiachromError, ValueError, TypeError, KeyError) as error:
        yield f"The check of {check.__name__.strip('_')} could not be ended: {error}"


def _file(connection: sqlite3.Connection) -> Iterator[str]:
    for words in integrity.damage(connection):
        yield f"The file is damaged: {words}."
    for table, named in integrity.dangling(connection):
        yield f"A row of {table} names one of {named} that is not there."


def _sums(connection: sqlite3.Connection) -> Iterator[str]:
    for bottle, left_ml, summed in integrity.ledger_sums(connection):
        if abs(left_ml - summed) > SUM_TOLERANCE_ML:
            yield f"Bottle {bottle} is said to hold {left_ml:.3f} ml, its ledger comes to {summed:.3f}"


def _paints(connection: sqlite3.Connection) -> Iterator[str]:
    known = set(paints.newest(connection))
    for record in paints.every_record(connection):
        if record.kind not in KINDS:
            yield f"{record.full_name} is of the kind '{record.kind}', which there is not."
        if record.id not in known:
            yield f"{record.full_name} has no profile."
            continue
        try:
            paints.profile_versions(connection, record.id)
        except (KeyError, TypeError, ValueError) as error:
            yield f"{record.full_name} has a profile that cannot be read ({error})."


def _recipes(connection: sqlite3.Connection) -> Iterator[str]:
    for number in recipes.numbers(connection):
        versions = recipes.versions(connection, number)
        if not versions:
            yield f"Recipe {number} has no version."
        for one in versions:
            if not one.draft.parts:
                yield f"Recipe {number}, version {one.version}, pours nothing."
            try:
                over(connection, one.draft.ground)
            except DiachromError as error:
                yield f"Recipe {number}, version {one.version}: {error}"


def _cards(connection: sqlite3.Connection) -> Iterator[str]:
    try:
        cards = spray_outs.latest(connection)
    except (ValueError, TypeError, KeyError) as error:
        yield f"The test cards cannot be read ({error})."
        return
    for one in cards:
        try:
            bottles.by_id(connection, [part.bottle for part in one.draft.parts])
            for ground in {patch.ground for patch in one.patches}:
                over(connection, ground)
        except DiachromError as error:
            yield f"Test card {one.id}: {error}"


def _cup(connection: sqlite3.Connection) -> Iterator[str]:
    try:
        now = cups.now(connection)
        bottles.by_id(connection, [part.bottle for part in now.draft.parts])
    except (json.JSONDecodeError, TypeError, KeyError) as error:
        yield f"The cup under way cannot be read ({error})."
    except DiachromError as error:
        yield f"The cup under way: {error}"


CHECKS: tuple[Check, ...] = (_file, _sums, _paints, _recipes, _cards, _cup)
