"""Searches that go on while the page shows the best so far."""

import json
import sqlite3
import threading
from collections.abc import Sequence
from dataclasses import asdict, dataclass, field
from pathlib import Path

import numpy as np

from diachrom.core.light.bands import Floats
from diachrom.core.mixing.alternatives import Alternative, alternatives, reach
from diachrom.core.mixing.matching import Search, Where
from diachrom.errors import DiachromError
from diachrom.store import bottles, paints
from diachrom.store.connection import connected
from diachrom.store.targets import Target
from diachrom.work.aiming import Settings, aim, spectrum_of
from diachrom.work.matching import Candidate, in_stock, where_sprayed


def _where(connection: sqlite3.Connection, settings: Settings) -> Where:
    return where_sprayed(
        connection,
        settings.ground,
        film_um=settings.film_um,
        coats=settings.coats,
        clear_coat=settings.clear_coat,
    )


@dataclass(eq=False)
class MatchJob:
    """A search that is going on, and the best so far."""

    target: Target
    settings: Settings
    candidates: Sequence[Candidate] = ()
    found: Sequence[Alternative] = ()
    reach: Floats | None = None
    evaluated: int = 0
    finished: bool = False
    problem: str = ""
    stopped: bool = False


@dataclass
class MatchJobs:
    """The search of this server: one at a time, the newest."""

    job: MatchJob | None = None
    key: str = ""
    _lock: threading.Lock = field(default_factory=threading.Lock)

    def start(self, folder: Path, connection: sqlite3.Connection) -> MatchJob | None:
        """The search for the target on the bench: the one that is going on, or a new one when anything has changed."""
        target, settings = aim(connection)
        if target is None:
            return None
        key = json.dumps([target.id, asdict(settings), bottles.revision(connection), str(folder)])
        with self._lock:
            if self.job is not None and self.key == key and not self.job.stopped:
                return self.job
            if self.job is not None:
                self.job.stopped = True
            self.job, self.key = MatchJob(target, settings), key
        threading.Thread(target=_run, args=(folder, self.job), daemon=True).start()
        return self.job

    def stop(self) -> None:
        if self.job is not None:
            self.job.stopped = True


def _run(folder: Path, job: MatchJob) -> None:
    try:
        with connected(folder) as connection:
            candidates = [
                one for one in in_stock(connection) if one.bottle and one.bottle.id not in job.settings.left_out
            ]
            prices = {record.id: record.price for record in paints.every_record(connection)}
            where = _where(connection, job.settings)
        job.candidates = candidates
        search = Search(
            np.array(job.target.lab),
            [one.paint for one in candidates],
            [one.drop_ml for one in candidates],
            where,
            most_paints=job.settings.max_paints,
            most_drops=job.settings.max_drops,
            dilution=job.settings.dilution,
        )
        price_ml = [_price_ml(prices.get(one.key), one) for one in candidates]
        spectrum = spectrum_of(job.target)
        for found in search.steps():
            if job.stopped:
                break
            job.found = alternatives(
                search, found.matches, spectrum=spectrum, price_ml=price_ml, coats=job.settings.coats
            )
            job.evaluated = found.evaluated
            if job.reach is None:
                job.reach = reach(search)
        job.finished = True
    except DiachromError as error:
        job.problem, job.finished = str(error), True
    except Exception:
        job.problem, job.finished = "Something is wrong in Diachrom itself.", True
        raise


def _price_ml(price: float | None, one: Candidate) -> float | None:
    return None if price is None or one.bottle is None else price / one.bottle.size_ml
