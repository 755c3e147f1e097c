"""The paints of a shelf, as other documents name them."""

import sqlite3
from collections import defaultdict

from pydantic import Field

from diachrom.store import bottles, paints
from diachrom.work.kit.documents import Document


class ListedPaint(Document):
    """A paint on the shelf."""

    id: str
    name: str
    kind: str
    in_stock_ml: float = Field(description="left in all its bottles, ml; below nothing where it was poured unseen")


def paints_of(connection: sqlite3.Connection) -> list[ListedPaint]:
    """Those that stand there, by name."""
    left: dict[str, float] = defaultdict(float)
    for bottle in bottles.every(connection):
        left[bottle.paint_id] += bottle.left_ml
    own = [paint for paint in paints.every_record(connection) if not paint.retired]
    return [
        ListedPaint(id=one.id, name=one.full_name, kind=one.kind, in_stock_ml=round(left[one.id], 4))
        for one in sorted(own, key=lambda one: one.full_name)
    ]
