"""Searches that go on while the page shows the best so far."""

import json
import sqlite3
import threading
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from pathlib import Path

from diachrom.core.light.bands import Floats
from diachrom.core.match.alternatives import Alternative, alternatives, reach
from diachrom.core.match.search import Match, Search
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.mixes import Parts
from diachrom.core.mix.strip import Over, Strip, strip
from diachrom.errors import DiachromError
from diachrom.store import bottles, hand_factor, paints
from diachrom.store.connection import connected
from diachrom.store.targets import Target
from diachrom.work.kit.looks import SHELF_GROUNDS
from diachrom.work.match.own_targets import in_other_lights
from diachrom.work.match.settings import Settings
from diachrom.work.match.targets import aim, labs_of
from diachrom.work.mix.candidates import Candidate, for_a_target, in_stock, where_sprayed
from diachrom.work.mix.sprayed_over import over

FEWEST_COATS, MOST_COATS = 3, 6  # of a strip beside the target
SEALED_RELUCTANCE = 0.5  # dE nearer that a bottle must bring to be opened, where open ones come first


@dataclass(eq=False)
class MatchJob:
    """A search that is going on, and the best so far."""

    target: Target
    settings: Settings
    candidates: Sequence[Candidate] = ()
    found: Sequence[Alternative] = ()
    strips: Mapping[Parts, Strip] = field(default_factory=dict)  # of those found
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

    def start(self, folder: Path) -> MatchJob | None:
        """The search for the target on the bench: the one that is going on, or a new one when anything has changed.

        What is on the bench is read under the lock: of two that ask at once neither starts it twice, and the later
        wish is never put off by the earlier.
        """
        with self._lock, connected(folder) as connection:
            target, settings = aim(connection)
            if target is None:
                return None
            key = json.dumps(
                [target.id, asdict(settings), bottles.revision(connection), hand_factor.now(connection), str(folder)]
            )
            if self.job is not None and self.key == key and not self.job.stopped:
                return self.job
            if self.job is not None:
                self.job.stopped = True
            self.job, self.key = MatchJob(target, settings), key
            threading.Thread(target=_run, args=(folder, self.job), daemon=True).start()
            return self.job

    def stop(self) -> MatchJob | None:
        """The search that was going on."""
        with self._lock:
            if self.job is not None:
                self.job.stopped = True
            return self.job


def _run(folder: Path, job: MatchJob) -> None:
    try:
        with connected(folder) as connection:
            candidates = _candidates(connection, job)
            prices = {record.id: record.price for record in paints.every_record(connection)}
            where = where_sprayed(connection, job.settings, job.target.seen.views)
            in_lights = in_other_lights(connection, job.target)
            grounds = [over(connection, key) for key in dict.fromkeys([job.settings.ground, *SHELF_GROUNDS])]
        job.candidates = candidates
        search = Search(
            labs_of(job.target),
            [one.paint for one in candidates],
            [one.drop_ml for one in candidates],
            where,
            most_paints=job.settings.max_paints,
            most_drops=job.settings.max_drops,
            dilution=job.settings.dilution,
            kept_in=[at for at, one in enumerate(candidates) if one.bottle and one.bottle.id in job.settings.kept_in],
            reluctance=[_reluctance(one, job.settings) for one in candidates],
        )
        price_ml = [_price_ml(prices.get(one.key), one) for one in candidates]
        for found in search.steps():
            if job.stopped:
                break
            chosen = alternatives(
                search, found.matches, in_lights=in_lights, price_ml=price_ml, coats=job.settings.coats
            )
            new = [one.match for one in chosen if one.match.parts not in job.strips]
            job.strips = {**job.strips, **{one.parts: _strip(search, one, job.settings, grounds) for one in new}}
            job.found = chosen
            job.evaluated = found.evaluated
            if job.reach is None:
                job.reach = reach(search)
        job.finished = True
    except DiachromError as error:
        job.problem, job.finished = str(error), True
    except Exception:
        job.problem, job.finished = "Something is wrong in Diachrom itself.", True
        raise


def _strip(search: Search, one: Match, settings: Settings, grounds: Sequence[Over]) -> Strip:
    """As it is sprayed, over the chosen ground first."""
    return strip(
        Cup([Pour(search.paints[at], drops, float(search.drop_ml[at])) for at, drops in one.parts]),
        film_um=search.where.film_um / settings.coats * search.full,  # as thin as if it were thinned
        coats=min(max(settings.coats, FEWEST_COATS), MOST_COATS),
        over=grounds,
        sheen=settings.sheen,
        under=search.where.under,
    )


def _candidates(connection: sqlite3.Connection, job: MatchJob) -> list[Candidate]:
    """What may be mixed."""
    settings, shelf = job.settings, in_stock(connection)
    wanted = bottles.by_id(connection, settings.kept_in)
    beside = [
        replace(one, bottle=own, drop_ml=own.drop_ml)
        if (own := next((b for b in wanted.values() if b.paint_id == one.key), None))
        else one
        for one in shelf
    ]
    able = for_a_target(beside, job.target.seen.views, settings.kept_in)
    return [one for one in able if one.bottle and one.bottle.id not in settings.left_out]


def _reluctance(one: Candidate, settings: Settings) -> float:
    return SEALED_RELUCTANCE if settings.open_first and one.bottle and one.bottle.state == "sealed" else 0.0


def _price_ml(price: float | None, one: Candidate) -> float | None:
    return None if price is None or one.bottle is None else price / one.bottle.size_ml
