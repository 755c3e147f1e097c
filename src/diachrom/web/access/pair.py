"""A device that scanned the code which the machine shows."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.web.access.welcome import door_of, name_of, welcomed
from diachrom.web.kit.dependencies import Text
from diachrom.web.kit.pages import render

router = APIRouter(include_in_schema=False)


@router.get("/pair/{code}")
def ask_to_pair(request: Request, code: str) -> Response:
    """Asked before it is done, so that nobody who only looks at an address uses its code up."""
    return render("access/pair.html", holds=door_of(request).holds(code), code=code, problem="", name=name_of(request))


@router.post("/pair/{code}")
def pair(request: Request, code: str, name: Text = "") -> Response:
    """Let the device in that shows a code, once, and give it its token."""
    return welcomed(
        request,
        lambda: door_of(request).pair(code, name or name_of(request), at=clock.now()),
        "access/pair.html",
        code=code,
    )
