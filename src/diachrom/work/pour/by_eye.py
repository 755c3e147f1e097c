"""The cup on the bench as the eye finds it: what takes it the way that is wished, poured with one press."""

import re
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from diachrom.core.light import words
from diachrom.core.mix.cup import USUAL_DROP_ML
from diachrom.core.mix.mixes import exact_labs
from diachrom.core.mix.story import Verdict
from diachrom.core.pour.adjusting import Way, adjust
from diachrom.core.pour.verdict import NOT_ENOUGH, TOO
from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.words import listed, say
from diachrom.work.mix.candidates import in_stock, where_sprayed
from diachrom.work.mix.contents import contents, cup_of

VERDICTS = TOO | NOT_ENOUGH
PARTS = re.compile(r"\d{1,9}:\d{1,3}(?:,\d{1,9}:\d{1,3}){0,3}")


@dataclass(frozen=True, eq=False)
class WaySeen:
    """A way, with its bottles."""

    way: Way
    parts: Sequence[tuple[Bottle, int]]
    strays: str  # what it does beside what was wished, in words; "" where that is not seen

    @property
    def value(self) -> str:
        """Bottles and drops, as `put` reads them."""
        return ",".join(f"{bottle.id}:{drops}" for bottle, drops in self.parts)


@dataclass(frozen=True, eq=False)
class ByEye:
    """The cup as it is, and the ways from it, gentlest first."""

    now: tuple[float, float, float] | None  # Lab; None of an empty cup
    ways: Sequence[WaySeen]
    sentence: str = ""


SEEN = 1.0  # dE beside what was wished, that is worth a word


def ways(connection: sqlite3.Connection, verdicts: Sequence[str]) -> ByEye:
    """What helps the cup on the bench; where nothing is said, only how it looks. Raises InvalidInput for verdicts that
    are none or contradict each other."""
    draft = cups.now(connection).draft
    held = contents(connection, draft)
    cup = cup_of(held)
    if cup.empty or cup.only_thinner:
        return ByEye(None, [], say("There is no colour in the cup: add a drop first."))
    where = where_sprayed(connection, draft)
    if not verdicts:
        poured = [pour for pour in cup.pours if pour.drops]
        shares = np.array([[pour.volume_ml for pour in poured]]) / cup.volume_ml
        as_it_is = exact_labs([pour.paint for pour in poured], shares, where)[0, 0].tolist()
        return ByEye((as_it_is[0], as_it_is[1], as_it_is[2]), [])
    in_cup = {part.bottle for part in draft.parts}
    own = {bottle.paint_id: bottle for bottle in bottles.by_id(connection, in_cup).values()}
    shelf = [one for one in in_stock(connection) if one.bottle is not None]
    every = [own.get(one.key, one.bottle) for one in shelf]
    pairs = [(one.paint, bottle.drop_ml if bottle else USUAL_DROP_ML) for one, bottle in zip(shelf, every, strict=True)]
    found = adjust(cup, pairs, verdicts, where)
    seen = []
    for way in found.ways:
        parts = [(bottle, drops) for at, drops in way.parts if (bottle := every[at]) is not None]
        seen.append(WaySeen(way, parts, "" if way.side < SEEN else words.difference(found.now, way.beside)))
    now = found.now.tolist()
    return ByEye((now[0], now[1], now[2]), seen, found.sentence)


def put(connection: sqlite3.Connection, value: str, verdicts: Sequence[str], *, at: str) -> str:
    """Pour a way into the cup on the bench; what was said is kept with it. Raises InvalidInput."""
    if not PARTS.fullmatch(value):
        raise InvalidInput(say("Choose one of the ways."), field="parts")
    said = [one for one in verdicts if one in VERDICTS]
    parts = [(int(bottle), int(drops)) for bottle, _, drops in (part.partition(":") for part in value.split(","))]
    with writing(connection):
        standing = cups.now(connection)
        draft, names = standing.draft, []
        for number, drops in parts:
            bottle = bottles.one(connection, number)
            own = next((part.drops for part in draft.parts if part.bottle == number), 0)
            draft = draft.with_bottle(number, drop_ml=bottle.drop_ml, paint=bottle.full_name)
            draft = draft.with_drops(number, own + drops, paint=bottle.full_name)
            names.append(f"{drops} {bottle.full_name}")
        if said:
            spoken = Verdict(", ".join(said)[:80], "the eye")
            cups.append(
                connection,
                standing.draft,
                did=say("the verdict “{words}”", words=listed(VERDICTS[one] for one in said)),
                at=at,
                batch=standing.batch,
                verdict=spoken,
            )
        cups.append(connection, draft, did=say("adding {parts}", parts=listed(names)), at=at, batch=standing.batch)
    return listed(names)
