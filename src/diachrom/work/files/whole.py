"""The whole bench out as one file, and into an empty folder again."""

import sqlite3
from collections.abc import Mapping

from diachrom.errors import InvalidInput
from diachrom.exchange import whole as form
from diachrom.exchange.sheets_out import to_csv
from diachrom.store import log, whole
from diachrom.store.connection import writing
from diachrom.store.schema import LATEST
from diachrom.store.whole import Table

FILLED = ("paint", "recipe", "plan", "session", "log_entry")  # where anything stands in them a folder is not empty


def out(connection: sqlite3.Connection, *, at: str, calendars: Mapping[int, bytes] | None = None) -> bytes:
    """Everything, equal to the row; and for people the log and the ledger as tables, and calendars of orders."""
    tables = {one.name: (one.columns, one.rows) for one in whole.every(connection)}
    sheets = {"csv/log.csv": _log(connection), "csv/ledger.csv": _ledger(connection)}
    sheets |= {f"calendars/order-{number}.ics": content for number, content in (calendars or {}).items()}
    return form.written(tables, sheets, data=LATEST, made=at)


def _log(connection: sqlite3.Connection) -> bytes:
    heads = ("number", "finished", "name", "baits", "customer", "wish", "price", "clear", "minutes", "note", "faults")
    faults = log.faults(connection)
    rows = (
        (
            one.number,
            one.at,
            one.name,
            one.baits,
            one.customer,
            one.wish,
            one.price,
            one.clear,
            one.minutes,
            one.note,
            "; ".join(f"{each.at} {each.fault} {each.note}".strip() for each in faults.get(one.number, ())),
        )
        for one in log.every(connection)
    )
    return to_csv(heads, rows)


def _ledger(connection: sqlite3.Connection) -> bytes:
    return to_csv(("at", "bottle", "paint", "kind", "ml", "note"), whole.ledger(connection))


def is_empty(connection: sqlite3.Connection) -> bool:
    """A whole bench may be brought into it."""
    return not any(whole.has_rows(connection, table) for table in FILLED)


def bring(connection: sqlite3.Connection, name: str, content: bytes) -> int:
    """Fill this folder, which must be empty; returns how many rows. Raises BadFile, InvalidInput."""
    version, found = form.read(name, content, oldest=whole.FIRST, latest=LATEST)
    tables = {key: Table(key, *told) for key, told in found.items()}
    if version < LATEST:
        tables = whole.brought_up(tables, version)
    with writing(connection):
        if not is_empty(connection):
            raise InvalidInput("This folder holds a bench already: a whole bench goes into an empty one.", field="file")
        whole.fill(connection, tables)
    return sum(len(one.rows) for one in tables.values())
