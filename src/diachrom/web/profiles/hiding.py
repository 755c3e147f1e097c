"""Coats until it hides: a primer or an opaque paint over each ground, two side by side."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.mix.hiding import MOST, Hides
from diachrom.core.mix.layers import COATS_UM
from diachrom.core.mix.prediction import colour_of
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.formatting import SIZES
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.swatches import swatch
from diachrom.words import quantity, say, say_count
from diachrom.work.profiles import hiding
from diachrom.work.profiles.hiding import HidesSeen

router = APIRouter(include_in_schema=False)
SHOWN = 8  # coats of a row
USUAL = "light"


@dataclass(frozen=True)
class RowView:
    """One ground: how many coats, and the colour coat by coat."""

    words: str
    coats: str
    fills: Sequence[str]  # none first
    hidden_at: int  # the coat that hides, 0 where none of those shown does


@dataclass(frozen=True)
class SideView:
    paint: str
    name: str
    rows: Sequence[RowView]


@dataclass(frozen=True)
class HidingPage:
    sides: Sequence[SideView]
    paints: Sequence[Choice]
    films: Sequence[Choice]
    film: str
    film_words: str


@router.get("/paints/{paint_id}/hides")
def show(request: Request, store: OpenStore, paint_id: str, beside: str = "", film: str = USUAL) -> Response:
    """Coats until it hides, over each ground."""
    film = film if film in COATS_UM else USUAL
    sides = [hiding.see(store, one, COATS_UM[film]) for one in (paint_id, beside) if one]
    page = HidingPage(
        sides=[_side(one) for one in sides],
        paints=[Choice("", say("none")), *(Choice(key, name) for key, name in hiding.able(store) if key != paint_id)],
        films=[
            Choice(key, say("{size}, {film}", size=SIZES[key], film=quantity(um, "g", "µm")))
            for key, um in COATS_UM.items()
        ],
        film=film,
        film_words=quantity(COATS_UM[film], "g", "µm"),
    )
    return render("profiles/hides.html", page=page, beside=beside, frame=frame(request, store, "shelf"))


def _side(one: HidesSeen) -> SideView:
    return SideView(one.record.id, one.record.full_name, [_row(row) for row in one.over])


def _row(row: Hides) -> RowView:
    coats = (
        say("more than {most} coats", most=MOST)
        if row.coats is None
        else say_count(row.coats, "{count} coat", "{count} coats")
    )
    shown = row.labs[: SHOWN + 1].tolist()
    at = row.coats if row.coats is not None and row.coats <= SHOWN else 0
    return RowView(row.words, coats, [swatch(colour_of(lab)).fill for lab in shown], at)
