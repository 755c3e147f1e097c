"""The sheet of a spray-out card, to be printed in black on white and sprayed."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.cards.sheet import PRINTED
from diachrom.core.film.grounds import GROUNDS
from diachrom.web.cards.view import how_words
from diachrom.web.kit.answers import code_for
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.qr import qr
from diachrom.web.kit.sheet import SheetPage, printed
from diachrom.words import say, say_count
from diachrom.work.cards import sheets
from diachrom.work.cards.compare_prediction import called
from diachrom.work.mix.contents import contents
from diachrom.work.mix.sprayed_over import over

router = APIRouter(include_in_schema=False)
LONGEST_LABEL = 22


@router.get("/test-cards/{number}/sheet")
def sheet(request: Request, store: OpenStore, number: RowId) -> Response:
    """The sheet of a card, for the printer."""
    card = sheets.card_of(store, number)
    laid = sheets.sheet_of(card)
    words = {key: over(store, key).words for key in laid.columns}
    sprayed = {patch.ground for patch in card.patches}
    fields = []
    for field in laid.fields:
        name = words[field.ground][:LONGEST_LABEL] if field.ground in sprayed else "foil"
        fields.append(
            printed(
                field, f"{name}, {say_count(field.coats, '{count} coat', '{count} coats') if field.coats else 'bare'}"
            )
        )
    name = called(card, contents(store, card.draft))
    page = SheetPage(
        title=say("Sheet of card {id}", id=card.id),
        name=say("Card {id}: {name}", id=card.id, name=name),
        detail=f"{day(card.at)} · {how_words(card)}",
        fields=fields,
        qr=qr(code_for(request, sheets.address(card))),
        qr_place=laid.qr,
        by_hand=[_by_hand(key, words[key]) for key in laid.columns if key not in PRINTED and key in sprayed],
        spray=say("Spray each field with its number of coats"),
        back=f"/test-cards/{card.id}",
        crosses=laid.crosses,
    )
    return render("kit/sheet.html", page=page, frame=frame(request, store, "test-cards"))


def _by_hand(key: str, words: str) -> str:
    if key in GROUNDS and GROUNDS[key].mirror is not None:
        return say("stick {words} into its dashed fields", words=words)
    return say("lay {words} into its dashed fields", words=words)
