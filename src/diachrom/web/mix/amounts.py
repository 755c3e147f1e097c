"""The Amounts page: the cup scaled, counted in every way, for a job, and thinned."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import RedirectResponse, Response

from diachrom import clock
from diachrom.core.mix.cup import MOST_DROPS
from diachrom.core.mix.reducing import HANDS, USUAL_BAR
from diachrom.errors import DiachromError, InvalidInput
from diachrom.units import BAR
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import FormRowId, GivenForm, OpenStore, Text
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Axes, Curve, Plot, apart
from diachrom.web.kit.swatches import BeadString, Swatch, bead_string, swatch
from diachrom.web.mix.overspray import FIELDS, job_form, job_of
from diachrom.web.mix.rest import RestView, rest_view
from diachrom.web.mix.runs import GradeView, grades
from diachrom.words import listed, quantity, say, say_count
from diachrom.work.kit.fields import LARGEST_BOTTLE_ML, number_field
from diachrom.work.kit.figures import figure
from diachrom.work.kit.opened import Store
from diachrom.work.mix import amounts, cup, flow, overspray_history, resting
from diachrom.work.mix.amounts import LADDER_COATS, AmountsSeen, BatchSeen, PartAmounts

router = APIRouter(include_in_schema=False)
PRESSURE = number_field("pressure", say("Pressure"), least=0, most=LARGEST_BOTTLE_ML, units=BAR)
AMOUNT, AMOUNT_KEY = "amount-", re.compile(r"amount-\d{1,3}")
COUNTED_WORDS = {"parts": say("parts"), "percent": say("percent"), "ml": "ml", "grams": say("grams")}
UNITS = {"ml": "ml", "drops": say("drops"), "times": say("times as much")}


@dataclass(frozen=True)
class AmountView:
    name: str
    drops: str
    parts: str
    percent: str
    ml: str
    grams: str
    at: int  # among the bottles at the cup


@dataclass(frozen=True)
class ScaledView:
    """So much of it, its ratio kept."""

    volume: str
    beads: BeadString
    words: str
    costs: str
    volume_ml: float
    changed: "ChangedView | None" = None


@dataclass(frozen=True)
class ChangedView:
    """The most that makes no more than was wanted, in another ratio."""

    volume: str
    words: str
    costs: str
    looks: Sequence[Swatch]  # before and after


@dataclass(frozen=True)
class DroppersView:
    """The same mix with the bottles' droppers as they are now."""

    why: str
    words: str
    costs: str


@dataclass(frozen=True)
class ScaleView:
    """To what it is scaled."""

    free: Sequence[tuple[str, str]]  # value for the address, words
    units: Sequence[Choice]
    unit: str
    value: str
    scaled: ScaledView | None


@dataclass(frozen=True)
class JobView:
    """How much some baits take."""

    fields: Sequence[tuple[str, str, str]]  # key, words, value
    learned: str
    can_forget: bool
    needs: str
    needs_ml: str


@dataclass(frozen=True)
class ThinningView:
    hands: Sequence[Choice]
    hand: str
    pressure: str
    wants: str
    coats_needed: str
    notes: Sequence[str]
    thinner: tuple[int, str, int] | None
    ladder: Plot | None


@dataclass(frozen=True)
class AmountsPage:
    name: str
    beads: BeadString
    total: str
    parts: Sequence[AmountView]
    idle: Sequence[int]  # bottles at the cup of which nothing is in it
    counted_in: Mapping[str, str]
    scale: ScaleView
    job: JobView
    thinning: ThinningView
    flow: Sequence[GradeView]
    flow_name: str  # of the paint that it is kept for
    rest: RestView | None
    droppers: DroppersView | None
    problem: str


@router.get("/amounts")
def show(request: Request, store: OpenStore) -> Response:
    """Amounts: the cup in ml, grams and drops, scaled, thinned, for a job."""
    asked = {key: value[:20] for key, value in request.query_params.items()}
    hand = asked.get("hand", "thin") if asked.get("hand", "thin") in HANDS else "thin"
    try:
        bar = PRESSURE.value(asked.get("pressure", ""))
        seen = amounts.see(store, hand=hand, pressure_bar=bar if isinstance(bar, float) else None)
        problem = seen.problem
    except InvalidInput as error:
        seen, problem = amounts.see(store, hand=hand), str(error)
    page = _page(store, seen, asked, hand, problem)
    return render("mix/amounts.html", page=page, frame=frame(request, store, "mix"))


def _page(store: Store, seen: AmountsSeen, asked: dict[str, str], hand: str, problem: str) -> AmountsPage:
    draft = seen.contents.draft
    given = job_form(asked, overspray_history.learned(store))
    scaled, needs = None, None
    try:
        if asked.get("value", "").strip() and not seen.cup.empty:
            value = asked["value"]
            unit = _unit(asked)
            amount = figure(value, say("Scale to"))
            each = seen.cup.volume_ml / seen.cup.drops
            wanted = {"ml": amount, "drops": amount * each, "times": amount * seen.cup.volume_ml}[unit]
            scaled = _scaled(amounts.scale(store, wanted), seen, wanted)
        if not seen.cup.empty:
            needs = amounts.needed(store, job_of(given, draft.coats, draft.film_um))
    except DiachromError as error:
        problem = str(error)
    places = {part.bottle: index for index, part in enumerate(draft.parts)}
    # The volumes at which whole drops cost nothing, around what is asked for: for the address, and in words.
    free = [
        (f"{ml:.4f}", quantity(ml, ".2f", "ml"))
        for ml in amounts.free_near(store, scaled.volume_ml if scaled else None)
    ]
    learned, said = overspray_history.learned(store), ""
    runs = flow.see(store, hand)
    if needs is not None:
        ml, drops, cups_ = needs
        said = say(
            "{ml}, {drops}, {cups}",
            ml=quantity(ml, ".1f", "ml"),
            drops=say_count(drops, "{count} drop", "{count} drops"),
            cups=say_count(cups_, "{count} airbrush cup", "{count} airbrush cups"),
        )
    droppers_seen = seen.droppers
    if droppers_seen is None:
        droppers = None
    else:
        rows = seen.contents.shelf
        changed = [
            say(
                "{full_name} drips {drop_ml} µl, counted at {other_drop_ml}",
                full_name=rows[part.bottle].bottle.full_name,
                drop_ml=quantity(1000 * rows[part.bottle].bottle.drop_ml, ".0f"),
                other_drop_ml=quantity(1000 * part.drop_ml, ".0f"),
            )
            for part in seen.contents.draft.parts
            if part.drops and part.drop_ml != rows[part.bottle].bottle.drop_ml
        ]
        pours = zip(droppers_seen.drops, seen.contents.draft.parts, strict=True)
        told = listed(f"{drops} {rows[part.bottle].bottle.full_name}" for drops, part in pours if drops)
        droppers = DroppersView(f"{listed(changed, '; ')}.", told, _costs(droppers_seen.delta_e, droppers_seen.words))
    return AmountsPage(
        name=draft.name or say("The cup"),
        beads=bead_string(draft.parts, seen.contents.shelf),
        total=_in_all([seen.cup.drops], seen.cup.volume_ml),
        parts=[_amount(one, places[one.bottle]) for one in seen.parts],
        idle=[at for at, part in enumerate(draft.parts) if not part.drops],
        counted_in=COUNTED_WORDS,
        scale=ScaleView(
            free,
            [Choice(key, words) for key, words in UNITS.items()],
            _unit(asked),
            asked.get("value", ""),
            scaled,
        ),
        job=JobView(
            [(key, words, given[key]) for key, words in FIELDS],
            learned.words,
            learned.jobs > 0,
            said,
            "" if needs is None else f"{needs[0]:.2f}",
        ),
        thinning=_thinning(seen, asked, hand),
        flow=[] if runs is None else grades(runs),
        flow_name="" if runs is None else runs.name,
        rest=rest_view(resting.rest(store)),
        droppers=droppers,
        problem=problem,
    )


def _in_all(drops: Sequence[int], ml: float) -> str:
    return say(
        "{drops}, {volume}",
        drops=say_count(sum(drops), "{count} drop", "{count} drops"),
        volume=quantity(ml, ".2f", "ml"),
    )


def _scaled(found: BatchSeen, seen: AmountsSeen, wanted_ml: float) -> ScaledView:
    batch, other = found.batch, found.changed
    beads = _drops(batch.drops, seen)
    costs = say("Its ratio is kept.")
    if batch.over_ml > 0.005:
        over = quantity(batch.over_ml, ".2f", "ml")
        costs = say(
            "Its ratio is kept: {over} more than asked. Keep that in a jar or use it for the next bait.", over=over
        )
    changed = None
    if other is not None:
        changed = ChangedView(
            volume=_in_all(other.drops, other.volume_ml),
            words=_drops(other.drops, seen).words,
            costs=say("{said}, dE {delta_e}", said=other.words, delta_e=quantity(other.delta_e, ".1f")),
            looks=[swatch(one) for one in other.looks],
        )
    return ScaledView(
        volume=_in_all(batch.drops, batch.ml),
        beads=beads,
        words=beads.words,
        costs=costs,
        volume_ml=wanted_ml,
        changed=changed,
    )


def _drops(drops: Sequence[int], seen: AmountsSeen) -> BeadString:
    parts = [
        replace(part, drops=min(count, MOST_DROPS))
        for part, count in zip(seen.contents.draft.parts, drops, strict=True)
    ]
    return bead_string(parts, seen.contents.shelf)


def _unit(asked: dict[str, str]) -> str:
    unit = asked.get("unit", "ml")
    return unit if unit in UNITS else "ml"


def _amount(part: PartAmounts, at: int) -> AmountView:
    return AmountView(
        name=part.name,
        drops=str(part.drops),
        parts=quantity(part.parts, ".1f"),
        percent=quantity(100 * part.share, ".1f"),
        ml=quantity(part.ml, ".3f"),
        grams=quantity(part.grams, ".3f"),
        at=at,
    )


def _thinning(seen: AmountsSeen, asked: dict[str, str], hand: str) -> ThinningView:
    wants, said = seen.wants, ""
    if wants is not None:
        said = say(
            "Usual for it: {share} % of the volume; it has {now} %.",
            share=quantity(100 * wants.share, ".0f"),
            now=quantity(100 * wants.now, ".0f"),
        )
    coats = seen.contents.draft.coats
    needed = [
        say(
            "{what} at {share} %",
            what=found or say("more than {ladder_coats}", ladder_coats=LADDER_COATS),
            share=quantity(100 * share, ".0f"),
        )
        for share, found in seen.coats_needed(coats)
    ]
    return ThinningView(
        hands=[Choice(key, words) for key, words in HANDS.items()],
        hand=hand,
        pressure=asked.get("pressure", "").strip() or quantity(USUAL_BAR[hand], "g", "bar"),
        wants=said,
        coats_needed=say(
            "Where {coats} get as it comes, thinned it takes {needed}.",
            coats=say_count(coats, "{count} coat", "{count} coats"),
            needed=listed(needed),
        )
        if needed
        else "",
        notes=wants.notes if wants else [],
        thinner=seen.thinner,
        ladder=_ladder(seen) if seen.ladder else None,
    )


def _costs(delta_e: float, said: str) -> str:
    return (
        say("Whole drops are exact here.")
        if delta_e < 0.05
        else say("Rounding: {said}, dE {delta_e}.", said=said, delta_e=quantity(delta_e, ".1f"))
    )


def _ladder(seen: AmountsSeen) -> Plot:
    """Lightness against coats at each reduction: thinner paint gets there later."""
    most = len(seen.ladder[0][1]) - 1
    axes = Axes(0, most, 100.0)
    shares = [share for share, _ in seen.ladder]
    curves = []
    for share, colours in seen.ladder:
        points = [(float(index), colour) for index, colour in enumerate(colours)]
        dots = axes.dots(points)
        path = axes.line((x, colour.lch[0]) for x, colour in points)
        label = {shares[0]: say("as is"), shares[-1]: quantity(100 * share, ".0f", "%")}.get(
            share, ""
        )  # those between lie close
        curves.append(Curve(label, dots[1].y, path, dots))
    curves = [curve for curve in curves if not curve.label] + apart([one for one in curves if one.label])
    ticks = [(axes.y(0), "0"), (axes.y(50), "50"), (axes.y(100), "L 100")]
    marks = [(axes.x(at), say("{at} coats", at=at) if at == most else str(at)) for at in range(most + 1)]
    said = listed(
        (
            say(
                "{share} thinned: to L {lightness}",
                share=quantity(100 * share, ".0f", "%"),
                lightness=quantity(colours[-1].lch[0], ".0f"),
            )
            for share, colours in seen.ladder
        ),
        "; ",
    )
    thinned = listed(quantity(100 * share, ".0f") for share in shares[1:-1])
    title = say(
        "Coats against lightness: as is, {thinned} and {shares} % thinned",
        thinned=thinned,
        shares=quantity(100 * shares[-1], ".0f"),
    )
    return Plot(key="ladder", title=title, words=said, curves=curves, x_ticks=marks, y_ticks=ticks)


@router.post("/amounts/scale")
def put(store: OpenStore, volume_ml: Annotated[float, Form()], change: Text = "") -> Response:
    """Scale the cup to what was asked for."""
    amounts.put_scaled(store, volume_ml, may_change=change == "yes", at=clock.now())
    return RedirectResponse("/mix", 303)


@router.post("/amounts/droppers")
def droppers(store: OpenStore) -> Response:
    """Pour by other droppers: the drops that give the same."""
    amounts.put_droppers(store, at=clock.now())
    return RedirectResponse("/mix", 303)


@router.post("/amounts/counted")
def counted(request: Request, store: OpenStore, given: GivenForm) -> Response:
    """Reckon with whole drops of these droppers."""
    wanted = sorted((int(key.removeprefix(AMOUNT)), text) for key, text in given.items() if AMOUNT_KEY.fullmatch(key))
    found = [figure(text or "0", say("Amounts")) for _, text in wanted]
    amounts.put_counted(store, given.get("unit", ""), found, at=clock.now())
    return go(request, "/amounts")


@router.post("/amounts/thin")
def thin(store: OpenStore, bottle: FormRowId, drops: Annotated[int, Form(ge=1, le=MOST_DROPS)]) -> Response:
    """Add the reducer or medium that is asked for."""
    cup.give(store, bottle, drops, at=clock.now())
    return RedirectResponse("/amounts", 303)
