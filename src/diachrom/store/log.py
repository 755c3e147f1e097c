"""The log: an entry for every batch that was finished, faults that were told of it later, photos."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from diachrom.errors import NotFound
from diachrom.store import kept
from diachrom.store.said import every_kept, every_read
from diachrom.words import say

FAULTS = {
    "chipped": say("it chipped"),
    "tacky": say("it stayed tacky"),
    "faded": say("it faded"),
    "flash": say("it lost its flash"),
    "bled": say("a colour bled"),
    "came-back": say("it came back"),
}
COLUMNS = (
    "number, at, session, line, plan, version, name, baits, customer, wish, price, clear, weight_g, note, minutes, told"
)
LATEST = "ORDER BY at DESC, number DESC"
TYPED = ("name", "customer", "wish", "price", "clear", "weight_g", "note")  # what a painter writes


@dataclass(frozen=True)
class Entry:
    """A batch that was finished."""

    number: int
    at: str
    session: int | None
    line: int
    plan: int | None
    version: int | None
    name: str
    baits: int
    customer: str = ""
    wish: str = ""
    price: float | None = None
    clear: str = ""
    weight_g: float | None = None
    note: str = ""
    minutes: float = 0.0
    told: Mapping[str, Any] | None = None


@dataclass(frozen=True)
class Fault:
    id: int
    entry: int
    at: str
    fault: str
    note: str


@dataclass(frozen=True)
class Reported:
    """A fault of a plan's bait, with its entry."""

    fault: str
    entry: int
    at: str
    note: str


def add(connection: sqlite3.Connection, values: Mapping[str, Any]) -> int:
    """Another entry; one of the same session and line is filled anew, and what was typed of it stays. Inside
    `writing`."""
    own = {**values, "told": json.dumps(every_kept(values.get("told") or {}), ensure_ascii=False)}
    names = list(own)
    filled = ("at", "baits", "minutes", "told")
    row = connection.execute(
        f"INSERT INTO log_entry ({', '.join(names)}) VALUES ({', '.join(f':{name}' for name in names)})"
        f" ON CONFLICT (session, line) DO UPDATE SET {', '.join(f'{one} = excluded.{one}' for one in filled)}"
        " RETURNING number",
        {"minutes": 0.0, **own},
    ).fetchone()
    return int(row[0])


def change(connection: sqlite3.Connection, number: int, values: Mapping[str, Any]) -> None:
    """What a painter writes of it. Inside `writing`."""
    own = {key: values[key] for key in TYPED if key in values}
    if own:
        sets = ", ".join(f"{key} = :{key}" for key in own)
        connection.execute(f"UPDATE log_entry SET {sets} WHERE number = :number", {**own, "number": number})


def set_told(connection: sqlite3.Connection, number: int, told: Mapping[str, Any]) -> None:
    """What is known of an entry. Inside `writing`."""
    text = json.dumps(every_kept(told), ensure_ascii=False)
    connection.execute("UPDATE log_entry SET told = :told WHERE number = :number", {"told": text, "number": number})


def entry(connection: sqlite3.Connection, number: int) -> Entry:
    """Raises NotFound."""
    row = connection.execute(f"SELECT {COLUMNS} FROM log_entry WHERE number = :number", {"number": number}).fetchone()
    if row is None:
        raise NotFound(say("There is no entry {number} in the log.", number=number), field="entry")
    return _entry(row)


def every(connection: sqlite3.Connection) -> list[Entry]:
    """The latest first."""
    rows = connection.execute(f"SELECT {COLUMNS} FROM log_entry {LATEST}")
    return [_entry(row) for row in rows]


def latest(connection: sqlite3.Connection, most: int) -> list[Entry]:
    """The latest entries."""
    rows = connection.execute(f"SELECT {COLUMNS} FROM log_entry {LATEST} LIMIT ?", [most])
    return [_entry(row) for row in rows]


def found(connection: sqlite3.Connection, words: Sequence[str], *, most: int) -> tuple[list[Entry], int]:
    """The latest of those in which all of these words stand, and how many there are."""
    numbers = numbers_found(connection, words)
    return several(connection, numbers[:most]), len(numbers)


def numbers_found(connection: sqlite3.Connection, words: Sequence[str]) -> list[int]:
    """Of the entries in which all of these words stand, the latest first."""
    where = " AND ".join(["1", *("instr(words, ?) > 0" for _ in words)])
    rows = connection.execute(f"SELECT number FROM log_entry WHERE {where} {LATEST}", list(words))
    return [row[0] for row in rows]


def several(connection: sqlite3.Connection, numbers: Sequence[int]) -> list[Entry]:
    """Those of these entries that there are, the latest first."""
    rows = connection.execute(
        f"SELECT {COLUMNS} FROM log_entry WHERE number IN (SELECT value FROM json_each(:numbers)) {LATEST}",
        {"numbers": json.dumps(list(numbers))},
    )
    return [_entry(row) for row in rows]


def set_words(connection: sqlite3.Connection, number: int, words: str) -> None:
    """All that an entry is found by. Inside `writing`."""
    connection.execute("UPDATE log_entry SET words = :words WHERE number = :number", {"words": words, "number": number})


def years(connection: sqlite3.Connection) -> list[int]:
    """In which something was finished, the latest first."""
    rows = connection.execute("SELECT DISTINCT substr(at, 1, 4) FROM log_entry ORDER BY 1 DESC")
    return [int(row[0]) for row in rows if row[0].isdecimal() and len(row[0]) == 4]


def of_year(connection: sqlite3.Connection, year: int) -> list[Entry]:
    """The entries of a year."""
    rows = connection.execute(f"SELECT {COLUMNS} FROM log_entry WHERE at GLOB :year ORDER BY at", {"year": f"{year}-*"})
    return [_entry(row) for row in rows]


def _entry(row: sqlite3.Row) -> Entry:
    return Entry(**{**dict(row), "told": every_read(kept.whole(kept.DOCUMENT, row["told"], {}))})


def faults(connection: sqlite3.Connection, entries: Sequence[int] | None = None) -> dict[int, list[Fault]]:
    """Of each entry, or of these, in the order in which they were told."""
    found: dict[int, list[Fault]] = {}
    rows = connection.execute(
        "SELECT id, entry, at, fault, note FROM log_fault"
        " WHERE :entries IS NULL OR entry IN (SELECT value FROM json_each(:entries)) ORDER BY at, id",
        {"entries": None if entries is None else json.dumps(list(entries))},
    )
    for row in rows:
        found.setdefault(row["entry"], []).append(Fault(*row))
    return found


def add_fault(connection: sqlite3.Connection, *, entry: int, at: str, fault: str, note: str) -> None:
    """Inside `writing`. Raises NotFound."""
    _known(connection, entry)
    connection.execute(
        "INSERT INTO log_fault (entry, at, fault, note) VALUES (:entry, :at, :fault, :note)",
        {"entry": entry, "at": at, "fault": fault, "note": note},
    )


def drop_fault(connection: sqlite3.Connection, number: int, *, entry: int) -> None:
    """Inside `writing`. Raises NotFound."""
    row = connection.execute(
        "DELETE FROM log_fault WHERE id = :id AND entry = :entry RETURNING id", {"id": number, "entry": entry}
    ).fetchone()
    if row is None:
        raise NotFound(say("That fault is not of this entry."), field="fault")


def _known(connection: sqlite3.Connection, number: int) -> None:
    entry(connection, number)


def reported(connection: sqlite3.Connection, plan: int) -> list[Reported]:
    """Faults that were told of a plan's baits, the latest first."""
    rows = connection.execute(
        "SELECT fault, entry, log_fault.at, log_fault.note FROM log_fault JOIN log_entry ON log_entry.number = entry"
        " WHERE plan = :plan ORDER BY log_fault.at DESC, log_fault.id DESC",
        {"plan": plan},
    )
    return [Reported(*row) for row in rows]


def photos(connection: sqlite3.Connection, entries: Sequence[int]) -> dict[int, list[tuple[str, int]]]:
    """(side, photo) of each entry: brought to it, or taken in its session; the latest last."""
    found: dict[int, list[tuple[str, int]]] = {}
    rows = connection.execute(
        "SELECT log_entry.number, session_photo.side, session_photo.photo FROM session_photo"
        " JOIN log_entry ON log_entry.session = session_photo.session"
        " WHERE log_entry.number IN (SELECT value FROM json_each(:entries))"
        " UNION ALL SELECT entry, side, photo FROM log_photo WHERE entry IN (SELECT value FROM json_each(:entries))"
        " ORDER BY 3",
        {"entries": json.dumps(list(entries))},
    )
    for number, side, photo in rows:
        found.setdefault(number, []).append((side, photo))
    return found


def add_photo(connection: sqlite3.Connection, *, photo: int, entry: int, side: str) -> None:
    """Inside `writing`. Raises NotFound."""
    _known(connection, entry)
    own = {"photo": photo, "entry": entry, "side": side}
    connection.execute("INSERT INTO log_photo (photo, entry, side) VALUES (:photo, :entry, :side)", own)
