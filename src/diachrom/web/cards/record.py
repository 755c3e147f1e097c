"""How good are we: the predictions' record, plotted."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime
from statistics import median

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.film.kinds import KINDS
from diachrom.core.light.words import closeness
from diachrom.core.mix.prediction import colour_of
from diachrom.web.kit.dependencies import OpenStore
from diachrom.web.kit.formatting import short_day
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.plot import Axes, Curve, Dot, Plot
from diachrom.words import quantity, say, say_count
from diachrom.work.cards.record import CardRecord, Record, Share, record

router = APIRouter(include_in_schema=False)
WIDE, HIGH, LEFT = 500, 220, 12
TOLD = 0.05
SAME_SIDE, ARMS_LENGTH = 1.0, 5.0  # dE
SECONDS_A_DAY = 86_400


@dataclass(frozen=True)
class BarView:
    words: str
    width: float  # percent of the longest
    figures: str


@dataclass(frozen=True)
class DropView:
    bottle: int
    name: str
    stands: str
    weighed: str
    learned: str


@dataclass(frozen=True)
class RecordPage:
    headline: str
    now: str
    over_time: Plot
    thickness: Plot | None
    hand: str
    by_kind: Sequence[BarView]
    by_ground: Sequence[BarView]
    drops: Sequence[DropView]


@router.get("/record")
def show(request: Request, store: OpenStore) -> Response:
    """The prediction record: how far from its prediction each card lay."""
    found = record(store)
    page = _page(found) if found.cards else None
    return render("cards/record.html", page=page, frame=frame(request, store, "test-cards"))


def _page(found: Record) -> RecordPage:
    half, nine = found.within
    patches = sum(len(card.patches) for card in found.cards)
    both = [(one.then, one.now) for one in found.cards if one.now is not None]
    if not both:
        now_words = ""
    else:
        then, now = (median(own) for own in zip(*both, strict=True))
        if abs(then - now) < TOLD:
            now_words = say("With today's profiles the same cards are just as far off.")
        else:
            now_words = say(
                "The same cards by today's profiles: the middle one dE {now}, {closeness}; when read, {then}.",
                now=quantity(now, ".1f"),
                closeness=closeness(now),
                then=quantity(then, ".1f"),
            )
    if found.thickness is None:
        hand = say("Too few cards to tell how thick the coats came out.")
    else:
        times, scatter = found.thickness
        believed = (
            ""
            if abs(found.hand - 1) < 0.01
            else ", " + say("and are counted at {hand} times", hand=quantity(found.hand, ".2f"))
        )
        whole = times * found.hand
        way = (
            say("as thick as")
            if abs(whole - 1) < 0.015
            else say("{whole} times as thick as", whole=quantity(whole, ".2f"))
        )
        hand = say(
            "Coats come out {way} meant{believed}; from card to card they differ by {scatter} %.",
            way=way,
            believed=believed,
            scatter=quantity(100 * scatter, ".0f"),
        )
    drops = []
    for drop in found.drops:
        weighed = ""
        if drop.weighed is not None:
            weighed = say(
                "{mean_ml} µl, sure within {sure_ml}",
                mean_ml=quantity(1000 * drop.weighed.mean_ml, ".1f"),
                sure_ml=quantity(1000 * drop.weighed.sure_ml, ".1f"),
            )
        learned = (
            ""
            if drop.learned_from_ml is None
            else say("was taken for {learned_from_ml} µl", learned_from_ml=quantity(1000 * drop.learned_from_ml, ".1f"))
        )
        drops.append(
            DropView(
                drop.bottle.id,
                drop.bottle.full_name,
                quantity(1000 * drop.bottle.drop_ml, ".1f", "µl"),
                weighed,
                learned,
            )
        )
    return RecordPage(
        headline=say(
            "Half of {patches} came within dE {half} of what was predicted, nine of ten within {nine}.",
            patches=say_count(patches, "{count} patch", "{count} patches"),
            half=quantity(half, ".1f"),
            nine=quantity(nine, ".1f"),
        ),
        now=now_words,
        over_time=_over_time(found),
        thickness=_thickness(found) if found.thickness else None,
        hand=hand,
        by_kind=_bars(
            found.by_kind, lambda many: say_count(many, "{count} card", "{count} cards"), lambda key: KINDS[key].words
        ),
        by_ground=_bars(
            found.by_ground,
            lambda many: say_count(many, "{count} patch", "{count} patches"),
            lambda words: say("on {words}", words=words),
        ),
        drops=drops,
    )


def _day(at: str) -> float:
    """Since the epoch; 0 for what is no time."""
    found = clock.moment(at)
    return 0.0 if found is None else found.timestamp() / SECONDS_A_DAY


def _days(cards: Sequence[CardRecord]) -> tuple[float, float]:
    days = [day for card in cards if (day := _day(card.card.at))] or [0.0]
    return min(days) - 3, max(days) + 3


def _ticks(axes: Axes, first: float, last: float) -> list[tuple[float, str]]:
    return [
        (axes.x(day), short_day(datetime.fromtimestamp(day * SECONDS_A_DAY).date().isoformat()))
        for day in (first + (last - first) * share for share in (0.08, 0.5, 0.92))
    ]


def _dot(axes: Axes, one: CardRecord, value: float) -> Dot:
    shown = colour_of(one.patches[0].measured).shown
    return Dot(axes.x(_day(one.card.at)), axes.y(value), shown.srgb, shown.p3)


def _over_time(found: Record) -> Plot:
    far = sorted(card.then for card in found.cards)
    top = max(4.0, math.ceil(1.3 * far[int(0.9 * (len(far) - 1))]))
    first, last = _days(found.cards)
    axes = Axes(first, last, top, width=WIDE, height=HIGH, left=LEFT)
    curves = [Curve("", 0, "", [_dot(axes, one, one.then) for one in found.cards])]
    learned = [day for at in found.learned_at if first <= (day := _day(at)) <= last]
    curves += [Curve("", 0, axes.line([(day, 0), (day, top)]), dashed=True) for day in learned]
    steps = [value for value in (0.0, SAME_SIDE, 2.0, ARMS_LENGTH, 10.0) if value <= top]
    words = say(
        "{cards} over time, dE {far} to {other_far}",
        cards=say_count(len(found.cards), "{count} card", "{count} cards"),
        far=quantity(far[0], ".1f"),
        other_far=quantity(far[-1], ".1f"),
    )
    title = say("dE of each card when it was read, in its own colour; those beyond stand at the top")
    ticks = [(axes.y(value), say("dE {value}", value=quantity(value, "g"))) for value in steps]
    return axes.plot("over-time", title, words, curves, x_ticks=_ticks(axes, first, last), y_ticks=ticks)


def _thickness(found: Record) -> Plot:
    first, last = _days(found.cards)
    axes = Axes(first, last, math.log(2), -math.log(2), width=WIDE, height=HIGH, left=LEFT)
    known = [(card, math.log(card.film)) for card in found.cards if card.film is not None]
    curves = [Curve("", 0, "", [_dot(axes, one, value) for one, value in known])]
    ticks = [
        (axes.y(math.log(times)), say("{times} x", times=quantity(times, "g"))) for times in (0.5, 0.7, 1.0, 1.4, 2.0)
    ]
    words = say(
        "thickness of {cards} beside what was meant",
        cards=say_count(len(known), "{count} card", "{count} cards"),
    )
    title = say("How many times as thick as planned each card was")
    return axes.plot("thickness", title, words, curves, x_ticks=_ticks(axes, first, last), y_ticks=ticks)


def _bars(shares: Sequence[Share], many: Callable[[int], str], words: Callable[[str], str]) -> list[BarView]:
    longest = max((share.delta_e for share in shares), default=1.0) or 1.0
    return [
        BarView(
            words(one.words),
            round(100 * one.delta_e / longest, 1),
            say("dE {delta_e}, {count}", delta_e=quantity(one.delta_e, ".1f"), count=many(one.cards)),
        )
        for one in shares
    ]
