"""Jobs that were sprayed: what was reckoned to lie on the baits, and what was really used."""

import sqlite3
from dataclasses import dataclass

from diachrom.store.memory import cached


@dataclass(frozen=True)
class JobUsed:
    id: int
    at: str
    on_baits_ml: float
    stays_ml: float
    used_ml: float


def add(connection: sqlite3.Connection, *, at: str, on_baits_ml: float, stays_ml: float, used_ml: float) -> None:
    """Keep a job that was sprayed. Inside `writing`."""
    connection.execute(
        "INSERT INTO overspray (at, on_baits_ml, stays_ml, used_ml) VALUES (:at, :on_baits_ml, :stays_ml, :used_ml)",
        {"at": at, "on_baits_ml": on_baits_ml, "stays_ml": stays_ml, "used_ml": used_ml},
    )


@cached
def latest(connection: sqlite3.Connection, most: int) -> list[JobUsed]:
    """Those that count, the newest first."""
    rows = connection.execute(
        "SELECT id, at, on_baits_ml, stays_ml, used_ml FROM overspray WHERE counts = 1"
        " AND max(on_baits_ml, used_ml, stays_ml) < 1e6 AND on_baits_ml > 1e-6 ORDER BY id DESC LIMIT :most",
        {"most": most},
    )
    return [JobUsed(*row) for row in rows]


def set_aside_last(connection: sqlite3.Connection) -> None:
    """The newest one that counts does so no more."""
    connection.execute("UPDATE overspray SET counts = 0 WHERE id = (SELECT max(id) FROM overspray WHERE counts = 1)")
