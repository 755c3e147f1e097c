"""The work as values: steps of a line of baits, mixes, the bench. Times are whole minutes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from diachrom.core.schedule.hours import Hours
from diachrom.errors import InvalidInput
from diachrom.words import say

MOST_PLACES = 500
RACK, TURNER = "rack", "turner"


@dataclass(frozen=True)
class Step:
    """What is done to each bait of a line before the next step begins on it."""

    key: str  # its own within the line
    words: str
    kind: str
    minutes: int  # of the painter, a bait
    once: int = 0  # before the first bait of a group
    a_mixing: int = 0  # baits for which what was made at the beginning lasts; 0 is all
    lasts: int = 0  # minutes that it lasts; 0 is as long as wanted
    mix: str = ""  # of paint
    by_hand: bool = False  # without an airbrush
    dries: int = 0  # before the next step may begin
    closes: int | None = None  # after which it may not any more
    holds: str = ""  # a place that the bait takes: RACK, TURNER
    held: int = 0  # minutes after its work
    layer: int | None = None  # of the plan
    paint: str = ""  # its row of the drying table

    @property
    def loads(self) -> str:
        """The mix that has to be in an airbrush."""
        return "" if self.by_hand else self.mix


@dataclass(frozen=True)
class Stands:
    """How far a bait is: its next step, and from when and until when that may begin."""

    step: int = 0
    ready: int = 0
    closes: int | None = None


@dataclass(frozen=True)
class Line:
    """So many baits of one plan."""

    key: str
    words: str
    steps: Sequence[Step]
    baits: int
    begun: Mapping[int, Stands] = field(default_factory=dict)  # by bait, from 0; those that are not named are new

    def stands(self, bait: int) -> Stands:
        """How far a bait is."""
        return self.begun.get(bait, NEW)


NEW = Stands()


@dataclass(frozen=True)
class MixWork:
    """A mix that is made once for all that use it."""

    key: str
    words: str
    minutes: int
    rests: int = 0
    ready: int | None = None  # it is made, and may be sprayed from then


@dataclass(frozen=True)
class Bench:
    """What there is to work with."""

    hours: Hours
    airbrushes: int = 1
    rack: int = 12
    turner: int = 6
    taken: Sequence[tuple[str, int, int]] = ()  # places that other work holds: RACK or TURNER, from, until
    loaded: tuple[str, ...] = ()  # mixes that are in the airbrushes

    def __post_init__(self) -> None:
        for words, value, most in (
            (say("An airbrush"), self.airbrushes, 2),
            (say("The rack"), self.rack, MOST_PLACES),
            (say("The turner"), self.turner, MOST_PLACES),
        ):
            if not 1 <= value <= most:
                told = (
                    say("{words} of none holds no bait", words=words) if value < 1 and words != "An airbrush" else words
                )
                raise InvalidInput(
                    say("{told}: there must be 1 to {most}, not {value}.", told=told, most=most, value=value),
                    field=words.split()[-1].lower(),
                )

    def places(self, kind: str) -> int:
        """How many places of a sort there are."""
        return self.rack if kind == RACK else self.turner


@dataclass(frozen=True)
class Work:
    """All that is to be done."""

    lines: Sequence[Line]
    mixes: Mapping[str, MixWork]
    bench: Bench
    cleaning: Mapping[tuple[str, str], int]  # minutes from one mix to another; what is not named takes CLEANED
    premixed: bool = True  # all mixes before the first of them is sprayed
    pins: Mapping[str, int] = field(default_factory=dict)  # blocks that were dragged: not before

    def change(self, old: str, new: str) -> int:
        """Minutes from one mix to another in the same airbrush."""
        return self.cleaning.get((old, new), CLEANED)

    @cached_property
    def needed(self) -> list[str]:
        """Mixes that are still to be made, in the order of their first use."""
        found: dict[str, None] = {}
        for line in self.lines:
            first = min((line.stands(bait).step for bait in range(line.baits)), default=0)
            for step in line.steps[first:]:
                if step.mix in self.mixes and self.mixes[step.mix].ready is None:
                    found.setdefault(step.mix)
        return list(found)


CLEANED = 4


@dataclass(frozen=True)
class Block:
    """A step of neighbouring baits, one after the other; or the making of a mix."""

    line: int  # -1: a mix
    step: int
    first: int = 0
    last: int = 0  # bait after the last
    mix: str = ""

    def key(self, work: Work) -> str:
        """By what it is known."""
        if self.line < 0:
            return f"mix:{self.mix}"
        line = work.lines[self.line]
        return f"{line.key}:{line.steps[self.step].key}:{self.first}"


@dataclass(frozen=True)
class Piece:
    """What the painter does without a break."""

    start: int
    end: int
    what: str  # "work", "clean", "make"
    block: Block
    bait: int = -1


@dataclass(frozen=True)
class Timed:
    """A sequence of blocks with its times."""

    sequence: Sequence[Block]
    pieces: Sequence[Piece]
    ends: int  # when the last bait is ready
    hands_end: int  # when the painter has done
    cleaning: int  # minutes
    dry: Mapping[tuple[int, int], int]  # of each line and bait: when it is ready
    missed: Sequence[tuple[int, int]] = ()  # baits whose window could not be met any more

    @property
    def worth(self) -> tuple[int, int, int, int, int]:
        """Less is better."""
        return len(self.missed), self.ends, self.hands_end, sum(self.dry.values()), self.cleaning
