"""Your mist: how thick a dot of it lies, from cards or from a photo, and what that changes before it is taken."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.mix.layers import COATS_UM, THICKEST_DISC_UM
from diachrom.core.mix.prediction import colour_of
from diachrom.errors import InvalidInput
from diachrom.store import mist
from diachrom.store.mist import Mist
from diachrom.web.kit.dependencies import AtBench, Background, OpenStore, Text, Upload
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.plot import Axes, Curve, Plot
from diachrom.web.kit.strip_view import ColumnView, columns
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.cards import apply_learning, mist_lesson, mist_looks, mist_photos
from diachrom.work.cards.mist_lesson import MistLesson, Refit
from diachrom.work.kit.fields import number_field, read_fields
from diachrom.work.kit.looks import look
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks

router = APIRouter(include_in_schema=False)
TYPED = (number_field("droplet_um", say("A dot, µm"), least=0.0, most=THICKEST_DISC_UM),)
TYPED_OFF = 0.15  # of a size that somebody typed
SAME = 0.02  # of a strength, relative
SHOWN = 60
MISFIT_SHOWN = 6.0  # standard deviations, at the top of the plot


@dataclass(frozen=True)
class RefitView:
    id: str
    name: str
    before: Swatch
    after: Swatch
    words: str


@dataclass(frozen=True)
class LessonView:
    headline: str
    told: str  # what a photo showed
    plot: Plot | None
    refits: Sequence[RefitView]
    even: str  # names of those that stay even films
    hand: str
    record: str


@dataclass(frozen=True)
class StripView:
    words: str
    columns: Sequence[ColumnView]


@dataclass(frozen=True)
class MistPage:
    size: str
    words: str
    name: str  # of what the strips show
    strips: Sequence[StripView]
    dots: Sequence[tuple[float, float, float]]  # of one mist coat, x, y, radius in hundredths
    dot_fill: str
    cards: int
    running: bool
    percent: int
    problem: str
    lesson: LessonView | None
    can_undo: bool
    said: str
    film_um: str
    droplet_um: str


SOURCES = {
    "usual": say("A usual mist. Nothing was measured yet, so what mist coats look like is less sure."),
    "even": say("Your coats are taken for even films, as all were until now."),
    "cards": say("Found from your drawdown cards."),
    "photo": say("Read off a photo of one pass."),
    "typed": say("As you typed it."),
}


def mist_page(store: Store, tasks: Tasks, said: str = "", problem: str = "") -> MistPage:
    """The mist as it is believed, and what is found of another."""
    now, task = mist.now(store), mist_lesson.under_way(tasks)
    own = None if task is None or not task.finished else task.found
    sizes = [(say("as even films"), 0.0)]
    if now.droplet_um:
        sizes.append((say("in your dots, {size}", size=_um(now.droplet_um)), now.droplet_um))
    if own is not None and own.after.droplet_um:
        sizes.append((say("in dots of {size}", size=_um(own.after.droplet_um)), own.after.droplet_um))
    shown = mist_looks.beside(store, sizes)
    last = sizes[-1][1]
    dots = mist_looks.scattered(COATS_UM["mist"], last, (own.after if own else now).across_um)
    standing = next((one for one in apply_learning.every(store) if one.undone_at is None), None)
    return MistPage(
        size=_um(now.droplet_um) if now.droplet_um else say("no dots"),
        words=SOURCES[now.source],
        name="" if shown is None else shown.name,
        strips=[] if shown is None else [StripView(words, columns(strip)) for words, strip in shown.strips],
        dots=[(round(100 * x, 1), round(100 * y, 1), round(100 * radius, 1)) for x, y, radius in dots],
        dot_fill="" if shown is None else swatch(mist_looks.one_disc(shown, last)).fill,
        cards=len(mist_lesson.cards_that_tell(store)),
        running=task is not None and task.going_on,
        percent=0 if task is None else round(100 * task.done / task.total),
        problem=problem or ("" if task is None else task.problem),
        lesson=None if own is None or task is None else _lesson(own, task.told),
        can_undo=standing is not None and standing.mist is not None,
        said=said,
        film_um=f"{COATS_UM['mist']:g}",
        droplet_um=f"{now.droplet_um:.1f}",
    )


def _um(value: float) -> str:
    return quantity(value, ".1f", "µm")


def _lesson(own: MistLesson, told: str) -> LessonView:
    after = own.after
    if after.droplet_um:
        low, high = own.within_um
        headline = say(
            "Dots {size} thick; nine in ten between {low} and {high}.",
            size=_um(after.droplet_um),
            low=_um(low),
            high=_um(high),
        )
    else:
        headline = say("No dots: your coats flow together, even films fit best.")
    if own.cards:
        headline += " " + say_count(own.cards, "From {count} drawdown card.", "From {count} drawdown cards.")
    refits = [_refit(one) for one in own.all_refits[:SHOWN]]
    hand = record = ""
    if own.lesson is not None and own.lesson.helps:
        hand = say(
            "Your hand: {before} times as thick as planned until now, {after} then.",
            before=quantity(own.lesson.hand[0], ".2f"),
            after=quantity(own.lesson.hand[1], ".2f"),
        )
        record = say(
            "Spray-out cards left out: dE {before} before they are learned from anew, {after} after.",
            before=quantity(own.lesson.delta_e[0], ".1f"),
            after=quantity(own.lesson.delta_e[1], ".1f"),
        )
    return LessonView(
        headline=headline,
        told=told,
        plot=None if own.found is None else _plot(mist_lesson.curve(own.found)),
        refits=refits,
        even=listed(one.full_name for one in own.even),
        hand=hand,
        record=record,
    )


def _refit(one: Refit) -> RefitView:
    beads = [look(paint).bead for paint in (one.before, one.after)]
    first, second = (swatch(bead) if bead else swatch(colour_of((50, 0, 0))) for bead in beads)
    words = (
        say("as strong as before, from {readings}", readings=one.readings)
        if abs(one.stronger - 1) < SAME
        else say("{times} times as strong, from {readings}", times=quantity(one.stronger, ".2f"), readings=one.readings)
    )
    return RefitView(one.record.id, one.record.full_name, first, second, words)


def _plot(points: Sequence[tuple[float, float]]) -> Plot:
    """The misfit of the cards by the size of dots."""
    axes = Axes(0.0, points[-1][0], MISFIT_SHOWN)
    path = axes.line(points)
    ticks = [(axes.x(um), say("{um} µm", um=um) if um == 8 else str(um)) for um in (0, 2, 4, 6, 8)]
    worst = min(points, key=lambda one: one[1])
    return Plot(
        key="misfit",
        title=say("How far the cards are off, by the thickness of a dot"),
        words=say("least at {size}", size=_um(worst[0])),
        curves=[Curve("", axes.y(points[0][1]), path)],
        x_ticks=ticks,
        y_ticks=[(axes.y(float(at)), str(at)) for at in (0, 2, 4, 6)],
    )


def _answer(request: Request, store: Store, tasks: Tasks, said: str = "", problem: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse("/mist", 303)
    return render("cards/mist_body.html", page=mist_page(store, tasks, said, problem))


@router.get("/mist")
def show(request: Request, store: OpenStore, tasks: Background) -> Response:
    """The dots of this bench's mist."""
    page = mist_page(store, tasks)
    if is_fragment_wanted(request):
        return render("cards/mist_body.html", page=page)
    return render("cards/mist.html", page=page, frame=frame(request, store, "test-cards"))


@router.post("/mist/find")
def find(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Look for dots that fit the cards best."""
    mist_lesson.start(tasks)
    return _answer(request, store, tasks)


@router.post("/mist/stop")
def stop(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Stop looking; nothing is changed."""
    tasks.stop(mist_lesson.KIND)
    tasks.forget(mist_lesson.KIND)
    return _answer(request, store, tasks, say("Nothing was changed."))


@router.post("/mist/photo")
def photo(
    request: Request, store: OpenStore, tasks: Background, file: Upload, film_um: Text = "", wide_mm: Text = ""
) -> Response:
    """Read a macro photo of one pass on white."""
    content = file.file.read()
    return _read(request, store, tasks, (file.filename or "photo", content, film_um, wide_mm))


@router.post("/mist/camera")
def camera(request: Request, store: OpenStore, tasks: Background, devices: AtBench, film_um: Text = "") -> Response:
    """The simulated camera takes one."""
    content, wide_mm = mist_photos.take_photo(devices, film_um)
    return _read(request, store, tasks, (say("of the simulated camera"), content, film_um, wide_mm))


def _read(request: Request, store: Store, tasks: Tasks, brought: tuple[str, bytes, str, str]) -> Response:
    name, content, film_um, wide_mm = brought
    found = mist_photos.read(store, name, content, film_um=film_um, wide_mm=wide_mm)
    if found.photo.even:
        said = say("No dots on this photo: this coat flowed together.")
    else:
        said = say(
            "{covered} of the white is covered, in dots {across} wide.",
            covered=quantity(100 * found.photo.covered, ".0f", "%"),
            across=quantity(found.mist.across_um, ".0f", "µm"),
        )
    mist_lesson.start(tasks, found.mist, said)
    return _answer(request, store, tasks)


@router.post("/mist/typed")
def typed(request: Request, store: OpenStore, tasks: Background, droplet_um: Text = "") -> Response:
    """What dots of a typed size would change."""
    value = read_fields(TYPED, {"droplet_um": droplet_um}).get("droplet_um")
    if not isinstance(value, float):
        raise InvalidInput(say("Type how thick a dot lies, in µm; 0 for coats that flow together."), field="droplet_um")
    wanted: Mist = replace(mist.now(store), droplet_um=value, off=TYPED_OFF if value else 0.0, source="typed")
    mist_lesson.start(tasks, wanted)
    return _answer(request, store, tasks)


@router.post("/mist/take")
def take(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Lay these dots from now on."""
    mist_lesson.take(store, mist_lesson.to_take(tasks), at=clock.now())
    tasks.forget(mist_lesson.KIND)
    return _answer(request, store, tasks, say("In use: coats are predicted in these dots from now on."))


@router.post("/mist/undo")
def undo(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Take the last change of the mist back."""
    left = mist_lesson.undo(store, at=clock.now())
    tasks.forget(mist_lesson.KIND)
    words = say("Undone: the mist is as it was.")
    if left:
        words += " " + say("Measured since and left as they are: {left}.", left=listed(left))
    return _answer(request, store, tasks, words)
