"""A session left half finished: two of the Butterfish, the second mix at its second drop; eyes, opened tins."""

import sqlite3
from datetime import datetime, timedelta

from diachrom import clock
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.session.events import Event
from diachrom.store import finish
from diachrom.store.connection import writing
from diachrom.work.bench import sessions

BUTTERFISH = 6  # the plan
AGO = timedelta(minutes=50)
STEP = timedelta(minutes=2)
FELL = 2  # drops of the second mix
EYES = ((5.0, "gold, domed", 14), (5.0, "silver, flat", 3), (4.0, "red, domed", 22), (3.0, "gold, flat", 9))
TINS = (("Skall, two-part, small set", "two-part", 120), ("Skall, dip, the tall jar", "dip", 131))


def left_half_done(connection: sqlite3.Connection) -> None:
    """Begun an hour ago: one mix is made, of the next two drops have fallen."""
    began = datetime.fromisoformat(clock.now()) - AGO
    number = sessions.begin_plan(connection, BUTTERFISH, baits=2, one_by_one=False, at=began.isoformat())
    moment = began

    def happen(kind: str, **more: str | int) -> None:
        nonlocal moment
        moment += STEP
        at = moment.isoformat()
        sessions.record_event(connection, number, Event(kind, sessions.seconds(at), **more), at=at)  # type: ignore[arg-type]

    while True:
        own = sessions.session(connection, number)
        here = own.state.here(own.script)
        assert here is not None
        for caution in here.cautions:
            if caution not in own.state.agreed:
                happen("agree", what=caution)
        if here.kind == "make" and any(step.kind == "make" for step in own.script.steps if step.key in own.state.done):
            break
        if here.kind == "spray":
            happen("different", step=here.key, what="pressure", value="1.6")
        happen("next", step=here.key)
    for _ in range(FELL):
        happen("tap", step=here.key, bottle=here.pours[0].bottle)
    happen("pause")


def put_by(connection: sqlite3.Connection) -> None:
    """Eyes in stock, and tins that were opened."""
    today = datetime.fromisoformat(clock.now()).astimezone().date()
    with writing(connection):
        for size_mm, kind, pairs in EYES:
            finish.put_eyes(connection, size_mm=size_mm, kind=kind, pairs=pairs)
        for name, school, days in TINS:
            finish.open_tin(
                connection,
                name=name,
                school=school,
                opened_on=(today - timedelta(days=days)).isoformat(),
                sealed=SCHOOLS[school].keeps,
                keeps_days=SCHOOLS[school].keeps_days,
            )
