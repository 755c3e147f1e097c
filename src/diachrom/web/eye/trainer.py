"""The eye's trainer: a target and three bottles, a guess of their drops, and a record over time."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from random import Random
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.eye.trainer import MOST_GUESSED, SKILLS, OneDrop
from diachrom.core.light.words import closeness
from diachrom.demo.paints import PAINTS
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import OpenStore, RowId, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Axes, Curve, Dot, Plot, apart
from diachrom.web.kit.strip_view import ColumnView, single
from diachrom.web.kit.swatches import Bead, bead_of
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.eye import training
from diachrom.work.eye.training import OTHER, OWN, SHELVES, RoundSeen, Shelf, Trainee
from diachrom.work.kit.opened import Store

router = APIRouter(include_in_schema=False)
Drops = Annotated[int, Form(ge=-1, le=999)]
WIDE, HIGH, LEFT = 500, 180, 140
WORST_SHOWN = 12.0  # dE
LEAST_GAIN = 0.3  # dE


@dataclass(frozen=True)
class OfferedBottle:
    name: str
    bead: Bead
    guess: int | None
    target: int


@dataclass(frozen=True)
class RoundView:
    number: int
    skill: str
    level: int
    ground: str
    target: ColumnView
    guess: ColumnView | None
    bottles: Sequence[OfferedBottle]
    verdict: str
    figures: str
    one_drop: Sequence[str]
    turns: bool
    angles: Sequence[float]


@dataclass(frozen=True)
class SkillView:
    words: str
    told: str
    weakest: bool


@dataclass(frozen=True)
class TrainerPage:
    round: RoundView | None
    shelf: str
    shelves: Sequence[Choice]
    skills: Sequence[SkillView]
    plot: Plot | None
    most: int = MOST_GUESSED


@lru_cache(maxsize=1)
def _demo_shelf() -> Shelf:
    return {
        demo_paint.id: Trainee(demo_paint.id, demo_paint.full_name, demo_paint.profile(), demo_paint.drop_ml)
        for demo_paint in PAINTS
    }


def _shelf(store: Store, key: str) -> Shelf:
    return _demo_shelf() if key == OTHER else training.own_shelf(store)


def _page(store: Store, seen: RoundSeen | None) -> TrainerPage:
    records = training.record(store)
    shelf = seen.kept.shelf if seen else OWN
    worst = max((one.delta_e for one in records if one.delta_e is not None), default=None)
    views = []
    for record in records:
        if record.delta_e is None:
            told = say("not tried yet")
        else:
            told = say(
                "level {level}, lately dE {delta_e}, {rounds}",
                level=record.level,
                delta_e=quantity(record.delta_e, ".1f"),
                rounds=say_count(len(record.rounds), "{count} round", "{count} rounds"),
            )
        views.append(SkillView(record.words, told, record.delta_e is not None and record.delta_e == worst))
    # A line for each skill over its rounds.
    longest = max((len(one.rounds) for one in records), default=0)
    if longest < 2:
        plot = None
    else:
        axes = Axes(1, longest, WORST_SHOWN, width=WIDE, height=HIGH, left=LEFT)
        curves = []
        for kept_record in records:
            points = [(float(index), kept.delta_e or 0.0) for index, kept in enumerate(kept_record.rounds, start=1)]
            if points:
                dots = [Dot(axes.x(x), axes.y(y), "#6b6b6b", "color(display-p3 .42 .42 .42)") for x, y in points]
                curves.append(Curve(kept_record.words, dots[0].y, axes.line(points), dots))
        ticks = [(axes.y(value), say("dE {value}", value=quantity(value, "g"))) for value in (0.0, 3.0, 6.0, 12.0)]
        marks = [(axes.x(1), "first"), (axes.x(longest), say("round {longest}", longest=longest))]
        words = listed((f"{one.words}: {len(one.rounds)} rounds" for one in records if one.rounds), "; ")
        title = say("dE of each guess, round after round")
        plot = axes.plot("training", title, words, apart(curves), x_ticks=marks, y_ticks=ticks)
    return TrainerPage(
        _round(seen) if seen else None,
        shelf,
        [Choice(key, words) for key, words in SHELVES.items()],
        views,
        plot,
    )


def _round(seen: RoundSeen) -> RoundView:
    kept, column = seen.kept, seen.target.columns[0]
    guess = kept.guess or (None,) * len(kept.drops)
    bottles = []
    for bottle, target, own in zip(seen.bottles, kept.drops, guess, strict=True):
        bottles.append(OfferedBottle(bottle.name, bead_of(bottle.look, bottle.paint.kind), own, target))
    judged = seen.judged
    return RoundView(
        number=kept.id,
        skill=SKILLS[kept.skill].words,
        level=kept.level,
        ground=column.over.words,
        target=single(column.patches[-1], "target", say("the target")),
        guess=single(seen.guess.columns[0].patches[-1], "guess", say("your guess")) if seen.guess else None,
        bottles=bottles,
        verdict="" if judged is None else _verdict(judged.words),
        figures=""
        if judged is None
        else say(
            "dE {delta_e}: {closeness}.", delta_e=quantity(judged.delta_e, ".1f"), closeness=closeness(judged.delta_e)
        ),
        one_drop=[] if judged is None else _one_drop(judged.delta_e, judged.drops, seen.bottles),
        turns=column.has_direction,
        angles=seen.target.angles_deg,
    )


def _verdict(words: str) -> str:
    if words.startswith("the same side by side") and "," not in words:
        return say("Yours is the same side by side.")
    return say("Yours is {words}.", words=words)


def _one_drop(now: float, drops: Sequence[OneDrop], bottles: Sequence[Trainee]) -> list[str]:
    """What one drop would have done, the best first."""
    told = []
    for drop in drops:
        step = say("One drop more") if drop.step > 0 else say("One drop fewer")
        gain = now - drop.delta_e
        way = "nearer" if gain > LEAST_GAIN else "farther" if gain < -LEAST_GAIN else say("no nearer")
        told.append(
            say(
                "{step} of {name}: {way}, dE {delta_e}, {words}.",
                step=step,
                name=bottles[drop.place].name,
                way=way,
                delta_e=quantity(drop.delta_e, ".1f"),
                words=drop.words,
            )
        )
    return told


@router.get("/trainer")
def show(request: Request, store: OpenStore) -> Response:
    """The eye's trainer: skills, levels, and how far off the guesses were."""
    kept = training.open_round(store)
    seen = training.see(store, _shelf(store, kept.shelf), kept.id) if kept else None
    return render("eye/page.html", page=_page(store, seen), frame=frame(request, store, "trainer"))


@router.post("/trainer")
def start(request: Request, store: OpenStore, shelf: Text = OWN) -> Response:
    """Begin a round."""
    training.start(store, _shelf(store, shelf), shelf, chance=Random(), at=clock.now())
    return go(request, "/trainer")


@router.get("/trainer/{number}")
def guessed(request: Request, store: OpenStore, number: RowId) -> Response:
    """A round that was guessed: the truth beside the guess."""
    kept = training.round_of(store, number)
    seen = training.see(store, _shelf(store, kept.shelf), number)
    return render("eye/page.html", page=_page(store, seen), frame=frame(request, store, "trainer"))


@router.post("/trainer/{number}")
def guess(request: Request, store: OpenStore, number: RowId, first: Drops, second: Drops, third: Drops) -> Response:
    """Guess the drops of a round."""
    kept = training.round_of(store, number)
    training.guess(store, _shelf(store, kept.shelf), number, (first, second, third))
    return go(request, f"/trainer/{number}")
