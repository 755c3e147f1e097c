"""Answers that are not a page: going elsewhere, and files."""

import gzip
import re
from urllib.parse import quote, urlsplit

from fastapi import Request
from fastapi.responses import RedirectResponse, Response

from diachrom.web.kit.names import Names
from diachrom.web.kit.pages import is_fragment_wanted

PLAIN = ":/%#?=@[]!$&'()*+,;"  # what an address in a header may hold as it is


def go(request: Request, path: str) -> Response:
    """To a page, for htmx as for a plain form."""
    if is_fragment_wanted(request):
        return Response(status_code=204, headers={"HX-Redirect": quote(path, safe=PLAIN)})
    return RedirectResponse(path, 303)


def socket_address(request: Request) -> str:
    """Where this server is, by the socket that a request came in by and not by what it calls it; ends in a slash."""
    host, port = request.scope["server"]
    return f"http://{host}:{port}/" if port != 80 else f"http://{host}/"


def own_address(request: Request) -> str:
    """Where others reach this server, by what was set or shared, else by its socket. Ends in a slash."""
    names: Names = request.app.state.names
    return names.address(socket_address(request))


def code_for(request: Request, path: str) -> str:
    """What a printed code of a page says: its address, or where nobody is to be led anywhere, its number."""
    if request.app.state.settings().codes == "number":
        return path.replace("/", " ")
    return own_address(request) + path


def came_from(request: Request) -> str:
    """The path of our own page that a request came from, the cup's when it came from anywhere else."""
    try:
        there = urlsplit(request.headers.get("referer", ""))
    except ValueError:  # no address at all
        return "/mix"
    own = there.netloc == request.headers.get("host") and there.path.startswith("/") and there.path[1:2] not in "/\\"
    return f"{there.path}{'?' * bool(there.query)}{there.query}" if own else "/mix"


def counted_already(request: Request) -> Response:
    """To a press that was sent again: the page that it came from, as it is now."""
    if is_fragment_wanted(request):
        return Response(status_code=204, headers={"X-Counted-Already": "true"})
    return RedirectResponse(came_from(request), 303)


def packed(request: Request, content: bytes, media: str, *, cache: str) -> Response:
    """What is kept as gzip: as it is for who says that it takes that, else unpacked."""
    headers = {"Vary": "Accept-Encoding", "Cache-Control": cache}
    # By Accept-Encoding: named, or any, and not with a weight of nothing [RFC 9110, 12.5.3].
    accepts = request.headers.get("accept-encoding", "")
    weights = {}
    for one in accepts.lower().split(","):
        coding, *parameters = (part.strip() for part in one.split(";"))
        told = next((part[2:] for part in parameters if part.startswith("q=")), "1")
        weights[coding] = not re.fullmatch(r"0(\.0*)?", told.strip())
    takes_gzip = weights.get("gzip", weights.get("x-gzip", weights.get("*", False)))
    if not takes_gzip:
        return Response(gzip.decompress(content), media_type=media, headers=headers)
    return Response(content, media_type=media, headers={"Content-Encoding": "gzip", **headers})


def file(content: bytes, name: str, media: str) -> Response:
    """A file to be kept."""
    return Response(content, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
