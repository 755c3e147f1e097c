"""How paints were seen to run down the cup's wall on this bench, and what brings the cup there again."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from pydantic import TypeAdapter

from diachrom.core.film.kinds import KINDS
from diachrom.core.mix import flow
from diachrom.core.mix.flow import GRADES, Seen
from diachrom.core.mix.reducing import HANDS
from diachrom.errors import InvalidInput
from diachrom.store import cups, kept, settings
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.words import say
from diachrom.work.mix.candidates import thinner_in_stock
from diachrom.work.mix.contents import Contents, contents, cup_of

HALF_A_DROP = 0.02  # ml
KEY, MOST_SEEN, MOST_PAINTS = "flow", 12, 400
KEPT = TypeAdapter(dict[str, dict[str, list[tuple[kept.Number, kept.Whole]]]])


@dataclass(frozen=True)
class Thinning:
    """What brings the cup to a grade."""

    grade: int
    share: float  # of reducer that it has then
    bottle: Bottle | None  # of reducer; None where the shelf has none, or none is wanted
    drops: int


@dataclass(frozen=True)
class FlowSeen:
    """The cup, by the paint that there is most of."""

    name: str
    now: float  # share of reducer
    seen: Sequence[Seen]
    to: Sequence[Thinning]  # each grade


def see(connection: sqlite3.Connection, hand: str) -> FlowSeen | None:
    """None where nothing in the cup colours."""
    held = contents(connection, cups.now(connection).draft)
    cup = cup_of(held)
    bottle = _most(held)
    if bottle is None:
        return None
    seen = _seen(connection, bottle.paint_id, hand)
    to = []
    for grade in GRADES:
        share = flow.share_for(grade, bottle.kind, seen)
        ml = flow.to_add_ml(cup.thinned, share, cup.volume_ml)
        thinner = thinner_in_stock(connection, "reducer", ml) if ml > HALF_A_DROP else None
        to.append(Thinning(grade, share, None if thinner is None else thinner[0], 0 if thinner is None else thinner[1]))
    return FlowSeen(bottle.full_name, cup.thinned, seen, to)


def tell(connection: sqlite3.Connection, grade: int, hand: str) -> str:
    """The cup on the bench runs so: kept for the paint that there is most of; its name. Raises InvalidInput."""
    if grade not in GRADES or hand not in HANDS:
        raise InvalidInput(say("Choose one of the five."), field="grade")
    held = contents(connection, cups.now(connection).draft)
    bottle = _most(held)
    if bottle is None:
        raise InvalidInput(say("There is no colour in the cup: add a drop first."), field="grade")
    share = cup_of(held).thinned
    known = _all(connection)
    own = known.pop(bottle.paint_id, {})
    own[hand] = [*own.get(hand, []), (round(share, 4), grade)][-MOST_SEEN:]
    known[bottle.paint_id] = own
    last = dict(list(known.items())[-MOST_PAINTS:])
    with writing(connection):
        settings.put(connection, {KEY: KEPT.dump_json(last).decode()})
    return bottle.full_name


def _most(held: Contents) -> Bottle | None:
    """The bottle of which most is in the cup, of those that colour."""
    able = [
        (part.drops * part.drop_ml, held.shelf[part.bottle].bottle)
        for part in held.draft.parts
        if part.drops and not KINDS[held.shelf[part.bottle].bottle.kind].thins
    ]
    return max(able, key=lambda one: one[0])[1] if able else None


def _all(connection: sqlite3.Connection) -> dict[str, dict[str, list[tuple[float, int]]]]:
    return kept.read(KEPT, settings.every(connection).get(KEY), {})


def _seen(connection: sqlite3.Connection, paint_id: str, hand: str) -> list[Seen]:
    told = _all(connection).get(paint_id, {}).get(hand, [])
    return [Seen(share, grade) for share, grade in told if grade in GRADES and 0 <= share < 1]
