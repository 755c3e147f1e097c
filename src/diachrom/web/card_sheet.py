"""The sheet of a test card, to be printed in black on white and sprayed."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response
from markupsafe import Markup

from diachrom.core.film.grounds import GROUNDS
from diachrom.core.mixing.card_sheet import CROSSES, HEIGHT_MM, LABEL, MARKS, PRINTED, WIDTH_MM, Place, SheetField
from diachrom.exchange import marks
from diachrom.store import spray_outs as kept
from diachrom.web.answers import own_address
from diachrom.web.frame import frame
from diachrom.web.needs import OpenStore, RowId
from diachrom.web.pages import render
from diachrom.web.prints import qr
from diachrom.web.say import count, day
from diachrom.web.spray_out_view import how_words
from diachrom.work import card_sheets
from diachrom.work.contents import contents
from diachrom.work.over import over
from diachrom.work.spray_out_seen import called

router = APIRouter()
LONGEST_LABEL = 22


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

    number: str  # "card 5"
    name: str
    detail: str
    fields: Sequence[Printed]
    qr: Markup
    qr_place: Place
    by_hand: Sequence[str]  # grounds that no printer makes
    spray: str
    back: str
    width: float = WIDTH_MM
    height: float = HEIGHT_MM
    crosses: Sequence[Place] = CROSSES

    @property
    def marks(self) -> Sequence[str]:
        return [mark_path(mark) for mark in range(len(MARKS))]


def printed(one: SheetField, label: str) -> Printed:
    """A field in its ink, where a printer has one."""
    ink = PRINTED.get(one.ground)
    grey = None if ink is None else "#" + 3 * f"{round(255 * (1 - ink)):02x}"
    return Printed(one.place, grey, label, one.place.y - LABEL / 3)


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


@router.get("/spray-outs/{number}/sheet")
def sheet(request: Request, store: OpenStore, number: RowId) -> Response:
    card = kept.one(store, number)
    laid = card_sheets.sheet_of(card)
    words = {key: over(store, key).words for key in laid.columns}
    sprayed = {one.ground for one in card.patches}
    fields = []
    for one in laid.fields:
        name = words[one.ground][:LONGEST_LABEL] if one.ground in sprayed else "foil"
        fields.append(printed(one, f"{name}, {count(one.coats, 'coat') if one.coats else 'bare'}"))
    name = called(card, contents(store, card.draft))
    page = SheetPage(
        f"card {card.id}",
        f"Card {card.id}: {name}",
        f"{day(card.at)} · {how_words(card)}",
        fields,
        qr(own_address(request) + card_sheets.address(card)),
        laid.qr,
        [_by_hand(key, words[key]) for key in laid.columns if key not in PRINTED and key in sprayed],
        "Spray each field with its number of coats",
        f"/spray-outs/{card.id}",
    )
    return render("card_sheet.html", page=page, frame=frame(request, store, "mix"))


def _by_hand(key: str, words: str) -> str:
    if key in GROUNDS and GROUNDS[key].mirror is not None:
        return f"stick {words} into its dashed fields"
    return f"lay {words} into its dashed fields"
