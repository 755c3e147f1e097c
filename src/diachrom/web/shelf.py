"""The Shelf page: every bottle with its strip, and a box to find one."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.film.paint import KINDS
from diachrom.web.frame import frame
from diachrom.web.mix_view import bottle_detail
from diachrom.web.needs import OpenStore
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.strip_view import ColumnView, columns
from diachrom.web.swatches import Bead, bead
from diachrom.work.shelf import OnShelf, kinds_on_shelf
from diachrom.work.shelf import shelf as look_along

router = APIRouter()


@dataclass(frozen=True)
class KindChoice:
    key: str
    words: str


@dataclass(frozen=True)
class BottleView:
    bottle: int
    name: str
    detail: str
    kind_note: str
    drops_left: str
    drop_words: str
    note: str
    bead: Bead
    columns: Sequence[ColumnView]
    strip_words: str


@dataclass(frozen=True)
class ShelfPage:
    query: str
    kind: str
    kinds: Sequence[KindChoice]
    bottles: Sequence[BottleView]
    count_words: str
    empty_words: str


def _bottle(row: OnShelf) -> BottleView:
    views = columns(row.look.strip) if row.look.bead else []
    last = "; ".join(f"{view.words.lower()}: {view.patches[-1].words}" for view in views)
    return BottleView(
        row.bottle.id,
        row.bottle.full_name,
        bottle_detail(row),
        KINDS[row.bottle.kind].note,
        f"{row.drops_left} drops" if row.drops_left != 1 else "1 drop",
        f"{1000 * row.bottle.drop_ml:.0f} µl",
        row.bottle.note if row.bottle.note != row.condition else "",
        bead(row),
        views,
        f"Three light coats of {row.bottle.full_name} under clear. {last}",
    )


@router.get("/shelf")
def shelf(request: Request, store: OpenStore, q: str = "", kind: str = "") -> Response:
    query = q[:200]
    bottles = [_bottle(row) for row in look_along(store, query, kind)]
    page = ShelfPage(
        query,
        kind,
        [KindChoice("", "all"), *(KindChoice(key, KINDS[key].words) for key in kinds_on_shelf(store))],
        bottles,
        f"{len(bottles)} {'bottle' if len(bottles) == 1 else 'bottles'}. "
        "Each as sprayed: three light coats, one below the other, on white, silver foil and black, under clear.",
        f"No bottle has “{query}” in its name, kind or note."
        if query or kind
        else "The shelf is empty. New paint puts the first bottle on it.",
    )
    if is_fragment_wanted(request):
        return render("bottles.html", page=page)
    return render("shelf.html", page=page, frame=frame(request, store, "shelf"))
