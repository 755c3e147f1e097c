"""The timeline of a schedule: a lane for each time at the bench, on one scale; what dries lies under it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from diachrom.words import capitalized, say, when
from diachrom.work.kit.schedules import Schedule, ScheduledBlock
from diachrom.work.orders.work_evenings import Session, sessions, words_of

WIDE, LEFT, TOP, BLOCK, DRYING = 1000.0, 4.0, 18.0, 40.0, 7.0
LEAST_HOURS = 1
LETTER = 6.4  # about the width of one
LAST_TICK = 960.0  # that has room for its figures
MOST_DRYING = 4  # lines of it under a lane
MOST_SESSIONS = 60  # that are drawn


@dataclass(frozen=True)
class BlockView:
    """A block of a lane."""

    block: str
    what: str
    x: float
    width: float
    fill: str  # "" where it is no paint
    on_dark: bool
    label: str
    words: str  # all of it
    start: str  # UTC
    done: bool
    pinned: bool
    draggable: bool


@dataclass(frozen=True)
class LaneView:
    """A time at the bench."""

    words: str  # "Thursday 26 November, 18:00 to 21:58"
    start: str  # UTC, of its left edge
    ticks: Sequence[tuple[float, str]]
    blocks: Sequence[BlockView]
    drying: Sequence[tuple[float, float, float]]  # x, width, y
    windows: Sequence[tuple[float, float, float, str]]  # x, width, y, words: in which the next coat goes on
    height: float


@dataclass(frozen=True)
class Timeline:
    lanes: Sequence[LaneView]
    minutes: float  # that a lane is wide
    more: int  # sessions that are not drawn


def timeline(schedule: Schedule, *, done: frozenset[str], pinned: frozenset[str]) -> Timeline:
    """The evenings as drawings: blocks, what dries, windows."""
    every = sessions(schedule)
    shown = every[:MOST_SESSIONS]
    spans = [_span(session) for session in shown]
    minutes = max((span.total_seconds() / 60 for _, span in spans), default=60.0)
    fills = {key: fill for key, (_, fill) in schedule.mixes.items()}
    lanes = [
        _lane(schedule, one, start, minutes, _Marks(fills, done, pinned))
        for one, (start, _) in zip(shown, spans, strict=True)
    ]
    return Timeline(lanes, minutes, len(every) - len(shown))


@dataclass(frozen=True)
class _Marks:
    fills: Mapping[str, str]
    done: frozenset[str]
    pinned: frozenset[str]


def _span(session: Session) -> tuple[datetime, timedelta]:
    """From a full hour to a full hour by this place's clocks."""
    start = session.start.astimezone().replace(minute=0)
    hours = -(-(session.end - start) // timedelta(hours=1))
    return start, timedelta(hours=max(hours, LEAST_HOURS))


def _lane(schedule: Schedule, session: Session, start: datetime, minutes: float, marks: _Marks) -> LaneView:
    scale = (WIDE - 2 * LEFT) / minutes

    def x(at: datetime) -> float:
        return round(LEFT + scale * (at - start).total_seconds() / 60, 1)

    visits = [row.visit for row in session.rows if row.visit is not None]
    hours = [start + timedelta(hours=index) for index in range(int(minutes // 60) + 1)]
    ticks = [(x(at), f"{at.astimezone():%H:%M}" if x(at) < LAST_TICK else "") for at in hours]
    dry: list[tuple[float, float, float]] = []
    free: list[float] = [0.0] * MOST_DRYING
    for block in visits:
        if block.what == "work" and block.dries > 0:
            first, last = x(schedule.at(block.end)), min(x(schedule.at(block.end + block.dries)), WIDE - LEFT)
            place = next((at for at, until in enumerate(free) if until <= first), None)
            if place is not None and last > first:
                free[place] = last
                dry.append((first, round(last - first, 1), TOP + BLOCK + 4 + place * DRYING))
    rows = sum(until > 0 for until in free)
    windows = [
        (first, round(last - first, 1), TOP + BLOCK + 4 + rows * DRYING, words)
        for visit in visits
        if visit.closes is not None
        and (first := x(schedule.at(visit.end + visit.dries))) < WIDE - LEFT
        and (last := min(x(schedule.at(visit.end + visit.closes)), WIDE - LEFT)) > first
        and (
            words := say(
                "Recoat window of {words}: {clock} to {other_clock}",
                words=visit.words,
                clock=_clock(schedule, visit, visit.dries),
                other_clock=_clock(schedule, visit, visit.closes),
            )
        )
    ]
    begin, end = session.start.astimezone(), session.end.astimezone()
    return LaneView(
        words=say(
            "{day}, {begin} to {end}",
            day=when(begin, "weekday and day"),
            begin=f"{begin:%H:%M}",
            end=f"{end:%H:%M}",
        ),
        start=start.isoformat(),
        ticks=ticks,
        blocks=[_block(schedule, one, (x(schedule.at(one.start)), x(schedule.at(one.end))), marks) for one in visits],
        drying=dry,
        windows=windows,
        height=TOP + BLOCK + 6 + (rows + bool(windows)) * DRYING,
    )


def _clock(schedule: Schedule, visit: ScheduledBlock, after: int) -> str:
    return f"{schedule.at(visit.end + after).astimezone():%H:%M}"


def _as_far_as_it_fits(words: str, room: int) -> str:
    """Whole words alone: what is seen is a part of what is read aloud."""
    return words if len(words) <= room else words[: max(room + 1, 0)].rpartition(" ")[0].rstrip(",:")


def _block(schedule: Schedule, visit: ScheduledBlock, edges: tuple[float, float], marks: _Marks) -> BlockView:
    width = max(edges[1] - edges[0] - 0.8, 1.2)
    words = words_of(schedule, visit)
    label = _as_far_as_it_fits(visit.words.split(", coat ")[0], int((width - 8) / LETTER))
    begin = schedule.at(visit.start)
    fill = marks.fills.get(visit.mix, "") if visit.mix and visit.what != "clean" else ""
    # Whether white stands out more from a colour than black (WCAG's contrast: they are alike at 0.18).
    if not fill:
        dark = False
    else:
        red, green, blue = (int(fill[at : at + 2], 16) / 255 for at in (1, 3, 5))
        dark = 0.2126 * red**2.2 + 0.7152 * green**2.2 + 0.0722 * blue**2.2 <= 0.18
    return BlockView(
        block=visit.block,
        what=visit.what,
        x=edges[0],
        width=round(width, 1),
        fill=fill,
        on_dark=dark,
        label=capitalized(label),
        words=say(
            "{begin} to {end}: {words}",
            begin=f"{begin.astimezone():%H:%M}",
            end=f"{schedule.at(visit.end).astimezone():%H:%M}",
            words=words,
        ),
        start=begin.isoformat(),
        done=visit.block in marks.done,
        pinned=visit.held_by(marks.pinned),
        draggable=visit.what != "clean",
    )
