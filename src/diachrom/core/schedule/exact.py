"""The best sequence of few pieces, by branch and bound over baits one by one."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.timing import Impossible, State, WindowCloses, placed, timed
from diachrom.core.schedule.work import Block, Timed, Work

MOST_NODES = 60_000
ASKED_EVERY = 200


class _Enough(Exception):
    """Too many ways, or nobody waits any more."""


def exact(work: Work, best: Timed, go_on: Callable[[], bool]) -> tuple[Timed, bool]:
    """The best there is, and whether that is proven; `best` is where it starts."""
    search = _Search(work, best, go_on)
    try:
        search.look(State(work, {}), [], [])
    except _Enough:
        return search.best, False
    return search.best, _in_order(work)


def _in_order(work: Work) -> bool:
    """Whether the baits of each line for which something is mixed come in the order in which they stand. What is mixed
    is tried for neighbours alone: baits that stand alike, or the farthest first, may always be done so."""
    for line in work.lines:
        stand = [line.stands(bait) for bait in range(line.baits)]
        if any(step.once for step in line.steps) and stand != sorted(stand, key=lambda one: (-one.step, one.ready)):
            return False
    return True


def _joined(work: Work, order: Sequence[Block], brushes: Sequence[int | None]) -> tuple[list[Block], list[int | None]]:
    """Neighbouring baits that have a step right after each other as one block: what was mixed serves them all."""
    blocks: list[Block] = []
    own: list[int | None] = []
    for block, brush in zip(order, brushes, strict=True):
        last = blocks[-1] if blocks else None
        follows = last is not None and (last.line, last.step, last.last) == (block.line, block.step, block.first)
        if last is not None and follows and block.line >= 0 and work.lines[block.line].steps[block.step].once:
            blocks[-1] = replace(last, last=block.last)
            continue
        blocks.append(block)
        own.append(brush)
    return blocks, own


class _Search:
    def __init__(self, work: Work, best: Timed, go_on: Callable[[], bool]) -> None:
        self.work, self.best, self.go_on = work, best, go_on
        self.nodes = 0
        self.known: dict[object, list[tuple[int, ...]]] = {}

    def look(self, state: State, order: list[Block], brushes: list[int | None]) -> None:
        """Go through all ways to go on from here that may beat the best."""
        self.nodes += 1
        if self.nodes > MOST_NODES or (self.nodes % ASKED_EVERY == 0 and not self.go_on()):
            raise _Enough
        # What may come next; of like baits the first.
        can = [Block(-1, 0, mix=key) for key in sorted(state.unmade)]
        for index, line in enumerate(self.work.lines):
            seen = set()
            for bait, step in enumerate(state.step[index]):
                like = (step, state.ready[index][bait] if step == line.stands(bait).step else bait)
                candidate = Block(index, step, bait, bait + 1)
                if step < len(line.steps) and like not in seen and state.may(candidate):
                    seen.add(like)
                    can.append(candidate)
        if not can:
            made = timed(self.work, *_joined(self.work, order, brushes))  # windows may have moved what came before
            if made is not None and made.worth < self.best.worth:
                self.best = made
            return
        if self._least(state) >= self.best.ends or self._known(state):
            return
        ways = []
        for block in can:
            if block.line < 0 or len(state.loaded) == 1:
                choices: tuple[int | None, ...] = (None,)
            else:
                mix = self.work.lines[block.line].steps[block.step].loads
                choices = (None,) if not mix or mix in state.loaded else (0, 1)
            for brush in choices:
                ways += self._way(state, block, brush, order, brushes)
        for _, after, block, brush in sorted(ways, key=lambda way: way[0]):
            self.look(after, [*order, block], [*brushes, brush])

    def _way(
        self, state: State, block: Block, brush: int | None, order: list[Block], brushes: list[int | None]
    ) -> list[tuple[int, State, Block, int | None]]:
        after = state.copy()
        try:
            after.place(block, brush)
        except WindowCloses:
            moved = placed(self.work, [*order, block], [*brushes, brush])
            if moved is None:
                return []
            after = moved
        except (Impossible, DoesNotFit):
            return []
        return [(after.free, after, block, brush)]

    def _least(self, state: State) -> int:
        """What no way from here can beat."""
        hours, hands, ends = self.work.bench.hours, 0, state.free
        for index, line in enumerate(self.work.lines):
            for bait, step in enumerate(state.step[index]):
                when = max(state.ready[index][bait], state.free if step < len(line.steps) else 0)
                for one in line.steps[step:]:
                    when = hours.fit(when, one.minutes) + one.minutes + one.dries
                    hands += one.minutes
                ends = max(ends, when)
        hands += sum(self.work.mixes[key].minutes for key in state.unmade)
        return max(ends, hours.after(state.free, hands) if hands else 0)

    def _known(self, state: State) -> bool:
        """Whether another way led to the same work being done, and nothing of it later. Where a window is open or
        moved what lay before, no way stands for another."""
        if (
            state.floors
            or state.mixing is not None
            or any(closes is not None for row in state.closes for closes in row)
        ):
            return False
        key = (tuple(map(tuple, state.step)), frozenset(state.unmade), state.loaded)
        value = (
            state.free,
            *(one for row in state.ready for one in row),
            *(state.made.get(mix, 0) for mix in sorted(self.work.mixes)),
            *(end for places in state.places.values() for end in places.last()),
        )
        others = self.known.setdefault(key, [])
        if any(all(a <= b for a, b in zip(other, value, strict=True)) for other in others):
            return True
        others.append(value)
        return False
