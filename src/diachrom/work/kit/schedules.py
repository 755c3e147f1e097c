"""A schedule as it is kept and shown: what the painter does without a break, block by block."""

import json
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from datetime import UTC, datetime, timedelta
from typing import Annotated, Literal

from pydantic import AwareDatetime, Field, TypeAdapter

from diachrom.store import kept
from diachrom.store.orders import DoneStep
from diachrom.store.said import every_kept, every_read, read_said

MOST_VISITS = 20_000
FILL = re.compile("#[0-9a-f]{6}")
Minute = Annotated[int, Field(ge=-(10**8), le=10**8)]


@dataclass(frozen=True)
class ScheduledBlock:
    """What is done of a block without a break. Times are minutes from the schedule's start."""

    block: str
    what: str  # "work", "clean", "make"
    start: Minute
    end: Minute
    line: Minute = 0
    step: str = ""
    words: str = ""
    kind: str = ""
    mix: str = ""
    first: Minute = 0
    last: Minute = 0
    dries: Minute = 0
    closes: Minute | None = None
    holds: str = ""
    held: Minute = 0
    layer: int | None = None
    paint: str = ""

    @property
    def steps(self) -> list[tuple[int, str, int]]:
        """(line, step, bait) of what is done in it; a mix is of no line and no bait."""
        if self.what == "make":
            return [(0, self.mix, -1)]
        return [] if self.what == "clean" else [(self.line, self.step, bait) for bait in range(self.first, self.last)]

    def held_by(self, pins: Collection[str]) -> bool:
        """Whether it was dragged, by any of its baits: these may be another group since."""
        return self.block in pins or any(f"{line}:{step}:{bait}" in pins for line, step, bait in self.steps)


@dataclass(frozen=True)
class Schedule:
    start: AwareDatetime
    ends: Minute
    hands_end: Minute
    bound: Minute
    proven: bool
    cleaning: Minute
    visits: Annotated[list[ScheduledBlock], Field(max_length=MOST_VISITS)]
    sequence: Sequence[tuple[str, int, int]]  # blocks by key, first and last bait
    mixes: Mapping[str, tuple[str, str]] = field(default_factory=dict)  # words, "#rrggbb" or ""
    lines: Mapping[int, tuple[str, int]] = field(default_factory=dict)  # name, baits
    inputs: str = ""  # what it was found for
    missed: Sequence[str] = ()
    notes: Sequence[str] = ()
    format: Literal[1] = 1

    def at(self, minute: int) -> datetime:
        """The moment of a minute."""
        return self.start + timedelta(minutes=minute)

    @property
    def ends_at(self) -> datetime:
        """When all is ready."""
        return self.at(self.ends)


KEPT = TypeAdapter(Schedule | None)


def left(schedule: Schedule, done: Iterable[DoneStep]) -> list[ScheduledBlock]:
    """What is still to be done of it: cleaning belongs to what is sprayed after it."""
    did = {(done_step.line, done_step.step, done_step.bait) for done_step in done}
    open_visits = [block for block in schedule.visits if any(each not in did for each in block.steps)]
    blocks = {open_visit.block for open_visit in open_visits}
    own = {id(one) for one in open_visits}
    return [visit for visit in schedule.visits if id(visit) in own or (visit.what == "clean" and visit.block in blocks)]


def written(schedule: Schedule) -> str:
    """A schedule as it is kept."""
    told = every_kept({**asdict(schedule), "start": schedule.start.isoformat()})
    return json.dumps(told, ensure_ascii=False)


def read(text: str) -> Schedule | None:
    """None for what is none, or cannot be read any more."""
    schedule = kept.whole(KEPT, text, None)
    if schedule is None or not all(block.start <= block.end for block in schedule.visits):
        return None
    mixes = {
        key: (read_said(words), fill if FILL.fullmatch(fill) else "") for key, (words, fill) in schedule.mixes.items()
    }
    visits = [replace(block, words=read_said(block.words)) for block in schedule.visits]
    start = schedule.start.astimezone(UTC)
    return replace(schedule, start=start, mixes=mixes, visits=visits, missed=every_read(schedule.missed))
