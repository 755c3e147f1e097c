"""When the painter is at the bench: open times in minutes from a moment, whatever the clocks do meanwhile."""

from bisect import bisect_right
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

from diachrom.errors import InvalidInput
from diachrom.words import say


class DoesNotFit(InvalidInput):
    """Work that finds no place in these hours."""


@dataclass(frozen=True)
class Hours:
    """Open times [(from, to)] in minutes, in order and apart. Work happens inside them, drying goes on outside."""

    windows: Sequence[tuple[int, int]]
    _opens: list[int] = field(init=False, repr=False, compare=False)

    def __post_init__(self) -> None:
        object.__setattr__(self, "_opens", [start for start, _ in self.windows])

    @property
    def longest(self) -> int:
        """The longest time that the bench is open at once, in minutes."""
        return max((end - start for start, end in self.windows), default=0)

    def fit(self, at: int, minutes: int) -> int:
        """The first moment from `at` at which so many minutes find place without a pause. Raises DoesNotFit."""
        place = max(bisect_right(self._opens, at) - 1, 0)
        windows = self.windows
        for start, end in windows[place:] if place else windows:
            begin = start if start > at else at
            if begin + minutes <= end:
                return begin
        raise DoesNotFit(
            say(
                "{minutes} minutes in one go do not fit: the longest time at the bench is {longest} min.",
                minutes=minutes,
                longest=self.longest,
            )
            if minutes > self.longest
            else say("It does not fit into your hours at the bench: add hours."),
            field="hours",
        )

    def window(self, at: int) -> tuple[int, int]:
        """That holds a moment of open time."""
        return self.windows[max(bisect_right(self._opens, at) - 1, 0)]

    def after(self, at: int, work: int) -> int:
        """When so many minutes of work that may be broken off are done. Raises DoesNotFit."""
        for start, end in self.windows[max(bisect_right(self._opens, at) - 1, 0) :]:
            begin = max(start, at)
            if begin >= end:
                continue
            if begin + work <= end:
                return begin + work
            work -= end - begin
        raise DoesNotFit(say("It does not fit into your hours at the bench."), field="hours")

    def latest(self, at: int, minutes: int) -> int | None:
        """The last moment at which so many minutes can begin and be over by `at`; None where there is none."""
        for start, end in reversed(self.windows[: bisect_right(self._opens, at)]):
            begin = min(end, at) - minutes
            if begin >= start:
                return begin
        return None

    def without(self, busy: Iterable[tuple[int, int]]) -> "Hours":
        """The hours that are left beside other work."""
        left = list(self.windows)
        for first, last in busy:
            left = [
                piece
                for start, end in left
                for piece in ((start, min(end, first)), (max(start, last), end))
                if piece[0] < piece[1]
            ]
        return Hours(sorted(set(left)))
