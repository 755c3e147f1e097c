"""The Shelf page: every bottle with its strip, a box to find one, filters that combine."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated
from urllib.parse import urlencode

from fastapi import APIRouter, Query, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.light import words
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.formatting import lasts
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import Bead, bead, bottle_detail
from diachrom.web.shelf import PAGE
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.shelf import droppers, keeping, stock
from diachrom.work.shelf.on_shelf import OnShelf
from diachrom.work.shelf.on_shelf import page as look_along
from diachrom.work.shelf.shelf_index import WantedBottles, fill_of, index

router = APIRouter(include_in_schema=False)
ORDERS = [
    Choice("", say("as they came")),
    Choice("hue", say("by hue")),
    Choice("kind", say("by kind")),
    Choice("low", say("by what is running low")),
    Choice("name", say("by name")),
]
MEASURED = [Choice("", say("all")), Choice("yes", say("measured or described")), Choice("no", say("only guesses"))]


@dataclass(frozen=True)
class ShelfBottle:
    bottle: int
    name: str
    detail: str
    kind_note: str
    drops_left: str
    drop_words: str
    note: str
    reminder: str
    nearness: str
    bead: Bead
    columns: Sequence[ColumnView]
    strip_words: str


@dataclass(frozen=True)
class ShelfPage:
    wanted: WantedBottles
    kinds: Sequence[Choice]
    places: Sequence[str]
    orders: Sequence[Choice]
    measured: Sequence[Choice]
    bottles: Sequence[ShelfBottle]
    more: str  # where the rest is, "" when this is all
    colour: str | None  # that was asked for, as #rrggbb
    count_words: str
    empty_words: str
    empty: bool  # there is no bottle at all
    missing: Sequence[tuple[str, str]]  # what is not known yet, in words, and where it is mended
    doubles: Sequence[tuple[str, str, str]]  # two names, and the id of the second
    undo: str | None
    redo: str | None


def _bottle(row: OnShelf, *, left: float | None, far: float | None, at: str) -> ShelfBottle:
    views = columns(row.look.strip) if row.look.bead else []
    last = listed((f"{view.words}: {view.patches[-1].words}" for view in views), "; ")
    used = "" if left is None else lasts(left)
    return ShelfBottle(
        bottle=row.bottle.id,
        name=row.bottle.full_name,
        detail=bottle_detail(row),
        kind_note=KINDS[row.bottle.kind].note,
        drops_left=say_count(row.drops_left, "{count} drop", "{count} drops"),
        drop_words=quantity(1000 * row.bottle.drop_ml, ".0f", "µl"),
        note=listed((one for one in (row.bottle.place, used, row.bottle.note or row.bottle.paint_note) if one), " · "),
        reminder=listed(stock.reminders(row.bottle, at=at), "; "),
        nearness=""
        if far is None
        else say("{closeness}, dE {far}", closeness=words.closeness(far), far=quantity(far, ".0f")),
        bead=bead(row),
        columns=views,
        strip_words=say(
            "Three light coats of {full_name} under clear. {last}", full_name=row.bottle.full_name, last=last
        ),
    )


Kinds = Annotated[list[str] | None, Query()]


@router.get("/shelf")
def shelf(
    request: Request,
    store: OpenStore,
    q: str = "",
    kind: Kinds = None,
    place: str = "",
    low: bool = False,
    gone: bool = False,
    measured: str = "",
    order: str = "",
    start: int = 0,
) -> Response:
    """The shelf: found by words or colour, filtered, in order."""
    kinds = tuple(one for one in kind or () if one in KINDS)
    wanted = WantedBottles(
        query=q[:200], kinds=kinds, place=place[:80], low=low, gone=gone, measured=measured[:3], order=order[:8]
    )
    page = _page(store, wanted, start)
    if is_fragment_wanted(request):
        answer = render("shelf/more_bottles.html" if start else "shelf/bottles.html", page=page)
        if not start:
            answer.headers["HX-Push-Url"] = _address(wanted)  # the same without what was left empty
        return answer
    return render("shelf/page.html", page=page, frame=frame(request, store, "shelf"))


def _page(store: OpenStore, wanted: WantedBottles, start: int) -> ShelfPage:
    at = clock.now()
    whole, found = index(store), look_along(store, wanted, start=start, most=PAGE)
    left = stock.weeks_left(store, [row.bottle for row in found.rows], at=at)
    far = found.found.distances[found.start :] if found.found.colour is not None else [None] * len(found.rows)
    views = [
        _bottle(row, left=left.get(row.bottle.id), far=distance, at=at)
        for row, distance in zip(found.rows, far, strict=False)
    ]
    undo, redo = keeping.standing(store)
    total = len(found.found.rows)
    bottles = say_count(total, "{count} bottle", "{count} bottles")
    if found.found.colour is not None:
        bottles = say("{bottles}, nearest to {colour} first", bottles=bottles, colour=found.found.colour_words)
    if wanted.gone and not wanted.query:
        empty = say("No bottle is retired.")
    elif not bool(whole.rows):
        empty = say("The shelf is empty. Add the first bottle with New paint, a whole inventory with Files, or a list:")
    else:
        what = (
            say("“{query}” in its name, kind, place or note", query=wanted.query)
            if wanted.query
            else say("all of that")
        )
        empty = say("No bottle has {what}. Remove a filter, or ask for a colour: “dark olive”, “#3b3f1c”.", what=what)
    # What is only guessed of this shelf.
    uncounted = droppers.unknown(store)
    missing = []
    if whole.guesses:
        guesses = say_count(whole.guesses, "{count} colour is a guess", "{count} colours are guesses")
        missing.append((guesses, "/shelf-sheets"))
    if uncounted:
        unknown = say_count(len(uncounted), "{count} dropper is unknown", "{count} droppers are unknown")
        where = "/shelf/start/next" if len(uncounted) > 1 else f"/bottles/{uncounted[0].id}/drops"
        missing.append((unknown, where))
    return ShelfPage(
        wanted=wanted,
        kinds=[Choice(key, KINDS[key].words) for key in whole.kinds],
        places=whole.places,
        orders=ORDERS,
        measured=MEASURED,
        bottles=views,
        more=_address(wanted, start=start + len(views)) if found.more else "",
        colour=None if found.found.colour is None else fill_of(found.found.colour),
        count_words=say(
            "{bottles}. Each as sprayed: three light coats, one below the other, on white, "
            "silver foil and black, under clear.",
            bottles=bottles,
        ),
        empty=not whole.rows,
        missing=missing,
        empty_words=empty,
        doubles=[(bottle.full_name, other.full_name, other.paint_id) for bottle, other in whole.doubles[:3]],
        undo=undo.did if undo else None,
        redo=redo.did if redo else None,
    )


def _address(wanted: WantedBottles, *, start: int = 0) -> str:
    pairs = [("q", wanted.query), *(("kind", kind) for kind in wanted.kinds), ("place", wanted.place)]
    pairs += [
        ("low", "true" if wanted.low else ""),
        ("gone", "true" if wanted.gone else ""),
        ("measured", wanted.measured),
        ("order", wanted.order),
    ]
    given = urlencode([(key, value) for key, value in [*pairs, ("start", str(start or ""))] if value])
    return f"/shelf?{given}" if given else "/shelf"


@router.post("/shelf/undo")
def undo(request: Request, store: OpenStore) -> Response:
    """Take back the last step on the shelf."""
    keeping.undo(store, at=clock.now())
    return go(request, "/shelf")


@router.post("/shelf/redo")
def redo(request: Request, store: OpenStore) -> Response:
    """Take it again."""
    keeping.undo(store, back=False, at=clock.now())
    return go(request, "/shelf")
