"""A paint onto the shelf, and one bottle with its ledger."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.film.paint import KINDS
from diachrom.core.mixing.one_colour import KINDS_TO_ADD
from diachrom.web.choices import Choice
from diachrom.web.frame import frame
from diachrom.web.mix_view import bottle_detail
from diachrom.web.needs import OpenStore
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.recipes import day
from diachrom.web.strip_view import ColumnView, columns
from diachrom.work import shelf_keeping

router = APIRouter()
Number = Annotated[int, Path()]
Amount = Annotated[float, Form()]


@dataclass(frozen=True)
class LedgerLine:
    day: str
    kind: str
    ml: str
    note: str


@dataclass(frozen=True)
class BottlePage:
    bottle: int
    name: str
    detail: str
    left_ml: str
    size_ml: str
    drop_ul: str
    drops_left: int
    columns: Sequence[ColumnView]
    ledger: Sequence[LedgerLine]


def _go(request: Request, path: str) -> Response:
    """To a page, for htmx as for a plain form."""
    if is_fragment_wanted(request):
        return Response(status_code=204, headers={"HX-Redirect": path})
    return RedirectResponse(path, 303)


@router.get("/shelf/new")
def new_paint(request: Request, store: OpenStore) -> Response:
    kinds = [Choice(key, KINDS[key].words) for key in KINDS_TO_ADD]
    return render("new_paint.html", kinds=kinds, frame=frame(request, store, "shelf"))


@router.post("/shelf/new")
def add_paint(
    request: Request,
    store: OpenStore,
    name: Annotated[str, Form()] = "",
    line: Annotated[str, Form()] = "",
    kind: Annotated[str, Form()] = "transparent",
    colour: Annotated[str, Form()] = "",
    size_ml: Amount = 30.0,
    drop_ul: Amount = 50.0,
) -> Response:
    bottle = shelf_keeping.add_paint(
        store, line=line, name=name, kind=kind, colour=colour, size_ml=size_ml, drop_ml=drop_ul / 1000, at=clock.now()
    )
    return _go(request, f"/bottles/{bottle}")


@router.get("/bottles/{bottle}")
def show(request: Request, store: OpenStore, bottle: Number) -> Response:
    seen = shelf_keeping.see_bottle(store, bottle)
    row = seen.row
    page = BottlePage(
        row.bottle.id,
        row.bottle.full_name,
        bottle_detail(row),
        f"{row.bottle.left_ml:.1f}",
        f"{row.bottle.size_ml:g}",
        f"{1000 * row.bottle.drop_ml:.0f}",
        row.drops_left,
        columns(row.look.strip) if row.look.bead else [],
        [LedgerLine(day(entry.at), entry.kind, f"{entry.ml:+.1f}", entry.note) for entry in seen.ledger],
    )
    return render("bottle.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/bottles/{bottle}/left")
def correct(request: Request, store: OpenStore, bottle: Number, left_ml: Amount) -> Response:
    shelf_keeping.correct_stock(store, bottle, left_ml, at=clock.now())
    return _go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/drop")
def set_drop(request: Request, store: OpenStore, bottle: Number, drop_ul: Amount) -> Response:
    shelf_keeping.set_drop(store, bottle, drop_ul / 1000)
    return _go(request, f"/bottles/{bottle}")


@router.post("/bottles/{bottle}/another")
def another(request: Request, store: OpenStore, bottle: Number) -> Response:
    return _go(request, f"/bottles/{shelf_keeping.another_bottle(store, bottle, at=clock.now())}")
