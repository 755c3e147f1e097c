"""How a cup came to be: the drops as they fell, what was said after each test, and the corrections."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from diachrom.core.mix.draft import Draft, Part
from diachrom.errors import InvalidInput
from diachrom.words import listed, say


@dataclass(frozen=True)
class Verdict:
    """What the eye or a reader said of a test on paper."""

    words: str
    source: str  # "the eye", or a reader's name
    lab: tuple[float, float, float] | None = None  # as it was read


THE_EYE = say("the eye")
# What the eye may say of a puff on paper.
VERDICTS = (
    *(say("right"), say("too dark"), say("too light"), say("too strong"), say("too thin"), say("too grey")),
    *(say("too red"), say("too green"), say("too yellow"), say("too blue")),
)
# By the English that is kept.
VERDICT_WORDS: Mapping[str, str] = {word: word for word in (*VERDICTS, say("too dull"), THE_EYE)}


def by_eye(said: str) -> Verdict:
    """Raises InvalidInput for what is none of VERDICTS."""
    if said not in VERDICTS:
        raise InvalidInput(
            say("'{said}' is no verdict; there are: {verdicts}.", said=said[:40], verdicts=listed(VERDICTS)),
            field="verdict",
        )
    return Verdict(said, THE_EYE)


@dataclass(frozen=True)
class Told:
    """One thing that happened: drops of a bottle, or a verdict."""

    bottle: int | None
    drops: int  # below nothing: counted too many before
    drop_ml: float
    verdict: Verdict | None = None


def story(steps: Iterable[tuple[str, Draft, Verdict | None]]) -> list[Told]:
    """From the steps of one cup in order, (time, ...) each.

    Drops of a bottle that fell one after the other are told together.
    """
    told: list[Told] = []
    before: dict[int, int] = {}
    for _, draft, verdict in steps:
        now = {part.bottle: part.drops for part in draft.parts}
        sizes = {part.bottle: part.drop_ml for part in draft.parts}
        for bottle in dict.fromkeys([*now, *before]):
            drops = now.get(bottle, 0) - before.get(bottle, 0)
            if drops:
                one = Told(bottle, drops, sizes.get(bottle, 0.0))
                last = told[-1] if told else None
                if last is None or last.bottle != one.bottle:
                    told.append(one)
                else:
                    together = last.drops + one.drops
                    told[-1] = replace(last, drops=together)
                    if not together:
                        told.pop()
        if verdict is not None:
            told.append(Told(None, 0, 0.0, verdict))
        before = now
    return told


def since_last_drop(steps: Iterable[tuple[str, Draft, Verdict | None]]) -> tuple[str | None, list[Verdict]]:
    """When the last drop of a cup fell, None before the first; and what was said since. Steps as (time, ...) each."""
    since: str | None = None
    said: list[Verdict] = []
    before: tuple[Part, ...] = ()
    for at, draft, verdict in steps:
        if draft.parts != before:
            since, said, before = at, [], draft.parts
        if verdict is not None:
            said.append(verdict)
    return since, said


def cups_along(told: Iterable[Told]) -> list[dict[int, int]]:
    """What was in the cup after each: drops by bottle."""
    found: list[dict[int, int]] = []
    now: dict[int, int] = {}
    for one in told:
        if one.bottle is not None:
            now = {**now, one.bottle: now.get(one.bottle, 0) + one.drops}
        found.append({bottle: drops for bottle, drops in now.items() if drops > 0})
    return found
