"""A customer's link: one page, to be looked at."""

import base64
import hashlib
import re

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.web.access.welcome import door_of
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.pages import render
from diachrom.work.log import customer

router = APIRouter(include_in_schema=False)


@router.get("/guest/{token}")
def guest(request: Request, store: OpenStore, token: str) -> Response:
    """What a customer sees who follows a link: one entry of the log, and nothing else of the bench."""
    own = customer.page(store, door_of(request).entry_for(token))
    answer = render("log/alone.html", own=own, pictures=[(picture.words, picture.picture) for picture in own.pictures])
    # Its style and its pictures are in it, and nothing else may be.
    styles = re.findall(rb"<style>(.*?)</style>", bytes(answer.body), re.DOTALL)
    allowed = " ".join(f"'sha256-{base64.b64encode(hashlib.sha256(style).digest()).decode()}'" for style in styles)
    answer.headers["Content-Security-Policy"] = (
        f"default-src 'none'; style-src {allowed}; img-src data:; base-uri 'none'; frame-ancestors 'none'"
    )
    return answer
