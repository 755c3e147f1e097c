"""The finish: schools of clear in this air, when a bait may be touched and fished, eyes and opened tins."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Annotated

from fastapi import APIRouter, Form, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.session.script import CAUTIONS, FIRST_GO
from diachrom.web.kit.answers import go
from diachrom.web.kit.choices import Choice
from diachrom.web.kit.dependencies import AtBench, FormRowId, OpenStore, Text
from diachrom.web.kit.devices import air_panel
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.words import say, when
from diachrom.work.finish import air, stock
from diachrom.work.finish.air import Meant

router = APIRouter(include_in_schema=False)
WIDE, LEFT = 1000.0, 10.0


@dataclass(frozen=True)
class Mark:
    """A moment after the coat."""

    x: float
    words: str
    when: str
    after: str


@dataclass(frozen=True)
class Curing:
    """A coat laid now: what may be done with it when, on a scale of the root of time."""

    marks: Sequence[Mark]
    window: tuple[float, float] | None  # x of opening and closing


def _x(minutes: float, longest: float) -> float:
    return round(LEFT + (WIDE - 2 * LEFT) * float((minutes / max(longest, 1)) ** 0.5), 1)


def _curing(meant: Meant, now: datetime) -> Curing:
    own, longest = meant.cured, meant.cured.fish
    moments = [(own.touch, say("touch it")), (own.handle, say("handle it")), (own.fish, say("fish it"))]
    if own.opens is not None and own.closes is not None:
        moments += [(own.opens, say("next coat from")), (own.closes, say("next coat until"))]
    marks = [
        Mark(
            _x(minutes, longest),
            words,
            when((now + timedelta(minutes=minutes)).astimezone(), "weekday and time"),
            air.lasting(minutes),
        )
        for minutes, words in sorted(moments)
    ]
    window = None
    if own.opens is not None and own.closes is not None:
        window = (_x(own.opens, longest), _x(min(own.closes, longest), longest))
    return Curing(marks, window)


@router.get("/finish")
def home(request: Request, store: OpenStore, devices: AtBench, school: str = "two-part") -> Response:
    """The finish: schools of clear in this air, what cures, eyes, opened tins."""
    at = clock.now()
    own = air.now(store)
    meant = air.meant(store, school[:20], own)
    moment = clock.moment(at)
    return render(
        "finish/home.html",
        air=own,
        meant=meant,
        schools=[Choice(key, one.words) for key, one in SCHOOLS.items()],
        curing=None if moment is None else _curing(meant, moment.astimezone(UTC)),
        cautions=[CAUTIONS[key] for key in meant.school.cautions],
        first_go=FIRST_GO,
        device=air_panel(devices),
        eyes=stock.eyes(store),
        tins=stock.tins(store, at=at),
        frame=frame(request, store, "finish"),
    )


@router.post("/finish/air")
def keep_air(
    request: Request,
    store: OpenStore,
    devices: AtBench,
    school: Text = "two-part",
    temperature_c: Text = "",
    humidity_percent: Text = "",
    read: Text = "",
) -> Response:
    """The air as it was typed, or as the thermo-hygrometer reads it."""
    if read:
        with devices.hygrometer() as hygrometer:
            found = air.checked(*hygrometer.air())
    else:
        found = air.typed(temperature_c, humidity_percent)
    air.keep(store, found)
    return go(request, f"/finish?school={school[:20] if school in SCHOOLS else 'two-part'}")


@router.post("/finish/eyes")
def put_eyes(request: Request, store: OpenStore, size_mm: Text = "", kind: Text = "", pairs: Text = "") -> Response:
    """Enter eyes of a size, or take some out."""
    stock.put_eyes(store, size_mm, kind, pairs)
    return go(request, "/finish")


@router.post("/finish/tins")
def open_tin(
    request: Request, store: OpenStore, name: Text = "", school: Text = "", opened_on: Text = "", sealed: Text = ""
) -> Response:
    """Enter a tin that was opened."""
    stock.open_tin(store, name, school, opened_on, sealed, at=clock.now())
    return go(request, "/finish")


@router.post("/finish/tins/gone")
def use_up(request: Request, store: OpenStore, tin: FormRowId, gone: Annotated[bool, Form()] = True) -> Response:
    """Enter that a tin is used up."""
    stock.use_up(store, tin, gone=gone)
    return go(request, "/finish")
