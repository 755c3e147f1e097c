"""The size of a bottle's drop, by counting and weighing."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.shelf.dropper import Counted, DropVolume, drop_volume_from
from diachrom.core.shelf.keeping import density
from diachrom.errors import InstrumentError, InvalidInput
from diachrom.store import bottles, paints, shelf_history, weighings
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.store.weighings import Weighing
from diachrom.words import quantity, say
from diachrom.work.kit.devices import Devices
from diachrom.work.kit.measurement_target import FallingDrops
from diachrom.work.shelf import keeping
from diachrom.work.shelf.shelf_index import index


@dataclass(frozen=True)
class DropsSeen:
    """What was counted and weighed, and what it comes to."""

    bottle: Bottle
    density: float  # g/ml
    density_is_usual: bool  # and not the paint's own
    weighings: Sequence[Weighing]
    volume: DropVolume | None


def see(connection: sqlite3.Connection, bottle: int) -> DropsSeen:
    """Raises BottleNotFound."""
    found = bottles.one(connection, bottle)
    own = paints.record(connection, found.paint_id).density
    rows = weighings.of_bottle(connection, bottle)
    counted = [Counted(row.drops, row.ml) for row in rows if row.counts]
    volume = drop_volume_from(counted) if counted else None
    return DropsSeen(found, own or density(found.kind), own is None, rows, volume)


def unknown(connection: sqlite3.Connection) -> list[Bottle]:
    """Bottles on the shelf of which nobody counted drops."""
    counted = set(weighings.bottles(connection))
    return [bottle for bottle in index(connection).uncounted if bottle.id not in counted]


def count_for_all(connection: sqlite3.Connection, drops: int, *, at: str) -> int:
    """The drops of one millilitre, counted from one bottle and taken for every bottle of which nobody counted any; how
    many those are. Raises InvalidInput."""
    if not 2 <= drops <= 200:
        raise InvalidInput(say("A millilitre is 2 to 200 drops, not {drops}: count again.", drops=drops), field="drops")
    every = unknown(connection)
    with (
        writing(connection),
        shelf_history.step(connection, say("the drop of {count} bottles", count=len(every)), at=at) as recorder,
    ):
        for bottle in every:
            recorder.touch("bottle", bottle.id)
            weighings.add(connection, bottle.id, at=at, drops=drops, ml=1.0, source=say("counted once for all bottles"))
            bottles.change(connection, bottle.id, drop_ml=round(1 / drops, 6))
    return len(every)


def see_each(connection: sqlite3.Connection, numbers: Sequence[int]) -> list[DropsSeen]:
    """Of several bottles, read at once. Raises BottleNotFound."""
    found = bottles.by_id(connection, numbers)
    paints.records(connection, [bottle.paint_id for bottle in found.values()])
    weighings.of_bottles(connection, numbers)
    return [see(connection, number) for number in numbers]


def add(
    connection: sqlite3.Connection, bottle: int, *, drops: int, grams: float | None, ml: float | None, at: str
) -> None:
    """Some counted drops, weighed in grams or measured in ml by hand. Raises InvalidInput, BottleNotFound."""
    if (grams is None) == (ml is None):
        raise InvalidInput(say("Enter what the drops weigh in grams, or their volume in ml."), field="grams")
    known = see(connection, bottle)
    value, source = (
        (ml, "measured")
        if ml is not None
        else ((grams or 0.0) / known.density, say("{weight} by hand", weight=quantity(grams or 0.0, "g", "g")))
    )
    _keep(connection, bottle, Counted(drops, value or 0.0), source, at=at)


def drip(connection: sqlite3.Connection, bottle: int, devices: Devices, key: str, drops: int) -> None:
    """Let drops fall onto the pan. Raises InvalidInput, BottleNotFound, InstrumentError."""
    if not 1 <= drops <= 200:
        raise InvalidInput(say("Let 1 to 200 drops fall, not {drops}.", drops=drops), field="drops")
    bottles.one(connection, bottle)
    with devices.scale(key) as scale:
        scale.let_fall(FallingDrops(bottle, drops))


def weigh(connection: sqlite3.Connection, bottle: int, devices: Devices, key: str, *, drops: int, at: str) -> None:
    """Take what the scale shows as the weight of counted drops, and tare it for the next. Raises InstrumentError."""
    known = see(connection, bottle)
    with devices.scale(key) as scale:
        grams = scale.weigh()
        if grams <= 0:
            raise InstrumentError(
                say(
                    "{words} shows {grams} g: tare it, let the drops fall, then read.",
                    words=scale.words,
                    grams=quantity(grams, ".2f"),
                ),
                field="device",
            )
        _keep(
            connection,
            bottle,
            Counted(drops, grams / known.density),
            say("{grams} g on the scale", grams=quantity(grams, ".2f")),
            at=at,
        )
        scale.tare()


def _keep(connection: sqlite3.Connection, bottle: int, counted: Counted, source: str, *, at: str) -> None:
    mean = counted.ml / counted.drops
    if not 0.002 <= mean <= 1.0:
        raise InvalidInput(
            say(
                "{drops} drops of {mean} µl each? Drops are 5 to 500 µl: count again.",
                drops=counted.drops,
                mean=quantity(1000 * mean, ".0f"),
            ),
            field="drops",
        )
    with writing(connection):
        bottles.one(connection, bottle)
        weighings.add(connection, bottle, at=at, drops=counted.drops, ml=counted.ml, source=source)


def set_aside(connection: sqlite3.Connection, bottle: int, weighing: int) -> None:
    """Set a count aside, or let it count again."""
    with writing(connection):
        weighings.set_aside(connection, bottle, weighing)


def accept(connection: sqlite3.Connection, bottle: int, *, at: str) -> None:
    """The mean becomes the bottle's own drop, from now on. Raises InvalidInput when nothing was counted."""
    known = see(connection, bottle)
    if known.volume is None:
        raise InvalidInput(say("Count some drops first."), field="drops")
    keeping.set_drop(connection, bottle, round(known.volume.mean_ml, 6), at=at)
