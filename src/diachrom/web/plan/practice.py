"""Practice with the airbrush: a line to follow, and what the film came to along it."""

import json
from dataclasses import dataclass

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom.core.bait.practice import CARD_MM, COAT_UM, TARGETS, drawn, practised
from diachrom.core.bait.strokes import disc_mm, flow
from diachrom.errors import InvalidInput
from diachrom.units import BAR, MM
from diachrom.web.kit.dependencies import GivenForm, OpenStore
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import say
from diachrom.work.kit import airbrushes
from diachrom.work.kit.figures import figure

router = APIRouter(include_in_schema=False)
LONGEST = 2_000_000  # letters of what is drawn
PLOT = (320.0, 110.0)


@dataclass(frozen=True)
class PlotView:
    """Film along the line, ready to be drawn."""

    line: str  # of an SVG's polyline
    most_um: float
    even: tuple[float, float]  # between which heights it is even
    long_mm: float


@router.get("/plan/practice")
def page(request: Request, store: OpenStore, line: str = "straight") -> Response:
    """A card, a line to follow, and what is in the hand."""
    mine = airbrushes.mine(store)
    disc = disc_mm(mine.nozzle_mm, 20.0, mine.pressure_bar)
    target = TARGETS.get(line, TARGETS["straight"])
    return render(
        "plan/practice.html",
        target=target,
        targets=list(TARGETS.values()),
        card=CARD_MM,
        nozzle_mm=mine.nozzle_mm,
        pressure_bar=mine.pressure_bar,
        distance_mm=20.0,
        disc=disc,
        flow=COAT_UM * flow(disc) * disc,  # um in the middle of a disc of 1 mm each second
        frame=frame(request, store, "plan"),
    )


@router.post("/plan/practice")
def tried(form: GivenForm) -> Response:
    """What was drawn, judged along the line."""
    target = TARGETS.get(form.get("line", ""))
    if target is None:
        raise InvalidInput(say("Choose a line to follow."), field="line")
    nozzle = figure(form.get("nozzle_mm", ""), say("Nozzle, mm"), key="nozzle_mm", least=0.1, most=2, units=MM)
    distance = figure(form.get("distance_mm", ""), say("Distance, mm"), key="distance_mm", least=5, most=300, units=MM)
    bar = figure(form.get("pressure_bar", ""), say("Pressure, bar"), key="pressure_bar", least=0.2, most=6, units=BAR)
    text = form.get("points", "")
    try:
        given = json.loads(text) if text and len(text) <= LONGEST else _straight(form)
    except (ValueError, RecursionError):
        given = []
    if not isinstance(given, list):
        given = []
    strokes = drawn([one if isinstance(one, list) else [] for one in given])
    found = practised(strokes, target, disc_mm=disc_mm(nozzle, distance, bar), distance_mm=distance, pressure_bar=bar)
    most = max(float(found.film_um.max()), 1.4 * found.mean_um, 1.0)
    wide, high = PLOT
    x = found.along_mm / max(float(found.along_mm[-1]), 1e-6) * wide
    y = high - found.film_um / most * (high - 6)
    points = " ".join(f"{a:.1f},{b:.1f}" for a, b in zip(x, y, strict=True))
    band = [min(max(high - share * found.mean_um / most * (high - 6), 0.0), high) for share in (1.2, 0.8)]
    plot = PlotView(points, most, (band[0], band[1]), float(found.along_mm[-1]))
    return render("plan/practised.html", found=found, plot=plot, strokes=json.dumps([one.tolist() for one in strokes]))


def _straight(form: dict[str, str]) -> list[list[list[float]]]:
    """Of figures: from place to place in so many seconds. Raises InvalidInput."""
    wide, high = CARD_MM
    x0, y0, x1, y1 = (
        figure(form.get(key, ""), words, key=key, least=0, most=most, units=MM)
        for key, words, most in (
            ("from_x", say("From, across"), wide),
            ("from_y", say("From, down"), high),
            ("to_x", say("To, across"), wide),
            ("to_y", say("To, down"), high),
        )
    )
    seconds = figure(form.get("seconds", ""), say("Seconds"), key="seconds", least=0.1, most=60)
    return [[[x0, y0, 0.0], [x1, y1, seconds]]]
