"""What every request passes: whom it is for, where it comes from, how large it is; headers that keep a page at home."""

from collections.abc import Callable
from contextlib import suppress
from http.cookies import CookieError, SimpleCookie

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.responses import RedirectResponse
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from diachrom.store.access import WRITE, Device
from diachrom.web.kit.names import Names, by_own_hand, name_of
from diachrom.words import say

LARGEST_BODY = 1_000_000  # bytes
LARGEST_UPLOAD = 10_200_000  # a file of at most 10 MB, and the form around it
LARGEST_BENCH, WHOLE_BENCH = 500_200_000, "/files/bench"
LARGER = {
    LARGEST_BODY: say("The body is larger than 1 MB."),
    LARGEST_UPLOAD: say("The file is larger than 10 MB; it was refused before it was read."),
    LARGEST_BENCH: say("The file is larger than 500 MB; it was refused before it was read."),
}
FOREIGN = "A request from {} is refused: only Diachrom's own pages may ask for anything."

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self'; connect-src 'self';"
        " manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}
SAFE = ("GET", "HEAD", "OPTIONS")
OPEN_TO_ALL = (
    "/sign-in",
    "/pair/",
    "/guest/",
    "/static/",
    "/access/worker.js",
    "/access/app.webmanifest",
    "/access/authority.crt",
)  # without being known
DEVICE_COOKIE = "device"
COSTLY = ("skin", "at", "effect", "found", "next")  # and whatever is a file
MOST_COSTLY = 24  # at once
DeviceOf = Callable[[str], Device | None]
# What a scope says of a request.
AT_MACHINE, DEVICE_NAME, SENT_AWAY = "diachrom.at_machine", "diachrom.device", "diachrom.sent_away"
SCRIPT = "diachrom.script"  # a Device, by the key that it gave
OWN_SITE = ("same-origin", "none")  # a page of ours, or somebody's own hand


def at_machine(request: Request) -> bool:
    """Whether it comes from the machine itself: what only it may do is decided by this."""
    return request.scope.get(AT_MACHINE) is True


def was_sent_away(request: Request) -> bool:
    """Whether it comes from a device that was let in once, and is not any more."""
    return bool(request.scope.get(SENT_AWAY))


def device_name(request: Request) -> str:
    """What the device is called that a request comes from; "" for the machine itself."""
    return str(request.scope.get(DEVICE_NAME, ""))


def is_script(request: Request) -> bool:
    """Whether whoever asks gave a key."""
    return SCRIPT in request.scope


def may_write(request: Request) -> bool:
    """Whether a script may write: with a key that does, or without one at the machine itself or a device's browser."""
    script = request.scope.get(SCRIPT)
    return script is None or script.may == WRITE


def asker(request: Request) -> int:
    """The number of the key that a script gave, 0 where it needs none."""
    script = request.scope.get(SCRIPT)
    return 0 if script is None else int(script.number)


class TooLarge(Exception):
    """The body is larger than any document, or any file, of this application."""


class Guard:
    """Plain ASGI around everything else, so that an answer to a fault of ours is dressed too."""

    def __init__(
        self,
        app: ASGIApp,
        refuse: Callable[[Request, int, str, str], ASGIApp],
        names: Names,
        *,
        device_of: DeviceOf,
        script_of: DeviceOf,
        goes_out: Callable[[str], bool],
    ) -> None:
        """`refuse` dresses a status, a sentence and what it is about for whoever asked; `device_of` knows the tokens of
        devices that were let in, `script_of` the keys of scripts; `goes_out` tells the paths of files that do."""
        self.app, self.refuse, self.names, self.device_of, self.script_of = app, refuse, names, device_of, script_of
        self.goes_out = goes_out
        self._costly = 0

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers, path, method = Headers(scope=scope), scope["path"], scope["method"]
        # Files are forms of several parts, and a whole bench comes with its photos.
        is_form = headers.get("content-type", "").startswith("multipart/form-data")
        most = LARGEST_BENCH if path == WHOLE_BENCH else LARGEST_UPLOAD if is_form else LARGEST_BODY
        # Drawn or written for this request alone, and nothing that anybody elsewhere links to.
        last = path.rpartition("/")[2]
        costly = not path.startswith("/static/") and (last in COSTLY or "." in last)
        seen = 0

        async def counted() -> Message:
            """Bodies without a length are counted as they come."""
            nonlocal seen
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
                raise TooLarge(LARGER[most])
            return message

        async def dressed(message: Message) -> None:
            if message["type"] == "http.response.start":
                answered = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    answered.setdefault(name, value)
                cache = "no-store"
                if path.startswith("/static/"):  # what a script imports is asked for without its digest
                    named = b"v=" in scope["query_string"]
                    cache = "public, max-age=31536000, immutable" if named else "no-cache"
                answered["Cache-Control"] = cache
                if message["status"] == 401:
                    answered["WWW-Authenticate"] = "Bearer"
                if scope.get(SENT_AWAY) and not scope[AT_MACHINE]:  # it forgets what it kept
                    answered["X-Forget"] = "1"
                    answered["Clear-Site-Data"] = '"cache", "storage"'
            elif method == "HEAD":  # the same as GET, without what it would hold
                message = {**message, "body": b""}
            await send(message)

        refusal = self._refusal(scope, headers, most, costly=costly)
        bears_key = headers.get("authorization", "")[:6].lower() == "bearer"  # a proxy's own kind is none of ours
        if refusal is None and bears_key:
            refusal = self._script_refusal(scope, headers)
        elif refusal is None and not self._may_come_in(scope, headers):
            opened = method == "GET" and headers.get("sec-fetch-mode", "navigate") == "navigate"
            if opened and not path.startswith("/api/"):
                await RedirectResponse("/sign-in", 303)(scope, receive, dressed)
                return
            refusal = 401, say("Pair this device first, or sign in."), "device"
        if refusal is None and costly and self._costly >= MOST_COSTLY:
            refusal = 503, say("Too many pictures are being drawn just now."), "path"
        if refusal is not None:
            await self.refuse(Request(scope), *refusal)(scope, receive, dressed)
            return
        self._costly += costly
        try:
            await self.app({**scope, "method": "GET"} if method == "HEAD" else scope, counted, dressed)
        finally:
            self._costly -= costly

    def _script_refusal(self, scope: Scope, headers: Headers) -> tuple[int, str, str] | None:
        """Why a script is not let in by the key that it gives, wherever it runs: what a key opens is /api/ and the
        files that go out."""
        script = self.script_of(headers["authorization"][6:].strip()[:200])
        scope[SCRIPT], scope[AT_MACHINE] = script, False
        scope[DEVICE_NAME] = "" if script is None else script.name
        if script is None:
            return (
                401,
                say("This key is not known: it was sent away, or never made. Make one at On the network."),
                "Authorization",
            )
        path = scope["path"]
        if not (path.startswith("/api/") or (scope["method"] in SAFE and self.goes_out(path))):
            return 403, say("A key opens /api/ and files, not pages."), "path"
        return None

    def _may_come_in(self, scope: Scope, headers: Headers) -> bool:
        """What nobody handed on is at home, until an address is set: behind a proxy strangers come in there too, and
        their requests may look the same. From then on a browser of the machine bears a token as any other device."""
        cookies = SimpleCookie()
        with suppress(CookieError):
            cookies.load(headers.get("cookie", "")[:4000])
        device = self.device_of(cookies[DEVICE_COOKIE].value) if DEVICE_COOKIE in cookies else None
        own_hand = by_own_hand(scope, headers)
        scope[DEVICE_NAME] = "" if device is None else device.name
        scope[SENT_AWAY] = device is None and DEVICE_COOKIE in cookies
        scope[AT_MACHINE] = own_hand and (not self.names.public or (device is not None and device.here))
        return scope[AT_MACHINE] or device is not None or scope["path"].startswith(OPEN_TO_ALL)

    def _refusal(self, scope: Scope, headers: Headers, most: int, *, costly: bool) -> tuple[int, str, str] | None:
        """Why a request is not taken, whoever asks: the status, a sentence, and what it is about."""
        host, method = headers.get("host", ""), scope["method"]
        if name_of(host) not in self.names.hosts:
            # Any other name is one that somebody else may have pointed here.
            hosts = " and ".join(dict.fromkeys(one for one in self.names.hosts if one != "[::1]"))
            return (
                421,
                say("This server answers to {hosts} only, not to '{host}'.", hosts=hosts, host=host[:80]),
                "host",
            )
        length = headers.get("content-length", "0")
        if length.isdigit() and int(length[:20]) > most:
            return 413, LARGER[most], "body"
        if method not in SAFE:
            origin = headers.get("origin")
            if origin is not None and not self.names.is_own(origin, host):
                return 403, FOREIGN.format(origin[:80]), "origin"
            # A browser's form without anything that says whose page it is from; scripts by hand say no such thing.
            in_browser = "mozilla" in headers.get("user-agent", "").lower()
            if origin is None and in_browser and "sec-fetch-site" not in headers:
                scheme, _, rest = headers.get("referer", "").partition("://")
                if not self.names.is_own(f"{scheme}://{rest.partition('/')[0]}", host):
                    return 403, FOREIGN.format("a page that does not say which it is"), "origin"
        if headers.get("sec-fetch-site", "none") not in OWN_SITE:
            # A page that somebody opens by a link elsewhere is shown: no other site can see what it holds.
            # What our worker hands on has no destination any more: it hands on nothing but whole pages.
            dest = headers.get("sec-fetch-dest")
            opened = headers.get("sec-fetch-mode") == "navigate" and dest in ("document", "empty")
            if not opened or method != "GET" or costly or scope["path"].startswith("/api/"):
                return 403, FOREIGN.format("another site"), "sec-fetch-site"
        return None
