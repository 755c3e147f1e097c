"""A session as events that are appended, and the state that follows from them: `after(script, state, event)`."""

from collections.abc import Iterable, Sequence
from dataclasses import replace

from diachrom.core.session import places
from diachrom.core.session.events import COLOURS, DIFFERENT, FACTS, LEFTOVERS, LONGEST_NOTE, SLIPS, Event
from diachrom.core.session.mends import MEANS
from diachrom.core.session.pouring import POURED, given
from diachrom.core.session.repeated_step import MOST_AGAIN, RepeatedStep, needed, needed_there
from diachrom.core.session.script import LEFT, RIGHT, Script
from diachrom.core.session.state import MOST_BACK, State, Timer
from diachrom.errors import InvalidInput
from diachrom.words import listed, say


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


def _next(script: Script, state: State, event: Event) -> State:
    here = state.here_for(script, event)
    asked = [caution for caution in here.cautions if caution not in state.agreed]
    if asked:
        raise InvalidInput(say("Read this step's caution first, then confirm it."), field="caution")
    drops = given(state, here, every=event.value == "all")
    timers = tuple(timer for timer in state.timers if not timer.over_by(here))
    if here.dries_s > 0:
        closes = None if here.closes_s is None else event.at + here.closes_s
        ends, baits = event.at + here.dries_s, (here.line, here.first, here.last)
        timers += (Timer(here.key, here.words, event.at, ends, closes=closes, of=here.timer, baits=baits),)
    done = state.done if here.key in state.done else (*state.done, here.key)
    moments = {**state.moments, here.key: event.at}
    position = state.position + 1
    return replace(state, position=position, done=done, drops=drops, moments=moments, timers=timers, paused=False)


def _back(script: Script, state: State, event: Event) -> State:
    """What was done stays done: going back is to look, and to say what was different."""
    by = int(event.value) if event.value.isdecimal() and len(event.value) < 3 else 1
    if not 1 <= by <= MOST_BACK:
        raise InvalidInput(say("1 to {most_back} steps back at once.", most_back=MOST_BACK), field="value")
    return replace(state, position=max(0, state.position - by))


def _told(script: Script, state: State, event: Event, before: Sequence[Event]) -> tuple[Event, ...]:
    """What was told before, and an event of the step that the session stands at. Raises InvalidInput."""
    here = state.here_for(script, event)
    state.has_room(before)
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
    here = state.here_for(script, event)
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
    here = state.here_for(script, event)
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
    here = state.here_for(script, event)
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
    **POURED,
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
