"""What was chosen for this bench, by its key; and what its people wrote themselves."""

import sqlite3
from collections.abc import Mapping
from typing import Any

from diachrom.store import kept
from diachrom.store.memory import cached

# Where people write what they like. What they wrote stands on the pages as it is.
WRITTEN = (
    *(("paint", column) for column in ("line", "name", "pigments", "note", "thinner")),
    *(("bottle", column) for column in ("note", "batch", "place")),
    *(("recipe_version", column) for column in ("name", "note")),
    *(("target", column) for column in ("name", "source")),
    *(("test_card", "note"), ("upload", "name"), ("photo", "name")),
    *(("plan_version", "name"), ("plan_version", "note"), ("drawing", "name")),
    *(
        ("bait_order", "name"),
        ("bait_order", "wish"),
        ("bait_order", "customer"),
        ("bait_stock", "note"),
        ("session", "name"),
    ),
    *(("log_entry", column) for column in ("name", "customer", "wish", "clear", "note")),
    *(("log_fault", "note"), ("eye_stock", "kind"), ("opened_tin", "name"), ("opened_tin", "sealed")),
)
# Of what grows with every drop the last are looked through: pages show no more.
NAME = "CASE WHEN json_valid(draft) THEN json_extract(draft, '$.name') END"
LATELY = (("stock_entry", "note"), ("cup_step", NAME), ("test_card", NAME))
# What stands on plans now: their names and notes, and what their layers are called.
ON_PLANS = """
    SELECT one.value AS text FROM plan JOIN plan_step ON plan_step.plan = number AND plan_step.seq = plan.seq,
    json_tree(CASE WHEN json_valid(document) THEN document ELSE '{}' END) AS one
    WHERE one.type = 'text' AND one.key IN ('name', 'note', 'words')
"""
# What was said at the bench lately.
AT_BENCH = """
    SELECT one.value AS text FROM (SELECT body FROM session_event ORDER BY session DESC, seq DESC LIMIT 400) AS last,
    json_tree(CASE WHEN json_valid(body) THEN body ELSE '{}' END) AS one
    WHERE one.type = 'text' AND one.key IN ('value', 'note')
"""
# Of this machine and its network, not of the bench: they stay when another bench is put in this one's place.
OF_MACHINE = ("address", "second_folder")
LAST = 400
LONGEST = 2000  # of a text that is looked through


@cached
def every(connection: sqlite3.Connection) -> Mapping[str, str]:
    """All that was chosen, by key."""
    return {str(key): str(value) for key, value in connection.execute("SELECT key, value FROM setting")}


def document(connection: sqlite3.Connection, key: str) -> dict[str, Any]:
    """One that holds several things (JSON); empty where it is not there, or cannot be read."""
    return kept.whole(kept.DOCUMENT, every(connection).get(key), {})


def put(connection: sqlite3.Connection, values: Mapping[str, str]) -> None:
    """Keep what was chosen. Inside `writing`."""
    connection.executemany(
        "INSERT INTO setting (key, value) VALUES (:key, :value) ON CONFLICT (key) DO UPDATE SET value = excluded.value",
        [{"key": key, "value": value} for key, value in values.items()],
    )


def texts_with_digits(connection: sqlite3.Connection) -> list[str]:
    """What people wrote that holds a digit."""
    parts = [f"SELECT {column} AS text FROM {table}" for table, column in WRITTEN]
    parts += [f"SELECT * FROM (SELECT {text} FROM {table} ORDER BY rowid DESC LIMIT {LAST})" for table, text in LATELY]
    parts += [ON_PLANS, AT_BENCH]
    rows = connection.execute(f"SELECT DISTINCT text FROM ({' UNION ALL '.join(parts)}) WHERE text GLOB '*[0-9]*'")
    return [str(text) for (text,) in rows if len(str(text)) <= LONGEST]
