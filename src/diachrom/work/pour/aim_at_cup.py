"""The target beside the cup: a match poured into it, and what the next drop would do."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from diachrom.core.light.difference import delta_e
from diachrom.core.mix.cup import USUAL_DROP_ML
from diachrom.core.mix.draft import Draft, Part
from diachrom.core.mix.story import story
from diachrom.core.mix.where import Where
from diachrom.core.pour.next_drop import Advice, advise
from diachrom.core.pour.order import InOrder, pouring_order
from diachrom.store import bottles, cups, targets
from diachrom.store.connection import writing
from diachrom.store.targets import Target
from diachrom.words import say
from diachrom.work.match.targets import active_target, labs_of, point
from diachrom.work.mix.candidates import Candidate, in_stock, thinner_in_stock, thinner_ml, where_sprayed
from diachrom.work.mix.contents import contents, cup_of
from diachrom.work.pour.pouring import path as pouring_path

OTHER_COLOUR = 15.0  # dE beyond which two colours are not two shades of one


def into_cup(connection: sqlite3.Connection, parts: Sequence[tuple[int, int]], *, at: str) -> None:
    """Pour a match into a new cup: bottles and drops, with the reducer that it was reckoned with. Undo brings the old
    cup back. Raises BottleNotFound, BadDrops."""
    target, settings = active_target(connection)
    found = bottles.by_id(connection, [bottle for bottle, _ in parts])
    with writing(connection):
        standing = cups.now(connection)
        draft = Draft(
            name=standing.draft.name if not standing.draft.parts else "",
            light=standing.draft.light,
            nozzle_mm=standing.draft.nozzle_mm,
            own_ground=standing.draft.own_ground,
        )
        if target is not None:
            draft = draft.named(
                name=target.name, note=say("Matched to {name}, {source}.", name=target.name, source=target.source)
            )
        for bottle, drops in parts:
            draft = draft.with_bottle(bottle, drop_ml=found[bottle].drop_ml, paint=found[bottle].full_name)
            draft = draft.with_drops(bottle, drops, paint=found[bottle].full_name)
        # As many drops of the reducer on the shelf as make this share of the volume.
        volume = thinner_ml(sum(part.drops * part.drop_ml for part in draft.parts), settings.dilution)
        thinner = thinner_in_stock(connection, "reducer", volume) if settings.dilution > 0 else None
        thinned = [] if thinner is None else [Part(thinner[0].id, thinner[1], thinner[0].drop_ml)]
        draft = replace(draft, parts=(*draft.parts, *thinned))
        batch = cups.new_batch(connection, target=None if target is None else target.id)
        # The strong paints last, so that each can be stopped in time.
        where = where_sprayed(connection, settings)
        poured = pouring_order(cup_of(contents(connection, draft)), where)
        order = tuple(draft.parts[one.index] for one in poured)
        draft = (
            replace(draft, parts=order)
            .sprayed(
                film_um=settings.film_um,
                coats=settings.coats,
                clear_coat=settings.clear_coat,
                sealed=False,
                satin=settings.satin,
            )
            .over(settings.ground)
        )
        cups.append(connection, draft, did=say("the match"), at=at, batch=batch)


def pouring(connection: sqlite3.Connection) -> list[tuple[InOrder, str]]:
    """The cup on the bench in the order in which it is best poured, each pour with its bottle's name."""
    draft = cups.now(connection).draft
    held = contents(connection, draft)
    cup = cup_of(held)
    if cup.only_thinner:
        return []
    order = pouring_order(cup, where_sprayed(connection, draft))
    return [(one, held.shelf[draft.parts[one.index].bottle].bottle.full_name) for one in order]


@dataclass(frozen=True, eq=False)
class NextDrop:
    """The cup on the bench beside its target."""

    target: Target
    advice: Advice
    candidates: Sequence[Candidate]
    other_colour: bool  # it is far from the target, and was never near: a drop is no way there


def next_drop(connection: sqlite3.Connection) -> NextDrop | None:
    """What the next drop would do to the cup on the bench, None without a target or with nothing in the cup."""
    target = targets.at_cup(connection)
    draft = cups.now(connection).draft
    if target is None or not draft.drops:
        return None
    cup = cup_of(contents(connection, draft))
    if cup.only_thinner:
        return None
    where = where_sprayed(connection, draft, target.seen.views)
    in_cup = {part.bottle for part in draft.parts}
    candidates = [candidate for candidate in in_stock(connection) if candidate.bottle is not None]
    own = bottles.by_id(connection, in_cup)
    candidates = [_from_cup(one, own) for one in candidates]
    pairs = [(one.paint, one.drop_ml or USUAL_DROP_ML) for one in candidates]
    advice = advise(cup, pairs, labs_of(target), where)
    other = advice.delta_e > OTHER_COLOUR and not _was_near(connection, target, where)
    return NextDrop(target, advice, candidates, other)


def _was_near(connection: sqlite3.Connection, target: Target, where: Where) -> bool:
    """This cup has been on its way to the target: a drop too many is not another colour."""
    told = story(cups.steps_of(connection, cups.now(connection).batch))
    points = pouring_path(connection, told, where)
    return bool(points) and float(delta_e(np.array(points), point(target)).min()) <= OTHER_COLOUR


def _from_cup(candidate: Candidate, own: dict[int, bottles.Bottle]) -> Candidate:
    """The bottle that stands beside the cup, where there are several of a paint."""
    beside = next((bottle for bottle in own.values() if bottle.paint_id == candidate.key), None)
    return candidate if beside is None else replace(candidate, bottle=beside, drop_ml=beside.drop_ml)
