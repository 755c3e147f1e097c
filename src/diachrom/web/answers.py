"""Answers that are not a page: going elsewhere, and files."""

from fastapi import Request
from fastapi.responses import RedirectResponse, Response

from diachrom.web.pages import is_fragment_wanted


def go(request: Request, path: str) -> Response:
    """To a page, for htmx as for a plain form."""
    if is_fragment_wanted(request):
        return Response(status_code=204, headers={"HX-Redirect": path})
    return RedirectResponse(path, 303)


def file(content: bytes, name: str, media: str) -> Response:
    """A file to be kept."""
    return Response(content, media_type=media, headers={"Content-Disposition": f'attachment; filename="{name}"'})
