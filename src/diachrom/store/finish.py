"""Eyes in stock, and tins and jars that were opened."""

import sqlite3
from dataclasses import dataclass

from diachrom.errors import InvalidInput, NotFound
from diachrom.words import say


@dataclass(frozen=True)
class Eyes:
    id: int
    size_mm: float
    kind: str
    pairs: int


@dataclass(frozen=True)
class Tin:
    id: int
    name: str
    school: str
    opened_on: str
    sealed: str
    keeps_days: int


def eyes(connection: sqlite3.Connection) -> list[Eyes]:
    """By size."""
    rows = connection.execute("SELECT id, size_mm, kind, pairs FROM eye_stock ORDER BY size_mm, kind")
    return [Eyes(*row) for row in rows]


def put_eyes(connection: sqlite3.Connection, *, size_mm: float, kind: str, pairs: int) -> int:
    """More of a size and kind, or the first of it. Inside `writing`. Raises InvalidInput for more than there can be."""
    try:
        row = connection.execute(
            "INSERT INTO eye_stock (size_mm, kind, pairs) VALUES (:size_mm, :kind, :pairs)"
            " ON CONFLICT (size_mm, kind) DO UPDATE SET pairs = pairs + excluded.pairs RETURNING id",
            {"size_mm": size_mm, "kind": kind, "pairs": pairs},
        ).fetchone()
    except sqlite3.IntegrityError:
        raise InvalidInput(say("A stock holds up to 10000 pairs of a kind, of 0.5 to 60 mm."), field="pairs") from None
    return int(row[0])


def take_eyes(connection: sqlite3.Connection, number: int, pairs: int) -> None:
    """Inside `writing`; nothing where there are none of that kind any more."""
    connection.execute(
        "UPDATE eye_stock SET pairs = max(pairs - :pairs, -10000) WHERE id = :id", {"id": number, "pairs": pairs}
    )


def tins(connection: sqlite3.Connection) -> list[Tin]:
    """Those that are not used up, the oldest first."""
    rows = connection.execute(
        "SELECT id, name, school, opened_on, sealed, keeps_days FROM opened_tin WHERE gone = 0 ORDER BY opened_on, id"
    )
    return [Tin(*row) for row in rows]


def open_tin(
    connection: sqlite3.Connection, *, name: str, school: str, opened_on: str, sealed: str, keeps_days: int
) -> None:
    """Inside `writing`."""
    connection.execute(
        "INSERT INTO opened_tin (name, school, opened_on, sealed, keeps_days)"
        " VALUES (:name, :school, :opened_on, :sealed, :keeps_days)",
        {"name": name, "school": school, "opened_on": opened_on, "sealed": sealed, "keeps_days": keeps_days},
    )


def use_up(connection: sqlite3.Connection, number: int, *, gone: bool) -> None:
    """Inside `writing`. Raises NotFound."""
    row = connection.execute(
        "UPDATE opened_tin SET gone = :gone WHERE id = :id RETURNING id", {"id": number, "gone": gone}
    ).fetchone()
    if row is None:
        raise NotFound(say("That tin is no longer there."), field="tin")
