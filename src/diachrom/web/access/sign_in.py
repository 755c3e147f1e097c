"""A device that has the passphrase."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.web.access.welcome import door_of, name_of, welcomed
from diachrom.web.kit.dependencies import Text
from diachrom.web.kit.guard import was_sent_away
from diachrom.web.kit.names import in_at_loopback
from diachrom.web.kit.pages import render

router = APIRouter(include_in_schema=False)


@router.get("/sign-in")
def ask(request: Request) -> Response:
    """Ask for the passphrase."""
    return render(
        "access/sign_in.html",
        problem="",
        name=name_of(request),
        here=in_at_loopback(request.scope),
        forget=was_sent_away(request),
    )


@router.post("/sign-in")
def sign_in(request: Request, passphrase: Text = "", name: Text = "") -> Response:
    """Let a device in that knows the passphrase."""
    source = request.app.state.names.source(request.scope, request.headers)
    return welcomed(
        request,
        lambda: door_of(request).sign_in(passphrase, name or name_of(request), at=clock.now(), source=source),
        "access/sign_in.html",
    )
