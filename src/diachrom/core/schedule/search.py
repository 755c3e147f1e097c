"""A good sequence: greedy starts, exact for few pieces, then small changes for as long as one likes to wait.

Painters do one step on all baits before the next colour. So the search works on blocks: a step on neighbouring baits.
Sizes of blocks are tried from all baits down to thirds; what goes on a turner comes by the load.
"""

import random
from collections.abc import Callable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, replace

from diachrom.core.schedule.bound import least_end
from diachrom.core.schedule.exact import exact
from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.timing import Impossible, State, from_floors, timed
from diachrom.core.schedule.work import TURNER, Block, Step, Timed, Work
from diachrom.words import say

PARTS = (1, 2, 3, 4)  # that the baits of a line are done in
FAR = 10  # places that a block is moved by
IDLE_ROUNDS = 3000  # without anything better
MANY, HANDY = 30, 12  # baits
MOST_TIDIED = 150  # blocks
FEW_PIECES = 60  # bait by bait: then the best one is looked for


@dataclass(frozen=True)
class Found:
    """The best so far, and what nothing can beat."""

    timed: Timed
    bound: int
    proven: bool  # that none ends earlier


Go = Callable[[Found], bool]  # told of the best so far now and then; False ends the search


def solve(work: Work, go_on: Go = lambda found: True) -> Found:
    """Find a schedule; the best so far when `go_on` says no. Raises DoesNotFit when there is none."""
    bound = least_end(work)
    best: Timed | None = None

    def found() -> Found:
        assert best is not None
        return Found(best, bound, proven or (best.ends <= bound and not best.missed))

    proven = False
    for made in _greedy(work):
        if best is None or made.worth < best.worth:
            best = made
        if not go_on(found()):
            return found()
    if best is None:
        raise DoesNotFit(say("A recoat window never falls within these hours: add hours at the bench."), field="hours")
    if best.ends > bound and _count(work) <= FEW_PIECES:
        exactly, proven = exact(work, best, lambda: go_on(found()))
        best = exactly if exactly.worth < best.worth else best
        if proven:
            return found()
    for changed in _improved(work, best):
        if changed is not None and changed.worth < best.worth:
            best = changed
        if not go_on(found()):
            break
    best = _tidied(work, best)
    return found()


def _count(work: Work) -> int:
    pieces = sum(len(line.steps) - line.stands(bait).step for line in work.lines for bait in range(line.baits))
    return pieces + len(work.needed)


def blocks(work: Work, parts: int) -> list[Block]:
    """Everything that is to be done, each line's baits in so many parts."""
    found = [Block(-1, 0, mix=key) for key in work.needed]
    for index, line in enumerate(work.lines):
        size = -(-line.baits // parts)
        for number, step in enumerate(line.steps):
            wanted = min(size, work.bench.turner) if step.holds == TURNER else size
            for first, last in _runs(work, index, number):
                starts = range(first, last, wanted)
                found += [Block(index, number, start, min(start + wanted, last)) for start in starts]
    return found


def _runs(work: Work, at: int, number: int) -> Iterator[tuple[int, int]]:
    """Neighbouring baits that still need this step, and stand at the same one now."""
    line = work.lines[at]
    first = 0
    for bait in range(1, line.baits + 1):
        if bait == line.baits or line.stands(bait).step != line.stands(first).step:
            if line.stands(first).step <= number:
                yield first, bait
            first = bait


@dataclass(frozen=True)
class Rule:
    """How the next block is chosen: what begins earliest, with minutes added for each colour change; or, of all that
    can begin within its patience, what belongs to the group of baits that is to go ahead."""

    change: int = 0
    grain: int = 1  # minutes that make no difference
    patience: int = -1  # less than 0: no group goes ahead
    lines: int = 1  # -1: the last line goes ahead; 0: groups of all lines together
    turner: bool = False  # what goes on the turner goes ahead of all: there it is longest

    def best(self, state: State, can: list[tuple[Block, int]], tails: list[list[int]]) -> Block:
        """Which block a rule takes next."""
        earliest = min(start for _, start in can)
        return min(can, key=lambda pair: self._key(state, pair, tails, earliest))[0]

    def _key(
        self, state: State, pair: tuple[Block, int], tails: list[list[int]], earliest: int
    ) -> tuple[float, float, float, float]:
        block, start = pair
        if block.line < 0:
            return (0, -1, start // self.grain, 0) if self.patience >= 0 else (start // self.grain, 0, 0, block.first)
        line = state.work.lines[block.line]
        changes = int(bool(mix := line.steps[block.step].loads) and mix not in state.loaded)
        tail = -tails[block.line][block.step]
        if self.patience < 0:
            return ((start + self.change * changes) // self.grain, changes, tail, block.first)
        rank = block.first / max(line.baits, 1) + self.lines * 10 * block.line
        if self.turner and line.steps[block.step].holds == TURNER:
            rank -= 1000
        return (int(start > earliest + self.patience), rank, start, tail)


RULES = (
    Rule(),
    Rule(change=8),
    Rule(grain=10),
    *(Rule(patience=patience, lines=0, turner=True) for patience in (6, 45)),
    *(Rule(patience=patience, lines=lines) for patience in (0, 6, 20, 45) for lines in (1, -1, 0)),
)


def _greedy(work: Work) -> Iterator[Timed]:
    tails = [_tails(line.steps) for line in work.lines]
    most = max((line.baits for line in work.lines), default=1)
    rules, sizes = list(RULES), list(PARTS)
    if most > MANY:  # each takes its time: what goes ahead in handy groups is tried first
        rules = [RULES[0], *RULES[3:], *RULES[1:3]]
        sizes = [1, -(-most // HANDY), -(-most // (2 * HANDY)), *PARTS[1:]]
    for rule in rules:
        for parts in sizes:
            made = _by_rule(work, blocks(work, parts), rule, tails) if parts <= most else None
            if made is not None:
                yield made


def _tails(steps: Sequence[Step]) -> list[int]:
    """Minutes from the beginning of each step until a bait is ready."""
    found, after = [], 0
    for step in reversed(steps):
        after += step.minutes + step.dries
        found.append(after)
    return found[::-1]


def _by_rule(work: Work, every: list[Block], rule: Rule, tails: list[list[int]]) -> Timed | None:
    table = {(block.line, block.step, block.first): block for block in every if block.line >= 0}
    order: list[Block] = []

    def go(state: State) -> bool:
        order.clear()
        while len(order) < len(every):
            can = list(_starts(state, table))
            if not can:
                return False
            chosen = _pressing(state, can) or rule.best(state, can, tails)
            state.place(chosen)
            order.append(chosen)
        return True

    state = from_floors(work, go)
    return None if state is None else state.timed(order)


def _starts(state: State, table: dict[tuple[int, int, int], Block]) -> Iterator[tuple[Block, int]]:
    """What can come next, and when it would begin; not what waits for a place that only another step frees."""
    for block in _next(state, table):
        if state.may(block):
            with suppress(Impossible):
                yield block, state.start_of(block)


def _next(state: State, table: dict[tuple[int, int, int], Block]) -> Iterator[Block]:
    """The blocks that begin with what their first bait waits for, and the mixes."""
    for mix in state.work.needed if state.unmade else ():
        yield Block(-1, 0, mix=mix)
    for line, row in enumerate(state.step):
        for bait, step in enumerate(row):
            block = table.get((line, step, bait))
            if block is not None:
                yield block


def _pressing(state: State, can: list[tuple[Block, int]]) -> Block | None:
    """What has a window that would close if something else came first."""
    closing: list[tuple[int, Block]] = []
    longest = 0
    for block, start in can:
        if block.line < 0:
            continue
        row = state.closes[block.line][block.first : block.last]
        closing += [(min(closes), block) for closes in [[one for one in row if one is not None]] if closes]
        step = state.work.lines[block.line].steps[block.step]
        longest = max(longest, start + step.once + step.minutes * len(row))
    if not closing:
        return None
    closes, block = min(closing, key=lambda one: one[0])
    return block if longest + block.last - block.first > closes else None


def _tidied(work: Work, best: Timed) -> Timed:
    """Parts of a step put together again where nothing is ready later by it: painters do one thing at a time."""
    kept = best
    for index in range(len(best.sequence) - 1, -1, -1):
        if index >= len(kept.sequence) or len(best.sequence) > MOST_TIDIED:
            continue
        block = kept.sequence[index]
        following = [
            place
            for place, other in enumerate(kept.sequence)
            if block.line >= 0 and (other.line, other.step, other.first) == (block.line, block.step, block.last)
        ]
        if not following or _too_many(work, block, kept.sequence[following[0]]):
            continue
        other = following[0]
        both = replace(block, last=kept.sequence[other].last)
        for where in (other, index):
            order = [each for place, each in enumerate(kept.sequence) if place not in (index, other)]
            order.insert(where - (where > min(index, other)), both)
            made = timed(work, order)
            if made is not None and made.worth[:3] <= kept.worth[:3]:
                kept = made
                break
    return kept


def _too_many(work: Work, block: Block, other: Block) -> bool:
    """For the turner."""
    step = work.lines[block.line].steps[block.step]
    return step.holds == TURNER and other.last - block.first > work.bench.turner


def _improved(work: Work, best: Timed) -> Iterator[Timed | None]:
    """Blocks moved to other places, some halved: what comes of it, None where nothing does."""
    dice = random.Random(16)
    here, idle = best, 0
    while idle < IDLE_ROUNDS and len(here.sequence) > 1:
        order = list(here.sequence)
        index = dice.randrange(len(order))
        block = order.pop(index)
        half = (block.first + block.last) // 2
        if dice.random() < 0.1 and block.line >= 0 and half > block.first:
            order[index:index] = [
                Block(block.line, block.step, block.first, half),
                Block(block.line, block.step, half, block.last),
            ]
        else:
            to = min(max(index + dice.choice((-1, 1)) * dice.randint(1, FAR), 0), len(order))
            order.insert(to, block)
        idle += 1
        made = timed(work, order)
        if made is not None and made.worth <= here.worth:
            idle = 0 if made.worth < here.worth else idle
            here = made
        yield made
