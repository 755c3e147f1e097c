"""Who may come in from the network, and the passphrase, both as digests."""

import sqlite3
from dataclasses import dataclass

READ, WRITE = "read", "write"


@dataclass(frozen=True)
class Device:
    number: int
    at: str
    name: str
    digest: str
    entry: int | None  # of the log: a link that shows nothing else
    here: bool  # a browser of this machine itself
    may: str = ""  # a script's key: READ or WRITE


def add(
    connection: sqlite3.Connection,
    *,
    name: str,
    digest: str,
    at: str,
    entry: int | None = None,
    here: bool = False,
    may: str = "",
) -> int:
    """Let a device or a script in. Inside `writing`."""
    row = connection.execute(
        "INSERT INTO device (at, name, digest, entry, here, may) VALUES (:at, :name, :digest, :entry, :here, :may)"
        " RETURNING number",
        {"at": at, "name": name, "digest": digest, "entry": entry, "here": here, "may": may},
    ).fetchone()
    return int(row[0])


def every(connection: sqlite3.Connection) -> list[Device]:
    """The latest first."""
    rows = connection.execute("SELECT number, at, name, digest, entry, here, may FROM device ORDER BY number DESC")
    return [Device(**{**dict(row), "here": bool(row["here"])}) for row in rows]


def take_away(connection: sqlite3.Connection, number: int) -> bool:
    """Send a device away. Inside `writing`."""
    return connection.execute("DELETE FROM device WHERE number = :number", {"number": number}).rowcount > 0


def take_away_devices(connection: sqlite3.Connection) -> None:
    """All but the links, the browsers of this machine and keys: no passphrase let these in."""
    connection.execute("DELETE FROM device WHERE entry IS NULL AND NOT here AND may = ''")


def passphrase(connection: sqlite3.Connection) -> str:
    """Its digest, "" while there is none."""
    row = connection.execute("SELECT digest FROM passphrase").fetchone()
    return "" if row is None else str(row[0])


def put_passphrase(connection: sqlite3.Connection, digest: str) -> None:
    """Keep what the passphrase is proved by. Inside `writing`."""
    connection.execute("REPLACE INTO passphrase (one, digest) VALUES (1, :digest)", {"digest": digest})


def keep_code(connection: sqlite3.Connection, *, digest: str, until: int, here: bool, now: int) -> None:
    """A code that pairs one device; those that are over are thrown away."""
    connection.execute("DELETE FROM pairing_code WHERE until <= :now", {"now": now})
    connection.execute(
        "INSERT INTO pairing_code (digest, until, here) VALUES (:digest, :until, :here)",
        {"digest": digest, "until": until, "here": here},
    )


def code_holds(connection: sqlite3.Connection, digest: str, now: int) -> bool:
    """Whether a code is good yet."""
    row = connection.execute(
        "SELECT 1 FROM pairing_code WHERE digest = :digest AND until > :now", {"digest": digest, "now": now}
    ).fetchone()
    return row is not None


def use_code(connection: sqlite3.Connection, digest: str, now: int) -> bool | None:
    """Use a code up: whether it was made for this machine itself, None where it does not hold. Inside `writing`."""
    row = connection.execute(
        "DELETE FROM pairing_code WHERE digest = :digest AND until > :now RETURNING here",
        {"digest": digest, "now": now},
    ).fetchone()
    return None if row is None else bool(row[0])
