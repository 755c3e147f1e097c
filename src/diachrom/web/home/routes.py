"""The first page: what is under way, what dries, what is due; one press goes on."""

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.work.home import now
from diachrom.work.shelf import first_evening

router = APIRouter(include_in_schema=False)


@router.get("/home")
def home(request: Request, store: OpenStore) -> Response:
    """On an empty bench the first evening."""
    if first_evening.is_empty(store):
        return RedirectResponse("/shelf/start", 303)
    found = now.now(store, at=clock.now())
    due = [(one, f"{one.at.astimezone():%H:%M}") for one in found.due]
    return render("home/home.html", now=found, due=due, frame=frame(request, store, "home"))
