"""What was kept, brought within what can be counted and sprayed: so that nothing kept stops what is done with it.

Whatever had to be left out or put in its place is said in words. What is kept comes from anywhere: an older version, a
file, a damaged disk, a hand in the database.
"""

import math
import re
from collections.abc import Callable, Mapping, Sequence
from typing import TypeVar
from unicodedata import category

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.lights import light
from diachrom.core.mix.advice import NOZZLES_MM
from diachrom.core.mix.cup import LARGEST_DROP_ML, MOST_DROPS, SMALLEST_DROP_ML
from diachrom.core.mix.draft import LONGEST_NAME, LONGEST_NOTE, RECIPE_GROUND, Draft, Part
from diachrom.core.mix.layers import MOST_COATS, THICKEST_COAT_UM
from diachrom.errors import DiachromError

# What reading something that is not as it should be may raise.
UNREADABLE = (ValueError, TypeError, KeyError, IndexError, AttributeError, OverflowError, RecursionError)
MOST_PARTS = 100
THINNEST_UM = 0.01
LARGEST_NUMBER = 2**53  # a number beyond it is no row's; a file or a ground's key may name any
UNSHOWN = ("Cc", "Cs")  # controls, halves of characters
RECIPE_KEY = re.compile(RECIPE_GROUND + r"\d{1,15}:\d{1,15}")

T = TypeVar("T")
Given = TypeVar("Given")
Otherwise = TypeVar("Otherwise")


def parse_or_default(read: Callable[[Given], T], given: Given, otherwise: Otherwise) -> T | Otherwise:
    """What was kept, as it is read; or something in its place when it cannot be."""
    try:
        return read(given)
    except UNREADABLE:
        return otherwise


def number(value: object, least: float, most: float) -> float | None:
    """A number within bounds, None for anything else."""
    if isinstance(value, bool) or not isinstance(value, (int, float)):
        return None
    return float(value) if math.isfinite(value) and least <= value <= most else None


def whole(value: object, least: int, most: int) -> int | None:
    """A whole number within bounds, None for anything else."""
    found = number(value, least, most)
    return int(found) if found is not None and found.is_integer() else None


def triple(value: object, most: float = 1e4) -> tuple[float, float, float] | None:
    """Three numbers, as a Lab is kept."""
    if not isinstance(value, (list, tuple)) or len(value) != 3:
        return None
    found = [number(one, -most, most) for one in value]
    return None if None in found else (found[0], found[1], found[2])  # type: ignore[return-value]


def part(value: object) -> Part | None:
    """Drops of a bottle; None for what is none."""
    if not isinstance(value, Mapping):
        return None
    bottle = whole(value.get("bottle"), 0, LARGEST_NUMBER)
    drops = whole(value.get("drops"), 0, MOST_DROPS)
    size = number(value.get("drop_ml"), SMALLEST_DROP_ML, LARGEST_DROP_ML)
    return None if bottle is None or drops is None or size is None else Part(bottle, drops, size)


def parts(values: object) -> tuple[Part, ...]:
    """Those of a list that can be read, each bottle once."""
    found: dict[int, Part] = {}
    for value in values[:MOST_PARTS] if isinstance(values, Sequence) and not isinstance(values, str) else ():
        one = part(value)
        if one is not None:
            found.setdefault(one.bottle, one)
    return tuple(found.values())


def draft(values: object, *, there: Callable[[Sequence[int]], set[int]]) -> tuple[Draft, str]:
    """A draft out of what was kept of it, and what is wrong with that in words, "" when nothing is.

    `there` says which bottles of those named there are.
    """
    if not isinstance(values, Mapping):
        return Draft(), "It cannot be read: it is shown empty."
    usual = Draft()
    wrong: list[str] = []

    def kept(found: T | None, otherwise: T, key: str, words: str) -> T:
        if found is None and values.get(key, otherwise) != otherwise:
            wrong.append(f"its {words} cannot be {str(values.get(key))[:24]!r}; {otherwise} stands in its place")
        return otherwise if found is None else found

    given = values.get("parts", ())
    named = parts(given)
    known = there([one.bottle for one in named])
    own = tuple(one for one in named if one.bottle in known)
    if len(own) != (len(given) if isinstance(given, (list, tuple)) else -1):
        wrong.append("drops of it cannot be read, or their bottle is not there; they are left out")
    nozzle = number(values.get("nozzle_mm"), 0, 10)
    found = Draft(
        parts=own,
        name=text(values.get("name"), LONGEST_NAME),
        note=text(values.get("note"), LONGEST_NOTE),
        ground=kept(_ground(values.get("ground")), usual.ground, "ground", "ground"),
        film_um=kept(
            number(values.get("film_um"), THINNEST_UM, THICKEST_COAT_UM), usual.film_um, "film_um", "coat in µm"
        ),
        coats=kept(whole(values.get("coats"), 1, MOST_COATS), usual.coats, "coats", "number of coats"),
        clear_coat=bool(values.get("clear_coat", usual.clear_coat)),
        sealed=bool(values.get("sealed", usual.sealed)),
        satin=bool(values.get("satin", usual.satin)),
        own_ground=kept(_ground(values.get("own_ground")), usual.own_ground, "own_ground", "last column"),
        light=kept(light_key(values.get("light")), usual.light, "light", "light"),
        nozzle_mm=kept(nozzle if nozzle in NOZZLES_MM else None, usual.nozzle_mm, "nozzle_mm", "nozzle in mm"),
    )
    said = "; ".join(wrong)
    return found, f"{said[:1].upper()}{said[1:]}." if said else ""


def text(value: object, longest: int) -> str:
    """A text of at most so many signs, "" for what is none."""
    given = value[:longest] if isinstance(value, str) else ""
    if given.isprintable():
        return given
    return "".join(one for one in given if category(one) not in UNSHOWN or one in "\n\t")


def is_ground(key: str) -> bool:
    """A ground of the table, or a key that a recipe's could be."""
    return key in GROUNDS or RECIPE_KEY.fullmatch(key) is not None


def _ground(value: object) -> str | None:
    return value if isinstance(value, str) and is_ground(value) else None


def light_key(value: object) -> str | None:
    """The key of a light that there is, None for any other."""
    try:
        return light(value).key if isinstance(value, str) else None
    except DiachromError:
        return None
