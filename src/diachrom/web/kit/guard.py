"""What every request passes: whom it is for, where it comes from, how large it is; headers that keep a page at home."""

from collections.abc import Callable

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import Request
from starlette.types import ASGIApp, Message, Receive, Scope, Send

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
LOOPBACK = ("127.0.0.1", "localhost", "[::1]")  # the names that this server answers to
OWN_SITE = ("same-origin", "none")  # a page of ours, or somebody's own hand


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


def _name(host: str) -> str:
    """A Host header without its port."""
    name, _, port = host.rpartition(":")
    return (name if name and port.isdigit() else host).lower()


def _foreign(origin: str | None) -> str:
    return f"A request from {(origin or '')[:80]} is not taken: only Diachrom's own pages may ask for anything."


def _is_followed_link(scope: Scope, headers: Headers) -> bool:
    """A page that somebody opens by a link elsewhere; no other site can see what it holds."""
    opened = headers.get("sec-fetch-mode") == "navigate" and headers.get("sec-fetch-dest") == "document"
    return scope["method"] == "GET" and opened and not scope["path"].startswith("/api/")


class Guard:
    """Plain ASGI around everything else, so that an answer to a fault of ours is dressed too."""

    def __init__(self, app: ASGIApp, refuse: Callable[[Request, int, str, str], ASGIApp]) -> None:
        """`refuse` dresses a status, a sentence and what it is about for whoever asked."""
        self.app, self.refuse = app, refuse

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        refuse = self._refusal(scope, headers)
        if refuse is not None:
            await self.refuse(Request(scope), *refuse)(scope, receive, self._dressed(scope, send))
            return
        await self.app(scope, self._limited(receive, *_limit(scope, headers)), self._dressed(scope, send))

    @staticmethod
    def _refusal(scope: Scope, headers: Headers) -> tuple[int, str, str] | None:
        host = headers.get("host", "")
        if _name(host) not in LOOPBACK:
            # Any other name is one that somebody else may have pointed here.
            return 421, f"This server answers to 127.0.0.1 and localhost only, not to '{host[:80]}'.", "host"
        length = headers.get("content-length", "0")
        most, sentence = _limit(scope, headers)
        if length.isdigit() and int(length[:20]) > most:
            return 413, sentence, "body"
        origin = headers.get("origin")
        if scope["method"] not in ("GET", "HEAD", "OPTIONS") and origin not in (None, f"http://{host}"):
            return 403, _foreign(origin), "origin"
        site = headers.get("sec-fetch-site", "none")
        if site not in OWN_SITE and not _is_followed_link(scope, headers):
            return 403, _foreign("another site"), "sec-fetch-site"
        return None

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
                    headers[name] = value
                kept = scope["path"].startswith("/static/") and b"v=" in scope["query_string"]
                headers["Cache-Control"] = "public, max-age=31536000, immutable" if kept else "no-store"
            await send(message)

        return dressed
