"""What a job takes, and what is learned from those that were sprayed: how much misses the baits here."""

import sqlite3
from dataclasses import dataclass
from statistics import median

from diachrom.core.mix.amount import MISSES, STAYS_ML, Job, learned_misses, missed
from diachrom.store import overspray
from diachrom.store.connection import writing
from diachrom.words import quantity, say

LEARNED_FROM = 8  # jobs, the newest


@dataclass(frozen=True)
class LearnedWaste:
    """The share that misses: the middle of the latest jobs, and how far they lie apart."""

    misses: float
    low: float
    high: float
    stays_ml: float
    jobs: int

    @property
    def words(self) -> str:
        """What was learned, in a sentence."""
        if not self.jobs:
            return say(
                "{misses} % misses, as a rule; enter what was really used, and Diachrom learns it.",
                misses=quantity(100 * self.misses, ".0f"),
            )
        misses = quantity(100 * self.misses, ".0f")
        if self.jobs == 1:
            return say("By your last job {misses} % misses it.", misses=misses)
        return say(
            "By your last {jobs} jobs {misses} % misses it ({low} to {high}).",
            jobs=self.jobs,
            misses=misses,
            low=quantity(100 * self.low, ".0f"),
            high=quantity(100 * self.high, ".0f"),
        )


def learned(connection: sqlite3.Connection) -> LearnedWaste:
    """What is reckoned with until something else is said."""
    job_useds = overspray.latest(connection, LEARNED_FROM)
    if not job_useds:
        return LearnedWaste(MISSES, MISSES, MISSES, STAYS_ML, 0)
    shares = [missed(job_used.on_baits_ml, job_used.stays_ml, job_used.used_ml) for job_used in job_useds]
    return LearnedWaste(median(shares), min(shares), max(shares), job_useds[0].stays_ml, len(job_useds))


def sprayed(connection: sqlite3.Connection, job: Job, used_ml: float, *, at: str) -> None:
    """So much was really used for a job. Raises InvalidInput for less than lies on the baits."""
    learned_misses(job, used_ml)
    with writing(connection):
        overspray.add(connection, at=at, on_baits_ml=job.on_baits_ml, stays_ml=job.stays_ml, used_ml=used_ml)


def forget_last(connection: sqlite3.Connection) -> None:
    """The last job was said wrongly: it is not learned from any more."""
    with writing(connection):
        overspray.set_aside_last(connection)
