"""The rest of a mix that wants one, as it runs down on a page, and skipping it."""

from dataclasses import dataclass
from math import ceil

from fastapi import APIRouter
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.web.kit.dependencies import OpenStore
from diachrom.words import say
from diachrom.work.mix import resting
from diachrom.work.mix.resting import Rest

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class RestView:
    minutes: int  # in all
    until: str  # ISO time
    words: str  # what is left


def rest_view(rest: Rest | None) -> RestView | None:
    """None where nothing rests any more."""
    left = rest.left_s(clock.now()) if rest else 0.0
    return (
        RestView(rest.minutes, rest.until.isoformat(), say("Rests {minutes} min more", minutes=ceil(left / 60)))
        if rest and left
        else None
    )


@router.post("/mix/rest")
def skip(store: OpenStore) -> Response:
    """End the rest of a candy mix before its time."""
    resting.skip(store, at=clock.now())
    return RedirectResponse("/mix", 303)
