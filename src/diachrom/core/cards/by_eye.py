"""What the eye says of a colour beside another: which way it lies, and how far."""

from collections.abc import Sequence

from diachrom.errors import InvalidInput

OPPOSITES = (("lighter", "darker"), ("redder", "greener"), ("yellower", "bluer"), ("stronger", "duller"))
DIRECTIONS = tuple(word for pair in OPPOSITES for word in pair)
DEGREES = ("a touch", "somewhat", "clearly", "far")
SAME = "as predicted"


def said(directions: Sequence[str], degree: str) -> str:
    """In words: "a touch lighter and redder". Raises InvalidInput for what cannot be meant."""
    for word in directions:
        if word not in DIRECTIONS:
            raise InvalidInput(f"'{word[:40]}' is no direction; there are: {', '.join(DIRECTIONS)}.", field="direction")
    for one, other in OPPOSITES:
        if one in directions and other in directions:
            raise InvalidInput(f"It cannot be {one} and {other} at once.", field="direction")
    if not directions:
        return SAME
    if degree not in DEGREES:
        raise InvalidInput(f"'{degree[:40]}' is no degree; there are: {', '.join(DEGREES)}.", field="degree")
    return f"{degree} {' and '.join(word for word in DIRECTIONS if word in directions)}"
