"""A sheet to be printed, sprayed and photographed: fields, corner marks, crosses and a code."""

from collections.abc import Sequence
from dataclasses import dataclass

from markupsafe import Markup

from diachrom.core.cards.sheet import HEIGHT_MM, LABEL, MARKS, PRINTED, WIDTH_MM, Place, SheetField
from diachrom.core.light.inks import INKS
from diachrom.exchange import marks


@dataclass(frozen=True)
class Printed:
    """A field as it is printed: its ink, or an outline for what has to be laid there by hand."""

    place: Place
    ink: str | None
    label: str
    label_y: float


@dataclass(frozen=True)
class SheetPage:
    """What is printed, and the words around it."""

    title: str  # "Sheet of card 5"
    name: str
    detail: str
    fields: Sequence[Printed]
    qr: Markup
    qr_place: Place
    by_hand: Sequence[str]  # grounds that no printer makes
    spray: str
    back: str
    crosses: Sequence[Place]
    coloured: bool = False  # it holds the printer's own colours
    width: float = WIDTH_MM
    height: float = HEIGHT_MM

    @property
    def marks(self) -> Sequence[str]:
        """The corner marks by which a photo is flattened."""
        return [mark_path(mark) for mark in range(len(MARKS))]


def printed(field: SheetField, label: str) -> Printed:
    """A field in its ink, where a printer has one."""
    ink = PRINTED.get(field.ground)
    colour = None if ink is None else "#" + 3 * f"{round(255 * (1 - ink)):02x}"
    if field.ground in INKS:
        colour = INKS[field.ground].rgb
    return Printed(field.place, colour, label, field.place.y - LABEL / 3)


def mark_path(mark: int) -> str:
    """Its black cells, in mm."""
    place, cells = MARKS[mark], marks.cells(mark)
    size = place.width / len(cells)
    return "".join(
        f"M{place.x + column * size:g} {place.y + row * size:g}h{size:g}v{size:g}h-{size:g}z"
        for row, line in enumerate(cells)
        for column, black in enumerate(line)
        if black
    )
