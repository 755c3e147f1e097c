"""The times of a sequence: everything as early as the order, the drying, the windows and the hours allow.

Every rule says "not before": the order of the painter's work, what has to dry, what a closing window asks of the step
before it (which then waits), open hours, free places. Such rules have one least solution, which is earliest for all
work at once; it is found by going through the sequence, and again from a later start where a window would close.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

from diachrom.core.schedule.hours import DoesNotFit
from diachrom.core.schedule.work import RACK, TURNER, Block, Piece, Step, Timed, Work
from diachrom.words import say

KEPT = 10**9  # on the turner until its next coat
MOST_ROUNDS = 400
Floors = dict[tuple[int, int, int], int]  # of a line's step on a bait: not before


class WindowCloses(Exception):
    """A bait's next step would come after its window: the step before has to begin later."""

    def __init__(self, at: tuple[int, int, int], floor: int) -> None:
        super().__init__(at, floor)
        self.at, self.floor = at, floor


class Impossible(Exception):
    """No times lead through this sequence."""


class Places:
    """Of the rack or the turner: who holds one, and until when."""

    def __init__(self, size: int, taken: Sequence[tuple[int, int]]) -> None:
        self.size, self.taken = size, sorted(taken)
        self.until: dict[tuple[int, int], int] = {}

    def from_(self, at: int, length: int, who: tuple[int, int]) -> int:
        """The first moment from `at` with a place for so long; nobody asks for an earlier one afterwards."""
        if len(self.until) + len(self.taken) < self.size:
            return at
        if len(self.until) > 2 * self.size:
            self.until = {key: end for key, end in self.until.items() if end > at}
        while True:
            own = [end for key, end in self.until.items() if end > at and key != who]
            others = [end for start, end in self.taken if start < at + length and end > at]
            if len(own) + len(others) < self.size:
                return at
            at = min([*own, *others])
            if at >= KEPT:
                raise Impossible(say("Every place on the turner is waiting for a next coat."))

    def last(self) -> list[int]:
        """When places are freed, the latest first, as many as there are places."""
        ends = sorted(self.until.values(), reverse=True)[: self.size]
        return ends + [0] * (self.size - len(ends))

    def copy(self) -> "Places":
        """The same places, to be filled otherwise."""
        new = Places.__new__(Places)
        new.size, new.taken, new.until = self.size, self.taken, dict(self.until)
        return new


@dataclass(frozen=True)
class Mixing:
    """What was made at the beginning of a step, for the bait that comes next if nothing comes between."""

    line: int
    step: int
    bait: int
    at: int  # when it was made
    serves: int  # baits so far

    def goes_on(self, block: Block) -> bool:
        """Whether a block is the one that was mixed for: it goes on with that cup."""
        return (self.line, self.step, self.bait) == (block.line, block.step, block.first)


class State:
    """The bench after some of the sequence."""

    def __init__(self, work: Work, floors: Floors) -> None:
        self.work, self.floors = work, floors
        self.free = 0
        self.window = (0, 0)
        self.loaded: tuple[str, ...] = (*work.bench.loaded, "", "")[: work.bench.airbrushes]
        self.made = {
            key: 0 if mix.ready is None else mix.ready for key, mix in work.mixes.items() if mix.ready is not None
        }
        self.unmade = set(work.needed)
        self.step = [[line.stands(bait).step for bait in range(line.baits)] for line in work.lines]
        self.ready = [[line.stands(bait).ready for bait in range(line.baits)] for line in work.lines]
        self.closes = [[line.stands(bait).closes for bait in range(line.baits)] for line in work.lines]
        taken = work.bench.taken
        self.places = {
            kind: Places(work.bench.places(kind), [(start, end) for of, start, end in taken if of == kind])
            for kind in (RACK, TURNER)
        }
        self.mixing: Mixing | None = None
        self.pieces: list[Piece] = []
        self.missed: list[tuple[int, int]] = []  # baits whose window was left to close before this work began
        self.cleaning = 0

    def copy(self) -> "State":
        """The same state, to go on from otherwise."""
        new = State.__new__(State)
        new.work, new.floors = self.work, self.floors
        new.free, new.loaded, new.cleaning, new.window = self.free, self.loaded, self.cleaning, self.window
        new.made, new.unmade = dict(self.made), set(self.unmade)
        new.step, new.ready, new.closes = ([row[:] for row in rows] for rows in (self.step, self.ready, self.closes))  # type: ignore[assignment]
        new.places = {kind: places.copy() for kind, places in self.places.items()}
        new.pieces, new.missed, new.mixing = self.pieces[:], self.missed[:], self.mixing
        return new

    def may(self, block: Block) -> bool:
        """Whether the block can come next: its baits are there, and its mix is made."""
        if block.line < 0:
            return block.mix in self.unmade
        here = self.step[block.line][block.first : block.last]
        if here.count(block.step) != len(here):
            return False
        if not self.unmade:
            return True
        mix = self.work.lines[block.line].steps[block.step].mix
        return not mix or not (self.work.premixed or mix in self.unmade)

    def _cleaned(self, mix: str, brush: int | None) -> tuple[int, int]:
        """The airbrush for a mix, and the minutes until it can be filled."""
        if not mix or mix in self.loaded:
            return -1, 0
        if brush is None:
            costs = [self.work.change(old, mix) if old else 0 for old in self.loaded]
            brush = costs.index(min(costs))
        old = self.loaded[brush]
        return brush, self.work.change(old, mix) if old else 0

    def start_of(self, block: Block) -> int:
        """When its first bait would begin, or its cleaning where that is what keeps it. Raises Impossible."""
        fit = self.work.bench.hours.fit
        if block.line < 0:
            return fit(self.free, self.work.mixes[block.mix].minutes)
        step = self.work.lines[block.line].steps[block.step]
        _, clean = self._cleaned(step.loads, None)
        free = max(fit(self.free, clean) + clean if clean else self.free, self._pin(block))
        return self._start(block, step, block.first, free, minutes=step.once + step.minutes)

    def _start(self, block: Block, step: Step, bait: int, free: int, *, minutes: int) -> int:
        index = self.ready[block.line][bait]
        if free > index:
            index = free
        if self.floors:
            index = max(index, self.floors.get((block.line, block.step, bait), 0))
        if step.mix:
            index = max(index, self.made.get(step.mix, 0))
        if not self.window[0] <= index <= self.window[1] - minutes:
            index = self._fit(index, minutes)
        if step.holds:
            places, who = self.places[step.holds], (block.line, bait)
            while (later := places.from_(index, minutes + step.held, who)) > index:
                index = self._fit(later, minutes)
        return index

    def _fit(self, at: int, minutes: int) -> int:
        """As the hours say; the window that was found is looked at first the next time."""
        at = self.work.bench.hours.fit(at, minutes)
        self.window = self.work.bench.hours.window(at)
        return at

    def place(self, block: Block, brush: int | None = None) -> None:
        """Do it. Raises WindowCloses, Impossible, DoesNotFit."""
        if block.line < 0:
            return self._make(block)
        line = self.work.lines[block.line]
        step = line.steps[block.step]
        self._load(block, step, brush)
        self.free = max(self.free, self._pin(block))
        mixed_at, baits_of_it, mixed = -KEPT, 0, False
        if step.once and self.mixing is not None and self.mixing.goes_on(block):
            mixed_at, baits_of_it, mixed = self.mixing.at, self.mixing.serves, True
        for bait in range(block.first, block.last):
            again = not mixed or bool(step.a_mixing and baits_of_it >= step.a_mixing)
            mixed = True
            minutes = step.minutes + (step.once if again else 0)
            start = self._start(block, step, bait, self.free, minutes=minutes)
            if not again and step.lasts and start + minutes - mixed_at > step.lasts:
                again, minutes = True, step.minutes + step.once
                start = self._start(block, step, bait, self.free, minutes=minutes)
            if again:
                mixed_at, baits_of_it = start, 0
            baits_of_it += 1
            # `prepared` minutes of it are spent before the bait is touched.
            prepared = minutes - step.minutes
            closes = self.closes[block.line][bait]
            late = 0 if closes is None else start + prepared - closes
            if late > 0:
                if block.step <= self.work.lines[block.line].stands(bait).step:
                    self.missed.append((block.line, bait))  # what is done cannot be done later
                else:
                    before = next(
                        piece
                        for piece in reversed(self.pieces)
                        if piece.bait == bait and piece.block.line == block.line and piece.what == "work"
                    )
                    raise WindowCloses((block.line, block.step - 1, bait), before.start + late)
            self._worked(block, step, bait, (start, start + minutes))
        self.mixing = Mixing(block.line, block.step, block.last, mixed_at, baits_of_it) if step.once else None
        return None

    def _make(self, block: Block) -> None:
        """A mix."""
        self.mixing = None
        mix = self.work.mixes[block.mix]
        start = self.work.bench.hours.fit(max(self.free, self._pin(block)), mix.minutes)
        self.free = start + mix.minutes
        self.made[block.mix] = self.free + mix.rests
        self.unmade.discard(block.mix)
        self.pieces.append(Piece(start, self.free, "make", block))

    def _load(self, block: Block, step: Step, brush: int | None) -> None:
        """Clean an airbrush for it where that is needed."""
        brush, clean = self._cleaned(step.loads, brush)
        if brush < 0:
            return
        if clean:
            start = self.work.bench.hours.fit(self.free, clean)
            self.free = start + clean
            self.cleaning += clean
            self.pieces.append(Piece(start, self.free, "clean", block))
        self.loaded = (*self.loaded[:brush], step.loads, *self.loaded[brush + 1 :])

    def _worked(self, block: Block, step: Step, bait: int, times: tuple[int, int]) -> None:
        """A bait has its step: when the next may begin, and the place that it holds."""
        start, end = times
        self.free = end
        self.pieces.append(Piece(start, end, "work", block, bait))
        self.step[block.line][bait] += 1
        self.ready[block.line][bait] = end + step.dries
        self.closes[block.line][bait] = None if step.closes is None else end + step.closes
        who = (block.line, bait)
        self.places[TURNER].until.pop(who, None)
        if step.holds:
            steps = self.work.lines[block.line].steps
            stays = step.holds == TURNER and block.step + 1 < len(steps) and steps[block.step + 1].holds == TURNER
            self.places[step.holds].until[who] = KEPT if stays else end + step.held

    def _pin(self, block: Block) -> int:
        """What was dragged holds for the bait that it was dragged by, in whatever group it is now."""
        if not self.work.pins:
            return 0
        keys = [replace(block, first=bait).key(self.work) for bait in range(block.first, max(block.last, 1))]
        return max(self.work.pins.get(key, 0) for key in keys)

    def timed(self, sequence: Sequence[Block]) -> Timed:
        """What was placed, with its times."""
        dry = {(index, bait): ready for index, row in enumerate(self.ready) for bait, ready in enumerate(row)}
        ends = max(dry.values(), default=0)
        return Timed(
            sequence=tuple(sequence),
            pieces=tuple(self.pieces),
            ends=max(ends, self.free),
            hands_end=self.free,
            cleaning=self.cleaning,
            dry=dry,
            missed=tuple(self.missed),
        )


def from_floors(work: Work, go: Callable[[State], bool]) -> State | None:
    """Go through the work, and again from the floors that closing windows have raised, until none closes. `go` answers
    False where it leads nowhere; None then, and where no times do."""
    floors: Floors = {}
    for _ in range(MOST_ROUNDS):
        state = State(work, floors)
        try:
            return state if go(state) else None
        except WindowCloses as late:
            floors[late.at] = max(floors.get(late.at, 0), late.floor)
        except (Impossible, DoesNotFit):
            return None
    return None


def placed(work: Work, order: Sequence[Block], brushes: Sequence[int | None] = ()) -> State | None:
    """The bench after a sequence, as early as it may be; None where it leads nowhere."""

    def go(state: State) -> bool:
        for index, block in enumerate(order):
            if not state.may(block):
                return False
            state.place(block, brushes[index] if brushes else None)
        return True

    return from_floors(work, go)


def timed(work: Work, order: Sequence[Block], brushes: Sequence[int | None] = ()) -> Timed | None:
    """The least times of a sequence; None where it leads nowhere."""
    state = placed(work, order, brushes)
    return None if state is None else state.timed(order)
