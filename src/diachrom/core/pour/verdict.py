"""What the eye says of a mix without a target: "too yellow", "not bright enough" -> which way it is to go."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, fields
from typing import Literal

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lch
from diachrom.errors import InvalidInput
from diachrom.words import listed, say, say_as

Property = Literal["chroma", "strength", "hiding"]
STEP = 5.0  # along an axis: what a painter asks for with one verdict; one coat, or 5 % of hiding
# What X in "too X" is: a direction in L*, a*, b*, or a property and whether more of it is more X.
BROWN = (-0.6, 0.8 * np.cos(np.radians(55)), 0.8 * np.sin(np.radians(55)))
DIRECTIONS: dict[str, tuple[float, float, float]] = {
    "light": (1, 0, 0),
    "dark": (-1, 0, 0),
    "red": (0, 1, 0),
    "green": (0, -1, 0),
    "yellow": (0, 0, 1),
    "blue": (0, 0, -1),
    **{
        word: (0, float(np.cos(np.radians(hue))), float(np.sin(np.radians(hue))))
        for word, hue in (("orange", 55), ("violet", 310), ("pink", 0))
    },
    "brown": (float(BROWN[0]), float(BROWN[1]), float(BROWN[2])),
}
PROPERTIES: dict[str, tuple[Property, int]] = {
    "bright": ("chroma", 1),
    "grey": ("chroma", -1),
    "strong": ("strength", 1),
    "thin": ("strength", -1),
    "see-through": ("hiding", -1),
}
WORDS = {
    "light": say_as("verdict", "light"),
    "dark": say_as("verdict", "dark"),
    "red": say_as("verdict", "red"),
    "green": say_as("verdict", "green"),
    "yellow": say_as("verdict", "yellow"),
    "blue": say_as("verdict", "blue"),
    "orange": say_as("verdict", "orange"),
    "violet": say_as("verdict", "violet"),
    "pink": say_as("verdict", "pink"),
    "brown": say_as("verdict", "brown"),
    "grey": say_as("verdict", "grey"),
    "bright": say_as("verdict", "bright"),
    "strong": say_as("verdict", "strong"),
    "thin": say_as("verdict", "thin"),
    "see-through": say_as("verdict", "see-through"),
}
TOO: dict[str, str] = {f"too {word}": say("too {word}", word=words) for word, words in WORDS.items()}
NOT_ENOUGH: dict[str, str] = {
    f"not {word} enough": say("not {word} enough", word=words) for word, words in WORDS.items()
}
SAID = re.compile(r"(?:(too)|(not))\s+([a-z-]+)(?:\s+(enough))?")
AGAINST = -30.0  # L*, a*, b* along a direction, below which nothing is too much of it
HARDLY, NEARLY_BLACK, NEARLY_WHITE = 3.0, 6.0, 97.0


class Untrue(InvalidInput):
    """A verdict that is not true of the colour, nor of any near it."""


@dataclass(frozen=True, eq=False)
class Looks:
    """Mixes as the eye judges them."""

    labs: Floats  # (row, 3), on their ground
    as_strong: Floats  # (row, 3), in the film in which each comes nearest to the cup's own colour
    strength: Floats  # (row,) coats' worth: how many of its own coats the cup's colour takes, the fewer the stronger
    hiding: Floats  # (row,) contrast ratio, 0 to 1

    def beside(self, other: "Looks") -> "Looks":
        """These rows, and then those."""
        both = (np.concatenate([getattr(self, key.name), getattr(other, key.name)]) for key in fields(self))
        return Looks(*both)

    def of(self, rows: Sequence[int]) -> "Looks":
        """Some of the rows."""
        return Looks(*(getattr(self, key.name)[list(rows)] for key in fields(self)))


@dataclass(frozen=True, eq=False)
class Wish:
    """Which way a mix is to go, all verdicts together."""

    directions: Floats  # (verdict, 3) of L*, a*, b*, each of length 1, along which it is to go
    properties: tuple[tuple[Property, int], ...]  # that are to grow, or to shrink
    words: tuple[str, ...]  # the verdicts

    def each(self, now: Looks, then: Looks) -> Floats:
        """(verdict, row) how much of a step each goes the way that is wished."""
        found = [(then.labs - now.labs) @ direction / STEP for direction in self.directions]
        for key, sign in self.properties:
            found.append(sign * (_value(key, then) - _value(key, now)) / STEP)
        return np.array(found)

    def steps(self, now: Looks, then: Looks) -> Floats:
        """(row,) the same, by what goes least."""
        return self.each(now, then).min(axis=0)

    def change(self, now: Looks, then: Looks) -> Floats:
        """(row,) how far each goes in all: dE, and steps of hiding and strength, which a colour may not show."""
        seen = delta_e(then.labs, now.labs)
        if all(key == "chroma" for key, _ in self.properties):
            return seen
        return np.hypot(seen, STEP * self.steps(now, then))

    def rest(self, now: Looks, then: Looks) -> Floats:
        """(row, 3) L*, a*, b* of what the change is without what was wished of it."""
        strong = any(key == "strength" for key, _ in self.properties)
        left = then.as_strong - now.as_strong if strong else then.labs - now.labs
        if len(self.directions):
            own = np.linalg.qr(self.directions.T)[0]  # (3, n)
            left = left - (left @ own) @ own.T
        found = now.labs + left
        if any(key == "chroma" for key, _ in self.properties):
            before, after = lch(now.labs), lch(found)
            length = np.hypot(found[:, 1], found[:, 2])
            scale = np.divide(before[:, 1], length, out=np.ones_like(length), where=length > 1e-9)
            scale = np.where(after[:, 1] < 1e-9, 1.0, scale)
            found = np.stack([found[:, 0], found[:, 1] * scale, found[:, 2] * scale], axis=-1)
        return found


def _value(key: Property, looks: Looks) -> Floats:
    if key == "chroma":
        return np.hypot(looks.labs[:, 1], looks.labs[:, 2])
    # A coat fewer is a step more of strength; so are 5 % of hiding.
    return -STEP * looks.strength if key == "strength" else 100 * looks.hiding


def wish(verdicts: Sequence[str], now: Looks) -> Wish:
    """What verdicts ask of a colour.

    Parameters
    ----------
    verdicts : "too X" or "not X enough", X one of WORDS.
    now : the mix as it is, one row.

    Raises
    ------
    InvalidInput : a verdict is none, or two of them contradict each other.
    Untrue : the colour is nowhere near what is said.
    """
    directions: list[Floats] = []
    properties: dict[Property, int] = {}
    for verdict in dict.fromkeys(" ".join(one.casefold().split()) for one in verdicts):
        found = SAID.fullmatch(verdict)
        word = found[3] if found else ""
        if found is None or bool(found[2]) != bool(found[4]) or word not in WORDS:
            raise InvalidInput(
                say(
                    '\'{verdict}\' is no verdict: say "too X" or "not X enough" with X one of {words}.',
                    verdict=verdict[:40],
                    words=listed(WORDS.values()),
                ),
                field="verdict",
            )
        more = -1 if found[1] else 1
        if more < 0:
            _check_true(word, now)
        if word in DIRECTIONS:
            directions.append(more * np.array(DIRECTIONS[word], dtype=np.float64))
        else:
            key, sign = PROPERTIES[word]
            if properties.setdefault(key, more * sign) != more * sign:
                raise _contradiction()
    if not directions and not properties:
        raise InvalidInput(say('Say what is wrong with it: "too yellow", "not bright enough".'), field="verdict")
    matrix = np.array(directions).reshape(-1, 3)
    for at, one in enumerate(matrix):
        for other in matrix[:at]:
            if float(one @ other) < -0.75:
                raise _contradiction()
    return Wish(_independent(matrix), tuple(properties.items()), tuple(verdicts))


def _independent(matrix: Floats) -> Floats:
    """Without those that the ones before them say already."""
    kept: list[Floats] = []
    for one in matrix:
        if np.linalg.matrix_rank(np.array([*kept, one]), tol=0.2) > len(kept):
            kept.append(one)
    return np.array(kept).reshape(-1, 3)


def _contradiction() -> InvalidInput:
    return InvalidInput(say("These contradict each other: take one of them away."), field="verdict")


def _check_true(word: str, now: Looks) -> None:
    """Raises Untrue for "too blue" of a yellow."""
    lab = now.labs[0]
    chroma = float(np.hypot(lab[1], lab[2]))
    direction = DIRECTIONS.get(word)
    wrong = (
        (direction is not None and direction[0] == 0 and float(lab @ np.array(direction)) < AGAINST)
        or (word == "light" and lab[0] < NEARLY_BLACK)
        or (word == "dark" and lab[0] > NEARLY_WHITE)
        or (word == "bright" and chroma < HARDLY)
    )
    if wrong:
        raise Untrue(say("This colour is not {word} at all: look at it again.", word=WORDS[word]), field="verdict")
