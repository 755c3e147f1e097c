"""The Match page: a target, how it is matched, and the mixes that come nearest, each best at something."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from fastapi import APIRouter, Form, Path, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.light import words
from diachrom.core.mixing.alternatives import Alternative
from diachrom.core.mixing.draft import Part
from diachrom.core.mixing.layers import COATS_UM
from diachrom.core.mixing.prediction import Colour
from diachrom.errors import InvalidInput
from diachrom.store import bottles, targets
from diachrom.store import recipes as saved_recipes
from diachrom.store.targets import Target
from diachrom.web import choices
from diachrom.web.answers import go
from diachrom.web.choices import Choice, Group
from diachrom.web.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.frame import frame
from diachrom.web.needs import AtBench, GivenForm, OpenStore
from diachrom.web.pages import is_fragment_wanted, render
from diachrom.web.plot import Axes, Curve, Dot, Plot
from diachrom.web.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.work import aiming, match_at_cup, standing_in
from diachrom.work.aiming import Settings
from diachrom.work.fields import number
from diachrom.work.match_jobs import MatchJob, MatchJobs
from diachrom.work.opened import Store
from diachrom.work.over import called, recipe_key
from diachrom.work.shelf import seen

router = APIRouter()
Number = Annotated[int, Path()]
Text = Annotated[str, Form()]
RECIPES_OFFERED = 40
OUT_OF_REACH = 3.0  # dE


@dataclass(frozen=True)
class TargetView:
    id: int
    name: str
    detail: str
    swatch: Swatch


@dataclass(frozen=True)
class AlternativeView:
    kinds: str
    parts: str  # "22x3-18x6": bottles and drops
    words: str
    beads: BeadString
    swatch: Swatch
    difference: str
    delta_e: str
    bottles: Sequence[tuple[int, str]]
    facts: Sequence[tuple[str, str]]


@dataclass(frozen=True)
class MatchPage:
    target: TargetView | None
    targets: Sequence[TargetView]
    settings: Settings
    dilution: str
    grounds: Sequence[Group]
    thicknesses: Sequence[tuple[float, str]]
    recipes: Sequence[Choice]
    found: "FoundPage"
    device: DevicePanel


@dataclass(frozen=True)
class FoundPage:
    target: TargetView | None
    going_on: bool
    problem: str
    count_words: str
    limits: str
    alternatives: Sequence[AlternativeView]
    plot: Plot | None
    left_out: Sequence[tuple[int, str]] = ()


def _colour(lab: Sequence[float]) -> Colour:
    return aiming.colour_of(lab)


def target_view(one: Target) -> TargetView:
    return TargetView(one.id, one.name, one.source, swatch(_colour(one.lab)))


def _jobs(request: Request) -> MatchJobs:
    jobs: MatchJobs = request.app.state.matches
    return jobs


def _found(request: Request, store: Store) -> FoundPage:
    target, _ = aiming.aim(store)
    if target is None:
        return FoundPage(None, False, "", "", "", [], None)
    job = _jobs(request).start(request.app.state.folder, store)
    return found_page(store, job) if job else FoundPage(None, False, "", "", "", [], None)


def found_page(store: Store, job: MatchJob) -> FoundPage:
    found = list(job.found)
    views = [_alternative(store, job, one) for one in found]
    best = found[0].match if found else None
    limits = ""
    if best is not None and job.finished and best.delta_e > OUT_OF_REACH:
        missing = words.difference(best.lab, aiming.point(job.target))
        limits = (
            f"No mix of these bottles comes nearer here: the target is {missing} than they go. The shelf ends here."
        )
    return FoundPage(
        target_view(job.target),
        not job.finished,
        job.problem,
        f"{job.evaluated:,} cups tried".replace(",", " ") + ("" if job.finished else ", still looking"),
        limits,
        views,
        _plot(job) if job.reach is not None and len(job.reach) > 2 else None,
        [(key, one.full_name) for key, one in bottles.by_id(store, job.settings.left_out).items()],
    )


def _alternative(store: Store, job: MatchJob, one: Alternative) -> AlternativeView:
    parts = [(job.candidates[at], drops) for at, drops in one.match.parts]
    bottles_ = [candidate.bottle for candidate, _ in parts if candidate.bottle is not None]
    rows = {row.bottle.id: row for row in seen(store, bottles_)}
    own = [Part(c.bottle.id, drops, c.drop_ml) for c, drops in parts if c.bottle is not None]
    far = one.match.delta_e
    facts = [
        ("An uneven hand", f"likely within dE {one.spread_delta_e:.1f}"),
        ("In other light", f"{one.worst_light}: {words.closeness(one.worst_delta_e)}, dE {one.worst_delta_e:.1f}"),
    ]
    if one.price is not None:
        facts.append(("Paint for it", f"{one.price:.2f}"))
    kinds = ", ".join(one.kinds)
    return AlternativeView(
        kinds[0].upper() + kinds[1:],
        "-".join(f"{part.bottle}x{part.drops}" for part in own),
        ", ".join(f"{drops} {rows[c.bottle.id].bottle.full_name}" for c, drops in parts if c.bottle is not None),
        bead_string(own, rows),
        swatch(_colour(one.match.lab.tolist())),
        words.difference(aiming.point(job.target), one.match.lab),
        f"dE {far:.1f}",
        [(part.bottle, rows[part.bottle].bottle.full_name) for part in own],
        facts,
    )


def _plot(job: MatchJob) -> Plot:
    """The reach of the shelf in a*b*, the target and what was found."""
    outline = [] if job.reach is None else job.reach.tolist()
    points = [(job.target.lab[1], job.target.lab[2]), *((m.match.lab[1], m.match.lab[2]) for m in job.found)]
    most = max(60.0, *(abs(value) for point in [*outline, *points] for value in point)) * 1.08
    axes = Axes(-most * 1.25, most * 1.25, most, -most)
    path = axes.line([*outline, outline[0]])
    dots = [
        Dot(
            axes.x(m.match.lab[1]),
            axes.y(m.match.lab[2]),
            swatch(_colour(m.match.lab.tolist())).fill,
            swatch(_colour(m.match.lab.tolist())).p3,
        )
        for m in job.found
    ]
    aim = swatch(_colour(job.target.lab))
    dots.append(Dot(axes.x(job.target.lab[1]), axes.y(job.target.lab[2]), aim.fill, aim.p3, chosen=True))
    ticks = [(axes.y(value), text) for value, text in ((most * 0.9, "yellow"), (0.0, "grey"), (-most * 0.9, "blue"))]
    marks = [(axes.x(-most), "green"), (axes.x(most), "red")]
    said = f"The target at a {job.target.lab[1]:.0f}, b {job.target.lab[2]:.0f}; the outline is how far the shelf goes"
    return Plot(
        "reach", "How far the shelf goes; the ringed dot is the target", said, [Curve("", 0, path, dots)], marks, ticks
    )


@router.get("/match")
def show(request: Request, store: OpenStore, devices: AtBench) -> Response:
    target, settings = aiming.aim(store)
    recipes = saved_recipes.newest_versions(store, most=RECIPES_OFFERED)
    page = MatchPage(
        target_view(target) if target else None,
        [target_view(one) for one in targets.latest(store, aiming.TARGETS_SHOWN)],
        settings,
        f"{100 * settings.dilution:g}",
        [choices.grounds(), Group("Recipes, as sprayed", [Choice(recipe_key(one), called(one)) for one in recipes])],
        [(um, key) for key, um in COATS_UM.items()],
        [Choice(str(one.recipe), called(one)) for one in recipes],
        _found(request, store),
        reader_panel(devices, chosen_reader(request, devices)),
    )
    return render("match.html", page=page, frame=frame(request, store, "match"))


@router.get("/match/found")
def found(request: Request, store: OpenStore) -> Response:
    return render("match_changed.html", found=_found(request, store))


@router.post("/match/stop")
def stop(request: Request, store: OpenStore) -> Response:
    jobs = _jobs(request)
    jobs.stop()
    if jobs.job is None:
        return go(request, "/match")
    return render("match_changed.html", found=replace(found_page(store, jobs.job), going_on=False))


@router.post("/match/settings")
def settings(request: Request, store: OpenStore, given: GivenForm) -> Response:
    _, old = aiming.aim(store)
    try:
        new = replace(
            old,
            ground=given.get("ground", old.ground)[:80],
            film_um=number(given.get("film_um", str(old.film_um))),
            coats=int(given.get("coats", old.coats)),
            clear_coat=given.get("clear_coat", "true") == "true",
            max_paints=int(given.get("max_paints", old.max_paints)),
            max_drops=int(given.get("max_drops", old.max_drops)),
            dilution=number(given.get("dilution", str(100 * old.dilution))) / 100,
        )
    except (ValueError, OverflowError):
        raise InvalidInput("Coats, bottles and drops are whole numbers.", field="settings") from None
    aiming.set_up(store, new)
    if is_fragment_wanted(request):
        return render("match_changed.html", found=_found(request, store))
    return go(request, "/match")


@router.post("/match/leave-out")
def leave_out(request: Request, store: OpenStore, bottle: Annotated[int, Form(ge=0, le=2**53)]) -> Response:
    aiming.leave_out(store, bottle)
    if is_fragment_wanted(request):
        return render("match_changed.html", found=_found(request, store))
    return go(request, "/match")


@router.post("/match/pour")
def pour(request: Request, store: OpenStore, parts: Text) -> Response:
    match_at_cup.into_cup(store, standing_in.read_key(parts), at=clock.now())
    return go(request, "/mix")
