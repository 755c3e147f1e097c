"""The sheet that spray-out cards are sprayed on: where its marks, crosses and fields lie, in mm from its upper left
corner.

A column is a ground: bare on top, then a patch a number of coats. Printed once, it is sprayed, photographed and read.
"""

import zlib
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.errors import InvalidInput
from diachrom.words import say

WIDTH_MM, HEIGHT_MM = 180.0, 240.0  # fits A4 and Letter
MARK_MM = 18.0
CORNERS = (say("upper left"), say("upper right"), say("lower right"), say("lower left"))  # of marks 0 to 3
CROSS_MM = 8.0
QR_MM = 28.0
PRINTED = {"white": 0.0, "grey": 0.55, "black": 1.0}  # share of ink on the grounds that a printer can make
MOST_GROUNDS, MOST_ROWS = 6, 6
LEFT, RIGHT, TOP, BOTTOM = 18.0, 162.0, 30.0, 206.0  # of the fields
GAP, LABEL = 4.0, 6.0


@dataclass(frozen=True)
class Place:
    """A rectangle on the sheet, mm."""

    x: float
    y: float
    width: float
    height: float

    @property
    def middle(self) -> tuple[float, float]:
        """Its middle, mm."""
        return self.x + self.width / 2, self.y + self.height / 2

    def within(self, share: float) -> "Place":
        """The middle part of it."""
        x, y = self.middle
        return Place(x - share * self.width / 2, y - share * self.height / 2, share * self.width, share * self.height)


FieldKey = tuple[int, str, int]  # pair, ground, coats


@dataclass(frozen=True)
class SheetField:
    """Where a patch of a card lies; no coats are the bare ground."""

    ground: str
    coats: int
    place: Place
    pair: int = 0  # of a sheet for many paints: whose it is; 0 is nobody's

    @property
    def key(self) -> FieldKey:
        """Ground and coats, by which it is known."""
        return self.pair, self.ground, self.coats


@dataclass(frozen=True)
class Sheet:
    fields: Sequence[SheetField]
    columns: Sequence[str]  # grounds, left to right
    qr: Place
    crosses: Sequence[Place]
    printed: Sequence[SheetField] = ()  # colours of the printer's own; they make no other layout

    @property
    def key(self) -> str:
        """Four letters that tell this layout from another."""
        told = ";".join(
            f"{field.ground},{field.coats}{f',{field.pair}' if field.pair else ''}" for field in self.fields
        )
        return f"{zlib.crc32(told.encode('utf-8')) & 0xFFFF:04x}"


MARKS = (
    Place(0, 0, MARK_MM, MARK_MM),
    Place(WIDTH_MM - MARK_MM, 0, MARK_MM, MARK_MM),
    Place(WIDTH_MM - MARK_MM, HEIGHT_MM - MARK_MM, MARK_MM, MARK_MM),
    Place(0, HEIGHT_MM - MARK_MM, MARK_MM, MARK_MM),
)
QR = Place((WIDTH_MM - QR_MM) / 2, HEIGHT_MM - QR_MM, QR_MM, QR_MM)


def _crosses(*across: float) -> tuple[Place, ...]:
    """The paper is kept bare around them: they tell its white all over the sheet."""
    down = (38.0, 78.0, 118.0, 158.0, 198.0)
    return tuple(Place(x - CROSS_MM / 2, y - CROSS_MM / 2, CROSS_MM, CROSS_MM) for x in across for y in down)


CROSSES = _crosses(9.0, WIDTH_MM - 9.0)
MORE_CROSSES = _crosses(9.0, WIDTH_MM / 2, WIDTH_MM - 9.0)  # with these a lens's dark corners are told too


def sheet(patches: Sequence[tuple[str, int]]) -> Sheet:
    """Lay out patches of (ground, coats). Raises InvalidInput for more than a sheet holds."""
    grounds = list(dict.fromkeys(ground for ground, _ in patches))
    coats = sorted({0, *(count for _, count in patches)})
    if len(grounds) > MOST_GROUNDS or len(coats) > MOST_ROWS:
        raise InvalidInput(
            say(
                "A sheet holds {most_grounds} grounds and {most_rows} numbers of coats; this card has "
                "{count} and {all}. Spray it on two cards.",
                most_grounds=MOST_GROUNDS,
                most_rows=MOST_ROWS - 1,
                count=len(grounds),
                all=len(coats) - 1,
            ),
            field="ground",
        )
    width = (RIGHT - LEFT + GAP) / max(len(grounds), 1) - GAP
    height = (BOTTOM - TOP) / len(coats) - LABEL
    fields = [
        SheetField(
            ground,
            count,
            Place(LEFT + column * (width + GAP), TOP + row * (height + LABEL) + LABEL, width, height),
        )
        for column, ground in enumerate(grounds)
        for row, count in enumerate(coats)
        if count == 0 or (ground, count) in patches
    ]
    return Sheet(fields, grounds, QR, CROSSES)
