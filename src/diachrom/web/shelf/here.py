"""Which bottles are here: photos of the shelf, read by the codes of their labels."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.store.bottles import Bottle
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore, RowId, Uploads
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.swatches import Bead, bead
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.shelf import shelf_photos
from diachrom.work.shelf.on_shelf import OnShelf
from diachrom.work.shelf.shelf_photos import Counted, Label, Shown

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class HereRow:
    bottle: int
    name: str
    detail: str
    bead: Bead


@dataclass(frozen=True)
class MarkView:
    points: str  # of an SVG polygon
    x: float
    y: float
    number: str  # of the bottle, "?" where the label could not be read
    words: str


@dataclass(frozen=True)
class PhotoView:
    photo: int
    width: int
    height: int
    letters: float  # high, in the photo's pixels
    marks: Sequence[MarkView]
    words: str


@dataclass(frozen=True)
class HerePage:
    figure: str  # the bottles that are here, of those that should be
    figure_words: str
    missing: Sequence[HereRow]
    here: Sequence[HereRow]
    notes: Sequence[tuple[str, Sequence[tuple[int, str]]]]  # a sentence, and the bottles that it is of
    photos: Sequence[PhotoView]
    most: int
    shelf: int  # bottles that may be looked for


@router.get("/shelf/here")
def show(request: Request, store: OpenStore) -> Response:
    """What the photos of the shelf tell."""
    told = shelf_photos.counted(store)
    wanted = len(told.here) + len(told.missing)
    page = HerePage(
        figure=quantity(len(told.here), ".0f"),
        figure_words=say("of {wanted} bottles are here", wanted=wanted),
        missing=[_row(row) for row in told.missing],
        here=[_row(row) for row in told.here],
        notes=list(_notes(told)),
        photos=[_photo(one) for one in told.photos],
        most=shelf_photos.MOST,
        shelf=wanted + told.elsewhere,
    )
    return render("shelf/here.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/shelf/here")
def add(request: Request, store: OpenStore, photo: Uploads) -> Response:
    """Photos more."""
    for one in photo:
        shelf_photos.add(store, (one.filename or say("the photo"))[:80], one.file.read(), at=clock.now())
    return go(request, "/shelf/here")


@router.post("/shelf/here/{photo}/remove")
def remove(request: Request, store: OpenStore, photo: RowId) -> Response:
    """Without a photo."""
    shelf_photos.remove(store, photo)
    return go(request, "/shelf/here")


@router.post("/shelf/here/begin")
def begin(request: Request, store: OpenStore) -> Response:
    """Again from no photo."""
    shelf_photos.begin_again(store)
    return go(request, "/shelf/here")


def _row(row: OnShelf) -> HereRow:
    where = row.bottle.place or say("no place noted")
    left = say("{left} left", left=quantity(row.bottle.left_ml, ".0f", "ml"))
    return HereRow(row.bottle.id, row.bottle.full_name, listed((where, left), " · "), bead(row))


def _notes(told: Counted) -> Iterator[tuple[str, Sequence[tuple[int, str]]]]:
    if told.unread:
        yield (
            say_count(
                told.unread,
                "{count} label was seen and could not be read. It is marked “?” in the photo: come closer, turn the"
                " label to the front, and photograph it again.",
                "{count} labels were seen and could not be read. They are marked “?” in the photos: come closer, turn"
                " the labels to the front, and photograph them again.",
            ),
            (),
        )
    if told.empty:
        yield say("Here, though written down as empty:"), _named(told.empty)
    if told.retired:
        yield say("Here, though taken off the shelf:"), _named(told.retired)
    if told.strange:
        yield (
            say(
                "A code is of no bottle of this bench: {codes}.",
                codes=listed((f"“{text[:60]}”" for text in told.strange[:5]), ", "),
            ),
            (),
        )
    if told.elsewhere and told.places:
        yield (
            say_count(
                told.elsewhere,
                "{count} bottle stands in a place that no photo shows: photograph it too.",
                "{count} bottles stand in places that no photo shows: photograph them too.",
            ),
            (),
        )


def _named(bottles: Sequence[Bottle]) -> list[tuple[int, str]]:
    return [(one.id, one.full_name) for one in bottles]


def _photo(one: Shown) -> PhotoView:
    read = sum(bool(label.text) for label, _ in one.labels)
    return PhotoView(
        photo=one.photo,
        width=one.width,
        height=one.height,
        letters=max(one.width, one.height) / 30,
        marks=[_mark(one, label, bottle) for label, bottle in one.labels],
        words=say_count(read, "{count} label read", "{count} labels read"),
    )


def _mark(one: Shown, label: Label, bottle: Bottle | None) -> MarkView:
    corners = [(x * one.width, y * one.height) for x, y in label.corners]
    if bottle is not None:
        number, words = str(bottle.id), bottle.full_name
    elif label.text:
        number, words = "–", say("of no bottle of this bench")
    else:
        number, words = "?", say("seen, not read")
    return MarkView(
        points=" ".join(f"{x:.0f},{y:.0f}" for x, y in corners),
        x=sum(x for x, _ in corners) / 4,
        y=max(y for _, y in corners),
        number=number,
        words=words,
    )
