"""How a session stands: what was done, what fell, what dries.

Nothing here knows the time: an event brings its own, in seconds. A timer is the moment at which it ends, so that it
goes on whatever is switched off meanwhile. Where a clock is set back the session's own time goes on from where it was.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

from diachrom.core.session.events import Event
from diachrom.core.session.repeated_step import RepeatedStep, run_of
from diachrom.core.session.script import DRIES, BenchStep, Pour, Script
from diachrom.errors import InvalidInput
from diachrom.words import say

MOST_BACK = 5  # steps that can be gone back at once
MOST_DROPS = 9999
MOST_TOLD = 500  # things of a kind that a session tells


@dataclass(frozen=True)
class Timer:
    """What dries, rests or cures."""

    key: str  # of its step
    words: str
    began: float
    ends: float
    closes: float | None = None
    of: str = DRIES
    baits: tuple[int, int, int] = (0, 0, 0)  # of which line, first, and after the last; of none where those are alike

    def over_by(self, step: BenchStep) -> bool:
        """Whether a step makes it idle: done again, or more laid on the same baits."""
        line, first, last = self.baits
        on_all = line == step.line and step.first <= first < last <= step.last
        return self.key == step.key or (self.of == DRIES and on_all and step.kind != "weigh")


@dataclass(frozen=True)
class State:
    position: int = 0
    done: tuple[str, ...] = ()  # keys of steps
    drops: Mapping[str, Mapping[int, int]] = field(default_factory=dict)  # of a step, by bottle
    counts: Mapping[str, tuple[int, ...]] = field(default_factory=dict)  # that a step's pours were counted anew to
    strays: Mapping[str, tuple[Pour, ...]] = field(default_factory=dict)  # of bottles that a step does not ask for
    aside: Mapping[str, Mapping[int, int]] = field(default_factory=dict)  # drops of a cup that was given up
    timers: tuple[Timer, ...] = ()
    different: tuple[Event, ...] = ()
    slips: tuple[Event, ...] = ()
    mends: tuple[Event, ...] = ()
    leftovers: tuple[Event, ...] = ()
    photos: tuple[Event, ...] = ()  # its value is the photo's number, its `what` the side
    facts: Mapping[str, Mapping[str, float]] = field(default_factory=dict)  # measured at a step
    moments: Mapping[str, float] = field(default_factory=dict)  # when a step was done
    again: tuple[RepeatedStep, ...] = ()
    agreed: tuple[str, ...] = ()  # cautions
    paused: bool = False
    began: float | None = None
    worked_s: float = 0.0  # without the pauses
    last: float | None = None
    shift: float = 0.0  # by which clocks were set back meanwhile

    def now(self, clock: float) -> float:
        """The session's time where a clock says so: it never runs back, and is the clock's again once that is right."""
        return clock if self.last is None or clock >= self.last else max(clock + self.shift, self.last)

    def fallen(self, step: str, bottle: int) -> int:
        """Drops of a bottle that have fallen in a step."""
        return self.drops.get(step, {}).get(bottle, 0)

    def left(self, step: BenchStep) -> int:
        """Drops that have not fallen yet."""
        return sum(max(0, pour.drops - self.fallen(step.key, pour.bottle)) for pour in step.pours)

    def run(self, script: Script) -> Sequence[BenchStep]:
        """All steps as they are gone through, with those that come again."""
        steps = run_of(script, self.again)
        return [self._as_counted(step) for step in steps] if self.counts or self.strays else steps

    def _as_counted(self, step: BenchStep) -> BenchStep:
        """With the bottles that got into its cup, and the drops that it was counted anew to."""
        pours = (*step.pours, *self.strays.get(step.key, ()))
        counts = self.counts.get(step.key, ())
        counts += tuple(one.drops for one in pours[len(counts) :])
        if len(counts) != len(pours):
            return step
        return replace(step, pours=tuple(replace(one, drops=n) for one, n in zip(pours, counts, strict=True)))

    def here(self, script: Script) -> BenchStep | None:
        """The step that it stands at, None after the last."""
        steps = self.run(script)
        return steps[self.position] if 0 <= self.position < len(steps) else None

    def here_for(self, script: Script, event: Event) -> BenchStep:
        """The step that an event is of; it must be where the session is. Raises InvalidInput."""
        here = self.here(script)
        if here is None:
            raise InvalidInput(say("Every step of this session is done."), field="step")
        if event.step and event.step != here.key:
            raise InvalidInput(say("The session has gone on: look at it again."), field="step")
        return here

    def has_room(self, told: Sequence[Event]) -> None:
        """Raises InvalidInput where a session tells as many of a kind as it may."""
        if len(told) >= MOST_TOLD:
            raise InvalidInput(
                say("A session tells at most {most_told} of these: end it, and begin the next.", most_told=MOST_TOLD),
                field="kind",
            )

    def all_told(self) -> list[Event]:
        """What was not as planned, in the order of time."""
        told = (*self.different, *self.slips, *self.mends, *self.leftovers, *self.photos)
        return sorted(told, key=lambda event: event.at)
