"""What whoever is let in is given, and what a device calls itself."""

from collections.abc import Callable

from fastapi import Request
from fastapi.responses import RedirectResponse, Response

from diachrom.errors import InvalidInput
from diachrom.web.kit.guard import DEVICE_COOKIE
from diachrom.web.kit.names import in_at_loopback
from diachrom.web.kit.pages import render
from diachrom.words import say
from diachrom.work.access.auth import Auth

YEAR_S = 31_536_000


def door_of(request: Request) -> Auth:
    """Who is let in at this server."""
    door: Auth = request.app.state.door
    return door


def welcomed(request: Request, let_in: Callable[[], str], template: str, code: str = "") -> Response:
    """Home, with a token to come back by; or what was wrong, on the page that asked."""
    try:
        token = let_in()
    except InvalidInput as error:
        more = {"code": code, "holds": False} if code else {}
        return render(
            template, status=403, problem=str(error), name=name_of(request), here=in_at_loopback(request.scope), **more
        )
    answer = RedirectResponse("/home", 303)
    give_token(request, answer, token)
    return answer


def give_token(request: Request, answer: Response, token: str) -> None:
    """To come back by. What a proxy handed on goes out by the scheme of the address that was set, whatever a header
    says; a browser of this machine asks at loopback, where nobody else listens."""
    device = door_of(request).device(token)
    handed_on = in_at_loopback(request.scope) and not (device is not None and device.here)
    by_proxy = handed_on and request.app.state.names.public.startswith("https://")
    secure = by_proxy or request.url.scheme == "https"
    answer.set_cookie(DEVICE_COOKIE, token, max_age=YEAR_S, httponly=True, samesite="strict", secure=secure)


def name_of(request: Request) -> str:
    """What a device may be called, by what it says of itself."""
    told = request.headers.get("user-agent", "")
    known = {"iPhone": say("a phone"), "Android": say("a phone"), "iPad": say("a tablet")}
    known |= dict.fromkeys(("Windows", "Mac OS", "Linux"), say("a computer"))
    return next((words for key, words in known.items() if key in told), say("a device"))
