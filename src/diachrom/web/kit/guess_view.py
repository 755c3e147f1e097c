"""The fields of a guess: where the colour was seen, and how it hides, drawn."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.light.screen import grey
from diachrom.core.profiles.guess_basis import SEEN_WORDS
from diachrom.web.kit.choices import Choice
from diachrom.words import say
from diachrom.work.shelf.guessing import HIDING

SEEN = [Choice("", say("as is usual for its kind")), *(Choice(key, words) for key, words in SEEN_WORDS.items())]

OVER_WHITE = 0.5  # luminance of the grey that is drawn over white


@dataclass(frozen=True)
class Hides:
    """A swatch over black and white: how much of the black is left to be seen."""

    key: str
    words: str
    over_black: str  # greys
    over_white: str


def hiding() -> Sequence[Hides]:
    """From what hides nothing to what hides all."""
    return [Hides(key, words, grey(float(key) * OVER_WHITE), grey(OVER_WHITE)) for key, words in HIDING.items()]
