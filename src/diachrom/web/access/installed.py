"""The application as a phone installs it: its manifest, its icons, and the worker that keeps the session under way."""

from fastapi import APIRouter, Request
from fastapi.responses import FileResponse, JSONResponse, Response

from diachrom.web.kit.pages import STATIC
from diachrom.words import say

router = APIRouter(include_in_schema=False)
MANIFEST = {
    "name": "Diachrom",
    "short_name": "Diachrom",
    "id": "/",
    "start_url": "/",
    "scope": "/",
    "display": "standalone",
    "background_color": "#d4d4d4",
    "theme_color": "#bdbdbd",
    "icons": [
        {"src": "/static/icon-192.png", "sizes": "192x192", "type": "image/png", "purpose": "any maskable"},
        {"src": "/static/icon-512.png", "sizes": "512x512", "type": "image/png", "purpose": "any maskable"},
        {"src": "/static/icon.svg", "sizes": "any", "type": "image/svg+xml"},
    ],
}


@router.get("/access/app.webmanifest")
def manifest() -> Response:
    """What a phone needs to put Diachrom beside its other applications."""
    told = {**MANIFEST, "description": str(say("Mixes, plans and the bench session of a lure painter."))}
    return JSONResponse(told, media_type="application/manifest+json")


@router.get("/access/authority.crt")
def authority(request: Request) -> Response:
    """What a device comes to trust so that its browser calls this bench's HTTPS secure. It holds no secret."""
    from diachrom.work.access import certificate  # takes a while, and few need it

    path = certificate.authority(request.app.state.folder)
    return FileResponse(path, media_type="application/x-x509-ca-cert", filename="authority.crt")


@router.get("/access/worker.js")
def worker() -> Response:
    """The script that answers where the network does not."""
    headers = {"Service-Worker-Allowed": "/"}  # it is of every page
    return FileResponse(STATIC / "worker.js", media_type="text/javascript", headers=headers)
