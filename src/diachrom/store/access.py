"""Who may come in from the network, and the passphrase, both as digests."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Device:
    number: int
    at: str
    name: str
    digest: str
    entry: int | None  # of the log: a link that shows nothing else


def add(connection: sqlite3.Connection, *, name: str, digest: str, entry: int | None, at: str) -> int:
    row = connection.execute(
        "INSERT INTO device (at, name, digest, entry) VALUES (:at, :name, :digest, :entry) RETURNING number",
        {"at": at, "name": name, "digest": digest, "entry": entry},
    ).fetchone()
    return int(row[0])


def every(connection: sqlite3.Connection) -> list[Device]:
    """The latest first."""
    rows = connection.execute("SELECT number, at, name, digest, entry FROM device ORDER BY number DESC")
    return [Device(*row) for row in rows]


def take_away(connection: sqlite3.Connection, number: int) -> bool:
    return connection.execute("DELETE FROM device WHERE number = :number", {"number": number}).rowcount > 0


def take_away_devices(connection: sqlite3.Connection) -> None:
    """All but the links."""
    connection.execute("DELETE FROM device WHERE entry IS NULL")


def passphrase(connection: sqlite3.Connection) -> str:
    """Its digest, "" while there is none."""
    row = connection.execute("SELECT digest FROM passphrase").fetchone()
    return "" if row is None else str(row[0])


def put_passphrase(connection: sqlite3.Connection, digest: str) -> None:
    connection.execute("REPLACE INTO passphrase (one, digest) VALUES (1, :digest)", {"digest": digest})
