"""Picking a card's colour from a photo: touch the grey patch, then the field."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, File, Form, Request, UploadFile
from fastapi.responses import Response

from diachrom import clock
from diachrom.exchange.photos import Spot
from diachrom.store import contrast_cards as cards
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.target_view import TargetView
from diachrom.work.kit import photo_picks
from diachrom.work.profiles import card_readings
from diachrom.work.profiles import contrast_cards as carding

router = APIRouter(include_in_schema=False)
Place = Annotated[int, Form(ge=0, le=20_000)]


@dataclass(frozen=True)
class PhotoPage:
    photo: int
    name: str
    width: int
    height: int
    action: str
    field: str
    title: str
    back: str
    palette: Sequence[TargetView] = ()
    grounds: Sequence[Group] = ()
    seen_at: Sequence[Choice] = ()


def _picked(
    store: OpenStore,
    photo: RowId,
    x: Place,
    y: Place,
    grey_x: Place,
    grey_y: Place,
    radius: Annotated[int, Form(ge=1, le=200)] = 12,
    grey_percent: Annotated[float, Form()] = 18.0,
) -> Spot:
    return photo_picks.pick(store, photo, (x, y), (grey_x, grey_y), radius=radius, grey_percent=grey_percent)


PickedSpot = Annotated[Spot, Depends(_picked)]


@router.post("/cards/{card}/photo")
def bring(
    request: Request, store: OpenStore, card: RowId, field: Annotated[str, Form()], file: Annotated[UploadFile, File()]
) -> Response:
    photo = photo_picks.keep(store, file.filename or "photo", file.file.read(), at=clock.now())
    return go(request, f"/cards/{card}/photo/{photo}?field={field[:24]}")


@router.get("/photos/{photo}.png")
def picture(store: OpenStore, photo: RowId) -> Response:
    return Response(photo_picks.photo(store, photo).png, media_type="image/png")


@router.get("/cards/{card}/photo/{photo}")
def show(request: Request, store: OpenStore, card: RowId, photo: RowId, field: str = "white") -> Response:
    found = photo_picks.photo(store, photo)
    words = next((one.words for one in carding.fields_of(cards.card(store, card)) if one.key == field), field)
    action = f"/cards/{card}/photo/{photo}"
    page = PhotoPage(photo, found.name, found.width, found.height, action, field, words, f"/cards/{card}")
    return render("kit/photo.html", page=page, frame=frame(request, store, "shelf"))


@router.post("/cards/{card}/photo/{photo}")
def pick(
    request: Request, store: OpenStore, card: RowId, photo: RowId, spot: PickedSpot, field: Annotated[str, Form()]
) -> Response:
    card_readings.from_photo(store, card, field, photo, spot, at=clock.now())
    return go(request, f"/cards/{card}")
