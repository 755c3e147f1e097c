"""What was kept, brought within what can be counted and sprayed: so that nothing kept stops what is done with it.

Whatever had to be left out or put in its place is said in words. What is kept comes from anywhere: an older version, a
file, a damaged disk, a hand in the database.
"""

import math
import re
from collections.abc import Callable
from typing import TypeVar
from unicodedata import category

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.lights import light
from diachrom.core.mix.draft import RECIPE_GROUND
from diachrom.errors import DiachromError

# What reading something that is not as it should be may raise.
UNREADABLE = (ValueError, TypeError, KeyError, IndexError, AttributeError, OverflowError, RecursionError)
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


def text(value: object, longest: int) -> str:
    """A text of at most so many signs, "" for what is none."""
    given = value[:longest] if isinstance(value, str) else ""
    if given.isprintable():
        return given
    return "".join(one for one in given if category(one) not in UNSHOWN or one in "\n\t")


def is_ground(key: str) -> bool:
    """A ground of the table, or a key that a recipe's could be."""
    return key in GROUNDS or RECIPE_KEY.fullmatch(key) is not None


def light_key(value: object) -> str | None:
    """The key of a light that there is, None for any other."""
    try:
        return light(value).key if isinstance(value, str) else None
    except DiachromError:
        return None
