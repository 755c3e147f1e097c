"""Orders as they are kept, the steps that were done, what was waited, and the stock of painted baits."""

import json
import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from diachrom.errors import NotFound
from diachrom.store.memory import cached, cached_many
from diachrom.words import say

WAITS_READ = 400  # of a kind, the latest


@dataclass(frozen=True)
class Order:
    number: int
    name: str
    wish: str
    price: float | None
    due: str
    starts: str
    ready_by: bool
    state: str
    at: str
    schedule: str
    customer: str
    pins: Mapping[str, str]  # blocks that were dragged: not before


@dataclass(frozen=True)
class OrderLine:
    """So many baits of a saved version of a plan."""

    id: int
    order: int
    plan: int
    version: int
    ordered: int
    baits: int


@dataclass(frozen=True)
class DoneStep:
    line: int
    step: str
    bait: int
    at: str


@dataclass(frozen=True)
class WaitSeen:
    kind: str
    waited_min: float
    asked_min: float
    dry: bool


@dataclass(frozen=True)
class InStock:
    """Painted baits of a version of a plan that lie in the drawer."""

    plan: int
    version: int
    count: int
    note: str


_ORDER = """
    SELECT number, name, wish, price, due, starts, ready_by, state, at, schedule, customer,
           (SELECT json_group_object(block, not_before) FROM order_pin WHERE bait_order = number) AS pins
    FROM bait_order
"""
_LINE = "SELECT id, bait_order, plan, version, ordered, baits FROM order_line"


def _order(row: sqlite3.Row) -> Order:
    return Order(
        number=row["number"],
        name=row["name"],
        wish=row["wish"],
        price=row["price"],
        due=row["due"],
        starts=row["starts"],
        ready_by=bool(row["ready_by"]),
        state=row["state"],
        at=row["at"],
        schedule=row["schedule"],
        customer=row["customer"],
        pins=json.loads(row["pins"]),
    )


@cached
def order(connection: sqlite3.Connection, number: int) -> Order:
    """Raises NotFound."""
    row = connection.execute(_ORDER + " WHERE number = :number", {"number": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no order {number}.", number=number), field="order")
    return _order(row)


def every(connection: sqlite3.Connection, *, state: str = "open") -> list[Order]:
    """Those that are due first before the others."""
    rows = connection.execute(_ORDER + " WHERE state = :state ORDER BY due = '', due, number", {"state": state})
    return [_order(row) for row in rows]


def lines(connection: sqlite3.Connection, orders: Iterable[int]) -> dict[int, list[OrderLine]]:
    """Of several orders, read at once."""
    found: dict[int, list[OrderLine]] = {number: [] for number in orders}
    marks = ", ".join("?" * len(found))
    for row in connection.execute(f"{_LINE} WHERE bait_order IN ({marks}) ORDER BY id", list(found)):
        found[row["bait_order"]].append(OrderLine(*row))
    return found


def add(connection: sqlite3.Connection, *, name: str, at: str) -> int:
    """A new order; returns its number. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO bait_order (number, name, at) SELECT coalesce(max(number), 0) + 1, :name, :at FROM bait_order"
        " RETURNING number",
        {"name": name, "at": at},
    ).fetchone()
    return int(row[0])


def change(connection: sqlite3.Connection, order: Order) -> None:
    """Keep an order as it is now. Inside `writing`."""
    connection.execute(
        "UPDATE bait_order SET name = :name, customer = :customer, wish = :wish, price = :price, due = :due,"
        " starts = :starts, ready_by = :ready_by, state = :state, schedule = :schedule WHERE number = :number",
        {**vars(order), "ready_by": int(order.ready_by)},
    )


def add_line(connection: sqlite3.Connection, order: int, plan: int, version: int, *, ordered: int, baits: int) -> int:
    """Add a plan to it; returns the line's number. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO order_line (bait_order, plan, version, ordered, baits)"
        " VALUES (:order, :plan, :version, :ordered, :baits) RETURNING id",
        {"order": order, "plan": plan, "version": version, "ordered": ordered, "baits": baits},
    ).fetchone()
    return int(row[0])


def change_line(connection: sqlite3.Connection, line: OrderLine) -> None:
    """Change how many baits a line has. Inside `writing`."""
    connection.execute(
        "UPDATE order_line SET version = :version, ordered = :ordered, baits = :baits WHERE id = :id", vars(line)
    )


def remove_line(connection: sqlite3.Connection, line: int) -> None:
    """Take a line off it. Inside `writing`."""
    connection.execute("DELETE FROM order_done WHERE line = :line", {"line": line})
    connection.execute("DELETE FROM order_line WHERE id = :line", {"line": line})


@dataclass(frozen=True)
class OrderNeed:
    """What an open order takes of a paint."""

    order: int
    name: str
    paint: str
    ml: float


def put_needs(connection: sqlite3.Connection, order: int, needs: Mapping[str, float]) -> None:
    """By paint, in place of what stood there."""
    connection.execute("DELETE FROM order_need WHERE bait_order = :order", {"order": order})
    connection.executemany(
        "INSERT INTO order_need (bait_order, paint, ml) VALUES (:order, :paint, :ml)",
        [{"order": order, "paint": paint, "ml": ml} for paint, ml in needs.items() if ml > 0],
    )


def needs(connection: sqlite3.Connection) -> list[OrderNeed]:
    """Of all open orders."""
    rows = connection.execute(
        "SELECT number, name, paint, ml FROM order_need JOIN bait_order ON number = bait_order"
        " WHERE state = 'open' AND ml BETWEEN 1e-6 AND 1e6 ORDER BY number, paint"
    )
    return [OrderNeed(*row) for row in rows]


def put_pin(connection: sqlite3.Connection, order: int, block: str, not_before: str) -> None:
    """Nothing of it is kept with an empty time."""
    own = {"order": order, "block": block, "at": not_before}
    connection.execute("DELETE FROM order_pin WHERE bait_order = :order AND block = :block", own)
    if not_before:
        connection.execute("INSERT INTO order_pin VALUES (:order, :block, :at)", own)


def drop_pins(connection: sqlite3.Connection, order: int) -> None:
    """Let go of all blocks that were dragged. Inside `writing`."""
    connection.execute("DELETE FROM order_pin WHERE bait_order = :order", {"order": order})


def done(connection: sqlite3.Connection, orders: Iterable[int]) -> dict[int, list[DoneStep]]:
    """Of several orders, in the order of time."""
    return cached_many(connection, "order done", orders, lambda missing: _done(connection, missing))


def _done(connection: sqlite3.Connection, orders: list[int]) -> dict[int, list[DoneStep]]:
    done_steps: dict[int, list[DoneStep]] = {number: [] for number in orders}
    marks = ", ".join("?" * len(done_steps))
    rows = connection.execute(
        f"SELECT bait_order, line, step, bait, at FROM order_done WHERE bait_order IN ({marks}) ORDER BY at, bait",
        list(done_steps),
    )
    for number, line, step, bait, at in rows:
        done_steps[number].append(DoneStep(line, step, bait, at))
    return done_steps


def put_done(connection: sqlite3.Connection, order: int, steps: Iterable[DoneStep]) -> None:
    """Enter steps that are done. Inside `writing`."""
    connection.executemany(
        "INSERT OR REPLACE INTO order_done (bait_order, line, step, bait, at)"
        " VALUES (:order, :line, :step, :bait, :at)",
        [{"order": order, **vars(done_step)} for done_step in steps],
    )


def drop_done(connection: sqlite3.Connection, order: int, steps: Iterable[DoneStep]) -> None:
    """Take steps back that were entered. Inside `writing`."""
    connection.executemany(
        "DELETE FROM order_done WHERE bait_order = :order AND line = :line AND step = :step AND bait = :bait",
        [
            {"order": order, "line": done_step.line, "step": done_step.step, "bait": done_step.bait}
            for done_step in steps
        ],
    )


def add_wait(connection: sqlite3.Connection, seen: WaitSeen, *, at: str) -> None:
    """Keep what was waited, and whether it was dry. Inside `writing`."""
    connection.execute(
        "INSERT INTO wait_seen (kind, waited_min, asked_min, dry, at)"
        " VALUES (:kind, :waited_min, :asked_min, :dry, :at)",
        {**vars(seen), "dry": int(seen.dry), "at": at},
    )


def waits(connection: sqlite3.Connection) -> list[WaitSeen]:
    """What was waited, the newest first."""
    rows = connection.execute(
        "SELECT kind, waited_min, asked_min, dry FROM wait_seen ORDER BY id DESC LIMIT :most", {"most": WAITS_READ}
    )
    return [WaitSeen(kind, waited, asked, bool(dry)) for kind, waited, asked, dry in rows]


OVER, TAKEN, AGAIN = "over", "taken", "again"


@dataclass(frozen=True)
class Moved:
    """Painted baits that an order put into the drawer (`why` is OVER), or that were taken out for a line of it.

    AGAIN is what older versions put there once more when an order was finished anew."""

    plan: int
    version: int
    count: int  # less than nothing where they were taken out
    why: str
    line: int | None
    at: str


def put_stock(
    connection: sqlite3.Connection,
    of: tuple[int, int],
    count: int,
    *,
    at: str,
    note: str = "",
    order: int | None = None,
    why: str = "",
    line: int | None = None,
) -> None:
    """Into the drawer, or out of it; `of` is a plan and its version."""
    own = {"plan": of[0], "version": of[1], "count": count, "note": note, "order": order, "at": at}
    connection.execute(
        "INSERT INTO bait_stock (plan, version, count, note, bait_order, at, why, line)"
        " VALUES (:plan, :version, :count, :note, :order, :at, :why, :line)",
        {**own, "why": why, "line": line},
    )


def moved(connection: sqlite3.Connection, order: int) -> list[Moved]:
    """What an order put into the drawer and took out of it, in the order of time."""
    rows = connection.execute(
        "SELECT plan, version, count, why, line, at FROM bait_stock"
        " WHERE bait_order = :order AND why <> '' ORDER BY id",
        {"order": order},
    )
    return [Moved(*row) for row in rows]


def numbers(connection: sqlite3.Connection) -> list[int]:
    """Of every order, whatever became of it."""
    return [row[0] for row in connection.execute("SELECT number FROM bait_order ORDER BY number")]


def stock(connection: sqlite3.Connection) -> list[InStock]:
    """Baits in the drawer, by plan."""
    rows = connection.execute(
        "SELECT plan, version, sum(count), max(note) FROM bait_stock GROUP BY plan, version HAVING sum(count) > 0"
        " ORDER BY plan, version"
    )
    return [InStock(*row) for row in rows]


def of_plans(connection: sqlite3.Connection) -> dict[int, tuple[int, int]]:
    """Of every saved plan: its newest version, and how many painted baits of it are kept."""
    rows = connection.execute(
        "SELECT plan, max(version), coalesce((SELECT sum(count) FROM bait_stock WHERE bait_stock.plan = own.plan), 0)"
        " FROM plan_version AS own GROUP BY plan"
    )
    return {plan: (version, count) for plan, version, count in rows}


def version_names(connection: sqlite3.Connection) -> dict[tuple[int, int], str]:
    """Of every saved version of a plan."""
    rows = connection.execute("SELECT plan, version, name FROM plan_version")
    return {(plan, version): str(name) for plan, version, name in rows}


def newest_recipes(connection: sqlite3.Connection) -> dict[int, tuple[int, str]]:
    """The newest version of every recipe, and its name."""
    rows = connection.execute("SELECT recipe, max(version), name FROM recipe_version GROUP BY recipe")
    return {recipe: (version, str(name)) for recipe, version, name in rows}
