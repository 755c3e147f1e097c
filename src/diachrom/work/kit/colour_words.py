"""Words of colours that this bench has learned beside the dictionary's: painters have names of their own."""

import json
import sqlite3
from collections.abc import Mapping

import numpy as np
from pydantic import TypeAdapter

from diachrom.core.light.bands import Floats
from diachrom.core.light.colour_words import meant, plain
from diachrom.core.light.screen import hex_to_lab
from diachrom.store import kept, settings
from diachrom.store.connection import writing
from diachrom.store.memory import cached

KEY, MOST = "colour_words", 500
WORDS = TypeAdapter(dict[str, kept.Lab])


@cached
def own(connection: sqlite3.Connection) -> Mapping[str, Floats]:
    """(3,) Lab by phrase, as `plain` writes it."""
    told = kept.read(WORDS, settings.every(connection).get(KEY), {})
    return {phrase: np.array(lab, dtype=np.float64) for phrase, lab in told.items()}


def learn(connection: sqlite3.Connection, words: Mapping[str, Floats]) -> None:
    """Keep what phrases mean; the oldest go where there are too many. Inside `writing`."""
    _put(connection, {**own(connection), **{plain(phrase): lab for phrase, lab in words.items() if plain(phrase)}})


def forget(connection: sqlite3.Connection, phrase: str) -> None:
    """Read a phrase by the dictionary again."""
    with writing(connection):
        _put(connection, {other: lab for other, lab in own(connection).items() if other != phrase})


def _put(connection: sqlite3.Connection, words: Mapping[str, Floats]) -> None:
    last = list(words.items())[-MOST:]
    settings.put(connection, {KEY: json.dumps({phrase: np.round(lab, 2).tolist() for phrase, lab in last})})


def written_colour(connection: sqlite3.Connection, text: str) -> Floats | None:
    """(3,) Lab of #rrggbb or of the words of a colour; None where it is neither."""
    point = hex_to_lab(text.strip())
    if point is not None:
        return point
    found = meant(text, own(connection))
    return None if found is None else found.lab
