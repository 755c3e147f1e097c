"""The cup on the bench in amounts: scaled, for a job, thinned."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.core.light import words
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lights import light
from diachrom.core.mix.amount import Job
from diachrom.core.mix.batch import Batch, batch, check_countable, closest
from diachrom.core.mix.cup import AIRBRUSH_CUP_ML, MOST_DROPS, Cup, Pour
from diachrom.core.mix.draft import Draft
from diachrom.core.mix.prediction import Colour
from diachrom.core.mix.reducing import LADDER, Reduction, reduction
from diachrom.core.mix.scaling import counted, free_volumes, scaled
from diachrom.core.mix.strip import strip
from diachrom.core.shelf.keeping import density
from diachrom.errors import DiachromError, InvalidInput
from diachrom.store import cups, mist, paints
from diachrom.store.connection import writing
from diachrom.words import quantity, say
from diachrom.work.mix.candidates import thinner_in_stock
from diachrom.work.mix.contents import Contents, contents, cup_of
from diachrom.work.mix.sprayed_over import over

FREE_SHOWN = 6
MUCH_OVER = 0.25  # of what was wanted: then a changed ratio is shown beside it
COUNTED_IN = ("parts", "percent", "ml", "grams")
USUAL_ML = 1.0
LADDER_COATS = 6
SAME_COATS = 2.5  # dE: nearly the same side by side


@dataclass(frozen=True)
class PartAmounts:
    """One bottle's share of the cup, every way it is counted."""

    bottle: int
    name: str
    drops: int
    parts: float  # of the smallest part
    share: float  # of the volume
    ml: float
    grams: float


@dataclass(frozen=True, eq=False)
class ScaledSeen:
    """The cup in other drops, and what they do to its colour."""

    drops: tuple[int, ...]
    volume_ml: float
    delta_e: float
    words: str
    looks: tuple[Colour, Colour]  # before and after


@dataclass(frozen=True, eq=False)
class BatchSeen:
    """So much of the cup, its ratio kept; and where that is more than was wanted, what a changed ratio would do."""

    batch: Batch
    changed: ScaledSeen | None


@dataclass(frozen=True, eq=False)
class AmountsSeen:
    """The cup on the bench in amounts."""

    contents: Contents
    cup: Cup
    parts: Sequence[PartAmounts]
    wants: Reduction | None  # None when nothing in it colours
    thinner: tuple[int, str, int] | None  # bottle, name, drops that bring it to what it wants
    droppers: ScaledSeen | None  # with the bottles' drops as they are now; None where they are as they were counted
    ladder: Sequence[tuple[float, Sequence[Colour]]]  # (share of reducer, the colour after each coat, none first)
    problem: str = ""  # why it cannot be predicted

    def coats_needed(self, coats: int) -> list[tuple[float, int | None]]:
        """(share of reducer, coats) that get as far as so many coats get as it comes; None where the ladder ends."""
        if not self.ladder:
            return []
        aim = self.ladder[0][1][min(coats, LADDER_COATS)].lab
        found: list[tuple[float, int | None]] = []
        for share, colours in self.ladder[1:]:
            far = [float(delta_e(colour.lab, aim)) for colour in colours]
            near = [index for index, value in enumerate(far) if index and value <= SAME_COATS]
            found.append((share, near[0] if near else None))
        return found


def see(connection: sqlite3.Connection, *, hand: str, pressure_bar: float | None = None) -> AmountsSeen:
    """Everything but a scaling. Raises InvalidInput."""
    draft = cups.now(connection).draft
    held = contents(connection, draft)
    cup = cup_of(held)
    if cup.empty:
        return AmountsSeen(contents=held, cup=cup, parts=[], wants=None, thinner=None, droppers=None, ladder=[])
    smallest = min(pour.volume_ml for pour in cup.pours if pour.drops)
    parts = [
        PartAmounts(
            bottle=part.bottle,
            name=held.shelf[part.bottle].bottle.full_name,
            drops=part.drops,
            parts=pour.volume_ml / smallest,
            share=pour.volume_ml / cup.volume_ml,
            ml=pour.volume_ml,
            grams=pour.volume_ml * _density(connection, held, index),
        )
        for index, (part, pour) in enumerate(zip(draft.parts, cup.pours, strict=True))
        if part.drops
    ]
    if cup.only_thinner:
        return AmountsSeen(contents=held, cup=cup, parts=parts, wants=None, thinner=None, droppers=None, ladder=[])
    wants = reduction(cup, nozzle_mm=draft.nozzle_mm, hand=hand, pressure_bar=pressure_bar)
    # The bottle on the shelf that would thin it, and its drops.
    if wants.add_ml <= 0:
        thinner = None
    else:
        bottles = thinner_in_stock(connection, "medium" if wants.with_medium else "reducer", wants.add_ml)
        thinner = None if bottles is None else (bottles[0].id, bottles[0].full_name, bottles[1])
    droppers, ladder, problem = None, [], ""
    try:
        droppers, ladder = _droppers(connection, held), _ladder(connection, held, cup)
    except DiachromError as error:  # its amounts are as they are
        problem = str(error)
    return AmountsSeen(
        contents=held,
        cup=cup,
        parts=parts,
        wants=wants,
        thinner=thinner,
        droppers=droppers,
        ladder=ladder,
        problem=problem,
    )


def free_near(connection: sqlite3.Connection, volume_ml: float | None = None) -> list[float]:
    """The volumes around one, or around the cup's own, at which whole drops cost nothing; none of an empty cup."""
    cup = cup_of(contents(connection))
    return [] if cup.empty else free_volumes(cup, volume_ml or cup.volume_ml, most=FREE_SHOWN)


def _density(connection: sqlite3.Connection, held: Contents, at: int) -> float:
    """g/ml of a part of the cup."""
    bottle = held.shelf[held.draft.parts[at].bottle].bottle
    return paints.record(connection, bottle.paint_id).density or density(bottle.kind)


def _ladder(connection: sqlite3.Connection, held: Contents, cup: Cup) -> list[tuple[float, Sequence[Colour]]]:
    """The same paint at five reductions, coat by coat on its own ground."""
    draft = held.draft
    coloured = [pour for pour in cup.pours if pour.drops and not pour.paint.thins]
    where, hand = over(connection, draft.ground), mist.hand(connection)
    found: list[tuple[float, Sequence[Colour]]] = []
    for share in LADDER:
        one = strip(
            Cup(coloured),
            # Reducer flashes off: the paint in a coat is what is left of it.
            film_um=hand.film_um(draft.film_um) * (1 - share),
            droplet_um=0.0 if cup.even else (1 - share) * hand.dots_um(draft.film_um, thinned=share),
            coats=LADDER_COATS,
            over=[where],
            sheen=draft.sheen,
            under=light("D65"),
        )
        column = one.columns[0]
        found.append((share, [column.bare.diffuse, *(patch.diffuse for patch in column.patches)]))
    return found


def scale(connection: sqlite3.Connection, volume_ml: float) -> BatchSeen:
    """The cup on the bench at another volume. Raises EmptyCup, InvalidInput."""
    draft = cups.now(connection).draft
    cup = cup_of(contents(connection, draft))
    counts, sizes = [pour.drops for pour in cup.pours], [pour.drop_ml for pour in cup.pours]
    found = batch(counts, sizes, volume_ml)
    check_countable(found)
    if found.over_ml <= MUCH_OVER * volume_ml:
        return BatchSeen(found, None)
    try:
        other = closest(counts, sizes, volume_ml)
    except InvalidInput:  # not even a drop of each
        return BatchSeen(found, None)
    return BatchSeen(found, _beside(connection, draft, cup, other.drops, sizes))


def _droppers(connection: sqlite3.Connection, held: Contents) -> ScaledSeen | None:
    """The same volume by the bottles' droppers of today, where one drips otherwise than when it was counted."""
    draft, sizes, cup = held.draft, _sizes(held), cup_of(held)
    if all(pour.drop_ml == size for pour, size in zip(cup.pours, sizes, strict=True) if pour.drops):
        return None
    return _beside(connection, draft, cup, scaled(cup, cup.volume_ml, drop_ml=sizes).drops, sizes)


def _sizes(held: Contents) -> list[float]:
    return [held.shelf[part.bottle].bottle.drop_ml for part in held.draft.parts]


def _beside(
    connection: sqlite3.Connection, draft: Draft, cup: Cup, drops: Sequence[int], drop_ml: Sequence[float]
) -> ScaledSeen:
    """What other drops do to the colour."""
    where, hand = over(connection, draft.ground), mist.hand(connection)
    changed = Cup(
        [
            replace(pour, drops=min(count, MOST_DROPS), drop_ml=size)
            for pour, count, size in zip(cup.pours, drops, drop_ml, strict=True)
        ]
    )
    before, after = (
        strip(
            one,
            film_um=hand.film_um(draft.film_um),
            droplet_um=hand.dots_of(one, draft.film_um, nozzle_mm=draft.nozzle_mm),
            coats=draft.coats,
            over=[where],
            sheen=draft.sheen,
            under=light("D65"),
        )
        .columns[0]
        .patches[-1]
        .diffuse
        for one in (cup, changed)
    )
    return ScaledSeen(
        drops=tuple(drops),
        volume_ml=changed.volume_ml,
        delta_e=float(delta_e(before.lab, after.lab)),
        words=words.difference(before.lab, after.lab),
        looks=(before, after),
    )


def put_droppers(connection: sqlite3.Connection, *, at: str) -> None:
    """Count the cup on the bench by the bottles' droppers of today. Undo brings the old count back. Raises EmptyCup."""
    with writing(connection):
        standing = cups.now(connection)
        held = contents(connection, standing.draft)
        sizes = _sizes(held)
        found = scaled(cup_of(held), cup_of(held).volume_ml, drop_ml=sizes)
        parts = tuple(
            replace(part, drops=drops, drop_ml=size)
            for part, drops, size in zip(standing.draft.parts, found.drops, sizes, strict=True)
        )
        draft = replace(standing.draft, parts=parts)
        cups.append(connection, draft, did=say("counting by today's droppers"), at=at, batch=standing.batch)


def put_scaled(connection: sqlite3.Connection, volume_ml: float, *, may_change: bool = False, at: str) -> None:
    """Make the cup on the bench that size, its ratio kept unless it may change. Undo brings the old one back. Raises
    EmptyCup, InvalidInput."""
    with writing(connection):
        standing = cups.now(connection)
        pours = cup_of(contents(connection, standing.draft)).pours
        ways = closest if may_change else batch
        found = ways([pour.drops for pour in pours], [pour.drop_ml for pour in pours], volume_ml)
        check_countable(found)
        draft = standing.draft
        parts = tuple(replace(part, drops=drops) for part, drops in zip(draft.parts, found.drops, strict=True))
        did = say("scaling to {volume}", volume=quantity(found.ml, ".2f", "ml"))
        cups.append(connection, replace(draft, parts=parts), did=did, at=at, batch=standing.batch)


def put_counted(connection: sqlite3.Connection, unit: str, amounts: Sequence[float], *, at: str) -> None:
    """Say how much of each bottle is in the cup, in one of COUNTED_IN; parts and percent keep the cup's volume.

    Undo brings the old count back. Raises InvalidInput.
    """
    with writing(connection):
        standing = cups.now(connection)
        held = contents(connection, standing.draft)
        if (
            unit not in COUNTED_IN
            or len(amounts) != len(standing.draft.parts)
            or not all(0 <= a < 1e5 for a in amounts)
        ):
            raise InvalidInput(say("Give one amount, zero or more, for every bottle in the cup."), field="amounts")
        if not sum(amounts):
            raise InvalidInput(say("All amounts are zero."), field="amounts")
        pours = cup_of(held).pours
        whole = sum(pour.volume_ml for pour in pours) or USUAL_ML
        if unit == "grams":
            volumes = [amount / _density(connection, held, place) for place, amount in enumerate(amounts)]
        else:
            volumes = [amount if unit == "ml" else whole * amount / sum(amounts) for amount in amounts]
        drops = counted(volumes, [pour.drop_ml for pour in pours])
        parts = tuple(replace(part, drops=count) for part, count in zip(standing.draft.parts, drops, strict=True))
        draft = replace(standing.draft, parts=parts)
        cups.append(connection, draft, did=say("counting in {unit}", unit=unit), at=at, batch=standing.batch)


def needed(connection: sqlite3.Connection, job: Job) -> tuple[float, int, int]:
    """(ml, drops, airbrush cups) that a job takes of the mix on the bench, at its coats."""
    cup = cup_of(contents(connection, cups.now(connection).draft))
    ml = job.volume_ml
    drop_ml = cup.volume_ml / cup.drops if cup.drops else Pour(cup.pours[0].paint, 1).drop_ml if cup.pours else 0.05
    return ml, round(ml / drop_ml), max(1, -int(-ml // AIRBRUSH_CUP_ML))
