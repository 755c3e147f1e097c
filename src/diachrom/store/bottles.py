"""The bottles on the shelf, and the ledger of what is left in each."""

import json
import sqlite3
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from diachrom.core.film.kinds import KINDS, ODD_KIND
from diachrom.core.mix import sound
from diachrom.errors import BottleNotFound
from diachrom.store.memory import cached, cached_many
from diachrom.store.said import keep_said, read_said

LARGEST_ML, USUAL_ML = 1e6, 30.0
STATES = ("sealed", "open", "settled", "thick", "nearly gone", "empty", "unreadable label")
HAPPENINGS = ("bought", "poured", "corrected", "spilled", "thrown away")


@dataclass(frozen=True)
class Bottle:
    """A bottle with the paint in it and what is left."""

    id: int
    paint_id: str
    line: str
    name: str
    kind: str
    discontinued: bool
    paint_note: str
    note: str
    size_ml: float
    drop_ml: float
    state: str
    left_ml: float
    batch: str = ""
    place: str = ""
    bought_on: str | None = None
    opened_on: str | None = None
    shaken_on: str | None = None
    retired: bool = False
    recipe: int | None = None  # what an own mix was made from
    weighed: bool = False  # a powder: its amounts are told in grams

    @property
    def full_name(self) -> str:
        """Line and name of its paint."""
        return f"{self.line} {self.name}".strip()


_BOTTLES = """
    SELECT bottle.id, paint.id AS paint_id, paint.line, paint.name, paint.kind, paint.discontinued,
           paint.note AS paint_note, bottle.note, bottle.size_ml, bottle.drop_ml, bottle.state, bottle.left_ml,
           bottle.batch, bottle.place, bottle.bought_on, bottle.opened_on, bottle.shaken_on, bottle.retired,
           paint.recipe, bottle.weighed
    FROM bottle JOIN paint ON paint.id = bottle.paint_id
"""


def bottle_of(row: sqlite3.Row) -> Bottle:
    """As it stands, its amounts within what can be: a bottle of no size that can be is taken for a usual one."""
    values = dict(zip(row.keys(), row, strict=True))
    kept = {
        "kind": row["kind"] if row["kind"] in KINDS else ODD_KIND,
        "size_ml": sound.number(row["size_ml"], 0.1, LARGEST_ML) or USUAL_ML,
        "left_ml": sound.number(row["left_ml"], -LARGEST_ML, LARGEST_ML) or 0.0,
        "discontinued": bool(row["discontinued"]),
        "retired": bool(row["retired"]),
        "weighed": bool(row["weighed"]),
    }
    return Bottle(**{**values, **kept})


def there(connection: sqlite3.Connection, numbers: Sequence[int]) -> set[int]:
    """Which of these bottles there are."""
    return _numbers(connection).intersection(numbers)


@cached
def _numbers(connection: sqlite3.Connection) -> set[int]:
    return {row[0] for row in connection.execute("SELECT id FROM bottle")}


@cached
def every(connection: sqlite3.Connection, *, retired_too: bool = False) -> list[Bottle]:
    """Every bottle, without those that are retired unless they are wanted, in the order in which they came."""
    return [bottle_of(row) for row in every_row(connection, retired_too=retired_too)]


def every_row(connection: sqlite3.Connection, *, retired_too: bool = False) -> list[sqlite3.Row]:
    """The same as they stand in the store, for who knows most of them already."""
    return connection.execute(
        _BOTTLES + "WHERE bottle.retired <= :retired ORDER BY bottle.id", {"retired": int(retired_too)}
    ).fetchall()


def by_id(connection: sqlite3.Connection, ids: Iterable[int]) -> dict[int, Bottle]:
    """The bottles with these ids, retired ones too. Raises BottleNotFound."""
    wanted = list(ids)
    bottles = cached_many(connection, "bottles", wanted, lambda missing: _read(connection, missing))
    for bottle_id in wanted:
        if bottle_id not in bottles:
            raise BottleNotFound(bottle_id)
    return bottles


def _read(connection: sqlite3.Connection, ids: list[int]) -> dict[int, Bottle]:
    # A number that SQLite cannot hold is no bottle's number either.
    held = json.dumps([bottle for bottle in ids if -(2**63) <= bottle < 2**63])
    rows = connection.execute(_BOTTLES + "WHERE bottle.id IN (SELECT value FROM json_each(:ids))", {"ids": held})
    return {row["id"]: bottle_of(row) for row in rows}


def one(connection: sqlite3.Connection, bottle: int) -> Bottle:
    """Raises BottleNotFound."""
    return by_id(connection, [bottle])[bottle]


def of_paint(connection: sqlite3.Connection, paint_id: str) -> list[Bottle]:
    """The bottles of a paint, in the order in which one would reach for them: an open one first, then the fullest."""
    rows = connection.execute(
        _BOTTLES + "WHERE paint.id = :id ORDER BY bottle.retired, bottle.state = 'open' DESC, left_ml DESC",
        {"id": paint_id},
    )
    return [bottle_of(row) for row in rows]


COLUMNS = (
    "paint_id",
    "size_ml",
    "drop_ml",
    "state",
    "note",
    "batch",
    "place",
    "bought_on",
    "opened_on",
    "shaken_on",
    "retired",
    "weighed",
)


def add(
    connection: sqlite3.Connection,
    *,
    paint_id: str,
    size_ml: float,
    drop_ml: float,
    state: str = "sealed",
    number: int | None = None,
    **more: object,
) -> int:
    """Put a bottle on the shelf; what is in it is said by stock entries. `more` are columns.

    Returns its number: the next, or the wanted one if it is free.
    """
    values = {"paint_id": paint_id, "size_ml": size_ml, "drop_ml": drop_ml, "state": state, **more}
    names = [name for name in COLUMNS if name in values]
    if number is not None and not connection.execute("SELECT 1 FROM bottle WHERE id = ?", [number]).fetchone():
        names, values["id"] = ["id", *names], number
    row = connection.execute(
        f"INSERT INTO bottle ({', '.join(names)}) VALUES ({', '.join(':' + name for name in names)}) RETURNING id",
        values,
    ).fetchone()
    return int(row["id"])


def change(connection: sqlite3.Connection, bottle: int, **values: object) -> None:
    """Set columns of a bottle."""
    names = [name for name in COLUMNS if name in values]
    if names:
        put = ", ".join(f"{name} = :{name}" for name in names)
        connection.execute(f"UPDATE bottle SET {put} WHERE id = :bottle", {**values, "bottle": bottle})


@dataclass(frozen=True)
class StockEntry:
    """What happened to the paint in a bottle."""

    id: int
    bottle_id: int
    at: str
    kind: str
    ml: float
    note: str
    recipe: int | None = None
    version: int | None = None
    cup_batch: int | None = None


_ENTRIES = "SELECT id, bottle_id, at, kind, ml, note, recipe, version, cup_batch FROM stock_entry "


def _entry(row: sqlite3.Row) -> StockEntry:
    return replace(StockEntry(*row), note=read_said(row["note"]))


def enter(
    connection: sqlite3.Connection,
    *,
    bottle: int,
    at: str,
    kind: str,
    ml: float,
    note: str = "",
    recipe: int | None = None,
    version: int | None = None,
    cup_batch: int | None = None,
) -> int:
    """Append to the ledger; returns the entry's number."""
    row = connection.execute(
        "INSERT INTO stock_entry (bottle_id, at, kind, ml, note, recipe, version, cup_batch)"
        " VALUES (:bottle, :at, :kind, :ml, :note, :recipe, :version, :cup_batch) RETURNING id",
        {
            "bottle": bottle,
            "at": at,
            "kind": kind,
            "ml": ml,
            "note": keep_said(note),
            "recipe": recipe,
            "version": version,
            "cup_batch": cup_batch,
        },
    ).fetchone()
    return int(row["id"])


def entry(connection: sqlite3.Connection, number: int) -> StockEntry:
    """An entry of the ledger."""
    row = connection.execute(_ENTRIES + "WHERE id = :id", {"id": number}).fetchone()
    return _entry(row)


def ledger(connection: sqlite3.Connection, bottle: int, *, most: int = -1) -> list[StockEntry]:
    """What happened to a bottle, the newest first; all of it, or the last `most` entries."""
    rows = connection.execute(
        _ENTRIES + "WHERE bottle_id = :id ORDER BY at DESC, id DESC LIMIT :most", {"id": bottle, "most": most}
    )
    return [_entry(row) for row in rows]


def every_entry(connection: sqlite3.Connection) -> Iterator[StockEntry]:
    """The whole ledger, the oldest first."""
    for row in connection.execute(_ENTRIES + "ORDER BY id"):
        yield _entry(row)


def poured_into(connection: sqlite3.Connection, recipe: int, at: str) -> int | None:
    """The version of a recipe that went into a jar at a time, by the entries of its bottles."""
    row = connection.execute(
        "SELECT version FROM stock_entry WHERE recipe = :recipe AND at = :at AND kind = 'poured' AND cup_batch IS NULL",
        {"recipe": recipe, "at": at},
    ).fetchone()
    return None if row is None else row[0]


def poured_since(connection: sqlite3.Connection, since: str, ids: Iterable[int] | None = None) -> dict[int, float]:
    """Millilitres poured and spilled from each bottle since a time; of these bottles, or of all."""
    query = "SELECT bottle_id, -sum(ml) FROM stock_entry WHERE at >= :since AND kind IN ('poured', 'spilled')"
    if ids is None:
        return dict(connection.execute(query + " GROUP BY bottle_id", {"since": since}).fetchall())
    some = " AND bottle_id IN (SELECT value FROM json_each(:ids)) GROUP BY bottle_id"
    rows = connection.execute(query + some, {"since": since, "ids": json.dumps(list(ids))})
    return {bottle: ml for bottle, ml in rows if ml}


def poured_by(connection: sqlite3.Connection, cup_batch: int) -> dict[int, float]:
    """Millilitres that one cup has taken from each bottle already."""
    rows = connection.execute(
        "SELECT bottle_id, -sum(ml) FROM stock_entry WHERE cup_batch = :batch GROUP BY bottle_id", {"batch": cup_batch}
    )
    return dict(rows.fetchall())
