"""Several targets matched together: the fewest bottles for all of them, while the page shows the best so far."""

import sqlite3
from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from pathlib import Path

from diachrom.core.match.fewest import Palette, fewest
from diachrom.core.match.judge import Match
from diachrom.core.match.search import Search
from diachrom.core.mix.mixes import uncommon
from diachrom.errors import InvalidInput
from diachrom.store import targets as kept
from diachrom.store.connection import connected
from diachrom.store.targets import Target
from diachrom.words import say
from diachrom.work.kit.tasks import Task, Tasks
from diachrom.work.match.searching import candidates, reluctance
from diachrom.work.match.settings import Settings
from diachrom.work.match.targets import active_target, labs_of
from diachrom.work.mix.candidates import Candidate, where_sprayed

KIND = say("several targets")
MOST_TARGETS = 8


class SeveralTask(Task):
    """The fewest bottles for some targets, as far as they are known."""

    def __init__(self, targets: Sequence[Target], settings: Settings) -> None:
        super().__init__()
        self.targets, self.settings = targets, settings
        self.candidates: Sequence[Candidate] = ()
        self.palette: Palette | None = None

    def work(self, folder: Path) -> None:
        """Search for all targets together."""
        with connected(folder) as connection:
            shelves = [candidates(connection, self.settings, target.seen.views) for target in self.targets]
            wheres = [where_sprayed(connection, self.settings, one.seen.views) for one in self.targets]
        # What may be mixed for every one of them: flakes only where all were seen to turn.
        common = set.intersection(*({candidate.key for candidate in shelve} for shelve in shelves))
        self.candidates = [one for one in shelves[0] if one.key in common]
        every = self.candidates
        against = reluctance(every, self.settings)

        def search(at: int, some: Sequence[int], most_paints: int = self.settings.max_paints) -> Search:
            self.tell(min(self.done + 1, self.total - 1), self.total)
            return Search(
                labs_of(self.targets[at]),
                [every[one].paint for one in some],
                [every[one].drop_ml for one in some],
                wheres[at],
                most_paints=most_paints,
                most_drops=self.settings.max_drops,
                dilution=self.settings.dilution,
                reluctance=[against[one] for one in some],
                quick=True,
            )

        self.total = 4 * len(self.targets)
        whole = range(len(every))
        plain = [index for index in whole if self.settings.special or not uncommon(every[index].paint)] or whole
        wanted = self.settings.wish.closeness
        pairs = partial(search, most_paints=min(2, self.settings.max_paints))
        for palette in fewest(len(self.targets), search, plain=plain, every=whole, closeness=wanted, first=pairs):
            self.palette = palette

    def parts(self, mix: Match) -> list[tuple[Candidate, int]]:
        """Bottles and drops of a mix."""
        return [(self.candidates[index], drops) for index, drops in mix.parts]


def start(connection: sqlite3.Connection, tasks: Tasks, numbers: Sequence[int]) -> None:
    """Look for the fewest bottles for these targets, in place of any that went on. Raises NotFound, InvalidInput."""
    several = sorted(set(numbers))  # as they were made
    if not 2 <= len(several) <= MOST_TARGETS:
        raise InvalidInput(
            say("Choose 2 to {most_targets} targets; {count} chosen.", most_targets=MOST_TARGETS, count=len(several)),
            field="target",
        )
    targets = [kept.one(connection, one) for one in several]
    _, settings = active_target(connection)
    task = SeveralTask(targets, replace(settings, kept_in=()))
    tasks.start(KIND, lambda known: task)


def now(tasks: Tasks) -> SeveralTask | None:
    """The search that goes on, or went on last."""
    return tasks.of(KIND, SeveralTask)
