"""Two baits beside each other, and before and after as a slider over one picture."""

from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.bait.view import SIDES
from diachrom.errors import NotFound
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore, RowId
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.plan.view import choices
from diachrom.words import say
from diachrom.work.kit.opened import Store
from diachrom.work.plan import bringing, plans

router = APIRouter(include_in_schema=False)
WIDE = 1100  # px


@dataclass(frozen=True)
class ComparePage:
    """A plan as it stands, and what it is compared with."""

    number: int
    name: str
    chosen: str
    side: str
    others: Sequence[Choice]
    sides: Sequence[Choice]
    before: str  # addresses
    after: str
    before_words: str
    after_words: str
    over_each_other: bool  # both are of one blank


@router.get("/plan/{number}/compare")
def compare(request: Request, store: OpenStore, number: RowId, other: str = "", side: str = "left") -> Response:
    """A plan beside itself with fewer layers, a version of it, or another plan."""
    page = _compared(store, number, other[:40], side if side in SIDES else "left")
    return render("plan/compare.html", page=page, frame=frame(request, store, "plan"))


def _compared(store: Store, number: int, other: str, side: str) -> ComparePage:
    """Raises NotFound for what there is not."""
    now = plans.now(store, number)
    layers = now.plan.layers
    name = now.plan.name or say("Plan {number}", number=number)
    versions = {f"version-{one.version}": one for one in plans.versions(store, number)}
    baits = {f"plan-{one.now.number}": one.now for one in bringing.listed(store, "") if one.now.number != number}
    others = [
        Choice(f"steps-{count}", say("{plan} after {count} of {all} layers", plan=name, count=count, all=len(layers)))
        for count in range(len(layers) - 1, -1, -1)
    ]
    others += [
        Choice(key, say("{plan}, version {version}", plan=name, version=one.version)) for key, one in versions.items()
    ]
    others += [Choice(key, one.plan.name or say("Plan {number}", number=one.number)) for key, one in baits.items()]
    if not others:
        raise NotFound(say("There is nothing to compare it with: add a layer, save a version or begin another plan."))
    words = {one.key: one.words for one in others}
    chosen = other if other in words else others[0].key
    kind, _, which = chosen.partition("-")
    whole = f"/plan/{number}/picture.png?side={side}&width={WIDE}&r={now.revision}"
    blank = now.plan.blank
    if kind == "version":
        blank = versions[chosen].document.blank
    elif kind == "plan":
        blank = baits[chosen].plan.blank
    before = {
        "steps": f"{whole}&steps={which}",
        "version": f"{whole}&version={which}",
        "plan": f"/plan/{which}/picture.png?side={side}&width={WIDE}",
    }[kind]
    return ComparePage(
        number=number,
        name=name,
        chosen=chosen,
        side=side,
        others=others,
        sides=choices(SIDES),
        before=before,
        after=whole,
        before_words=words[chosen],
        after_words=say("{plan} as it stands", plan=name),
        over_each_other=blank == now.plan.blank,
    )
