"""Adjust by eye: what is wrong with the cup in words, and the drops that help."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.mix import prediction
from diachrom.core.pour.verdict import TOO, WORDS
from diachrom.errors import InvalidInput
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.mix import cup
from diachrom.work.pour import by_eye
from diachrom.work.pour.by_eye import WaySeen

router = APIRouter(include_in_schema=False)
MOST_SAID = 5
NEARLY = 0.85  # of a step


@dataclass(frozen=True)
class WayView:
    """Drops to add, and what they do."""

    value: str
    words: str
    goes: str
    strays: str
    swatch: Swatch


@dataclass(frozen=True)
class ByEyePage:
    """The cup, what is wrong with it, and what helps."""

    name: str
    now: Swatch | None
    verdicts: Sequence[Choice]
    said: Sequence[str]  # keys
    ways: Sequence[WayView]
    sentence: str
    undo: str | None


def _page(store: OpenStore, verdicts: Sequence[str]) -> ByEyePage:
    seen = cup.see(store)
    said, found = [one for one in verdicts if one in TOO][:MOST_SAID], by_eye.ByEye(None, [])
    try:
        found = by_eye.ways(store, said)
        sentence = found.sentence
    except InvalidInput as error:
        sentence = str(error)
    return ByEyePage(
        name=seen.now.draft.name or say("The cup"),
        now=None if found.now is None else swatch(prediction.colour_of(found.now)),
        verdicts=[Choice(f"too {word}", words) for word, words in WORDS.items()],
        said=said,
        ways=[_way(one) for one in found.ways],
        sentence=sentence,
        undo=seen.now.undo,
    )


def _way(one: WaySeen) -> WayView:
    way = one.way
    parts = [
        say_count(drops, "{count} drop of {name}", "{count} drops of {name}", name=bottle.full_name)
        for bottle, drops in one.parts
    ]
    if way.towards >= NEARLY:
        goes = say("goes all the way")
    else:
        goes = say("goes {share} % of the way", share=quantity(100 * way.towards, ".0f"))
    strays = ""
    if one.strays:
        strays = say("and is {strays} (dE {side})", strays=one.strays, side=quantity(way.side, ".1f"))
    return WayView(one.value, listed(parts, say(" and ")), goes, strays, swatch(prediction.colour_of(way.lab.tolist())))


@router.get("/mix/by-eye")
def show(request: Request, store: OpenStore, verdict: Annotated[list[str], Query()] = []) -> Response:  # noqa: B006
    """What is wrong with the cup in words, and the drops that help."""
    page = _page(store, verdict)
    if is_fragment_wanted(request):
        return render("mix/by_eye_body.html", page=page)
    return render("mix/by_eye.html", page=page, frame=frame(request, store, "mix"))


@router.post("/mix/by-eye")
def put(store: OpenStore, parts: Text = "", verdict: Annotated[list[str], Form()] = []) -> Response:  # noqa: B006
    """Pour one of the ways into the cup."""
    by_eye.put(store, parts, verdict, at=clock.now())
    return RedirectResponse("/mix/by-eye", 303)


@router.post("/mix/by-eye/undo")
def undo(store: OpenStore) -> Response:
    """Take the last step back."""
    cup.undo(store)
    return RedirectResponse("/mix/by-eye", 303)
