"""A code read by the camera or out of a photo leads to the page that it was printed for."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.errors import BadFile
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import say
from diachrom.work.kit import code_photos
from diachrom.work.shelf.shelf_index import index

router = APIRouter(include_in_schema=False)
MOST = 60  # codes of one photo


@router.get("/scan")
def show(request: Request, store: OpenStore, found: str = "") -> Response:
    """With what a photo of several codes has led to."""
    places = [place for one in found.split()[:MOST] if (place := code_photos.place_of(one)) is not None]
    # Each with its page's words.
    names = {row.bottle.id: row.bottle.full_name for row in index(store).rows}
    words = []
    for place in places:
        name = names.get(place.number, "") if place.sort == "bottles" else ""
        words.append(
            (
                place.path,
                say("{name}, bottle {number}", name=name, number=place.number)
                if name
                else f"{place.sort[:-1].replace('-', ' ')} {place.number}",
            )
        )
    return render("access/scan.html", found=words, frame=frame(request, store, "settings"))


@router.post("/scan")
def read(request: Request, photo: Upload) -> Response:
    """To the page of the code; of several codes, to a choice."""
    name = (photo.filename or say("the photo"))[:80]
    told = code_photos.read(name, photo.file.read())
    paths = list(dict.fromkeys(place.path for text in told if (place := code_photos.place_of(text)) is not None))
    if not paths:
        raise BadFile(name, say("its code says '{told}', which is no page of this bench.", told=told[0][:60]))
    return go(request, paths[0] if len(paths) == 1 else f"/scan?found={'+'.join(paths[:MOST])}")
