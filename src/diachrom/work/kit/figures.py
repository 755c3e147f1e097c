"""Figures as people type them: with a point or a comma, in the units that a bench uses, within bounds."""

import math
import re
from collections.abc import Mapping

from diachrom.errors import InvalidInput
from diachrom.words import listed, quantity, quantity_range, say

LONGEST_NUMBER = 60
THOUSANDS = re.compile(r"[-+]?\d{1,3},\d{3}")  # or a decimal comma: nobody can tell
# Digits with their separators, then a unit; each character has one place, so that no text can make it wander.
AMOUNT = re.compile(r"(?P<digits>[-−+]?[.,]?\d[\d., ]*(?:e[-+]?\d{1,3})?)?(?P<unit>.*)", re.I)


class TwoWays(ValueError):
    """A number that may be meant in two ways."""

    def __init__(self, text: str) -> None:
        whole, _, part = text.partition(",")
        super().__init__(
            say(
                "'{text}' can be {large} or {small}: write which, without the comma",
                text=text,
                large=f"{whole}{part}",
                small=quantity(float(f"{whole}.{part}"), "g"),
            )
        )


def number(text: str) -> float:
    """A number with a decimal point or comma. Raises ValueError, TwoWays."""
    plain = text.replace("\u00a0", "").replace(" ", "").replace("\u2212", "-")
    if THOUSANDS.fullmatch(plain) and not plain.lstrip("+-").startswith("0"):
        raise TwoWays(plain)
    if "," in plain and "." in plain:
        thousands = "." if plain.rfind(",") > plain.rfind(".") else ","
        plain = plain.replace(thousands, "")
    value = float(plain.replace(",", "."))
    if not math.isfinite(value):
        raise ValueError(text)
    return value


def figure(
    text: str,
    words: str,
    *,
    key: str = "",
    least: float = -math.inf,
    most: float = math.inf,
    units: Mapping[str, float] | None = None,
) -> float:
    """What was typed, within bounds.

    Parameters
    ----------
    text : as typed; the first of `units` is meant where none is written.
    words : what the figure is, for messages.
    key : the form's field that a message is shown at; `words` where it is empty.
    least, most : bounds, both included, in the first unit.
    units : each unit's size in the first one.

    Raises InvalidInput for what is no number, may be meant in two ways, or lies outside.
    """
    units = units or {"": 1.0}
    own, key = next(iter(units)), key or words
    plain = " ".join(text.split())  # also over several lines, and with odd blanks
    found = AMOUNT.fullmatch(plain[:LONGEST_NUMBER])
    try:
        if found is None or len(plain) > LONGEST_NUMBER:
            raise ValueError(plain)
        unit = found["unit"].strip()
        value = number((found["digits"] or "").strip()) * (units[unit.lower()] if unit else 1.0)
    except TwoWays as error:
        raise InvalidInput(f"{words}: {error}.", field=key) from None
    except (ValueError, KeyError):
        if own:
            why = say(
                "{words}: '{typed}' is no number in {units}.",
                words=words,
                typed=plain[:LONGEST_NUMBER],
                units=listed(units),
            )
        else:
            why = say("{words}: '{typed}' is no number.", words=words, typed=plain[:LONGEST_NUMBER])
        raise InvalidInput(why, field=key) from None
    if not least <= value <= most:
        if math.isfinite(most):
            bounds = quantity_range(least, most, "g", own)
        else:
            bounds = say("{least} or more", least=quantity(least, "g", own))
        raise InvalidInput(say("{words}: {bounds}, not {typed}.", words=words, bounds=bounds, typed=plain), field=key)
    return value


def whole(text: str, words: str, *, key: str = "", least: int = 0, most: int = 999_999) -> int:
    """A whole number as typed, within bounds. Raises InvalidInput."""
    plain = text.strip()
    if not plain.removeprefix("-").isdecimal() or len(plain) > len(str(most)) + 1:
        raise InvalidInput(
            say("{words}: a whole number, not '{plain}'.", words=words, plain=plain[:20]), field=key or words
        )
    if not least <= int(plain) <= most:
        raise InvalidInput(
            say("{words}: {least} to {most}, not {plain}.", words=words, least=least, most=most, plain=plain),
            field=key or words,
        )
    return int(plain)
