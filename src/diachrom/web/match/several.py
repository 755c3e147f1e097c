"""Several targets matched together: the fewest bottles that make all of them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Query, Request
from fastapi.responses import Response

from diachrom.core.light import words
from diachrom.core.mix.draft import Part
from diachrom.core.mix.prediction import colour_of
from diachrom.web.kit.dependencies import Background, OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.web.kit.target_view import TargetView, target_view
from diachrom.words import capitalized, listed, quantity, say, say_count
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.match import several, targets
from diachrom.work.match.several import SeveralTask
from diachrom.work.shelf.on_shelf import seen as seen_on_shelf

router = APIRouter(include_in_schema=False)
Number = Annotated[int, Form(ge=1, le=2**31)]


@dataclass(frozen=True)
class MixedZone:
    """A target beside the mix for it."""

    name: str
    target: Swatch
    mixed: Swatch
    beads: BeadString
    drops: str
    words: str
    parts: str


@dataclass(frozen=True)
class SeveralPage:
    choices: Sequence[tuple[TargetView, bool]]
    running: bool
    problem: str
    headline: str
    bottles: str
    zones: Sequence[MixedZone]
    most: int


def _page(store: Store, tasks: Tasks, wanted: Sequence[int] = ()) -> SeveralPage:
    task = several.now(tasks)
    if task is not None and wanted and {target.id for target in task.targets} != set(wanted):
        task = None  # what was found is of others
    chosen = set(wanted) or ({one.id for one in task.targets} if task else set())
    views = [(target_view(store, one), one.id in chosen) for one in targets.latest(store)]
    zones = [] if task is None or task.palette is None else _zones(store, task)
    if task is None or task.palette is None:
        headline = ""
    else:
        closeness = task.settings.wish.closeness
        near = sum(one.delta_e <= closeness for one in task.palette.mixes)
        bottles, colours = (
            say_count(len(task.palette.bottles), "{count} bottle", "{count} bottles"),
            len(task.palette.mixes),
        )
        if near == colours:
            headline = say(
                "{bottles} bring all {colours} colours within dE {closeness}.",
                bottles=bottles,
                colours=colours,
                closeness=quantity(closeness, "g"),
            )
        else:
            headline = say(
                "{bottles} bring {near} of {colours} colours within dE {closeness}, the rest about as near as this "
                "shelf goes.",
                bottles=bottles,
                near=near,
                colours=colours,
                closeness=quantity(closeness, "g"),
            )
    return SeveralPage(
        choices=views,
        running=task is not None and task.going_on,
        problem="" if task is None else task.problem,
        headline=headline,
        bottles="" if task is None else _bottles(task),
        zones=zones,
        most=several.MOST_TARGETS,
    )


def _bottles(task: SeveralTask) -> str:
    if task.palette is None:
        return ""
    bottles = [task.candidates[index].bottle for index in sorted(task.palette.bottles)]
    return listed(bottle.full_name for bottle in bottles if bottle is not None)


def _zones(store: Store, task: SeveralTask) -> list[MixedZone]:
    if task.palette is None:
        return []
    zones = []
    for target, mix in zip(task.targets, task.palette.mixes, strict=True):
        held = [
            (candidate.bottle, candidate.drop_ml, drops)
            for candidate, drops in task.parts(mix)
            if candidate.bottle is not None
        ]
        rows = {row.bottle.id: row for row in seen_on_shelf(store, [bottle for bottle, _, _ in held])}
        parts = [Part(bottle.id, drops, drop_ml) for bottle, drop_ml, drops in held]
        told = words.turning(targets.labs_of(target), mix.labs)
        zones.append(
            MixedZone(
                name=target.name,
                target=swatch(colour_of(targets.point(target).tolist())),
                mixed=swatch(colour_of(mix.lab.tolist())),
                beads=bead_string(parts, rows),
                drops=listed(f"{drops} {bottle.full_name}" for bottle, _, drops in held),
                words=say(
                    "{difference}, dE {delta_e}",
                    difference=capitalized(told),
                    delta_e=quantity(mix.delta_e, ".1f"),
                ),
                parts="-".join(f"{part.bottle}x{part.drops}" for part in parts),
            )
        )
    return zones


@router.get("/match/together")
def show(
    request: Request, store: OpenStore, tasks: Background, target: Annotated[list[int] | None, Query()] = None
) -> Response:
    """Several targets together, with the fewest bottles."""
    page = _page(store, tasks, target or ())
    if is_fragment_wanted(request):
        return render("match/several_body.html", page=page)
    return render("match/several.html", page=page, frame=frame(request, store, "match"))


@router.post("/match/together")
def start(
    request: Request, store: OpenStore, tasks: Background, target: Annotated[list[Number] | None, Form()] = None
) -> Response:
    """Begin to match several targets together."""
    several.start(store, tasks, target or [])
    return show(request, store, tasks)


@router.post("/match/together/stop")
def stop(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Stop it; what was found stays."""
    tasks.stop(several.KIND)
    return show(request, store, tasks)
