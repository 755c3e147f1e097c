"""At the cup: the target on the left, the drops tapped as they fall, what a puff on paper says, and the corrections."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.mix import prediction
from diachrom.core.mix.story import VERDICTS
from diachrom.web.kit import choices
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import AtBench, FormRowId, OpenStore, Text
from diachrom.web.kit.devices import DevicePanel, chosen_reader, reader_panel
from diachrom.web.kit.frame import CupUnderWay, frame, under_way
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.spectral_file import BroughtFile
from diachrom.web.kit.story_view import StoryView, story_view
from diachrom.web.kit.swatches import Bead, Swatch, bead, swatch
from diachrom.web.kit.target_view import TargetView, target_view
from diachrom.words import capitalized, listed, quantity, say, say_count
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.opened import Store
from diachrom.work.mix import cup
from diachrom.work.pour import pouring
from diachrom.work.shelf.on_shelf import at_hand

router = APIRouter(include_in_schema=False)


@dataclass(frozen=True)
class LineView:
    bottle: int
    name: str
    bead: Bead
    fallen: int
    coming: int
    counted: str  # "4 of 6", or "2 more than planned"
    is_next: bool
    hint: str  # how far its first drop goes


@dataclass(frozen=True)
class PourPage:
    name: str
    revision: int
    lines: Sequence[LineView]
    planned: bool
    next_name: str
    target: TargetView | None
    now: Swatch | None
    sentence: str
    verdicts: Sequence[Choice]
    bottles: Sequence[Choice]
    story: StoryView
    device: DevicePanel
    undo: str | None
    can_finish: bool
    last_said: str  # the verdict that was given last
    said: str
    rail_cup: CupUnderWay


def _line(line: pouring.PouringLine, following: int | None) -> LineView:
    over = line.drops - line.planned
    counted = say("{drops} of {planned}", drops=line.drops, planned=line.planned) if line.planned else str(line.drops)
    if line.planned and over > 0:
        counted = say("{drops}, {over} more than planned", drops=line.drops, over=over)
    bottle = line.row.bottle
    return LineView(
        bottle=bottle.id,
        name=bottle.full_name,
        bead=bead(line.row),
        fallen=line.drops,
        coming=max(0, -over),
        counted=counted,
        is_next=bottle.id == following,
        hint=""
        if line.first_goes is None
        else say("its first drop goes {first_goes} % of its way", first_goes=quantity(100 * line.first_goes, ".0f")),
    )


def pour_page(request: Request, store: Store, devices: Devices, said: str = "") -> PourPage:
    """The cup under way, drop by drop, beside its target."""
    seen = pouring.see(store)
    lines = [_line(line, seen.next_bottle) for line in seen.lines]
    if seen.delta_e is None or seen.target is None:
        sentence = "" if seen.lab is None else say("No target is chosen: there is nothing to compare the cup with.")
    else:
        sentence = say(
            "{start} beside {name}, dE {delta_e}.",
            start=capitalized(seen.difference),
            name=seen.target.name,
            delta_e=quantity(seen.delta_e, ".1f"),
        )
    return PourPage(
        name=seen.now.draft.name,
        revision=seen.now.revision,
        lines=lines,
        planned=seen.planned,
        next_name=next((one.name for one in lines if one.is_next), ""),
        target=target_view(store, seen.target) if seen.target else None,
        now=None if seen.lab is None else swatch(prediction.colour_of(seen.lab.tolist())),
        sentence=sentence,
        verdicts=choices.said(VERDICTS),
        bottles=[Choice(str(bottle.id), bottle.full_name) for bottle in at_hand(store)],
        story=story_view(store, seen.told, seen.path, seen.target),
        device=reader_panel(devices, chosen_reader(request, devices)),
        undo=seen.now.undo,
        can_finish=seen.now.draft.drops > 0,
        last_said=next((one.verdict.words for one in reversed(seen.told) if one.verdict), ""),
        said=said,
        rail_cup=under_way(seen.contents),
    )


@router.get("/pour")
def show(request: Request, store: OpenStore, devices: AtBench) -> Response:
    """Pour it drop by drop."""
    page = pour_page(request, store, devices)
    return render("pour/page.html", page=page, frame=frame(request, store, "mix"))


def _changed(request: Request, store: Store, devices: Devices, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse("/pour", 303)
    return render("pour/changed.html", page=pour_page(request, store, devices, said))


@router.post("/pour/start")
def start(store: OpenStore) -> Response:
    """Begin to pour the cup as it is written down."""
    pouring.start(store, at=clock.now())
    return RedirectResponse("/pour", 303)


@router.post("/pour/back")
def back(store: OpenStore) -> Response:
    """Back to Mix, with the cup as counted."""
    cup.back_to_counted(store, at=clock.now())
    return RedirectResponse("/mix", 303)


@router.post("/pour/fall")
def fall(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    bottle: FormRowId,
    drops: Annotated[int, Form(ge=-60, le=60)] = 1,
) -> Response:
    """Enter drops that fell."""
    if drops > 0:
        cup.give(store, bottle, drops, at=clock.now())
    else:
        cup.pour(store, bottle, drops, at=clock.now())
    return _changed(request, store, devices)


@router.post("/pour/judge")
def judge(request: Request, store: OpenStore, devices: AtBench, verdict: Text) -> Response:
    """Say what the eye sees of a puff on paper."""
    pouring.judge(store, verdict, at=clock.now())
    return _changed(request, store, devices)


@router.post("/pour/read")
def read(request: Request, store: OpenStore, devices: AtBench) -> Response:
    """Read a puff on paper with a device."""
    verdict = pouring.read_paper(store, devices, chosen_reader(request, devices), at=clock.now())
    return _changed(request, store, devices, say("Read: {words}.", words=verdict.words))


@router.post("/pour/file")
def from_file(request: Request, store: OpenStore, devices: AtBench, brought: BroughtFile) -> Response:
    """Read a puff on paper from a file of spectra."""
    verdict = pouring.from_sample(store, brought.name, brought.sample, at=clock.now())
    read = say("Read: {words}.", words=verdict.words)
    return _changed(request, store, devices, f"{read} {brought.said}")


@router.post("/pour/undo")
def undo(request: Request, store: OpenStore, devices: AtBench) -> Response:
    """Take the last drop or verdict back."""
    did = cup.undo(store)
    return _changed(
        request, store, devices, say("Taken back: {did}.", did=did) if did else say("There is nothing to undo.")
    )


@router.post("/pour/finish")
def finish(request: Request, store: OpenStore, devices: AtBench, name: Text = "") -> Response:
    """Save it as poured."""
    done = pouring.finish(store, name, at=clock.now())
    place = say("recipe {recipe}, version {version}", recipe=done.saved.recipe, version=done.saved.version)
    charged = say(
        "{ml} taken out of {bottles}",
        ml=quantity(done.taken.ml, ".2f", "ml"),
        bottles=say_count(done.taken.bottles, "{count} bottle", "{count} bottles"),
    )
    below = (
        " " + say("More than was in it is gone from {below}.", below=listed(done.taken.below))
        if done.taken.below
        else ""
    )
    kept = (
        say("Saved as {place}, with its story", place=place)
        if done.is_new
        else say("It is {place} already", place=place)
    )
    return _changed(request, store, devices, f"{kept}; {charged}.{below}")
