"""Learning from spray-out cards: what they teach, shown before it is taken, and what was taken before."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.cards.learning import FEWEST
from diachrom.core.light.words import closeness
from diachrom.core.mix.prediction import colour_of
from diachrom.core.profiles.contrast_card import on_card
from diachrom.store.learnings import Learning
from diachrom.web.kit.dependencies import Background, OpenStore
from diachrom.web.kit.formatting import day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import is_fragment_wanted, render
from diachrom.web.kit.plot import Plot
from diachrom.web.kit.profile_plots import spectra
from diachrom.web.kit.swatches import Swatch, swatch
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.cards import apply_learning, learn_task
from diachrom.work.cards.learning import Aside, Lesson, RecipeChange, cards_there
from diachrom.work.kit.looks import look
from diachrom.work.kit.opened import Store
from diachrom.work.kit.tasks import Tasks
from diachrom.work.mix.sprayed_over import called

router = APIRouter(include_in_schema=False)
SAME = 0.015  # relative, below which nothing is said
LEANS = 0.02
SHOWN_RECIPES = 40


@dataclass(frozen=True)
class PaintView:
    id: str
    name: str
    before: Swatch
    after: Swatch
    words: str
    gain: str
    plot: Plot


@dataclass(frozen=True)
class ChangedRecipe:
    number: int
    name: str
    before: Swatch
    after: Swatch
    words: str


@dataclass(frozen=True)
class AsideView:
    number: int
    name: str
    words: str


@dataclass(frozen=True)
class LessonView:
    headline: str
    hand: str
    based: str
    paints: Sequence[PaintView]
    untouched: str  # the paints whose correction is not taken
    drops: Sequence[str]
    recipes: Sequence[ChangedRecipe]
    more_recipes: int
    aside: Sequence[AsideView]
    helps: bool


@dataclass(frozen=True)
class TakenView:
    words: str
    undone: str
    can_undo: bool


@dataclass(frozen=True)
class LearningPage:
    cards: int
    needed: int
    running: bool
    percent: int
    problem: str
    stopped: bool
    lesson: LessonView | None
    taken: Sequence[TakenView]
    said: str


def learning_page(store: Store, tasks: Tasks, said: str = "") -> LearningPage:
    """What the cards say of paints, drops and hand, and what was taken of it before."""
    task = learn_task.now(tasks)
    standing_first = sorted(apply_learning.every(store), key=lambda one: one.undone_at is not None)
    return LearningPage(
        cards=cards_there(store),
        needed=FEWEST,
        running=task is not None and task.going_on,
        percent=0 if task is None else round(100 * task.done / task.total),
        problem="" if task is None else task.problem,
        stopped=task is not None and task.stopping and not task.finished,
        lesson=_lesson(task.lesson) if task is not None and task.finished and task.lesson is not None else None,
        taken=[_taken(one, index) for index, one in enumerate(standing_first)],
        said=said,
    )


def _taken(one: Learning, at: int) -> TakenView:
    words = say(
        "{at}: the hand and {drops}, out of a file",
        at=day(one.at),
        drops=say_count(len(one.drops), "{count} drop", "{count} drops"),
    )
    if one.cards:
        gain = say(
            "dE {delta_e} to {other_delta_e} on cards left out",
            delta_e=quantity(one.delta_e[0], ".1f"),
            other_delta_e=quantity(one.delta_e[1], ".1f"),
        )
        words = say(
            "{at}: {profiles} from {cards}, {gain}",
            at=day(one.at),
            profiles=say_count(len(one.profiles), "{count} profile", "{count} profiles"),
            cards=say_count(one.cards, "{count} card", "{count} cards"),
            gain=gain,
        )
    undone = "" if one.undone_at is None else say("taken back on {undone_at}", undone_at=day(one.undone_at))
    return TakenView(words, undone, at == 0 and one.undone_at is None)


def _lesson(lesson: Lesson) -> LessonView:
    before, after = lesson.delta_e
    taken = [change for change in lesson.paints if change.taken]
    left = [paint.record.full_name for paint in lesson.paints if not paint.taken]
    if lesson.helps:
        headline = say(
            "Cards left out come closer: from dE {before} to {after}, {closeness}.",
            before=quantity(before, ".1f"),
            after=quantity(after, ".1f"),
            closeness=closeness(after),
        )
    else:
        headline = say("Nothing was learned that helps with cards left out. The profiles stay as they are.")
    paints = []
    for own in taken:
        told = [
            _times(own.strength, "stronger", "weaker"),
            _times(own.scattering, say("more hiding"), say("less hiding")),
            ""
            if abs(own.tilt) < LEANS
            else say("leans {what}", what=say("yellower and redder") if own.tilt < 0 else say("bluer and greener")),
        ]
        beads = [look(paint).bead for paint in (own.before, own.after)]
        first, second = (swatch(bead) if bead else swatch(colour_of((50, 0, 0))) for bead in beads)
        without, with_it = own.delta_e
        lines = [(say("over {key}", key=key), on_card(own.after, key), False) for key in ("white", "black")]
        lines += [("", on_card(own.before, key), True) for key in ("white", "black")]
        paints.append(
            PaintView(
                id=own.record.id,
                name=own.record.full_name,
                before=first,
                after=second,
                words=listed(filter(None, told)) or say("almost the same"),
                gain=say(
                    "on {cards}, without it dE {without}, with it {with_it}",
                    cards=say_count(own.cards, "{count} card", "{count} cards"),
                    without=quantity(without, ".1f"),
                    with_it=quantity(with_it, ".1f"),
                ),
                plot=spectra("Solid: as learned; dashed: as it was", lines),
            )
        )
    return LessonView(
        headline=headline,
        hand=_hand(*lesson.hand) if lesson.helps else "",
        based=say(
            "From {cards}, {count} of them set aside. Each paint is judged on cards that it was not learned from.",
            cards=say_count(lesson.cards, "{count} card", "{count} cards"),
            count=len(lesson.aside),
        ),
        paints=paints,
        untouched=listed(left),
        drops=[
            say(
                "{full_name}, bottle {id}: {counted_ml} to {after_ml} µl",
                full_name=drop.bottle.full_name,
                id=drop.bottle.id,
                counted_ml=quantity(1000 * drop.counted_ml, ".1f"),
                after_ml=quantity(1000 * drop.after_ml, ".1f"),
            )
            for drop in lesson.drops
        ],
        recipes=[_recipe(recipe) for recipe in lesson.recipes[:SHOWN_RECIPES]],
        more_recipes=max(0, len(lesson.recipes) - SHOWN_RECIPES),
        aside=[_aside(aside) for aside in lesson.aside],
        helps=lesson.helps,
    )


def _hand(before: float, after: float) -> str:
    if abs(math.log(after)) < SAME:
        return say("Your coats come out as thick as planned.")
    share, so_far = quantity(100 * abs(after - 1), ".0f", "%"), quantity(before, ".2f")
    if abs(math.log(before)) < SAME:
        return (
            say("Your coats come out {share} thicker than planned.", share=share)
            if after > 1
            else say("Your coats come out {share} thinner than planned.", share=share)
        )
    return (
        say("Your coats come out {share} thicker than planned (until now: {so_far} times).", share=share, so_far=so_far)
        if after > 1
        else say(
            "Your coats come out {share} thinner than planned (until now: {so_far} times).", share=share, so_far=so_far
        )
    )


def _times(times: float, more: str, less: str) -> str:
    return (
        ""
        if abs(times - 1) < SAME
        else say("{share} {way}", share=quantity(100 * abs(times - 1), ".0f", "%"), way=more if times > 1 else less)
    )


def _recipe(change: RecipeChange) -> ChangedRecipe:
    before, after = (swatch(colour_of(own.tolist())) for own in (change.before, change.after))
    return ChangedRecipe(
        change.saved.recipe,
        called(change.saved),
        before,
        after,
        say("{words}, dE {delta_e}", words=change.words, delta_e=quantity(change.delta_e, ".1f")),
    )


def _aside(aside: Aside) -> AsideView:
    why = aside.reason
    if why is None:
        words = say("neither other coats nor another bottle explain it: check the card again")
    elif why.key == "coats":
        words = say(
            "as if its coats were {film} times as thick: other coats than written?", film=quantity(why.film, ".1f")
        )
    elif why.key == "not shaken":
        words = say("as if {meant} were far weaker: not shaken?", meant=aside.meant)
    else:
        words = say(
            "as if {poured} had been poured in place of {meant}: the wrong bottle?",
            poured=aside.poured,
            meant=aside.meant,
        )
    left = "" if why is None else say("That would leave dE {left}.", left=quantity(why.left, ".1f"))
    return AsideView(
        aside.card.id,
        aside.name,
        listed(
            filter(
                None, [say("dE {delta_e} off; {words}.", delta_e=quantity(aside.delta_e, ".0f"), words=words), left]
            ),
            " ",
        ),
    )


def _answer(request: Request, store: Store, tasks: Tasks, said: str = "") -> Response:
    if not is_fragment_wanted(request):
        return RedirectResponse("/learning", 303)
    return render("cards/learning_body.html", page=learning_page(store, tasks, said))


@router.get("/learning")
def show(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Learn from the cards: what is known, and how far a search is."""
    page = learning_page(store, tasks)
    if is_fragment_wanted(request):
        return render("cards/learning_body.html", page=page)
    return render("cards/learning.html", page=page, frame=frame(request, store, "test-cards"))


@router.post("/learning/start")
def start(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Begin to learn from all cards that count."""
    learn_task.start(tasks)
    return _answer(request, store, tasks)


@router.post("/learning/stop")
def stop(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Stop learning; nothing is changed."""
    tasks.stop(learn_task.KIND)
    return _answer(request, store, tasks)


@router.post("/learning/take")
def take(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Take what was learned: profiles, drops, hand, as chosen."""
    apply_learning.take(store, learn_task.found(tasks), at=clock.now())
    tasks.forget(learn_task.KIND)
    return _answer(request, store, tasks, say("In use: the new versions of the profiles count from now on."))


@router.post("/learning/undo")
def undo(request: Request, store: OpenStore, tasks: Background) -> Response:
    """Take back what was taken last."""
    last, left = apply_learning.undo(store, at=clock.now())
    tasks.forget(learn_task.KIND)
    words = say("Undone: what was learned on {at}.", at=day(last.at))
    if left:
        words += " " + say("Measured since and left as they are: {left}.", left=listed(left))
    return _answer(request, store, tasks, words)
