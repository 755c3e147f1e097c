"""Addresses that pages once had: printed codes and bookmarks still lead to them."""

from urllib.parse import quote

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

router = APIRouter(include_in_schema=False)
MOVED = {"spray-outs": "test-cards", "cards": "contrast-cards"}


@router.get("/cards/{rest:path}")
@router.get("/spray-outs")
@router.get("/spray-outs/{rest:path}")
def moved(request: Request) -> Response:
    """For good, with everything that follows."""
    first, slash, rest = request.url.path.removeprefix("/").partition("/")
    query = f"?{request.url.query}" if request.url.query else ""
    return RedirectResponse(f"/{MOVED[first]}{slash}{rest}{query}", 308)


@router.get("/paints/{paint_id}/stand-ins")
def substitutes(paint_id: str) -> Response:
    return RedirectResponse(f"/paints/{quote(paint_id, safe='')}/substitutes", 308)
