"""A session as events that are appended, and the state that follows from them: `after(script, state, event)`.

Nothing here knows the time: an event brings its own, in seconds. A timer is the moment at which it ends, so that it
goes on whatever is switched off meanwhile. Where a clock is set back the session's own time goes on from where it was.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from diachrom.core.session import places
from diachrom.core.session.events import COLOURS, DIFFERENT, FACTS, LEFTOVERS, LONGEST_NOTE, SLIPS, Event
from diachrom.core.session.mends import MEANS
from diachrom.core.session.repeated_step import MOST_AGAIN, RepeatedStep, needed, needed_there, run_of
from diachrom.core.session.script import DRIES, LEFT, RIGHT, BenchStep, Script
from diachrom.errors import InvalidInput
from diachrom.words import listed, say

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
        return [self._recounted(step) for step in steps] if self.counts else steps

    def _recounted(self, step: BenchStep) -> BenchStep:
        counts = self.counts.get(step.key, ())
        if len(counts) != len(step.pours):
            return step
        return replace(step, pours=tuple(replace(one, drops=n) for one, n in zip(step.pours, counts, strict=True)))

    def here(self, script: Script) -> BenchStep | None:
        """The step that it stands at, None after the last."""
        steps = self.run(script)
        return steps[self.position] if 0 <= self.position < len(steps) else None

    def all_told(self) -> list[Event]:
        """What was not as planned, in the order of time."""
        told = (*self.different, *self.slips, *self.mends, *self.leftovers, *self.photos)
        return sorted(told, key=lambda event: event.at)


def after(script: Script, state: State, event: Event) -> State:
    """The state after an event. Raises InvalidInput for what cannot happen now, and changes nothing."""
    if event.kind not in HAPPENS:
        raise InvalidInput(say("Nothing called '{kind}' happens at the bench.", kind=event.kind[:20]), field="kind")
    if len(event.note) > LONGEST_NOTE:
        raise InvalidInput(
            say("A note has at most {longest_note} characters.", longest_note=LONGEST_NOTE), field="note"
        )
    now = state.now(event.at)
    told = replace(event, at=now)
    # Time at the bench grows by what lies between two events, but for pauses; a clock that was set back adds none,
    # and from then on its time is counted on.
    spent = 0.0 if state.last is None or state.paused else now - state.last
    began = now if state.began is None else state.began
    return replace(
        HAPPENS[event.kind](script, state, told),
        began=began,
        worked_s=state.worked_s + spent,
        last=now,
        shift=(now - event.at),
    )


def replayed(script: Script, events: Iterable[Event]) -> State:
    """From the beginning: what a snapshot must equal."""
    state = State()
    for event in events:
        state = after(script, state, event)
    return state


def _here(script: Script, state: State, event: Event) -> BenchStep:
    """The step that an event is of; it must be where the session is. Raises InvalidInput."""
    here = state.here(script)
    if here is None:
        raise InvalidInput(say("Every step of this session is done."), field="step")
    if event.step and event.step != here.key:
        raise InvalidInput(say("The session has gone on: look at it again."), field="step")
    return here


def _tap(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    if event.bottle not in {pour.bottle for pour in here.pours}:
        raise InvalidInput(say("That bottle is not asked for at this step."), field="bottle")
    by = -1 if event.kind == "untap" else 1
    count = state.fallen(here.key, event.bottle) + by
    if not 0 <= count <= MOST_DROPS:
        raise InvalidInput(
            say("No drop of it is in yet.") if count < 0 else say("That is more than a cup holds."), field="drops"
        )
    own = {**state.drops.get(here.key, {}), event.bottle: count}
    return replace(state, drops={**state.drops, here.key: own})


def _recount(script: Script, state: State, event: Event) -> State:
    """The drops that a mix asks for, in the order of its bottles; none fewer than have fallen."""
    here = _here(script, state, event)
    parts = event.value.split(",")
    counts = tuple(int(part) for part in parts if part.isdecimal() and len(part) < 5)
    if len(counts) != len(here.pours) or len(parts) != len(counts):
        raise InvalidInput(say("Give a number of drops for each bottle of the mix."), field="value")
    if any(count < state.fallen(here.key, pour.bottle) for count, pour in zip(counts, here.pours, strict=True)):
        raise InvalidInput(say("More drops than that have fallen already."), field="value")
    return replace(state, counts={**state.counts, here.key: counts})


def _next(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    asked = [caution for caution in here.cautions if caution not in state.agreed]
    if asked:
        raise InvalidInput(say("Read this step's caution first, then confirm it."), field="caution")
    drops = _poured(state, here, every=event.value == "all")
    timers = tuple(timer for timer in state.timers if not timer.over_by(here))
    if here.dries_s > 0:
        closes = None if here.closes_s is None else event.at + here.closes_s
        ends, baits = event.at + here.dries_s, (here.line, here.first, here.last)
        timers += (Timer(here.key, here.words, event.at, ends, closes=closes, of=here.timer, baits=baits),)
    done = state.done if here.key in state.done else (*state.done, here.key)
    moments = {**state.moments, here.key: event.at}
    position = state.position + 1
    return replace(state, position=position, done=done, drops=drops, moments=moments, timers=timers, paused=False)


def _poured(state: State, here: BenchStep, *, every: bool) -> Mapping[str, Mapping[int, int]]:
    """What fell of a mix: where nobody tapped, or `every` drop is said to be in, all that was asked for at least."""
    fell = state.drops.get(here.key, {})
    if not here.pours or (fell and not every):
        return state.drops
    return {**state.drops, here.key: {pour.bottle: max(pour.drops, fell.get(pour.bottle, 0)) for pour in here.pours}}


def _back(script: Script, state: State, event: Event) -> State:
    """What was done stays done: going back is to look, and to say what was different."""
    by = int(event.value) if event.value.isdecimal() and len(event.value) < 3 else 1
    if not 1 <= by <= MOST_BACK:
        raise InvalidInput(say("1 to {most_back} steps back at once.", most_back=MOST_BACK), field="value")
    return replace(state, position=max(0, state.position - by))


def _told(script: Script, state: State, event: Event, before: Sequence[Event]) -> tuple[Event, ...]:
    """What was told before, and an event of the step that the session stands at. Raises InvalidInput."""
    here = _here(script, state, event)
    if len(before) >= MOST_TOLD:
        raise InvalidInput(
            say("A session tells at most {most_told} of these: end it, and begin the next.", most_told=MOST_TOLD),
            field="kind",
        )
    if event.bait >= 0 and here.last > here.first and not here.holds(event.bait):
        raise InvalidInput(say("This step is not of bait {bait}.", bait=event.bait + 1), field="bait")
    return (*before, replace(event, step=here.key))


def _different(script: Script, state: State, event: Event) -> State:
    if event.what not in DIFFERENT:
        raise InvalidInput(say("'{what}' is no way of being different.", what=event.what[:20]), field="what")
    _, figure = DIFFERENT[event.what]
    if figure is not None:
        event = replace(event, value=f"{figure.value(event.value, 'value'):g}")
    elif event.what == "colour" and event.value not in COLOURS:
        raise InvalidInput(say("Say whether it is {values}.", values=listed(COLOURS.values(), " or ")), field="value")
    return replace(state, different=_told(script, state, event, state.different))


def _more(script: Script, state: State, event: Event) -> State:
    """So many coats more of the step that is worked on: they come after it, and are told."""
    here = _here(script, state, event)
    count = int(event.value) if event.value.isdecimal() and len(event.value) < 2 else 0
    if not count or not here.coats:
        raise InvalidInput(say("1 to 9 coats more are laid at once, of what is sprayed now."), field="value")
    if len(state.again) + count > MOST_AGAIN:
        raise InvalidInput(
            say("No more than {most_again} steps come again in a session.", most_again=MOST_AGAIN), field="value"
        )
    said = [one.value for one in state.different if (one.step, one.what) == (here.key, "coats")]
    whole = float(said[-1]) if said else here.coats
    told = replace(event, kind="different", what="coats", value=f"{whole + count:g}")
    again = tuple(
        RepeatedStep(state.position + 1 + k, here.key, f"{here.key}+more{len(state.again) + k}", event.bait)
        for k in range(count)
    )
    return replace(_different(script, state, told), again=(*state.again, *again))


def _unsay(script: Script, state: State, event: Event) -> State:
    """What was last told to be different was not."""
    if not state.different:
        raise InvalidInput(say("Nothing was reported to be different."), field="kind")
    return replace(state, different=state.different[:-1])


def _slip(script: Script, state: State, event: Event) -> State:
    if event.what not in SLIPS:
        raise InvalidInput(say("There is no mistake called '{what}'.", what=event.what[:20]), field="what")
    places.read(event.place)
    return replace(state, slips=_told(script, state, event, state.slips))


def _mend(script: Script, state: State, event: Event) -> State:
    """The way that was chosen: its layers come again, here and now."""
    here = _here(script, state, event)
    numbers = [part for part in event.value.split(",") if part]
    if not all(part.isdecimal() and len(part) < 6 for part in numbers):
        raise InvalidInput(say("A mistake is mended by spraying layers again: give their numbers."), field="value")
    done = [*script.before, *state.run(script)[: state.position]]
    spot, layers = places.read(event.place), [int(part) for part in numbers]
    if event.what and event.what not in MEANS:
        raise InvalidInput(say("There is no way out called '{what}'.", what=event.what[:20]), field="what")
    if event.what:
        again = needed_there([*done, here], here, layers, spot.side if spot else here.side)
    else:
        again = needed(done, here, layers, event.bait)
    if len(state.again) + len(again) > MOST_AGAIN:
        raise InvalidInput(
            say("No more than {most_again} steps come again in a session.", most_again=MOST_AGAIN), field="value"
        )
    mends = _told(script, state, event, state.mends)
    place = len(mends)
    # What is done before anything is laid again: the beginning of the way that was chosen.
    repeated = [
        RepeatedStep(0, step.key, f"{step.key}+{place}", event.bait, place=event.place, there=bool(event.what))
        for step in again
    ]
    if event.what:
        by_hand = MEANS[event.what].at_once
        if by_hand:
            own = RepeatedStep(0, here.key, f"{here.key}+{place}:by-hand", event.bait, by_hand, place=event.place)
            repeated.insert(0, own)
    elif numbers:
        first = event.note.partition(", then ")[0].removesuffix(".") or say("Take it off")
        repeated.insert(0, RepeatedStep(0, here.key, f"{here.key}+{place}:by-hand", event.bait, first))
    placed = (replace(one, at=state.position + index) for index, one in enumerate(repeated))
    return replace(state, mends=mends, again=(*state.again, *placed))


def _fact(script: Script, state: State, event: Event) -> State:
    here = _here(script, state, event)
    if event.what not in FACTS:
        raise InvalidInput(say("Nothing called '{what}' is measured at the bench.", what=event.what[:20]), field="what")
    value = FACTS[event.what].value(event.value, event.what)
    own = {**state.facts.get(here.key, {}), event.what: value}
    return replace(state, facts={**state.facts, here.key: own})


def _left(script: Script, state: State, event: Event) -> State:
    if event.what not in LEFTOVERS:
        raise InvalidInput(say("What is left goes {values}.", values=", or ".join(LEFTOVERS.values())), field="what")
    if event.value:
        event = replace(event, value=f"{FACTS['used_ml'].value(event.value, 'value'):g}")
    return replace(state, leftovers=_told(script, state, event, state.leftovers))


def _photo(script: Script, state: State, event: Event) -> State:
    if event.what not in (LEFT, RIGHT):
        raise InvalidInput(say("Say whether the photo shows the left or the right side."), field="what")
    if not event.value.isdecimal():
        raise InvalidInput(say("There is no such photo."), field="value")
    return replace(state, photos=_told(script, state, event, state.photos))


def _agree(script: Script, state: State, event: Event) -> State:
    return replace(state, agreed=tuple(dict.fromkeys((*state.agreed, event.what))))


def _pause(script: Script, state: State, event: Event) -> State:
    return replace(state, paused=event.kind == "pause")


def _off(script: Script, state: State, event: Event) -> State:
    """A timer was heard."""
    return replace(state, timers=tuple(timer for timer in state.timers if timer.key != event.what))


HAPPENS = {
    "tap": _tap,
    "untap": _tap,
    "recount": _recount,
    "next": _next,
    "back": _back,
    "different": _different,
    "more": _more,
    "unsay": _unsay,
    "slip": _slip,
    "mend": _mend,
    "fact": _fact,
    "left": _left,
    "photo": _photo,
    "agree": _agree,
    "pause": _pause,
    "resume": _pause,
    "timer-off": _off,
}
