"""The shopping list: what runs low at the present rate, and what the coming recipes need."""

import math
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass, replace

from diachrom.errors import InvalidInput
from diachrom.exchange.sheets_out import to_csv
from diachrom.store import bottles, orders, paints, planned_mixes, recipes
from diachrom.store.bottles import Bottle
from diachrom.store.connection import writing
from diachrom.store.recipes import Version
from diachrom.words import quantity, say
from diachrom.work.shelf.shelf_index import NEARLY_GONE, WATER, index
from diachrom.work.shelf.stock import RATE_WEEKS, rate_since

LOW_WEEKS = 4.0
MOST_COMING_ML = 2000.0


@dataclass(frozen=True)
class ToBuy:
    """A paint that should be bought."""

    bottle: Bottle  # like which
    left_ml: float  # in all its bottles
    needed_ml: float  # by what is coming
    weeks: float | None  # that it lasts at the present rate
    count: int
    price: float | None  # of all of them
    why: str
    discontinued: bool


@dataclass(frozen=True)
class ComingRecipe:
    saved: Version
    ml: float


@dataclass(frozen=True)
class ComingOrder:
    """An open order, and what it takes of all paints."""

    number: int
    name: str
    ml: float


@dataclass(frozen=True)
class ShoppingList:
    rows: Sequence[ToBuy]
    coming: Sequence[ComingRecipe]
    orders: Sequence[ComingOrder]
    price: float | None  # of what has one


def put_down(connection: sqlite3.Connection, recipe: int, ml: float, *, at: str) -> None:
    """So much of a recipe is going to be mixed; nothing takes it off. Raises RecipeNotFound, InvalidInput."""
    with writing(connection):
        saved = recipes.version(connection, recipe)
        if not 0 <= ml <= MOST_COMING_ML:
            raise InvalidInput(
                say(
                    "0 to {most_coming} can be planned, not {ml}.",
                    most_coming=quantity(MOST_COMING_ML, ".0f", "ml"),
                    ml=quantity(ml, "g"),
                ),
                field="ml",
            )
        if ml == 0:
            planned_mixes.drop(connection, recipe)
        else:
            planned_mixes.put(connection, recipe=recipe, version=saved.version, ml=ml, at=at)


def shopping_list(connection: sqlite3.Connection, *, at: str) -> ShoppingList:
    """What runs low or is needed, the most pressing first."""
    every = planned_mixes.every(connection)
    recipes.several(connection, [(mix.recipe, mix.version) for mix in every])  # read at once
    planned = [ComingRecipe(recipes.version(connection, one.recipe, one.version), one.ml) for one in every]
    ordered = orders.needs(connection)
    needed = _needed(connection, planned)
    for order_need in ordered:
        needed[order_need.paint] = needed.get(order_need.paint, 0.0) + order_need.ml
    poured = bottles.poured_since(connection, rate_since(at))
    by_paint: dict[str, list[Bottle]] = {}
    for row in index(connection).rows:
        if row.bottle.paint_id == WATER:
            continue
        by_paint.setdefault(row.bottle.paint_id, []).append(row.bottle)
    rows: list[ToBuy] = []
    for paint_id, own in by_paint.items():
        used = sum(poured.get(bottle.id, 0.0) for bottle in own) / RATE_WEEKS
        buy = _to_buy(own, used, needed.pop(paint_id, 0.0))
        if buy is not None:
            rows.append(buy)
    for paint_id, ml in needed.items():  # no bottle of it stands on the shelf any more
        old = bottles.of_paint(connection, paint_id)
        if old:
            rows.append(
                _bought(like=old[0], left=0.0, needed=ml, weeks=None, short=ml, why=say("needed by what is coming"))
            )
    prices = {record.id: record.price for record in paints.every_record(connection)} if rows else {}
    priced = [_priced(row, prices.get(row.bottle.paint_id)) for row in rows]
    known = [row.price for row in priced if row.price is not None]
    order = sorted(priced, key=lambda row: (row.needed_ml <= row.left_ml, row.left_ml / row.bottle.size_ml))
    coming_orders: dict[int, ComingOrder] = {}
    for need in ordered:
        before = coming_orders.get(need.order, ComingOrder(need.order, need.name, 0.0))
        coming_orders[need.order] = replace(before, ml=before.ml + need.ml)
    return ShoppingList(order, planned, list(coming_orders.values()), sum(known) if known else None)


def _needed(connection: sqlite3.Connection, planned: Sequence[ComingRecipe]) -> dict[str, float]:
    """Millilitres of each paint."""
    found: dict[str, float] = {}
    own = bottles.by_id(connection, [part.bottle for one in planned for part in one.saved.draft.parts])
    for recipe in planned:
        parts = recipe.saved.draft.parts
        whole = sum(part.drops * part.drop_ml for part in parts)
        for part in parts:
            paint_id = own[part.bottle].paint_id
            found[paint_id] = found.get(paint_id, 0.0) + recipe.ml * part.drops * part.drop_ml / whole
    return found


def _to_buy(own: Sequence[Bottle], used: float, needed: float) -> ToBuy | None:
    """What to buy of one paint, None when there is enough. `used` is ml a week."""
    if own[0].recipe is not None and not needed:
        return None  # an own mix is made, not bought
    left = sum(max(0.0, bottle.left_ml) for bottle in own)
    weeks = max(0.0, left - needed) / used if used > 0 else None
    size = own[-1].size_ml
    if needed > left:
        return _bought(
            like=own[-1],
            left=left,
            needed=needed,
            weeks=weeks,
            short=needed - left,
            why=say("{left} short of what is coming", left=quantity(needed - left, ".1f", "ml")),
        )
    if left > 0 and weeks is not None and weeks < LOW_WEEKS:
        return _bought(
            like=own[-1],
            left=left,
            needed=needed,
            weeks=weeks,
            short=LOW_WEEKS * used,
            why=say("lasts {weeks} weeks at this rate", weeks=quantity(max(0.0, weeks), ".1f")),
        )
    if left < NEARLY_GONE * size:
        return _bought(
            like=own[-1],
            left=left,
            needed=needed,
            weeks=weeks,
            short=size / 2,
            why=say("empty") if left <= 0 else say("nearly gone"),
        )
    return None


def _bought(like: Bottle, left: float, needed: float, weeks: float | None, short: float, why: str) -> ToBuy:
    count = max(1, math.ceil(short / like.size_ml))
    return ToBuy(
        bottle=like,
        left_ml=left,
        needed_ml=needed,
        weeks=weeks,
        count=count,
        price=None,
        why=why,
        discontinued=like.discontinued,
    )


def _priced(row: ToBuy, price: float | None) -> ToBuy:
    total = None if price is None or row.discontinued else price * row.count
    return ToBuy(
        bottle=row.bottle,
        left_ml=row.left_ml,
        needed_ml=row.needed_ml,
        weeks=row.weeks,
        count=row.count,
        price=total,
        why=row.why,
        discontinued=row.discontinued,
    )


def as_csv(connection: sqlite3.Connection, *, at: str) -> bytes:
    """The list as a table of its own."""
    found = shopping_list(connection, at=at)
    header = (
        "line",
        "name",
        "kind",
        "bottles",
        "size_ml",
        "left_ml",
        "needed_ml",
        "weeks_left",
        "price",
        "why",
        "discontinued",
    )
    rows = [
        (
            row.bottle.line,
            row.bottle.name,
            row.bottle.kind,
            row.count,
            row.bottle.size_ml,
            round(row.left_ml, 2),
            round(row.needed_ml, 2),
            None if row.weeks is None else round(row.weeks, 1),
            row.price,
            row.why,
            "yes" if row.discontinued else "no",
        )
        for row in found.rows
    ]
    return to_csv(header, rows)
