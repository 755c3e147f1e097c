"""What there is to choose from: grounds and recipes to spray over, lights to look in, nozzles."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.light.lights import WORDS
from diachrom.core.light.water import WATERS
from diachrom.core.mix.advice import NOZZLES_MM
from diachrom.core.mix.draft import ALWAYS_SHOWN, Draft
from diachrom.store.recipes import Version
from diachrom.words import capitalized, listed, quantity, say
from diachrom.work.mix.sprayed_over import called, recipe_key

DEPTHS_M = (0, 1, 2, 4, 6, 8, 12, 16, 20)
DARK_MINUTES = (0, 1, 5, 20)


@dataclass(frozen=True)
class Choice:
    key: str
    words: str


@dataclass(frozen=True)
class Group:
    words: str
    choices: Sequence[Choice]


@dataclass(frozen=True)
class Choices:
    over: Sequence[Group]
    lights: Sequence[Group]
    nozzles: Sequence[float]


def said(words: Sequence[str]) -> list[Choice]:
    """Words of the core: what is sent is the word as the core knows it, whatever it is called on the page."""
    return [Choice(str.__str__(word), word) for word in words]


@cache
def grounds() -> Group:
    """The grounds to choose from, by their kind."""
    return Group(say("Grounds"), [Choice(key, ground.words) for key, ground in GROUNDS.items()])


def recipe_grounds(recipes: Sequence[Version]) -> Group:
    """Recipes, which can be sprayed over as well."""
    return Group(
        say("Recipes, as sprayed"),
        [Choice(recipe_key(version), called(version)) for version in recipes],
    )


@cache
def lights() -> Sequence[Group]:
    """The lights and waters to choose from."""
    return [
        Group(say("Lights"), [Choice(key, words) for key, words in WORDS.items()]),
        Group(
            say("Lights off, after a charge"),
            [Choice(f"dark@{index}", say("dark, {index} min", index=index)) for index in DARK_MINUTES],
        ),
        *(
            Group(
                capitalized(water.words),
                [Choice(f"{key}@{depth}", listed([water.words, quantity(depth, "g", "m")])) for depth in DEPTHS_M],
            )
            for key, water in WATERS.items()
        ),
    ]


def choices(recipes: Sequence[Version], draft: Draft) -> Choices:
    """For the Mix page; what is chosen is always among them, be it an old version or an odd depth."""
    over = [
        Group(say("Grounds"), [choice for choice in grounds().choices if choice.key not in ALWAYS_SHOWN]),
        recipe_grounds(recipes),
    ]
    known = {one.key for group in over for one in group.choices}
    if draft.own_ground not in known:
        over.append(Group(say("Chosen"), [Choice(draft.own_ground, draft.own_ground)]))
    shown = list(lights())
    if draft.light not in {one.key for group in shown for one in group.choices}:
        shown.append(Group(say("Chosen"), [Choice(draft.light, draft.light)]))
    return Choices(over, shown, NOZZLES_MM)
