"""A session as events that are appended, and the state that follows from them: `after(script, state, event)`.

Nothing here knows the time: an event brings its own, in seconds. A timer is the moment at which it ends, so that it
goes on whatever is switched off meanwhile.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace

from diachrom.core.session.script import BenchStep, Script
from diachrom.errors import InvalidInput

MOST_BACK = 5  # steps that can be gone back at once
MOST_DROPS = 9999
LONGEST_NOTE = 500
DIFFERENT = {
    "coats": "other coats",
    "pressure": "another pressure",
    "nozzle": "another nozzle",
    "distance": "from farther or nearer",
    "bottle": "a bottle that stood in",
    "colour": "the colour is not as it was meant",
    "wait": "waited longer or shorter",
}
SLIPS = {
    "splatter": "a splatter",
    "run": "a run",
    "spider-web": "a spider web",
    "wrong-bottle": "the wrong bottle",
    "scratch": "a scratch",
    "tip-dry": "tip dry",
    "lifted": "lifted by the net",
}


@dataclass(frozen=True)
class Event:
    """Something that happened at the bench."""

    kind: str
    at: float  # seconds
    step: str = ""  # its key
    bottle: int = 0
    what: str = ""
    value: str = ""
    note: str = ""


@dataclass(frozen=True)
class Timer:
    """What dries, rests or cures."""

    key: str  # of its step
    words: str
    began: float
    ends: float
    closes: float | None = None


@dataclass(frozen=True)
class State:
    position: int = 0
    done: tuple[str, ...] = ()  # keys of steps
    drops: Mapping[str, Mapping[int, int]] = field(default_factory=dict)  # of a step, by bottle
    timers: tuple[Timer, ...] = ()
    different: tuple[Event, ...] = ()
    slips: tuple[Event, ...] = ()
    agreed: tuple[str, ...] = ()  # cautions
    paused: bool = False
    began: float | None = None
    worked_s: float = 0.0  # without the pauses
    last: float | None = None

    def fallen(self, step: str, bottle: int) -> int:
        return self.drops.get(step, {}).get(bottle, 0)

    def left(self, step: BenchStep) -> int:
        """Drops that have not fallen yet."""
        return sum(max(0, one.drops - self.fallen(step.key, one.bottle)) for one in step.pours)


def after(script: Script, state: State, event: Event) -> State:
    """The state after an event. Raises InvalidInput for what cannot happen now, and changes nothing."""
    if event.kind not in HAPPENS:
        raise InvalidInput(f"Nothing called '{event.kind[:20]}' happens at the bench.", field="kind")
    if len(event.note) > LONGEST_NOTE:
        raise InvalidInput(f"A note has at most {LONGEST_NOTE} characters.", field="note")
    return _clocked(state, HAPPENS[event.kind](script, state, event), event)


def replayed(script: Script, events: Iterable[Event]) -> State:
    """From the beginning: what a snapshot must equal."""
    state = State()
    for event in events:
        state = after(script, state, event)
    return state


def _clocked(before: State, now: State, event: Event) -> State:
    """Time at the bench grows by what lies between two events, but for pauses; a clock that was set back adds none."""
    spent = 0.0 if before.last is None or before.paused else max(0.0, event.at - before.last)
    began = event.at if before.began is None else before.began
    return replace(now, began=began, worked_s=before.worked_s + spent, last=event.at)


def _here(script: Script, state: State, event: Event) -> BenchStep:
    """The step that an event is of; it must be where the session is. Raises InvalidInput."""
    here = script.at(state.position)
    if here is None:
        raise InvalidInput("Every step of this session is done.", field="step")
    if event.step and event.step != here.key:
        raise InvalidInput("The session has gone on: look at it again.", field="step")
    return here


def _tap(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    if event.bottle not in {one.bottle for one in here.pours}:
        raise InvalidInput("That bottle is not asked for at this step.", field="bottle")
    by = -1 if event.kind == "untap" else 1
    count = state.fallen(here.key, event.bottle) + by
    if not 0 <= count <= MOST_DROPS:
        raise InvalidInput("No drop of it fell yet." if count < 0 else "That is more than a cup holds.", field="drops")
    own = {**state.drops.get(here.key, {}), event.bottle: count}
    return replace(state, drops={**state.drops, here.key: own})


def _next(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    asked = [one for one in here.cautions if one not in state.agreed]
    if asked:
        raise InvalidInput("Read the caution of this step first, and press that you did.", field="caution")
    timers = tuple(one for one in state.timers if one.key != here.key)
    if here.dries_s > 0:
        closes = None if here.closes_s is None else event.at + here.closes_s
        timers += (Timer(here.key, here.words, event.at, event.at + here.dries_s, closes),)
    done = state.done if here.key in state.done else (*state.done, here.key)
    return replace(state, position=state.position + 1, done=done, timers=timers, paused=False)


def _back(script: Script, state: State, event: Event) -> State:
    """What was done stays done: going back is to look, and to say what was different."""
    by = int(event.value) if event.value.isdecimal() and len(event.value) < 3 else 1
    if not 1 <= by <= MOST_BACK:
        raise InvalidInput(f"1 to {MOST_BACK} steps back at once.", field="value")
    return replace(state, position=max(0, state.position - by))


def _different(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    if event.what not in DIFFERENT:
        raise InvalidInput(f"'{event.what[:20]}' is no way of being different.", field="what")
    return replace(state, different=(*state.different, replace(event, step=here.key)))


def _slip(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    if event.what not in SLIPS:
        raise InvalidInput(f"There is no slip called '{event.what[:20]}'.", field="what")
    return replace(state, slips=(*state.slips, replace(event, step=here.key)))


def _agree(script: Script, state: State, event: Event) -> State:
    return replace(state, agreed=tuple(dict.fromkeys((*state.agreed, event.what))))


def _pause(script: Script, state: State, event: Event) -> State:
    return replace(state, paused=event.kind == "pause")


def _off(script: Script, state: State, event: Event) -> State:
    """A timer was heard."""
    return replace(state, timers=tuple(one for one in state.timers if one.key != event.what))


HAPPENS = {
    "tap": _tap,
    "untap": _tap,
    "next": _next,
    "back": _back,
    "different": _different,
    "slip": _slip,
    "agree": _agree,
    "pause": _pause,
    "resume": _pause,
    "timer-off": _off,
}
