"""What a device keeps of a session for when nobody answers it: the steps to come as they will be shown; and the presses
that waited in it."""

from typing import Annotated

from fastapi import APIRouter, Body, Request
from fastapi.responses import JSONResponse, Response
from pydantic import BaseModel, Field

from diachrom import clock
from diachrom.errors import DiachromError, InvalidInput, NotFound, Repeated, StoreError
from diachrom.store.sessions import Session
from diachrom.web.bench.view import bench_page, cups_of
from diachrom.web.kit.dependencies import LONGEST_TAP, OpenStore, RowId
from diachrom.web.kit.guard import device_name
from diachrom.web.kit.pages import render
from diachrom.words import say
from diachrom.work.bench import sessions
from diachrom.work.bench.pressed import event_of, moment_of

router = APIRouter(include_in_schema=False)
BEHIND, AHEAD = 5, 80  # steps that are kept
MOST_PRESSES = 200  # of one request


class Press(BaseModel):
    """Something that happened at the bench while nobody answered."""

    tap: str = Field(min_length=1, max_length=LONGEST_TAP, pattern=r"^[ -~]+$")
    ago: float = 0.0  # s before it is sent
    values: dict[str, str]


class Presses(BaseModel):
    began: str = Field(max_length=40)  # of the session that they are of
    presses: list[Press] = Field(max_length=MOST_PRESSES)


def of_the_same(session: Session, began: str) -> None:
    """Raises InvalidInput where presses are of another session that had this number."""
    if began and began != session.at:
        raise InvalidInput(
            say("These presses are of another session: the bench was put back since. They were not counted."),
            field="session",
        )


@router.post("/bench/{number}/presses")
def presses(request: Request, store: OpenStore, number: RowId, given: Annotated[Presses, Body()]) -> Response:
    """Count presses that waited, in their order, each once; what cannot be counted any more is said."""
    said = []
    by = device_name(request)
    for press in given.presses:
        try:
            standing = sessions.session(store, number)
            of_the_same(standing, given.began)
            at = moment_of(press.ago)
            event = event_of(store, number, press.values, at=at, by=by)
            store.tap = press.tap
            sessions.record_event(store, number, event, at=clock.iso(at))
        except Repeated:
            pass
        except StoreError as error:  # busy or full: all of them are sent again, and those that are counted count once
            return JSONResponse({"refused": [], "later": str(error)}, 503)
        except DiachromError as error:
            said.append({"tap": press.tap, "said": str(error)})
        finally:
            store.tap = None
    try:
        seq = sessions.session(store, number).seq
    except NotFound:
        seq = 0
    return JSONResponse({"seq": seq, "refused": said})


@router.get("/bench/{number}/ahead")
def ahead(store: OpenStore, number: RowId) -> Response:
    """The steps around where the session stands, each as it will be shown when it is come to."""
    session = sessions.session(store, number)
    state, run = session.state, session.state.run(session.script)
    first, last = max(state.position - BEHIND, 0), min(state.position + AHEAD, len(run))
    steps = []
    for position in range(first, last + (last == len(run))):
        page = bench_page(store, sessions.standing_at(session, position))
        step = page.step
        steps.append(
            {
                "html": bytes(render("bench/step.html", page=page).body).decode(),
                "key": "" if step is None else step.key,
                "words": "" if step is None else step.words,
                "pours": {} if step is None else {pour.bottle: pour.drops for pour in step.pours},
                "baits": [] if step is None else [step.line, step.first, step.last],
                "dries_s": 0 if step is None else step.dries_s,
                "closes_s": None if step is None else step.closes_s,
                "timer": "" if step is None else step.timer,
                "is_weighed": step is not None and step.kind == "weigh",
            }
        )
    timers = [{"key": one.key, "of": one.of, "baits": one.baits} for one in state.timers]
    bottles = bytes(render("bench/wrong_drops.html", number=number, **cups_of(store, session)).body).decode()
    return JSONResponse(
        {
            "session": number,
            "name": session.name,
            "began": session.at,
            "seq": session.seq,
            "position": state.position,
            "first": first,
            "steps": steps,
            "fallen": state.drops,
            "agreed": state.agreed,
            "timers": timers,
            "bottles": bottles,
            "now": state.now(clock.monotonic_epoch()),
        }
    )


@router.get("/bench/timers")
def timers(store: OpenStore) -> Response:
    """What dries in the sessions under way, for the rail of every page and its bell."""
    now = clock.monotonic_epoch()
    rows = [
        {
            "session": one.number,
            "name": one.name,
            "now": one.state.now(now),
            "timers": [
                {
                    "key": timer.key,
                    "words": str(timer.words),
                    "of": timer.of,
                    "began": timer.began,
                    "ends": timer.ends,
                    "closes": timer.closes,
                }
                for timer in one.state.timers
            ],
        }
        for one in sessions.going_on(store)
    ]
    return JSONResponse(rows)
