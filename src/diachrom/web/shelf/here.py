"""Which bottles are here: photos of the shelf, read by the codes of their labels."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.store.bottles import Bottle
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore, RowId, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.swatches import Bead, bead
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.shelf import shelf_photos
from diachrom.work.shelf.on_shelf import OnShelf
from diachrom.work.shelf.shelf_photos import Counted, Label, PhotoSeen

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
    code: str  # the size from which a code is read
    shelf: int  # bottles that may be looked for


@router.get("/shelf/here")
def show(request: Request, store: OpenStore) -> Response:
    """What the photos of the shelf tell."""
    count = shelf_photos.counted(store)
    wanted = len(count.here) + len(count.missing)
    page = HerePage(
        figure=quantity(len(count.here), ".0f"),
        figure_words=say("of {wanted} bottles are here", wanted=wanted),
        missing=[_row(row) for row in count.missing],
        here=[_row(row) for row in count.here],
        notes=list(_notes(count)),
        photos=[_photo(photo) for photo in count.photos],
        code=quantity(shelf_photos.READ_FROM_MM, "g", "mm"),
        shelf=wanted + count.elsewhere,
    )
    return render("shelf/here.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/shelf/here")
def add(request: Request, store: OpenStore, photo: Upload) -> Response:
    """One photo more."""
    shelf_photos.add(store, (photo.filename or say("the photo"))[:80], photo.file.read(), at=clock.now())
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


def _notes(count: Counted) -> Iterator[tuple[str, Sequence[tuple[int, str]]]]:
    if count.unread and (count.missing or count.elsewhere):
        yield (
            say_count(
                count.unread,
                "{count} label was seen and could not be read. It is marked “?” in the photo: come closer, turn the"
                " label to the front, and photograph it again.",
                "{count} labels were seen and could not be read. They are marked “?” in the photos: come closer, turn"
                " the labels to the front, and photograph them again.",
            ),
            (),
        )
    if count.empty:
        yield say("Here, though written down as empty:"), _named(count.empty)
    if count.retired:
        yield say("Here, though taken off the shelf:"), _named(count.retired)
    if count.strange:
        yield (
            say(
                "A code is of no bottle of this bench: {codes}.",
                codes=listed((f"“{text[:60]}”" for text in count.strange[:5]), ", "),
            ),
            (),
        )
    if count.elsewhere and count.places:
        yield (
            say_count(
                count.elsewhere,
                "{count} bottle stands in a place that no photo shows: photograph it too.",
                "{count} bottles stand in places that no photo shows: photograph them too.",
            ),
            (),
        )


def _named(bottles: Sequence[Bottle]) -> list[tuple[int, str]]:
    return [(one.id, one.full_name) for one in bottles]


def _photo(photo: PhotoSeen) -> PhotoView:
    read = sum(bool(label.text) for label, _ in photo.labels)
    return PhotoView(
        photo=photo.photo,
        width=photo.width,
        height=photo.height,
        letters=max(photo.width, photo.height) / 30,
        marks=[_mark(photo, label, bottle) for label, bottle in photo.labels],
        words=say_count(read, "{count} label read", "{count} labels read"),
    )


def _mark(photo: PhotoSeen, label: Label, bottle: Bottle | None) -> MarkView:
    corners = [(x * photo.width, y * photo.height) for x, y in label.corners]
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
