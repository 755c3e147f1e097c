"""Picking a card's colour from a photo: touch the grey patch, then the field."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Form
from fastapi.responses import Response

from diachrom.exchange.photos import Spot
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.target_view import TargetView
from diachrom.work.kit import photo_picks

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


@router.get("/photos/{photo}.png")
def picture(store: OpenStore, photo: RowId) -> Response:
    return Response(photo_picks.photo(store, photo).png, media_type="image/png")
