"""Eyes by size and kind, and opened tins and jars with the day until which they are good."""

import math
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from diachrom import clock
from diachrom.core.bait.plan import Plan
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.mix.draft import checked_text
from diachrom.errors import InvalidInput
from diachrom.store import finish
from diachrom.store.connection import writing
from diachrom.store.finish import Eyes, Tin
from diachrom.units import MM
from diachrom.words import quantity, say, when
from diachrom.work.kit.fields import number_field
from diachrom.work.plan.eyes import fitting

SIZE = number_field("size_mm", say("Size of an eye, mm"), least=0.5, most=60, units=MM)
LONGEST = 80


@dataclass(frozen=True)
class Proposed:
    """Eyes for a plan's socket."""

    socket_mm: float
    best: Eyes | None  # of the stock
    words: str


def eyes(connection: sqlite3.Connection) -> list[Eyes]:
    """Eyes in stock, by kind and size."""
    return finish.eyes(connection)


def proposed(connection: sqlite3.Connection, plan: Plan) -> Proposed | None:
    """The eyes that fill a plan's socket best without standing over it; None for a blank without sockets."""
    form = plan.blank.form
    if not form.eye_sockets or plan.eyes in ("painted", "none", "factory"):
        return None
    socket = form.landmarks.eye_size * plan.blank.length_mm
    best = fitting(connection, plan)
    if best is None:
        words = say(
            "The socket is {socket} across; no eyes of up to that size are in stock.",
            socket=quantity(socket, ".1f", "mm"),
        )
    else:
        words = say(
            "{size}, {kind}: the socket is {socket} across. A pair is mirrored.",
            size=quantity(best.size_mm, "g", "mm"),
            kind=best.kind,
            socket=quantity(socket, ".1f", "mm"),
        )
    return Proposed(socket, best, words)


def put_eyes(connection: sqlite3.Connection, size: str, kind: str, pairs: str) -> None:
    """Raises InvalidInput."""
    size_mm = SIZE.value(size)
    words = " ".join(checked_text("kind", kind, LONGEST).split())
    if not isinstance(size_mm, float) or not words:
        raise InvalidInput(say("Enter the size of the eyes in mm, and their kind."), field="kind")
    try:
        count = int(pairs.strip())
    except ValueError:
        raise InvalidInput(say("Pairs: '{pairs}' is no whole number.", pairs=pairs[:20]), field="pairs") from None
    if not -1000 <= count <= 10_000 or count == 0:
        raise InvalidInput(say("Put in 1 to 10000 pairs, or take out up to 1000."), field="pairs")
    with writing(connection):
        finish.put_eyes(connection, size_mm=size_mm, kind=words, pairs=count)


@dataclass(frozen=True)
class TinNow:
    """An opened tin as it is today."""

    tin: Tin
    good_until: date | None
    days_left: int | None
    words: str

    @property
    def opened(self) -> str:
        """The day on which it was opened, in words."""
        if self.good_until is None:
            return say("date not known")
        return when(self.good_until - timedelta(days=self.tin.keeps_days))


def tins(connection: sqlite3.Connection, *, at: str) -> Sequence[TinNow]:
    """Opened tins, and until when each is good."""
    today = date.fromisoformat(clock.today(at))
    return sorted((_now(tin, today) for tin in finish.tins(connection)), key=_by_day)


def _by_day(tin: TinNow) -> float:
    return math.inf if tin.days_left is None else tin.days_left


def _now(tin: Tin, today: date) -> TinNow:
    try:
        until = date.fromisoformat(tin.opened_on) + timedelta(days=tin.keeps_days)
    except (ValueError, OverflowError):
        return TinNow(tin, None, None, say("how long it keeps is not known"))
    left = (until - today).days
    words = (
        say("good until {until}", until=when(until))
        if left >= 0
        else say("past its date since {until}: try it on a scrap", until=when(until))
    )
    return TinNow(tin, until, left, words)


def open_tin(connection: sqlite3.Connection, name: str, school: str, opened_on: str, sealed: str, *, at: str) -> None:
    """Raises InvalidInput."""
    words = " ".join(checked_text("name", name, LONGEST).split())
    if not words:
        raise InvalidInput(say("Name the tin or jar."), field="name")
    if school not in SCHOOLS:
        raise InvalidInput(say("There is no clear called '{school}'.", school=school[:30]), field="school")
    try:
        day = date.fromisoformat(opened_on or clock.today(at))
    except ValueError:
        raise InvalidInput(say("'{opened_on}' is no day.", opened_on=opened_on[:20]), field="opened_on") from None
    how = " ".join(checked_text("sealed", sealed, LONGEST).split())
    with writing(connection):
        finish.open_tin(
            connection,
            name=words,
            school=school,
            opened_on=day.isoformat(),
            sealed=how or SCHOOLS[school].keeps,
            keeps_days=SCHOOLS[school].keeps_days,
        )


def use_up(connection: sqlite3.Connection, number: int, *, gone: bool) -> None:
    """Raises NotFound."""
    with writing(connection):
        finish.use_up(connection, number, gone=gone)
