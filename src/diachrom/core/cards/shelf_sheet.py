"""The whole shelf on one sheet: numbered pairs of fields, white and black, each in the films of a step card.

The fewer paints, the larger their fields. Between the columns the paper stays bare, so that the photo's light is told
all over the sheet; below them lies the bare pair on which all the others are.
"""

from collections.abc import Sequence

from diachrom.core.cards.sheet import (
    BOTTOM,
    HEIGHT_MM,
    LABEL,
    LEFT,
    MARK_MM,
    MORE_CROSSES,
    QR,
    RIGHT,
    TOP,
    WIDTH_MM,
    Place,
    Sheet,
    SheetField,
)
from diachrom.core.light.inks import INKS
from diachrom.errors import InvalidInput
from diachrom.words import say

MOST_PAIRS = 24
ROWS = 6
BARE_MIDDLE = 14.0  # mm between the left half and the right one, for crosses
APART, BETWEEN = 6.0, 2.0  # mm between pairs, and between the films of one
BARE_MM = 16.0
INK_MM, INK_APART = 8.0, 1.0
GROUNDS = ("white", "black")


def shelf_sheet(pairs: int, steps: Sequence[int]) -> Sheet:
    """Lay out so many paints, numbered from 1, row by row, each in so many passes. Raises InvalidInput for none,
    or more than it holds."""
    if not 1 <= pairs <= MOST_PAIRS:
        raise InvalidInput(
            say("A sheet holds 1 to {most_pairs} paints, not {pairs}.", most_pairs=MOST_PAIRS, pairs=pairs),
            field="paints",
        )
    own = 1 if pairs <= 2 * ROWS else 2  # columns of a half
    rows = -(-pairs // (2 * own))
    half = (RIGHT - LEFT - BARE_MIDDLE) / 2
    width, height = (half - (own - 1) * APART) / own, (BOTTOM - TOP) / rows
    lefts = [LEFT + side * (half + BARE_MIDDLE) + index * (width + APART) for side in (0, 1) for index in range(own)]
    fields = [_bare(at, ground) for at, ground in enumerate(GROUNDS)]
    for pair in range(pairs):
        row, column = divmod(pair, 2 * own)
        fields += _pair(pair + 1, steps, Place(lefts[column], TOP + row * height, width, height))
    return Sheet(fields, GROUNDS, QR, MORE_CROSSES, _printed())


def _bare(at: int, ground: str) -> SheetField:
    """Left and right of the code."""
    middle = (MARK_MM + QR.x) / 2
    x = middle if at == 0 else WIDTH_MM - middle
    return SheetField(ground, 0, Place(x - BARE_MM / 2, HEIGHT_MM - BARE_MM - 2, BARE_MM, BARE_MM))


def _printed() -> list[SheetField]:
    """A row above the bare pair, left and right of the code; they tell what the camera sees by."""
    own, each = len(INKS) // 2, INK_MM + INK_APART
    wide = own * each - INK_APART
    lefts = [middle - wide / 2 for middle in ((MARK_MM + QR.x) / 2, WIDTH_MM - (MARK_MM + QR.x) / 2)]
    return [
        SheetField(ink, 0, Place(lefts[at // own] + at % own * each, BOTTOM + 1, INK_MM, INK_MM))
        for at, ink in enumerate(INKS)
    ]


def _pair(number: int, steps: Sequence[int], room: Place) -> list[SheetField]:
    """Its films from left to right, over white above, over black below."""
    width = (room.width - (len(steps) - 1) * BETWEEN) / len(steps)
    height = (room.height - LABEL - BETWEEN) / len(GROUNDS)
    return [
        SheetField(
            ground,
            passes,
            Place(room.x + film * (width + BETWEEN), room.y + LABEL + index * height, width, height),
            number,
        )
        for index, ground in enumerate(GROUNDS)
        for film, passes in enumerate(steps)
    ]
