"""The reference photo of a plan: nose and tail, zones, and the mixes that were found for them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.bait.regions import REGIONS
from diachrom.core.bait.zones import Zone
from diachrom.core.mix.prediction import colour_of
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import Background, OpenStore, RowId, Text, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit import photo_picks
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import several
from diachrom.work.plan import reference
from diachrom.work.plan.reference import ZoneMix
from diachrom.work.shelf.on_shelf import on_shelf

router = APIRouter(include_in_schema=False)
Share = Annotated[float, Form(ge=0, le=1)]
Pixel = Annotated[float, Form(ge=0, le=20_000)]


@dataclass(frozen=True)
class ZoneView:
    which: int
    name: str
    region: str
    share: str
    colour: Swatch
    mixed: Swatch | None
    beads: BeadString | None
    words: str


@dataclass(frozen=True)
class ReferencePage:
    number: int
    name: str
    photo: int | None
    width: int
    height: int
    straight: bool
    zones: Sequence[ZoneView]
    regions: Sequence[Choice]
    running: bool
    headline: str
    problem: str
    said: str


def _mixed(store: Store, zone: ZoneMix | None) -> dict[str, object]:
    if zone is None:
        return {"mixed": None, "beads": None, "words": ""}
    shelf = on_shelf(store, [part.bottle for part in zone.parts])
    return {
        "mixed": swatch(colour_of(zone.mix.lab.tolist())),
        "beads": bead_string(zone.parts, shelf),
        "words": say(
            "{what}; dE {delta_e}",
            what=listed(f"{part.drops} {shelf[part.bottle].bottle.full_name}" for part in zone.parts),
            delta_e=quantity(zone.mix.delta_e, ".1f"),
        ),
    }


def _answer(request: Request, store: Store, tasks: Tasks, number: int, said: str = "") -> Response:
    now, found = reference.of(store, number)
    task = several.now(tasks)
    zones: Sequence[Zone] = () if found is None else found.zones
    photo = None if found is None else photo_picks.photo(store, found.photo)
    mixes = [] if found is None else reference.mixes(task, found)
    own = {one.zone: one for one in mixes}
    running = task is not None and task.going_on and any(zone.target for zone in zones)
    if not mixes:
        headline = ""
    else:
        bottles = {part.bottle for one in mixes for part in one.parts}
        headline = say(
            "{bottles} make all {count} zones.",
            bottles=say_count(len(bottles), "{count} bottle", "{count} bottles"),
            count=len(mixes),
        )
    page = ReferencePage(
        number=number,
        name=now.plan.name or say("Plan {number}", number=number),
        photo=None if photo is None else photo.id,
        width=0 if photo is None else photo.width,
        height=0 if photo is None else photo.height,
        straight=found is not None and found.ends is not None,
        zones=[
            ZoneView(
                which=which,
                name=zone.name,
                region=zone.region,
                share=say("{share} % of what is seen", share=quantity(100 * zone.share, ".0f"))
                if zone.share
                else "touched",
                colour=swatch(colour_of(zone.lab)),
                **_mixed(store, own.get(zone)),  # type: ignore[arg-type]
            )
            for which, zone in enumerate(zones)
        ],
        regions=[Choice(key, region.words) for key, region in REGIONS.items()],
        running=running,
        headline=headline,
        problem="" if task is None else task.problem,
        said=said,
    )
    if is_fragment_wanted(request):
        return render("plan/zones.html", page=page)
    return render("plan/reference.html", page=page, frame=frame(request, store, "plan"))


@router.get("/plan/{number}/reference")
def show(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """A reference photo, with the zones found in it."""
    return _answer(request, store, tasks, number)


@router.post("/plan/{number}/reference")
def bring(request: Request, store: OpenStore, number: RowId, photo: Upload) -> Response:
    """Bring a reference photo."""
    reference.bring(store, number, (photo.filename or "photo")[:80], photo.file.read(), at=clock.now())
    return go(request, f"/plan/{number}/reference")


@router.get("/plan/{number}/reference.png")
def picture(store: OpenStore, number: RowId) -> Response:
    """The reference photo as it is kept."""
    made = reference.straightened(store, number)
    return Response(made, media_type="image/png", headers={"Cache-Control": "no-cache"})


@router.post("/plan/{number}/reference/ends")
def ends(
    request: Request, store: OpenStore, number: RowId, nose_x: Pixel, nose_y: Pixel, tail_x: Pixel, tail_y: Pixel
) -> Response:
    """Say where nose and tail are."""
    reference.straighten(store, number, (nose_x, nose_y), (tail_x, tail_y))
    return go(request, f"/plan/{number}/reference")


@router.post("/plan/{number}/zones/{which}/touch")
def touch(
    request: Request, store: OpenStore, tasks: Background, number: RowId, which: RowId, x: Share, y: Share
) -> Response:
    """Find a zone where it was touched."""
    reference.touch(store, number, which, x, y)
    return _answer(request, store, tasks, number)


@router.post("/plan/{number}/zones/{which}")
def change(
    request: Request,
    store: OpenStore,
    tasks: Background,
    number: RowId,
    which: RowId,
    name: Text = "",
    region: Text = "flank",
) -> Response:
    """Change a zone: where it lies, what it is."""
    reference.change(store, number, which, name=name, region=region)
    return _answer(request, store, tasks, number)


@router.post("/plan/{number}/zones/{which}/leave-out")
def leave_out(request: Request, store: OpenStore, tasks: Background, number: RowId, which: RowId) -> Response:
    """Leave a zone out, or take it in again."""
    reference.leave_out(store, number, which)
    return _answer(request, store, tasks, number)


@router.post("/plan/{number}/zones-match")
def match(request: Request, store: OpenStore, tasks: Background, number: RowId) -> Response:
    """Match all zones together with the fewest bottles."""
    reference.match(store, tasks, number, at=clock.now())
    return _answer(request, store, tasks, number)


@router.post("/plan/{number}/zones/{which}/lay")
def lay(request: Request, store: OpenStore, tasks: Background, number: RowId, which: RowId) -> Response:
    """Lay a zone as a layer."""
    said = reference.lay(store, tasks, number, which, at=clock.now())
    return _answer(request, store, tasks, number, said)
