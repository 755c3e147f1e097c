"""A schedule as it is kept and shown: what the painter does without a break, block by block."""

import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from datetime import UTC, datetime, timedelta

from diachrom import clock
from diachrom.core.mix import sound
from diachrom.store.orders import DoneStep

FORMAT = 1
MOST_VISITS = 20_000
FILL = re.compile("#[0-9a-f]{6}")


@dataclass(frozen=True)
class ScheduledBlock:
    """What is done of a block without a break. Times are minutes from the schedule's start."""

    block: str
    what: str  # "work", "clean", "make"
    start: int
    end: int
    line: int = 0
    step: str = ""
    words: str = ""
    kind: str = ""
    mix: str = ""
    first: int = 0
    last: int = 0
    dries: int = 0
    closes: int | None = None
    holds: str = ""
    held: int = 0
    layer: int | None = None
    paint: str = ""

    @property
    def steps(self) -> list[tuple[int, str, int]]:
        """(line, step, bait) of what is done in it; a mix is of no line and no bait."""
        if self.what == "make":
            return [(0, self.mix, -1)]
        return [] if self.what == "clean" else [(self.line, self.step, bait) for bait in range(self.first, self.last)]


@dataclass(frozen=True)
class Schedule:
    start: datetime
    ends: int
    hands_end: int
    bound: int
    proven: bool
    cleaning: int
    visits: Sequence[ScheduledBlock]
    sequence: Sequence[tuple[str, int, int]]  # blocks by key, first and last bait
    mixes: Mapping[str, tuple[str, str]] = field(default_factory=dict)  # words, "#rrggbb" or ""
    lines: Mapping[int, tuple[str, int]] = field(default_factory=dict)  # name, baits
    inputs: str = ""  # what it was found for
    missed: Sequence[str] = ()
    notes: Sequence[str] = ()

    def at(self, minute: int) -> datetime:
        """The moment of a minute."""
        return self.start + timedelta(minutes=minute)

    @property
    def ends_at(self) -> datetime:
        """When all is ready."""
        return self.at(self.ends)


def left(schedule: Schedule, done: Iterable[DoneStep]) -> list[ScheduledBlock]:
    """What is still to be done of it: cleaning belongs to what is sprayed after it."""
    did = {(done_step.line, done_step.step, done_step.bait) for done_step in done}
    open_visits = [block for block in schedule.visits if any(each not in did for each in block.steps)]
    blocks = {open_visit.block for open_visit in open_visits}
    own = {id(one) for one in open_visits}
    return [visit for visit in schedule.visits if id(visit) in own or (visit.what == "clean" and visit.block in blocks)]


def written(schedule: Schedule) -> str:
    """A schedule as it is kept."""
    told = {**asdict(schedule), "format": FORMAT, "start": schedule.start.isoformat()}
    return json.dumps(told, ensure_ascii=False)


def read(text: str) -> Schedule | None:
    """None for what is none, or cannot be read any more."""
    told = sound.parse_or_default(json.loads, text or "null", None)
    if not isinstance(told, dict) or told.get("format") != FORMAT:
        return None
    try:
        start = clock.moment(told["start"])
        visits = [ScheduledBlock(**one) for one in told["visits"][:MOST_VISITS]]
        if start is None or not all(_sound(block) for block in visits):
            return None
        return Schedule(
            start=start.astimezone(UTC),
            **{key: int(told[key]) for key in ("ends", "hands_end", "bound", "cleaning")},
            proven=bool(told["proven"]),
            visits=visits,
            sequence=[(str(key), int(first), int(last)) for key, first, last in told["sequence"]],
            mixes={
                str(key): (str(words), fill if isinstance(fill, str) and FILL.fullmatch(fill) else "")
                for key, (words, fill) in told["mixes"].items()
            },
            lines={int(key): (str(words), int(baits)) for key, (words, baits) in told["lines"].items()},
            inputs=str(told["inputs"]),
            missed=[str(one) for one in told["missed"]],
            notes=[str(one) for one in told["notes"]],
        )
    except (TypeError, ValueError, KeyError, AttributeError, OverflowError):
        return None


def _sound(block: ScheduledBlock) -> bool:
    numbers = (block.start, block.end, block.line, block.first, block.last, block.dries, block.held)
    return all(isinstance(value, int) and abs(value) < 10**8 for value in numbers) and block.start <= block.end
