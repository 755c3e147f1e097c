"""A paint with all that is kept of it: its versions, bottles and recipes, and what it may be a double of."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from diachrom.core.film.kinds import KINDS
from diachrom.store import bottles, paints, recipes
from diachrom.store.bottles import Bottle
from diachrom.store.paints import PaintRecord, ProfileVersion
from diachrom.store.recipes import Version
from diachrom.work.shelf import shelf_index


@dataclass(frozen=True, eq=False)
class PaintSeen:
    record: PaintRecord
    versions: Sequence[ProfileVersion]  # the newest first
    bottles: Sequence[Bottle]
    recipes: Sequence[Version]
    others: Sequence[PaintRecord]  # with which it may be one, the likeliest first
    double_of: str  # id of the one that is likely the same, or nothing


def record(connection: sqlite3.Connection, paint_id: str) -> PaintRecord:
    """Raises PaintNotFound."""
    return paints.record(connection, paint_id)


def see(connection: sqlite3.Connection, paint_id: str) -> PaintSeen:
    """Raises PaintNotFound."""
    own = paints.record(connection, paint_id)
    pairs = [{bottle.paint_id, other.paint_id} for bottle, other in shelf_index.index(connection).doubles]
    double = next((other for pair in pairs if paint_id in pair for other in pair if other != paint_id), "")
    alike = KINDS[own.kind].colours
    others = [
        one
        for one in paints.every_record(connection)
        if one.id != paint_id and not one.retired and KINDS[one.kind].colours == alike
    ]
    return PaintSeen(
        record=own,
        versions=paints.profile_versions(connection, paint_id),
        bottles=bottles.of_paint(connection, paint_id),
        recipes=recipes.with_paint(connection, paint_id),
        others=sorted(others, key=lambda one: (one.id != double, one.full_name)),
        double_of=double,
    )
