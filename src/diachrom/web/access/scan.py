"""A code read by the camera or out of a photo leads to the page that it was printed for."""

import re
from typing import Annotated

from fastapi import APIRouter, File, Request, UploadFile
from fastapi.responses import Response

from diachrom.errors import BadFile
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.work.kit import code_photos

router = APIRouter(include_in_schema=False)
PLACES = ("bottles", "recipes", "test-cards", "contrast-cards", "shelf-sheets", "bench", "log", "orders", "plan")


@router.get("/scan")
def show(request: Request, store: OpenStore) -> Response:
    return render("access/scan.html", frame=frame(request, store, "settings"))


@router.post("/scan")
def read(request: Request, photo: Annotated[UploadFile, File()]) -> Response:
    name = (photo.filename or "the photo")[:80]
    text = code_photos.read(name, photo.file.read())
    path = place_of(text)
    if path is None:
        raise BadFile(name, f"its code says '{text[:60]}', which is no page of this bench.")
    return go(request, path)


def place_of(text: str) -> str | None:
    """The path of a page: whatever address a label was printed with, it is this bench's own page that is meant."""
    path = re.sub(r"^[a-z]+://[^/]*", "", text) if "://" in text else text.strip().replace(" ", "/")
    found = re.fullmatch(rf"/?({'|'.join(PLACES)})/(\d{{1,9}})(/[a-z-]{{1,20}})?", path.partition("?")[0])
    return f"/{found[1]}/{found[2]}{found[3] or ''}" if found else None
