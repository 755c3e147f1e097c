"""The fields of a guess: where the colour was seen, and how it hides, drawn."""

from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.mixing.guess_basis import SEEN_WORDS
from diachrom.web.choices import Choice
from diachrom.work.guessing import HIDING

SEEN = [Choice("", "as is usual for its kind"), *(Choice(key, words) for key, words in SEEN_WORDS.items())]


@dataclass(frozen=True)
class Hides:
    """A swatch over black and white: how much of the black is left to be seen."""

    key: str
    words: str
    over_black: str  # a grey


def hiding() -> Sequence[Hides]:
    """From what hides nothing to what hides all."""
    greys = {key: round(255 * (0.04 + 0.68 * float(key)) ** 0.6) for key in HIDING}
    return [Hides(key, words, f"#{3 * f'{min(greys[key], 219):02x}'}") for key, words in HIDING.items()]
