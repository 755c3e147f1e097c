"""The schedule against a search through every minute, which shares nothing with it but the rules of the bench."""

import random
from dataclasses import dataclass, replace
from itertools import pairwise

import pytest

from diachrom.core.schedule.bound import least_end
from diachrom.core.schedule.hours import DoesNotFit, Hours
from diachrom.core.schedule.search import solve
from diachrom.core.schedule.work import RACK, TURNER, Bench, Line, MixWork, Step, Work

SEEDS = range(24)
HOURS = [(0, 9), (14, 25), (32, 44), (50, 66), (75, 130)]


@dataclass(frozen=True)
class _Now:
    """The bench at a minute at which the painter is free."""

    steps: tuple[tuple[int, ...], ...]
    ready: tuple[tuple[int, ...], ...]
    closes: tuple[tuple[int, ...], ...]
    held: tuple[tuple[str, int, int, int], ...]  # place, line, bait, until
    loaded: tuple[str, ...]
    made: tuple[tuple[str, int], ...]
    mixing: tuple[int, int, int, int] | None = None  # line, step, when it was made, baits that it served


def _set(rows, line, bait, value):
    return tuple(
        tuple(value if (at, one) == (line, bait) else old for one, old in enumerate(row)) for at, row in enumerate(rows)
    )


def _open(work, at, minutes):
    return any(start <= at and at + minutes <= end for start, end in work.bench.hours.windows)


def _begun(work, now, at):
    """What the painter can begin at this minute: (minutes, the bench then)."""
    made = dict(now.made)
    for key in work.needed:
        mix = work.mixes[key]
        if key not in made and _open(work, at, mix.minutes):
            end = at + mix.minutes
            yield mix.minutes, replace(now, made=tuple(sorted({**made, key: end + mix.rests}.items())), mixing=None)
    for number, line in enumerate(work.lines):
        for bait in range(line.baits):
            if now.steps[number][bait] < len(line.steps):
                yield from _worked(work, now, at, (number, bait))


def _worked(work, now, at, who):
    number, bait = who
    step = work.lines[number].steps[now.steps[number][bait]]
    made = dict(now.made)
    if step.mix:
        missing = set(work.needed) - made.keys()
        if missing if work.premixed else step.mix in missing:
            return
        if step.mix not in now.loaded:
            for brush, old in enumerate(now.loaded):
                minutes = work.change(old, step.mix) if old else 0
                if _open(work, at, minutes):
                    loaded = (*now.loaded[:brush], step.mix, *now.loaded[brush + 1 :])
                    yield minutes, replace(now, loaded=loaded, mixing=None)
            return
        if made.get(step.mix, 0) > at:
            return
    if not step.once:
        yield from _done(work, now, at, who, (0, None))
        return
    yield from _done(work, now, at, who, (step.once, (number, now.steps[number][bait], at, 1)))
    if now.mixing is not None and now.mixing[:2] == (number, now.steps[number][bait]):
        made_at, served = now.mixing[2:]
        lasts = not step.lasts or at + step.minutes - made_at <= step.lasts
        if lasts and (not step.a_mixing or served < step.a_mixing):
            yield from _done(work, now, at, who, (0, (*now.mixing[:3], served + 1)))


def _done(work, now, at, who, mixed):
    """`mixed`: minutes spent before the bait is touched, and what is mixed from then on."""
    number, bait = who
    step = work.lines[number].steps[now.steps[number][bait]]
    minutes = mixed[0] + step.minutes
    end = at + minutes
    if now.ready[number][bait] > at or now.closes[number][bait] < at + mixed[0] or not _open(work, at, minutes):
        return
    held = tuple(one for one in now.held if one[3] > at and one[1:3] != who)
    if step.holds and sum(one[0] == step.holds for one in held) >= work.bench.places(step.holds):
        return
    if step.holds:
        held = tuple(sorted((*held, (step.holds, number, bait, end + step.held))))
    yield (
        minutes,
        _Now(
            steps=_set(now.steps, number, bait, now.steps[number][bait] + 1),
            ready=_set(now.ready, number, bait, end + step.dries),
            closes=_set(now.closes, number, bait, 10**6 if step.closes is None else end + step.closes),
            held=held,
            loaded=now.loaded,
            made=now.made,
            mixing=mixed[1],
        ),
    )


def _before(work, ends):
    """Whether anything that can be begun or left at each minute has everything ready before then."""
    rows = [line.baits for line in work.lines]
    nothing = tuple(tuple(0 for _ in range(baits)) for baits in rows)
    far = tuple(tuple(10**6 for _ in range(baits)) for baits in rows)
    first = _Now(nothing, nothing, far, (), (*work.bench.loaded, "", "")[: work.bench.airbrushes], ())
    waiting = {0: {first}}
    for at in range(ends):
        todo = list(waiting.pop(at, ()))
        while todo:
            now = todo.pop()
            if all(step == len(line.steps) for line, row in zip(work.lines, now.steps, strict=True) for step in row):
                return True
            # What is over is over: states that differ in nothing to come are one.
            now = replace(
                now,
                ready=tuple(tuple(max(one, at) for one in row) for row in now.ready),
                made=tuple((key, max(one, at)) for key, one in now.made),
                held=tuple(one for one in now.held if one[3] > at),
            )
            for minutes, then in [(1, now), *_begun(work, now, at)]:
                if at + minutes + _least_left(work, then, at + minutes) >= ends:
                    continue
                if minutes:
                    waiting.setdefault(at + minutes, set()).add(then)
                else:
                    todo.append(then)
    return False


def _least_left(work, now, at):
    """Minutes that a bait needs by itself, and the hands for all."""
    hands, longest = 0, 0
    for line, row, ready in zip(work.lines, now.steps, now.ready, strict=True):
        for step, dry in zip(row, ready, strict=True):
            left = line.steps[step:]
            hands += sum(one.minutes for one in left)
            longest = max(longest, max(dry - at, 0) + sum(one.minutes + one.dries for one in left))
    return max(hands, longest)


def _holds(work, made):
    """Whether a schedule keeps every rule, looked at from its pieces alone."""
    pieces = sorted(made.pieces, key=lambda one: (one.start, one.end))
    assert all(one.end <= other.start for one, other in pairwise(pieces)), "one pair of hands"
    assert all(_open(work, one.start, one.end - one.start) for one in pieces), "at the bench"
    mixed = {one.block.mix: one.end for one in pieces if one.what == "make"}
    own = {}
    for one in pieces:
        if one.what == "work":
            own.setdefault((one.block.line, one.bait), []).append(one)
    stays = []
    for (number, bait), done in own.items():
        steps = work.lines[number].steps
        assert [one.block.step for one in done] == list(range(len(steps))), bait
        for one, other in pairwise(done):
            step = steps[one.block.step]
            assert other.start >= one.end + step.dries
            assert step.closes is None or other.start <= one.end + step.closes
        for one in done:
            step = steps[one.block.step]
            if step.mix:
                assert one.start >= mixed[step.mix] + work.mixes[step.mix].rests
                assert not work.premixed or one.start >= max(mixed.values())
            if step.holds:
                then = next((two.start for two in done if two.start > one.start), 10**6)
                stays.append((step.holds, one.start, min(one.end + step.held, then)))
    for place in (RACK, TURNER):
        here = [one for one in stays if one[0] == place]
        assert all(sum(start <= at < end for _, start, end in here) <= work.bench.places(place) for _, at, _ in here), (
            place
        )
    return True


def _case(seed):
    """A small bench with everything that can be in the way."""
    dice = random.Random(seed)
    mixes = {key: MixWork(key, key, dice.randint(1, 2), dice.choice((0, 0, 3))) for key in ("a", "b")}
    lines = []
    for name in ("A", "B")[: dice.choice((1, 1, 2))]:
        steps = []
        for number in range(dice.randint(2, 3)):
            dries = dice.randint(0, 6)
            place = dice.choice(("", RACK, RACK, TURNER))
            steps.append(
                Step(
                    key=f"s{number}",
                    words="",
                    kind="spray",
                    minutes=dice.randint(1, 3),
                    mix=dice.choice(("", "a", "b")),
                    dries=dries,
                    closes=dries + dice.randint(1, 3) if place != TURNER and dice.random() < 0.35 else None,
                    holds=place,
                    held=dries,
                )
            )
        # Who stays on the turner for the next coat is told apart elsewhere.
        steps = [
            replace(one, holds=RACK if one.holds == TURNER and at and steps[at - 1].holds == TURNER else one.holds)
            for at, one in enumerate(steps)
        ]
        lines.append(Line(name, name, steps, 1 if name == "B" else dice.choice((1, 2))))
    used = {step.mix for line in lines for step in line.steps}
    bench = Bench(
        Hours(HOURS if dice.random() < 0.7 else [(0, 400)]),
        airbrushes=dice.choice((1, 1, 2)),
        rack=dice.choice((1, 2)),
        turner=dice.choice((1, 2)),
    )
    cleaning = {("a", "b"): dice.randint(0, 2), ("b", "a"): dice.randint(1, 4)}
    return Work(
        lines, {key: one for key, one in mixes.items() if key in used}, bench, cleaning, premixed=dice.random() < 0.5
    )


MIXED = range(200, 245)


def _mixed_case(seed):
    """A small job with a step for which something is made at the beginning, and serves several baits."""
    dice = random.Random(seed)
    steps = [
        Step("a", "", "spray", dice.randint(1, 2), dries=dice.randint(0, 3)),
        Step(
            "b",
            "",
            "clear",
            1,
            once=dice.randint(2, 6),
            a_mixing=dice.choice((0, 0, 2)),
            lasts=dice.choice((0, 9)),
            dries=dice.randint(0, 4),
            holds=dice.choice(("", TURNER)),
            held=2,
        ),
    ]
    if dice.random() < 0.5:
        steps.append(Step("c", "", "spray", 1, dries=1))
    hours = Hours([(0, dice.randint(12, 30)), (40, 400)])
    bench = Bench(hours, turner=dice.choice((2, 3)))
    return Work([Line("A", "A", steps, dice.choice((2, 3, 3)))], {}, bench, {})


@pytest.mark.parametrize("seed", MIXED)
def test_what_is_mixed_once_serves_several_baits_and_proven_is_proven(seed):
    work = _mixed_case(seed)
    found = solve(work)
    assert found.proven
    assert least_end(work) <= found.timed.ends
    assert not _before(work, found.timed.ends)
    assert _before(work, found.timed.ends + 1)


@pytest.mark.parametrize("seed", SEEDS)
def test_it_is_as_good_as_the_best_of_all_ways(seed):
    work = _case(seed)
    try:
        found = solve(work)
    except DoesNotFit:
        assert not _before(work, 120)
        return
    assert _holds(work, found.timed)
    assert found.proven
    assert least_end(work) <= found.timed.ends
    assert not _before(work, found.timed.ends)
    assert _before(work, found.timed.ends + 1)


def test_the_cases_hold_what_can_be_in_the_way():
    cases = [_case(seed) for seed in SEEDS]
    steps = [step for work in cases for line in work.lines for step in line.steps]
    assert sum(one.closes is not None for one in steps) > 8
    assert sum(work.bench.airbrushes == 2 for work in cases) > 4
    assert sum(len(work.lines) == 2 for work in cases) > 5
    assert sum(line.baits == 2 for work in cases for line in work.lines) > 6
