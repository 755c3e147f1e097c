"""Training the eye: a target made of three bottles, a guess of its drops, and what one drop would have done.

Rounds are of four skills. The weaker the eye is in one, the more often it comes; the better, the finer its mixes get.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from random import Random

import numpy as np

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.film.paint import Paint
from diachrom.core.film.surface import CLEARED
from diachrom.core.light import words
from diachrom.core.light.bands import Floats
from diachrom.core.light.difference import mean_delta_e
from diachrom.core.light.lab import lch
from diachrom.core.light.lights import light
from diachrom.core.mix.mixes import exact_labs, special
from diachrom.core.mix.where import ALL_ANGLES, DIFFUSE, Where
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.words import say

D65 = light("D65")
FILM_UM, COATS = 8.0, 2
BOTTLES = 3
LEVELS = 5
GOOD, POOR = 3.0, 8.0  # dE, below which the next is harder, above which it is easier
LATEST = 8  # rounds that tell how good the eye is
UNTRIED = 6.0  # dE that is taken for a skill without rounds
TELLS = 0.8  # dE that one drop of any bottle makes in a target
TRIES = 60
MOST_GUESSED = 30
COLOURFUL, NEUTRAL = 25.0, 14.0  # chroma
CLEAR = 0.03  # 1/um of scattering, the mean, below which a paint lets foil through
DRAWN = 4000  # triples that are looked at for one that suits a skill
Three = tuple[int, int, int]  # places among the paints
Suits = Callable[[Floats, Sequence[Paint], int, Three], bool]


@dataclass(frozen=True)
class Skill:
    """Something an eye can be good at."""

    key: str
    words: str
    ground: str
    suits: Suits  # whether three paints suit a level, by their (paint, 3) L C h


@dataclass(frozen=True)
class Round:
    """What is to be guessed: paints by place, their drops and the size of these."""

    skill: str
    level: int
    paints: tuple[int, ...]
    drops: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class OneDrop:
    """What one drop more or fewer of one bottle would have made of the guess."""

    place: int  # among the round's three
    step: int
    delta_e: float
    words: str  # how it then looks beside the target


@dataclass(frozen=True, eq=False)
class Judged:
    delta_e: float
    words: str  # how the guess looks beside the target
    drops: Sequence[OneDrop]  # the best first


def _apart(looks: Floats, one: int, other: int) -> float:
    """Degrees between two hues."""
    return abs(float((looks[one, 2] - looks[other, 2] + 180) % 360 - 180))


def _strong(looks: Floats, at: int, lightest: float = 100.0) -> bool:
    return bool(looks[at, 1] > COLOURFUL and looks[at, 0] < lightest)


def _hues(looks: Floats, paints: Sequence[Paint], level: int, three: Three) -> bool:
    """Two neighbours in hue, the nearer the higher the level, and one from afar."""
    one, two, far = three
    strong = all(_strong(looks, index) for index in three)
    return strong and 8 < _apart(looks, one, two) < 120 - 15 * level and _apart(looks, one, far) > 40


def _lightness(looks: Floats, paints: Sequence[Paint], level: int, three: Three) -> bool:
    """A white in two colours."""
    white, one, two = three
    return bool(looks[white, 0] > 82 and looks[white, 1] < NEUTRAL) and all(
        _strong(looks, index, 75) for index in (one, two)
    )


def _darks(looks: Floats, paints: Sequence[Paint], level: int, three: Three) -> bool:
    """A drop or two of something dark in two bright colours."""
    dark, one, two = three
    bright = all(_strong(looks, index) and looks[index, 0] > 45 for index in (one, two))
    return bright and bool(looks[dark, 0] < 32 and looks[dark, 1] < COLOURFUL)


def _over_foil(looks: Floats, paints: Sequence[Paint], level: int, three: Three) -> bool:
    """Three that let the foil through."""
    clear = all(float(paints[index].scattering.mean()) < CLEAR and _strong(looks, index) for index in three)
    return clear and min(_apart(looks, three[0], three[1]), _apart(looks, three[0], three[2])) > 20


SKILLS: Mapping[str, Skill] = {
    skill.key: skill
    for skill in (
        Skill("hue", say("hue"), "white", _hues),
        Skill("lightness", say("lightness"), "white", _lightness),
        Skill("darks", say("strength of darks"), "white", _darks),
        Skill("foil", say("colour over foil"), "silver-foil", _over_foil),
    )
}


def where_of(skill: str) -> Where:
    """Over what the eye is trained at a level."""
    ground = GROUNDS[SKILLS[skill].ground]
    return Where(ground, FILM_UM * COATS, CLEARED, D65, views=ALL_ANGLES if ground.has_direction else DIFFUSE)


def fit(paint: Paint) -> bool:
    """It can be part of a round."""
    return not (paint.thins or special(paint))


def looks_of(paints: Sequence[Paint]) -> Floats:
    """(paint, 3) L, C, h of each by itself on white."""
    where = Where(GROUNDS["white"], FILM_UM * COATS, CLEARED, D65)
    return lch(exact_labs(paints, np.eye(len(paints)), where)[:, 0])


def level_of(rounds: Sequence[tuple[int, float]]) -> int:
    """For the next round of a skill, from its rounds as (level, dE), the newest last."""
    if not rounds:
        return 1
    level, far = rounds[-1]
    return min(max(level + (far < GOOD) - (far > POOR), 1), LEVELS)


def weakness(rounds: Sequence[tuple[int, float]]) -> float:
    """dE of the latest rounds, the mean."""
    return float(np.mean([far for _, far in rounds[-LATEST:]])) if rounds else UNTRIED


def make(
    paints: Sequence[Paint],
    drop_ml: Sequence[float],
    rounds: Mapping[str, Sequence[tuple[int, float]]],
    chance: Random,
) -> Round:
    """The next round, of a skill in which the eye is weak; `rounds` are those of each skill as (level, dE).

    Raises InvalidInput where no three bottles make one.
    """
    looks = looks_of(paints) if paints else np.zeros((0, 3))
    left = list(SKILLS)
    while left:
        weights = [weakness(rounds.get(key, ())) ** 2 for key in left]
        key = chance.choices(left, weights)[0]
        level = level_of(rounds.get(key, ()))
        drawn = (chance.sample(range(len(paints)), BOTTLES) for _ in range(DRAWN if len(paints) >= BOTTLES else 0))
        triples = ((one, two, three) for one, two, three in drawn)
        chosen = next((triple for triple in triples if SKILLS[key].suits(looks, paints, level, triple)), None)
        if chosen is not None:
            own, sizes = [paints[index] for index in chosen], [drop_ml[at] for at in chosen]
            # Drops of each, of which none goes unseen.
            where, best, told = where_of(key), (1,) * BOTTLES, -1.0
            for _ in range(TRIES):
                first = chance.randint(1, 1 + level // 2) if key == "darks" else chance.randint(1, 2 + level)
                drops = (first, *(chance.randint(1, 3 + level) for _ in range(BOTTLES - 1)))
                rows = [drops, *(_stepped(drops, index, -1) for index in range(BOTTLES))]
                labs = exact_labs(own, _shares([row for row in rows if any(row)], sizes), where, count=4)
                least = min(float(mean_delta_e(one, labs[0])) for one in labs[1:])
                if least > told:
                    best, told = drops, least
                if told > TELLS:
                    break
            return Round(key, level, chosen, best)
        left.remove(key)
    raise InvalidInput(
        say(
            "No {bottles} bottles on this shelf make a round: two strong colours and a white, a "
            "black or a third colour are needed, none with flakes.",
            bottles=BOTTLES,
        ),
        field="shelf",
    )


def _stepped(drops: Sequence[int], at: int, step: int) -> tuple[int, ...]:
    return tuple(count + (step if place == at else 0) for place, count in enumerate(drops))


def _shares(rows: Sequence[Sequence[int]], sizes: Sequence[float]) -> Floats:
    """(row, paint)"""
    volumes = np.array(rows) * np.array(sizes)
    shares: Floats = volumes / volumes.sum(axis=1, keepdims=True)
    return shares


def checked(guess: Sequence[int]) -> tuple[int, ...]:
    """Raises InvalidInput, EmptyCup."""
    if len(guess) != BOTTLES or any(not 0 <= one <= MOST_GUESSED for one in guess):
        raise InvalidInput(
            say(
                "Guess 0 to {most_guessed} drops of each of the {bottles} bottles.",
                most_guessed=MOST_GUESSED,
                bottles=BOTTLES,
            ),
            field="guess",
        )
    if not sum(guess):
        raise EmptyCup("guessing")
    return tuple(guess)


def judge(
    skill: str, paints: Sequence[Paint], sizes: Sequence[float], target: Sequence[int], guess: Sequence[int]
) -> Judged:
    """A guess beside its target.

    Parameters
    ----------
    skill : which skill was asked for.
    paints : the round's three paints.
    sizes : ml of a drop of each.
    target, guess : drops of each.

    Returns
    -------
    Judged, with the dE between both.
    """
    steps = [(index, step) for index in range(BOTTLES) for step in (1, -1)]
    stepped = [(at, step, _stepped(guess, at, step)) for at, step in steps]
    able = [one for one in stepped if min(one[2]) >= 0 and any(one[2])]
    labs = exact_labs(paints, _shares([target, guess, *(row for _, _, row in able)], sizes), where_of(skill))
    aim, own, others = labs[0], labs[1], labs[2:]
    tried = [
        OneDrop(at, step, float(mean_delta_e(seen, aim)), words.turning(aim, seen))
        for (at, step, _), seen in zip(able, others, strict=True)
    ]
    far = float(mean_delta_e(own, aim))
    return Judged(far, words.turning(aim, own), sorted(tried, key=lambda drop: drop.delta_e))
