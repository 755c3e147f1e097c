"""How a paint runs down the wall of the cup: five grades that every painter sees, and the reducer that brings one to
another. What a paint was seen to do says how it does; before that its kind does."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from diachrom.core.film.kinds import KINDS, Thinned
from diachrom.core.mix.reducing import AS_IT_COMES
from diachrom.words import say

STEP = 0.12  # share of reducer from one grade to the next: usual, until two grades of a paint were seen
LEAST_STEP, MOST_STEP = 0.03, 0.30
MOST_SHARE = 0.9
MILK = 4  # the grade of what a thin hand sprays


@dataclass(frozen=True)
class Grade:
    """How it runs, and how far down the wall in the time that one looks (0 to 1)."""

    words: str
    run: float


GRADES: Mapping[int, Grade] = {
    1: Grade(say("stands, like toothpaste"), 0.08),
    2: Grade(say("crawls, like honey"), 0.3),
    3: Grade(say("walks, like cream"), 0.55),
    4: Grade(say("runs, like milk"), 0.8),
    5: Grade(say("races, like water"), 1.0),
}


@dataclass(frozen=True)
class Seen:
    """A paint at the cup: so thin, it ran so."""

    share: float  # of reducer in the volume
    grade: int


def share_for(grade: int, kind: str, seen: Sequence[Seen]) -> float:
    """Share of reducer at which a paint runs so.

    Parameters
    ----------
    grade : of GRADES.
    kind : of the paint, which says what is usual.
    seen : what this paint did in this hand, the oldest first; the latest of a grade counts.
    """
    way: Thinned = KINDS[kind].thinned or AS_IT_COMES
    latest = {one.grade: one.share for one in seen}
    if grade in latest:
        return latest[grade]
    usual = way.thin + STEP * (grade - MILK)
    if not latest:
        return min(max(usual, 0.0), MOST_SHARE)
    if len(latest) == 1:
        ((known, share),) = latest.items()
        return min(max(share + STEP * (grade - known), 0.0), MOST_SHARE)
    grades = sorted(latest)
    step = (latest[grades[-1]] - latest[grades[0]]) / (grades[-1] - grades[0])
    step = min(max(step, LEAST_STEP), MOST_STEP)
    nearest = min(grades, key=lambda one: abs(one - grade))
    return min(max(latest[nearest] + step * (grade - nearest), 0.0), MOST_SHARE)


def to_add_ml(now: float, wanted: float, volume_ml: float) -> float:
    """Reducer that brings a cup from one share to another, 0 where it is as thin already."""
    return max(0.0, (wanted - now) * volume_ml / (1 - wanted))
