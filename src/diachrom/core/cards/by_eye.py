"""What the eye says of a colour beside another: which way it lies, and how far."""

from collections.abc import Sequence

from diachrom.errors import InvalidInput
from diachrom.words import listed, say

OPPOSITES = (
    (say("lighter"), say("darker")),
    (say("redder"), say("greener")),
    (say("yellower"), say("bluer")),
    (say("stronger"), say("duller")),
)
DIRECTIONS = tuple(word for pair in OPPOSITES for word in pair)
DEGREES = (say("a touch"), say("somewhat"), say("clearly"), say("far"))
SAME = say("as predicted")


def said(directions: Sequence[str], degree: str) -> str:
    """In words: "a touch lighter and redder". Raises InvalidInput for what cannot be meant."""
    for word in directions:
        if word not in DIRECTIONS:
            raise InvalidInput(
                say(
                    "'{word}' is no direction; there are: {directions}.",
                    word=word[:40],
                    directions=listed(DIRECTIONS),
                ),
                field="direction",
            )
    for one, other in OPPOSITES:
        if one in directions and other in directions:
            raise InvalidInput(
                say("It cannot be {what} and {other} at once.", what=one, other=other), field="direction"
            )
    if not directions:
        return SAME
    if degree not in DEGREES:
        raise InvalidInput(
            say("'{degree}' is no degree; there are: {degrees}.", degree=degree[:40], degrees=listed(DEGREES)),
            field="degree",
        )
    ways = listed([word for word in DIRECTIONS if word in directions], " and ")
    return say("{amount} {ways}", amount=DEGREES[DEGREES.index(degree)], ways=ways)
