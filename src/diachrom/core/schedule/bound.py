"""What no schedule can beat: the way of one bait, the painter's hands, the turner. None of it knows the search."""

import heapq
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.work import TURNER, Line, Stands, Step, Work
from diachrom.words import say


@dataclass(frozen=True)
class _Alike:
    """Baits of a line that stand alike."""

    line: Line
    stands: Stands
    count: int
    heads: Sequence[int]  # for each coming step: when it could begin, were the bench this bait's own

    @property
    def ready(self) -> int:
        """When the last of them is ready, in minutes."""
        if not self.heads:
            return max(self.stands.ready, 0)
        last = self.line.steps[-1]
        return self.heads[-1] + last.minutes + last.dries


def least_end(work: Work) -> int:
    """A moment before which not everything can be ready. Raises DoesNotFit."""
    alike = _alike(work)
    low = max((one.ready for one in alike), default=0)
    high = low + 1
    # After which nothing can be ready any more: the bench is never opened again, and all is dry.
    closes = work.bench.hours.windows[-1][1] if work.bench.hours.windows else 0
    last = closes + max((step.dries for line in work.lines for step in line.steps), default=0)
    while not _hands_manage(work, alike, high):
        if high > last:
            raise DoesNotFit(say("It does not fit into your hours at the bench: add hours."), field="hours")
        low, high = high, high * 2
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if _hands_manage(work, alike, middle) else (middle, high)
    hands = low if _hands_manage(work, alike, low) else high
    return max(hands, _turner(work, alike))


def _alike(work: Work) -> list[_Alike]:
    groups = []
    for line in work.lines:
        counts: dict[Stands, int] = {}
        for bait in range(line.baits):
            counts[line.stands(bait)] = counts.get(line.stands(bait), 0) + 1
        for stands, count in counts.items():
            groups.append(_Alike(line, stands, count, _heads(work, line, stands, alone=len(counts) == 1)))
    return groups


def _heads(work: Work, line: Line, stands: Stands, *, alone: bool) -> list[int]:
    """For each coming step: when it could begin on a bait that stands so; `alone` when all of its line do."""
    hours = work.bench.hours
    needed = {key: work.mixes[key].minutes for key in work.needed}
    index, done, held, cleaned = max(stands.ready, 0), 0, "", 0
    found: list[int] = []
    for step in line.steps[stands.step :]:
        if step.mix in needed:
            mix = work.mixes[step.mix]
            making = sum(needed.values()) if work.premixed else mix.minutes
            index = max(index, hours.after(0, done + making), hours.after(0, mix.minutes) + mix.rests)
        if step.loads and held and step.loads != held and work.bench.airbrushes == 1:
            index = max(index, cleaned + _cheapest(work, held, step.loads))
        # What is made at the beginning is made before this bait or before one that comes first: all alike, none is
        # earlier.
        index = hours.fit(index, step.minutes + alone * step.once) + alone * step.once
        found.append(index)
        done += step.minutes
        if step.loads:
            held, cleaned = step.loads, index + step.minutes
        index += step.minutes + step.dries
    return found


def _cheapest(work: Work, old: str, new: str) -> int:
    """Minutes of cleaning from one mix to another, with others between them where that is less."""
    mixes = {step.loads for line in work.lines for step in line.steps if step.loads}
    best, left = {old: 0}, set(mixes) | {old}
    while left:
        here = min(left, key=lambda key: best.get(key, 10**9))
        if here == new or here not in best:
            break
        left.discard(here)
        for other in left:
            best[other] = min(best.get(other, 10**9), best[here] + work.change(here, other))
    return best.get(new, 0)


def _on(work: Work, line: Line, step: int, at: int) -> int:
    """When a bait is ready whose step begins then."""
    fit = work.bench.hours.fit
    for one in line.steps[step:]:
        at = fit(at, one.minutes) + one.minutes + one.dries
    return at


def _hands_manage(work: Work, alike: Sequence[_Alike], by: int) -> bool:
    """Whether one painter who may break off any work could have everything ready by then ([jackson1955], preemptive:
    the most pressing of what can be done; no schedule without breaks does better)."""
    jobs: list[tuple[int, int, int]] = []  # may begin, must be over, minutes
    needed = set(work.needed)
    last_chance = by
    for one in alike:
        lasts = _lasts(work, one.line, by)
        if lasts is None:
            return False
        steps = one.line.steps
        for number, begin in enumerate(one.heads, start=one.stands.step):
            if begin + steps[number].minutes > lasts[number]:
                return False
            jobs += [(begin, lasts[number], steps[number].minutes)] * one.count
        mixed = [index for index in range(one.stands.step, len(steps)) if steps[index].mix in needed]
        if mixed and work.premixed:
            last_chance = min(last_chance, lasts[mixed[0]] - steps[mixed[0]].minutes)
    # All mixes stand ready before the first spray, or each at some time; the cleaning that no order spares as well.
    jobs += [(0, last_chance, work.mixes[key].minutes) for key in needed]
    mixes = {step.loads for line in work.lines for step in _coming(line) if step.loads}
    new = len(mixes - set(work.bench.loaded))
    empty = work.bench.airbrushes - len(work.bench.loaded)
    changes = max(0, new - max(empty, 0))
    known = [work.change(old, other) for old in {*mixes, *work.bench.loaded} for other in mixes if old != other]
    jobs.append((0, by, changes * min(known, default=0)))
    jobs += [(0, by, step.once) for line in work.lines for step in _coming(line) if step.once]
    return _in_turn(work, jobs)


def _coming(line: Line) -> Sequence[Step]:
    first = min((line.stands(bait).step for bait in range(line.baits)), default=len(line.steps))
    return line.steps[first:]


def _lasts(work: Work, line: Line, by: int) -> list[int] | None:
    """For each step: when its work on a bait must be over so that the bait can be ready by then."""
    latest = by
    found = []
    for step in reversed(line.steps):
        end = latest - step.dries
        start = work.bench.hours.latest(end, step.minutes)
        if start is None:
            return None
        found.append(start + step.minutes)
        latest = start
    return found[::-1]


def _in_turn(work: Work, jobs: list[tuple[int, int, int]]) -> bool:
    """Whether all fit into the hours, the most pressing first."""
    order = sorted(jobs)
    waiting: list[list[int]] = []
    index, place = 0, 0
    for start, end in work.bench.hours.windows:
        index = max(index, start)
        while index < end:
            while place < len(order) and order[place][0] <= index:
                _, due, minutes = order[place]
                heapq.heappush(waiting, [due, minutes])
                place += 1
            until = min(end, order[place][0]) if place < len(order) else end
            if not waiting:
                if place == len(order):
                    return True
                index = until
                continue
            most = waiting[0]
            done = min(most[1], until - index)
            index += done
            most[1] -= done
            if most[1] == 0:
                if index > most[0]:
                    return False
                heapq.heappop(waiting)
        if not waiting and place == len(order):
            return True
    return False


def _turner(work: Work, alike: Sequence[_Alike]) -> int:
    """One load after the other, each for as long as the shortest stays."""
    holds = [
        (one, number)
        for one in alike
        for number in range(one.stands.step, len(one.line.steps))
        if one.line.steps[number].holds == TURNER
    ]
    if not holds:
        return 0
    loads = -(-sum(one.count for one, _ in holds) // work.bench.turner)
    held = min(one.line.steps[number].held + one.line.steps[number].minutes for one, number in holds)
    index = min(one.heads[number - one.stands.step] for one, number in holds)
    for _ in range(loads - 1):
        index = work.bench.hours.fit(index + held, 1)
    return min(_on(work, one.line, number, index) for one, number in holds)
