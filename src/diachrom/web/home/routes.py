"""The first page: what is under way, what dries, what is due; one press goes on."""

from datetime import datetime

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import say, when
from diachrom.work.home import now

router = APIRouter(include_in_schema=False)
FAR = 7e9  # seconds: the year 2191


def _when(moment: float) -> str:
    """By this place's clocks."""
    return (
        when(datetime.fromtimestamp(moment).astimezone(), "weekday, day and time")
        if 0 < moment < FAR
        else say("some day")
    )


@router.get("/home")
def home(request: Request, store: OpenStore) -> Response:
    """On an empty bench the first evening."""
    found = now.now(store, at=clock.now())
    if found.empty:
        return RedirectResponse("/shelf/start", 303)
    due = [(one, f"{one.at.astimezone():%H:%M}") for one in found.due]
    curing = [(one, _when(one.handle), _when(one.fish)) for one in found.curing]
    return render("home/home.html", now=found, due=due, curing=curing, frame=frame(request, store, "home"))
