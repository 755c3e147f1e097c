"""Steps that come again after a slip: copies of what the script has for their layers, put in where the session is."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.session.script import BenchStep, Script
from diachrom.words import say

MOST_AGAIN = 200  # steps of a session that come again


@dataclass(frozen=True)
class RepeatedStep:
    """A step that is done once more."""

    at: int  # its place among the steps when it was put in
    of: str  # key of the step that it is like
    key: str
    bait: int = -1
    words: str = ""  # of what is done by hand before: it is no step of the script, only at its place
    place: str = ""  # on the bait, as a Spot is kept
    there: bool = False  # at that spot alone: all coats of its layer in one step
    whole: bool = False  # a mix, all of it anew


def run_of(script: Script, again: Sequence[RepeatedStep]) -> Sequence[BenchStep]:
    """All steps as they are gone through."""
    if not again:
        return script.steps
    steps = list(script.steps)
    for repeated_step in again:
        like = script.like(repeated_step.of)
        if like is not None:
            steps.insert(min(max(repeated_step.at, 0), len(steps)), _copy(like, repeated_step))
    return steps


def _copy(like: BenchStep, repeated_step: RepeatedStep) -> BenchStep:
    """On a bait alone; its order has counted it already. Of a mix a spot needs little: what falls is tapped."""
    first, last = (like.first, like.last) if repeated_step.bait < 0 else (repeated_step.bait, repeated_step.bait + 1)
    if repeated_step.words:
        return BenchStep(
            repeated_step.key,
            "mend",
            repeated_step.words,
            line=like.line,
            plan=like.plan,
            version=like.version,
            layer=like.layer,
            steps=like.steps,
            first=first,
            last=last,
            side=like.side,
        )
    if repeated_step.whole:
        return replace(like, key=repeated_step.key, block="")
    if like.kind == "make":
        return replace(
            like,
            key=repeated_step.key,
            block="",
            words=say("{step} again, as much as the spot needs, if the cup is empty", step=like.words),
            pours=tuple(replace(pour, drops=0) for pour in like.pours),
            figures=(),
        )
    own = replace(like, key=repeated_step.key, block="", twin="", first=first, last=last)
    if not repeated_step.there:
        return replace(own, words=f"Again: {like.words}")
    side = repeated_step.place.partition(" ")[0] or like.side
    return replace(own, words=say("There alone: {step}", step=like.words), side=side)


def needed_there(done: Sequence[BenchStep], here: BenchStep, layers: Sequence[int], side: str) -> list[BenchStep]:
    """Of these steps one for each layer that is laid again at a spot, on its side, with the pour of each mix that the
    airbrush does not hold already."""
    makes = {one.mix: one for one in done if one.kind == "make"}
    holds, found = here.mix, list[BenchStep]()
    for layer in layers:
        steps = [one for one in done if one.layer == layer and (one.line, one.plan) == (here.line, here.plan)]
        own = [one for one in steps if one.side in ("", side)] or steps
        own = [one for one in own if one.kind not in ("weigh", "make", "mend")]
        if not own:
            continue
        if own[0].mix and own[0].mix != holds and own[0].mix in makes:
            found.append(makes[own[0].mix])
        holds = own[0].mix or holds
        found.append(own[0])
    return found


def needed(done: Sequence[BenchStep], here: BenchStep, layers: Sequence[int], bait: int) -> list[BenchStep]:
    """Of the steps that were done, those that lay these layers again, each mix poured before it is first used. The
    step that slipped is still to be done, and not among them."""
    makes = {one.mix: one for one in done if one.kind == "make"}
    found: list[BenchStep] = []
    seen: set[str] = set()
    for layer in layers:
        steps = [one for one in done if one.layer == layer and (one.line, one.plan) == (here.line, here.plan)]
        on_bait = [one for one in steps if one.holds(bait)] or steps
        for step in on_bait:
            told = f"{step.words}{step.side}"  # the same coat on other baits, or once more
            if told in seen or step.key == here.key or (here.side and step.side not in ("", here.side)):
                continue
            seen.add(told)
            if step.mix in makes and f"make {step.mix}" not in seen:
                seen.add(say("make {mix}", mix=step.mix))
                found.append(makes[step.mix])
            found.append(step)
    return found
