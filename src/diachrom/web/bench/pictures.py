"""What is looked at in a session: the bait at its step, what was different, photos of both sides; and the air."""

from fastapi import APIRouter, Request
from fastapi.responses import Response

from diachrom import clock
from diachrom.core.session.events import Event
from diachrom.core.session.script import LEFT, SIDES
from diachrom.core.session.sides import in_words
from diachrom.web.bench.routes import Bait, answer
from diachrom.web.bench.view import cups_of
from diachrom.web.kit.answers import go
from diachrom.web.kit.dependencies import AtBench, GivenForm, OpenStore, RowId, Text, Upload, WholeNumber
from diachrom.web.kit.frame import frame
from diachrom.web.kit.pages import render
from diachrom.web.kit.photos import touched
from diachrom.words import quantity, say
from diachrom.work.bench import as_painted, baits, cup_now, sessions, sides
from diachrom.work.bench.pressed import MOST_BAIT

router = APIRouter(include_in_schema=False)
WIDTH, SMALL = 700, 220
KEPT = {"Cache-Control": "no-cache"}


@router.get("/bench/{number}/picture.png")
def picture(store: OpenStore, number: RowId, step: str = "", finished: bool = False, done: bool = True) -> Response:
    """The bait at a step with what it meets lit up; or finished, as it is done or as it was planned."""
    session = sessions.session(store, number)
    made = as_painted.picture(store, session, step=step[:120], finished=finished, done=done, width=WIDTH)
    return Response(made, media_type="image/png", headers=KEPT)


@router.get("/bench/{number}/bait.png")
def bait(
    store: OpenStore, number: RowId, side: str = LEFT, step: str = "", bait: WholeNumber = -1, small: bool = False
) -> Response:
    """The bait as it is now, from a side: where it is touched something went wrong; or one of several, after the step
    that was done to it last."""
    own = side if side in SIDES else LEFT
    wide = SMALL if small else WIDTH
    session = sessions.session(store, number)
    made = as_painted.picture(store, session, step=step[:120], width=wide, side=own, bait=min(bait, MOST_BAIT))
    return Response(made, media_type="image/png", headers=KEPT)


@router.get("/bench/{number}/effect")
def effect(store: OpenStore, number: RowId) -> Response:
    """What something that was different does to the finished bait: meant beside now."""
    session = sessions.session(store, number)
    cup = None if session.ended else cup_now.cup_now(store, session)
    return render(
        "bench/effect.html", effect=as_painted.effect(store, session), cup=cup, number=number, seq=session.seq
    )


@router.get("/bench/{number}/bottles")
def bottles(store: OpenStore, number: RowId) -> Response:
    """What may have got into the cup by mistake: its own bottles first."""
    return render("bench/wrong_drops.html", number=number, **cups_of(store, sessions.session(store, number)))


@router.get("/bench/{number}/who")
def who(store: OpenStore, number: RowId) -> Response:
    """Which device did what."""
    rows = baits.who(store, sessions.session(store, number), say("this machine"))
    return render("bench/who.html", rows=rows)


@router.post("/bench/{number}/air")
def air(request: Request, store: OpenStore, devices: AtBench, number: RowId) -> Response:
    """The thermo-hygrometer's reading is kept with the step."""
    with devices.hygrometer() as hygrometer:
        temperature, humidity = hygrometer.air()
    at = clock.now()
    session = sessions.session(store, number)
    for what, value in (("temperature_c", temperature), ("humidity_percent", humidity)):
        event = Event(
            "fact", clock.monotonic_epoch(), what=what, value=quantity(value, "g"), note=say("by the thermo-hygrometer")
        )
        session = sessions.record_event(store, number, event, at=at)
    return answer(request, store, session)


@router.post("/bench/{number}/photo")
def photo(
    request: Request,
    store: OpenStore,
    number: RowId,
    photo: Upload,
    side: Text,
    bait: Bait = -1,
) -> Response:
    """Keep a photo of a side, and show it in the session."""
    name = (photo.filename or "photo")[:80]
    content = photo.file.read()
    return answer(request, store, sides.keep(store, number, name, content, side=side, bait=bait, at=clock.now()))


@router.get("/bench/{number}/sides")
def both_sides(request: Request, store: OpenStore, number: RowId) -> Response:
    """Both sides beside each other, as their photos have them."""
    found = sides.both(store, number)
    told = in_words(found.zones) if found.zones else []
    return render(
        "bench/sides.html",
        number=number,
        name=sessions.session(store, number).name,
        found=found,
        sides=SIDES,
        told=told,
        worst=[zone for zone in found.zones[:1] if not zone.same],
        frame=frame(request, store, "bench"),
    )


@router.get("/bench/{number}/sides/{side}.png")
def side_picture(store: OpenStore, number: RowId, side: str) -> Response:
    """One side's photo, turned and scaled so that nose and tail lie where the other's do."""
    return Response(sides.picture(store, number, side[:10]), media_type="image/png", headers=KEPT)


@router.post("/bench/{number}/sides/{photo}")
def mark(request: Request, store: OpenStore, number: RowId, photo: RowId, form: GivenForm) -> Response:
    """Where grey patch, nose and tail lie in a photo."""
    sides.mark(store, number, photo, touched(form))
    return go(request, f"/bench/{number}/sides")
