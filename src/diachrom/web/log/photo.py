"""A photo of a finished bait beside its picture."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.session.script import SIDES
from diachrom.store.session_photos import Marks
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import GivenForm, OpenStore, RowId, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.photos import touched
from diachrom.work.log import photo_beside, photo_causes

router = APIRouter(include_in_schema=False)
KEPT = {"Cache-Control": "no-cache"}


@router.get("/log/{number}/photos/{photo}")
def show(request: Request, store: OpenStore, number: RowId, photo: RowId) -> Response:
    """Both, zone by zone; or the photo to be touched."""
    found = photo_beside.beside(store, number, photo)
    marks = found.own.marks or found.proposed
    places = [] if marks is None else [marks.grey, marks.nose, marks.tail]
    return render(
        "log/photo.html",
        number=number,
        found=found,
        side=SIDES.get(found.own.side, ""),
        marks=[f"{x:.1f},{y:.1f}" for x, y in places],
        frame=frame(request, store, "log"),
    )


@router.get("/log/{number}/photos/{photo}/causes")
def causes(store: OpenStore, number: RowId, photo: RowId) -> Response:
    """What would explain the difference."""
    beside = photo_beside.beside(store, number, photo)
    return render(
        "log/causes.html",
        causes=photo_causes.explained(store, beside),
        taught=beside.own.marks and beside.own.marks.taught,
        number=number,
        photo=photo,
        hand=photo_causes.hand(store),
    )


@router.get("/log/{number}/photos/{photo}/{which}.png")
def picture(store: OpenStore, number: RowId, photo: RowId, which: str) -> Response:
    """The straightened photo in daylight, or the picture that it is laid beside."""
    made = photo_beside.picture(store, number, photo, taken=which == "taken")
    return Response(made, media_type="image/png", headers=KEPT)


@router.post("/log/{number}/photos/{photo}")
def mark(request: Request, store: OpenStore, number: RowId, photo: RowId, form: GivenForm) -> Response:
    """Where grey patch, nose and tail lie in it."""
    photo_beside.mark(store, number, photo, Marks(*touched(form)))
    return go(request, f"/log/{number}/photos/{photo}")


@router.post("/log/{number}/photos/{photo}/learn")
def learn(request: Request, store: OpenStore, number: RowId, photo: RowId, cause: Text) -> Response:
    """The hand is believed to be what a cause says."""
    photo_causes.learn(store, number, photo, cause[:40], at=clock.now())
    return go(request, f"/log/{number}/photos/{photo}")


@router.post("/log/{number}/photos/{photo}/take-back")
def take_back(request: Request, store: OpenStore, number: RowId, photo: RowId) -> Response:
    """The hand is believed to be what it would be without this photo."""
    photo_causes.take_back(store, number, photo, at=clock.now())
    return go(request, f"/log/{number}/photos/{photo}")
