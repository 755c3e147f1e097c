"""What falls into a cup, drop by drop: tapped, counted anew, gone astray, given up for a new cup."""

from collections.abc import Callable, Mapping
from dataclasses import replace

from diachrom.core.mix.cup import LARGEST_DROP_ML, SMALLEST_DROP_ML
from diachrom.core.session.events import Event
from diachrom.core.session.repeated_step import MOST_AGAIN, RepeatedStep
from diachrom.core.session.script import BenchStep, Pour, Script
from diachrom.core.session.state import MOST_DROPS, State
from diachrom.errors import InvalidInput
from diachrom.words import say

MOST_STRAYS = 6  # bottles that got into a cup by mistake


def _tap(script: Script, state: State, event: Event) -> State:
    here = state.here_for(script, event)
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


def cup_step(script: Script, state: State, key: str = "") -> BenchStep | None:
    """The step whose mix is in the cup: where drops fall now, or that made what is sprayed; or that is named."""
    run = state.run(script)[: state.position + 1]
    made = [one for one in reversed(run) if one.mixes]
    if key:
        return next((one for one in made if one.key == key), None)
    used = next((one.mix for one in reversed(run) if one.mix and one.kind != "make"), "")
    if run and run[-1].mixes:
        return run[-1]
    return next((one for one in made if one.mix == used), made[0] if made else None)


def _cup(script: Script, state: State, event: Event) -> BenchStep:
    """The cup that an event names. Raises InvalidInput."""
    state.here_for(script, event)
    made = cup_step(script, state, event.what)
    if made is None:
        raise InvalidInput(say("No cup was mixed up to here."), field="what")
    return made


def _recount(script: Script, state: State, event: Event) -> State:
    """The drops that a mix asks for, in the order of its bottles; none fewer than have fallen. Of a cup that is mixed
    already they have fallen."""
    made = _cup(script, state, event)
    parts = event.value.split(",")
    counts = tuple(int(part) for part in parts if part.isdecimal() and len(part) < 5)
    if len(counts) != len(made.pours) or len(parts) != len(counts):
        raise InvalidInput(say("Give a number of drops for each bottle of the mix."), field="value")
    if any(count < state.fallen(made.key, pour.bottle) for count, pour in zip(counts, made.pours, strict=True)):
        raise InvalidInput(say("More drops than that have fallen already."), field="value")
    own = replace(state, counts={**state.counts, made.key: counts})
    if made.key not in state.done:
        return own
    fell = {pour.bottle: count for pour, count in zip(made.pours, counts, strict=True)}
    return replace(own, drops={**state.drops, made.key: fell})


def given(state: State, here: BenchStep, *, every: bool) -> Mapping[str, Mapping[int, int]]:
    """What fell of a mix: where nobody tapped, or `every` drop is said to be in, all that was asked for at least."""
    fell = state.drops.get(here.key, {})
    tapped = any(fell.get(pour.bottle) for pour in here.pours if pour.drops)
    if not here.pours or (tapped and not every):
        return state.drops
    return {**state.drops, here.key: {pour.bottle: max(pour.drops, fell.get(pour.bottle, 0)) for pour in here.pours}}


def _astray(script: Script, state: State, event: Event) -> State:
    """Drops that should not have fallen: of another bottle, or too many of one of the cup's."""
    made = _cup(script, state, event)
    state.has_room(state.slips)
    if not (event.value.isdecimal() and len(event.value) < 4 and int(event.value) > 0):
        raise InvalidInput(say("Say how many drops fell, 1 to 999."), field="value")
    asked = {pour.bottle: pour.drops for pour in made.pours}
    strays = state.strays
    if event.bottle not in asked:
        if len(strays.get(made.key, ())) >= MOST_STRAYS:
            raise InvalidInput(say("That cup is beyond help: mix a new one."), field="bottle")
        if not SMALLEST_DROP_ML <= event.drop_ml <= LARGEST_DROP_ML:
            raise InvalidInput(say("There is no such bottle on the shelf."), field="bottle")
        pour = Pour(event.bottle, event.note, 0, event.drop_ml)
        strays = {**strays, made.key: (*strays.get(made.key, ()), pour)}
    # The cup as it is when all that it asks for is in it, and these.
    fell = state.drops.get(made.key, {})
    whole = max(fell.get(event.bottle, 0), asked.get(event.bottle, 0)) + int(event.value)
    if whole > MOST_DROPS:
        raise InvalidInput(say("That is more than a cup holds."), field="drops")
    drops = {**state.drops, made.key: {**fell, event.bottle: whole}}
    told = replace(event, step=made.key, what="wrong-drops", value=event.value)
    return replace(state, strays=strays, drops=drops, slips=(*state.slips, told))


def _afresh(script: Script, state: State, event: Event) -> State:
    """The cup is given up, whatever becomes of it, and mixed anew: here, or before the step that was come to."""
    made = _cup(script, state, event)
    state.has_room(state.mends)
    if len(state.again) >= MOST_AGAIN:
        raise InvalidInput(
            say("No more than {most_again} steps come again in a session.", most_again=MOST_AGAIN), field="value"
        )
    fell, before = state.drops.get(made.key, {}), state.aside.get(made.key, {})
    aside = {key: fell.get(key, 0) + before.get(key, 0) for key in (*fell, *before)}
    own = replace(
        state,
        aside={**state.aside, made.key: aside},
        drops={key: drops for key, drops in state.drops.items() if key != made.key},
        counts={key: counts for key, counts in state.counts.items() if key != made.key},
        mends=(*state.mends, replace(event, step=made.key, what="")),
    )
    if made.key in state.done:
        key = f"{made.key}+new{len(own.mends)}"
        own = replace(own, again=(*own.again, RepeatedStep(state.position, made.key, key, whole=True)))
    return own


POURED: Mapping[str, Callable[[Script, State, Event], State]] = {
    "tap": _tap,
    "untap": _tap,
    "recount": _recount,
    "astray": _astray,
    "afresh": _afresh,
}
