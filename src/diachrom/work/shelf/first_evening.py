"""A whole bench of bottles put on the shelf at once: as one step, or not at all."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from diachrom.core.film.flakes import Mica
from diachrom.core.film.kinds import KINDS
from diachrom.core.light.screen import hex_to_lab
from diachrom.core.profiles.guess import guess
from diachrom.core.profiles.guess_basis import ToGuess, seen_lab
from diachrom.core.shelf.bottle_list import srgb
from diachrom.core.shelf.named import named
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import shelf_history
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.kit.colour_words import learn, own
from diachrom.work.shelf.keeping import NewPaint
from diachrom.work.shelf.shelf_index import index

ANY_COLOUR = "#808080"
Typed = Mapping[str, str]  # name, kind, size_ml, colour, glow and mica of a bottle, as typed
MICA_WORDS: Mapping[Mica, str] = {
    "interference": say("changes over white"),
    "coloured": say("keeps its colour over white"),
}


def is_empty(connection: sqlite3.Connection) -> bool:
    """Nothing stands on the shelf."""
    return not index(connection).rows


Wrong = Mapping[int, DiachromError]  # by row: a sentence, and the field that it is about


def put_all(connection: sqlite3.Connection, every: Sequence[Typed], *, at: str) -> Wrong:
    """Put them on the shelf as guesses. Answers what is wrong with which of them, and then none of them is kept."""
    ready, wrong = _looked_over(connection, every)
    if wrong or not ready:
        return wrong
    profiles = guess([one.to_guess for one in ready])
    words = (
        say("putting {count} bottles on the shelf", count=len(ready))
        if len(ready) > 1
        else say("putting a bottle on the shelf")
    )
    learned = {}
    for typed, one in zip(every, ready, strict=True):
        unknown = named(typed["name"], own(connection)).unknown
        if unknown and one.to_guess.colour is not None:
            learned[unknown] = one.to_guess.colour
    with writing(connection), shelf_history.step(connection, words, at=at) as recorder:
        if learned:
            learn(connection, learned)
        for one, profile in zip(ready, profiles, strict=True):
            one.put(connection, recorder, profile, at=at)
    return {}


def wrong_already(connection: sqlite3.Connection, every: Sequence[Typed]) -> Wrong:
    """What is wrong with which of them, colours that are still to come left aside."""
    return _looked_over(connection, [{**typed, "colour": typed["colour"] or ANY_COLOUR} for typed in every])[1]


@dataclass(frozen=True)
class MicaLook:
    """A pearl as one kind of mica would make it, as #rrggbb."""

    mica: Mica
    words: str
    over_white: str
    over_black: str  # in the flash


@lru_cache(maxsize=256)
def micas(colour: str) -> Sequence[MicaLook]:
    """Both, for the eye to choose. Raises InvalidInput for what is no #rrggbb."""
    lab = hex_to_lab(colour)
    if lab is None:
        raise InvalidInput(say("'{colour}' is no colour: write it as #rrggbb.", colour=colour[:20]), field="colour")
    paints = guess([ToGuess(words, "pearl", lab, mica=mica) for mica, words in MICA_WORDS.items()])
    return [
        MicaLook(mica, words, srgb(seen_lab(paint, "white")), srgb(seen_lab(paint, "black-glance")))
        for (mica, words), paint in zip(MICA_WORDS.items(), paints, strict=True)
    ]


def _looked_over(connection: sqlite3.Connection, every: Sequence[Typed]) -> tuple[list[NewPaint], Wrong]:
    ready: list[NewPaint] = []
    wrong: dict[int, DiachromError] = {}
    names: dict[tuple[str, str], int] = {}
    for row, typed in enumerate(every):
        try:
            one = _read(connection, typed)
            key = one.record.line.casefold(), one.record.name.casefold()
            if names.setdefault(key, row) != row:
                first = say(
                    "{full_name} is in row {names} already", full_name=one.record.full_name, names=names[key] + 1
                )
                raise InvalidInput(say("{first}: give them different names.", first=first), field="name")
            ready.append(one)
        except DiachromError as error:
            wrong[row] = error
    return ready, wrong


def _read(connection: sqlite3.Connection, typed: Typed) -> NewPaint:
    """Raises InvalidInput, also where it stands on the shelf or bears no colour: a first one is wanted of each."""
    one = NewPaint.of(typed, own(connection))
    if KINDS[one.record.kind].colours and one.to_guess.colour is None:
        raise InvalidInput(
            say("{full_name}: say which colour it is: pick it on the wheel.", full_name=one.record.full_name),
            field="colour",
        )
    one.known(connection)
    return one
