"""What was chosen for this bench, by its key."""

import sqlite3
from collections.abc import Mapping
from typing import Any

from diachrom.store import kept
from diachrom.store.memory import cached

# Of this machine and its network, not of the bench: they stay when another bench is put in this one's place.
OF_MACHINE = ("address", "second_folder", "scale_port", "scale_speed", "simulated")


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
