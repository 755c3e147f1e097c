"""The next drop, beside the cup: what helps, what would spoil it, and the way back."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter
from fastapi.responses import Response

from diachrom.core.light import words
from diachrom.core.mixing.next_drop import Advice
from diachrom.core.mixing.where import facing
from diachrom.store.targets import Target
from diachrom.web.match_view import TargetView, target_view
from diachrom.web.needs import OpenStore
from diachrom.web.pages import render
from diachrom.web.swatches import Swatch, swatch
from diachrom.work import aiming, match_at_cup
from diachrom.work.matching import Candidate
from diachrom.work.opened import Store

router = APIRouter()
HELPS_SHOWN = 3


@dataclass(frozen=True)
class HelpView:
    bottle: int
    drops: int
    words: str
    detail: str
    swatch: Swatch


@dataclass(frozen=True)
class NextPage:
    target: TargetView
    sentence: str
    helps: Sequence[HelpView]
    spoils: str
    rescue: str


def next_page(store: Store, target: Target, advice: Advice, candidates: Sequence[Candidate]) -> NextPage:
    def name(at: int) -> str:
        bottle = candidates[at].bottle
        return bottle.full_name if bottle is not None else candidates[at].key

    helps = [
        HelpView(
            one_bottle.id,
            way.drops,
            f"{way.drops} {name(way.index)}",
            f"{way.words}; then dE {way.delta_e:.1f}",
            swatch(aiming.colour_of(way.labs[facing(target.seen.views)].tolist())),
        )
        for way in advice.helps[:HELPS_SHOWN]
        if (one_bottle := candidates[way.index].bottle) is not None
    ]
    close = words.closeness(advice.delta_e)
    beside = "" if advice.difference.startswith("the same") else f": it is {advice.difference}"
    sentence = f"Beside {target.name} {close}, dE {advice.delta_e:.1f}{beside}."
    if advice.stop:
        sentence += " Stop: no single bottle brings it nearer."
    strong = sorted(advice.spoils, key=lambda at: -advice.first_drop[at])[:4]
    spoils = f"One drop too many: {', '.join(name(at) for at in strong)}." if strong else ""
    rescue = ""
    if advice.rescue is not None:
        parts = " and ".join(f"{drops} {name(at)}" for at, drops in advice.rescue.parts)
        then = f"to dE {advice.rescue.delta_e:.1f}; the cup is then {advice.rescue.volume_ml:.2f} ml"
        rescue = f"Two together go nearer: {parts}, {then}."
    return NextPage(target_view(store, target), sentence, helps, spoils, rescue)


@router.get("/mix/next")
def next_drop(store: OpenStore) -> Response:
    found = match_at_cup.next_drop(store)
    return render("next_drop.html", next=next_page(store, *found) if found else None)
