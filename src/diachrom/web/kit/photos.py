"""Picking a card's colour from a photo: touch the grey patch, then the colour."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends, Form
from fastapi.responses import Response

from diachrom.errors import InvalidInput
from diachrom.exchange.photos import Spot, is_jpeg
from diachrom.web.kit.choices import Choice, Group
from diachrom.web.kit.dependencies import OpenStore, RowId, Text
from diachrom.web.kit.target_view import TargetView
from diachrom.words import say
from diachrom.work.kit import photo_picks
from diachrom.work.kit.figures import figure

router = APIRouter(include_in_schema=False)
LONGEST = 5  # digits of a pixel's place


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
    grey: tuple[int, int] | None = None  # where the grey patch lies, from the last pick
    bare: bool = False  # there is none in it
    grey_percent: str = "18"  # that it reflects
    radius: int = 12  # of the ring, pixels


def _grey(grey_x: Text = "", grey_y: Text = "", no_grey: Text = "") -> tuple[int, int] | None:
    """Where it lies; None where it is said that there is none. Raises InvalidInput where nothing is said."""
    if no_grey:
        return None
    return _place(grey_x, grey_y, say("Touch the grey patch first, or say that there is none in the photo."))


def _place(x: str, y: str, otherwise: str) -> tuple[int, int]:
    if not (x.isdecimal() and y.isdecimal()) or max(len(x), len(y)) > LONGEST:
        raise InvalidInput(otherwise, field="photo")
    return int(x), int(y)


def touched(form: Mapping[str, str]) -> list[tuple[float, float]]:
    """Where grey patch, nose and tail were touched, pixels of a photo. Raises InvalidInput."""
    points = []
    for key in ("grey", "nose", "tail"):
        try:
            x, y = (float(part) for part in form.get(key, "").split(","))
        except ValueError:
            x = y = math.nan
        if not (math.isfinite(x) and math.isfinite(y)):
            raise InvalidInput(say("Touch the grey patch, then the nose, then the tail."), field="photo")
        points.append((x, y))
    return points


GreyPatch = Annotated[tuple[int, int] | None, Depends(_grey)]


def _picked(
    store: OpenStore,
    photo: RowId,
    grey: GreyPatch,
    x: Text = "",
    y: Text = "",
    radius: Annotated[int, Form(ge=1, le=200)] = 12,
    grey_percent: Text = "18",
) -> Spot:
    spot = _place(x, y, say("Touch the colour in the photo first."))
    share = figure(grey_percent, say("Grey patch, %"), key="grey_percent")
    return photo_picks.pick(store, photo, spot, grey, radius=radius, grey_percent=share)


PickedSpot = Annotated[Spot, Depends(_picked)]


@router.get("/photos/{photo}/small.jpg")
def small(store: OpenStore, photo: RowId) -> Response:
    """A photo, small enough for a list."""
    made = photo_picks.small(store, photo)
    return Response(made, media_type="image/jpeg", headers={"Cache-Control": "max-age=86400"})


@router.get("/photos/{photo}/whole")
def picture(store: OpenStore, photo: RowId) -> Response:
    """A photo as it is kept."""
    found = photo_picks.photo(store, photo).picture
    return Response(found, media_type="image/jpeg" if is_jpeg(found) else "image/png")
