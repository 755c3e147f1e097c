"""Searches that go on while the page shows the best so far."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import asdict, replace
from pathlib import Path

from diachrom.core.light.bands import Floats
from diachrom.core.match.alternatives import Alternative, ShortList, reach
from diachrom.core.match.judge import Match
from diachrom.core.match.let_down import LetDownMatch, by_let_down
from diachrom.core.match.search import Search
from diachrom.core.mix.cup import Cup, Pour
from diachrom.core.mix.mixes import Parts, uncommon
from diachrom.core.mix.strip import Over, Strip, strip
from diachrom.core.mix.where import Views
from diachrom.store import bottles, mist, paints, revisions
from diachrom.store.connection import connected
from diachrom.store.targets import Target
from diachrom.work.kit.looks import SHELF_GROUNDS
from diachrom.work.kit.tasks import Task, Tasks
from diachrom.work.match.own_targets import in_other_lights
from diachrom.work.match.settings import Settings
from diachrom.work.match.targets import active_target, labs_of
from diachrom.work.mix.candidates import Candidate, for_a_target, in_stock, where_sprayed
from diachrom.work.mix.sprayed_over import over
from diachrom.work.shelf.on_shelf import at_hand

KIND = "match"
FEWEST_COATS, MOST_COATS = 3, 6  # of a strip beside the target
SEALED_RELUCTANCE = 0.5  # dE nearer that a bottle must bring to be opened, where open ones come first


class MatchTask(Task):
    """A search that is going on, and the best so far."""

    def __init__(self, target: Target, settings: Settings, key: str) -> None:
        super().__init__()
        self.target, self.settings, self.key = target, settings, key
        self.candidates: Sequence[Candidate] = ()
        self.found: Sequence[Alternative] = ()
        self.strips: Mapping[Parts, Strip] = {}  # of those found
        self.reach: Floats | None = None
        self.alone: Match | None = None  # the bottle that comes nearest by itself
        self.let_down: LetDownMatch | None = None  # where the best mix hangs on one drop
        self.evaluated = 0

    def work(self, folder: Path) -> None:
        """Search, and keep the best so far."""
        with connected(folder) as connection:
            self.candidates = candidates(connection, self.settings, self.target.seen.views)
            prices = {record.id: record.price for record in paints.every_record(connection)}
            where = where_sprayed(connection, self.settings, self.target.seen.views)
            in_lights = in_other_lights(connection, self.target)
            grounds = [over(connection, key) for key in dict.fromkeys([self.settings.ground, *SHELF_GROUNDS])]
        every, settings = self.candidates, self.settings
        search = Search(
            labs_of(self.target),
            [candidate.paint for candidate in every],
            [one.drop_ml for one in every],
            where,
            most_paints=settings.max_paints,
            most_drops=settings.max_drops,
            dilution=settings.dilution,
            kept_in=[index for index, one in enumerate(every) if one.bottle and one.bottle.id in settings.kept_in],
            reluctance=reluctance(every, settings),
        )
        price_ml = [_price_ml(prices.get(one.key), one) for one in self.candidates]
        short = ShortList(
            search,
            settings.wish,
            in_lights=in_lights,
            price_ml=price_ml,
            coats=settings.coats,
            needed_ml=settings.needed_ml,
        )
        for found in search.steps():
            self.tell(self.done, self.total)
            chosen = short.of(found.matches)
            new = [alternative.match for alternative in chosen if alternative.match.parts not in self.strips]
            self.strips = {**self.strips, **{one.parts: _strip(search, one, self.settings, grounds) for one in new}}
            self.found, self.evaluated = chosen, found.evaluated
            alone = [one for one in found.matches if len(one.parts) == 1]
            alone = [one for one in alone if not uncommon(every[one.parts[0][0]].paint)] or alone
            self.alone = min(alone, key=search.judge.cost, default=self.alone)
            if self.reach is None:
                self.reach = reach(search)
        ranked = short.ranking.of(found.matches)
        if ranked and not settings.kept_in:
            self.let_down = by_let_down(search, found.matches, ranked[0], settings.wish, coats=settings.coats)


def start(tasks: Tasks) -> MatchTask | None:
    """The search for the target on the bench: the one that is going on, or a new one when anything has changed."""

    def begin(known: MatchTask | None) -> MatchTask | None:
        # What is on the bench is read here, under the lock: a later wish is never put off by an earlier one.
        with connected(tasks.folder) as connection:
            target, settings = active_target(connection)
            if target is None:
                return None
            # Not the stock itself, which every pour changes, but what of it may be mixed.
            ready = [(bottle.id, settings.open_first and bottle.state == "sealed") for bottle in at_hand(connection)]
            counters = revisions.of(connection, "profiles", "bottles")
            key = json.dumps([target.id, asdict(settings), *counters, str(mist.hand(connection)), ready])
        same = known is not None and known.key == key and not known.stopping
        return known if same else MatchTask(target, settings, key)

    return tasks.start(KIND, begin)


def stop(tasks: Tasks) -> MatchTask | None:
    """The search that was going on."""
    tasks.stop(KIND)
    return tasks.of(KIND, MatchTask)


def _strip(search: Search, one: Match, settings: Settings, grounds: Sequence[Over]) -> Strip:
    """As it is sprayed, over the chosen ground first."""
    return strip(
        Cup(
            [Pour(search.judge.paints[index], drops, float(search.judge.drop_ml[index])) for index, drops in one.parts]
        ),
        film_um=search.judge.where.film_um / settings.coats * search.judge.full,  # as thin as if it were thinned
        coats=min(max(settings.coats, FEWEST_COATS), MOST_COATS),
        over=grounds,
        sheen=settings.sheen,
        under=search.judge.where.under,
    )


def candidates(connection: sqlite3.Connection, settings: Settings, views: Views) -> list[Candidate]:
    """What may be mixed for a target that was seen in these views."""
    shelf = in_stock(connection)
    wanted = bottles.by_id(connection, settings.kept_in)
    beside = [
        replace(candidate, bottle=bottle, drop_ml=bottle.drop_ml)
        if (bottle := next((b for b in wanted.values() if b.paint_id == candidate.key), None))
        else candidate
        for candidate in shelf
    ]
    able = for_a_target(beside, views, settings.kept_in)
    return [one for one in able if one.bottle and one.bottle.id not in settings.left_out]


def reluctance(every: Sequence[Candidate], settings: Settings) -> list[float]:
    """dE nearer that each must bring a mix to be taken; nothing speaks against what is to be in every mix."""
    found = []
    for candidate, odd in zip(every, settings.wish.reluctance([one.paint for one in every]), strict=True):
        sealed = settings.open_first and candidate.bottle is not None and candidate.bottle.state == "sealed"
        kept_in = candidate.bottle is not None and candidate.bottle.id in settings.kept_in
        found.append((0.0 if kept_in else odd) + (SEALED_RELUCTANCE if sealed else 0.0))
    return found


def _price_ml(price: float | None, candidate: Candidate) -> float | None:
    return None if price is None or candidate.bottle is None else price / candidate.bottle.size_ml
