"""Counters that move with every change of their own, so that what was reckoned can be told to be of today.

`profiles`: what the paints are; `bottles`: which there are and how they drip; `stock`: what is left and open; `cards`:
how spray-out cards were sprayed and read.
"""

import json
import sqlite3


def of(connection: sqlite3.Connection, *names: str) -> tuple[int, ...]:
    """In the order asked for. Raises KeyError for a counter that there is not."""
    rows = connection.execute(
        "SELECT name, n FROM revision WHERE name IN (SELECT value FROM json_each(:names))", {"names": json.dumps(names)}
    )
    found: dict[str, int] = dict(rows.fetchall())
    return tuple(found[name] for name in names)
