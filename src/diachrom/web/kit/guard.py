"""What every request passes: whom it is for, where it comes from, how large it is; headers that keep a page at home."""

from collections.abc import Callable
from contextlib import suppress
from http.cookies import CookieError, SimpleCookie

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from diachrom.store.access import Device
from diachrom.web.kit.names import Names, by_own_hand, name_of

LARGEST_BODY = 1_000_000  # bytes
LARGEST_UPLOAD = 10_200_000  # a file of at most 10 MB, and the form around it
LARGEST_BENCH, WHOLE_BENCH = 500_200_000, "/files/bench"

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; connect-src 'self';"
        " form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
SAFE = ("GET", "HEAD", "OPTIONS")
OPEN_TO_ALL = ("/sign-in", "/pair/", "/guest/", "/static/")  # without being known
DEVICE_COOKIE = "device"
COSTLY = ("skin", "at", "effect", "found", "next")  # and whatever is a file
MOST_COSTLY = 24  # at once
DeviceOf = Callable[[str], Device | None]
AT_MACHINE = "diachrom.at_machine"  # what a scope says of a request
OWN_SITE = ("same-origin", "none")  # a page of ours, or somebody's own hand


def at_machine(request: Request) -> bool:
    """Whether it comes from the machine itself: what only it may do is decided by this."""
    return request.scope.get(AT_MACHINE) is True


class TooLarge(Exception):
    """The body is larger than any document, or any file, of this application."""


def _limit(scope: Scope, headers: Headers) -> tuple[int, str]:
    """How large a body may be, and what is said of a larger one: files are forms of several parts, and a whole bench
    comes with its photos."""
    if scope["path"] == WHOLE_BENCH:
        return LARGEST_BENCH, "The file is larger than 500 MB; it was refused before it was read."
    if headers.get("content-type", "").startswith("multipart/form-data"):
        return LARGEST_UPLOAD, "The file is larger than 10 MB; it was refused before it was read."
    return LARGEST_BODY, "The body is larger than 1 MB."


def _foreign(origin: str | None) -> str:
    return f"A request from {(origin or '')[:80]} is not taken: only Diachrom's own pages may ask for anything."


def _is_followed_link(scope: Scope, headers: Headers) -> bool:
    """A page that somebody opens by a link elsewhere; no other site can see what it holds."""
    opened = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") == "document"
    path = scope["path"]
    return scope["method"] == "GET" and opened and not path.startswith("/api/") and not _is_costly(scope)


def _headless(send: Send) -> Send:
    async def headless(message: Message) -> None:
        await send({**message, "body": b""} if message["type"] == "http.response.body" else message)

    return headless


def _is_costly(scope: Scope) -> bool:
    """Drawn or written for this request alone, and nothing that anybody elsewhere links to."""
    path = scope["path"]
    return not path.startswith("/static/") and (path.rpartition("/")[2] in COSTLY or "." in path.rpartition("/")[2])


class Guard:
    """Plain ASGI around everything else, so that an answer to a fault of ours is dressed too."""

    def __init__(
        self, app: ASGIApp, refuse: Callable[[Request, int, str, str], ASGIApp], names: Names, device_of: DeviceOf
    ) -> None:
        """`refuse` dresses a status, a sentence and what it is about for whoever asked; `device_of` knows the tokens of
        devices that were let in."""
        self.app, self.refuse, self.names, self.device_of = app, refuse, names, device_of
        self._costly = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refuse = self._refusal(scope, headers)
        dressed = self._dressed(scope, send)
        if refuse is not None:
            await self.refuse(Request(scope), *refuse)(scope, receive, dressed)
        elif not self._may_come_in(scope, headers):
            if scope["method"] == "GET" and headers.get("sec-fetch-mode", "navigate") == "navigate":
                await RedirectResponse("/sign-in", 303)(scope, receive, dressed)
            else:
                await self.refuse(Request(scope), 401, "Pair this device first, or sign in.", "device")(
                    scope, receive, dressed
                )
        elif self._costly >= MOST_COSTLY and _is_costly(scope):
            await self.refuse(Request(scope), 503, "Too many pictures are being drawn just now.", "path")(
                scope, receive, dressed
            )
        else:
            await self._let(scope, self._limited(receive, *_limit(scope, headers)), dressed)

    async def _let(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["method"] == "HEAD":  # the same as GET, without what it would hold
            scope, send = {**scope, "method": "GET"}, _headless(send)
        costly = _is_costly(scope)
        self._costly += costly
        try:
            await self.app(scope, receive, send)
        finally:
            self._costly -= costly

    def _may_come_in(self, scope: Scope, headers: Headers) -> bool:
        """What nobody handed on is at home, until an address is set: behind a proxy strangers come in there too, and
        their requests may look the same. From then on a browser of the machine bears a token as any other device."""
        device = self._device(headers)
        own_hand = by_own_hand(scope, headers)
        scope[AT_MACHINE] = own_hand and (not self.names.public or (device is not None and device.here))
        return scope[AT_MACHINE] or device is not None or scope["path"].startswith(OPEN_TO_ALL)

    def _device(self, headers: Headers) -> Device | None:
        cookies = SimpleCookie()
        with suppress(CookieError):
            cookies.load(headers.get("cookie", "")[:4000])
        return self.device_of(cookies[DEVICE_COOKIE].value) if DEVICE_COOKIE in cookies else None

    def _refusal(self, scope: Scope, headers: Headers) -> tuple[int, str, str] | None:
        host = headers.get("host", "")
        if name_of(host) not in self.names.hosts:
            # Any other name is one that somebody else may have pointed here.
            own = " and ".join(dict.fromkeys(one for one in self.names.hosts if one != "[::1]"))
            return 421, f"This server answers to {own} only, not to '{host[:80]}'.", "host"
        length = headers.get("content-length", "0")
        most, sentence = _limit(scope, headers)
        if length.isdigit() and int(length[:20]) > most:
            return 413, sentence, "body"
        origin = headers.get("origin")
        if scope["method"] not in SAFE:
            if origin is not None and not self.names.is_own(origin, host):
                return 403, _foreign(origin), "origin"
            if origin is None and self._is_nameless_form(headers, host):
                return 403, _foreign("a page that does not say which it is"), "origin"
        site = headers.get("sec-fetch-site", "none")
        if site not in OWN_SITE and not _is_followed_link(scope, headers):
            return 403, _foreign("another site"), "sec-fetch-site"
        return None

    def _is_nameless_form(self, headers: Headers, host: str) -> bool:
        """A browser's form without anything that says whose page it is from; scripts by hand say no such thing."""
        if "sec-fetch-site" in headers or "mozilla" not in headers.get("user-agent", "").lower():
            return False
        scheme, _, rest = headers.get("referer", "").partition("://")
        return not self.names.is_own(f"{scheme}://{rest.partition('/')[0]}", host)

    @staticmethod
    def _limited(receive: Receive, most: int, sentence: str) -> Receive:
        """Bodies without a length are counted as they come."""
        seen = 0

        async def counted() -> Message:
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
                raise TooLarge(sentence)
            return message

        return counted

    @staticmethod
    def _dressed(scope: Scope, send: Send) -> Send:
        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers.setdefault(name, value)
                kept = scope["path"].startswith("/static/") and b"v=" in scope["query_string"]
                headers["Cache-Control"] = "public, max-age=31536000, immutable" if kept else "no-store"
            await send(message)

        return dressed
