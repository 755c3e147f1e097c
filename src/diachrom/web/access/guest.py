"""A customer's link: one page, to be looked at."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.web.access.welcome import door_of
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.pages import render
from diachrom.work.log import customer

router = APIRouter(include_in_schema=False)


@router.get("/guest/{token}")
def guest(request: Request, store: OpenStore, token: str) -> Response:
    own = customer.page(store, door_of(request).entry_for(token))
    return render("log/alone.html", own=own, pictures=[(one.words, one.picture) for one in own.pictures])
