"""What can be put right by itself: indexes, sums that follow from rows, rows of what is not there any more."""

import sqlite3
from collections.abc import Iterator

from diachrom.store import integrity

ROUNDS = 20  # an orphan's own rows are orphans after it


def reindex(connection: sqlite3.Connection) -> Iterator[str]:
    """Indexes are made anew from their tables."""
    wrong = [words for words in integrity.damage(connection) if "index" in words.lower()]
    if wrong:
        connection.execute("REINDEX")
        left = [words for words in integrity.damage(connection) if "index" in words.lower()]
        yield f"Indexes were rebuilt: {len(wrong) - len(left)} of {len(wrong)} findings are gone."


def give_back(connection: sqlite3.Connection) -> Iterator[str]:
    """Room in the file that nothing takes any more. Outside `writing`, and the last that a connection does."""
    if connection.in_transaction:
        connection.execute("COMMIT")  # of what reads
    connection.execute("PRAGMA query_only = OFF")
    page, free = (int(connection.execute(f"PRAGMA {one}").fetchone()[0]) for one in ("page_size", "freelist_count"))
    if page * free > 1_000_000:
        connection.execute("VACUUM")
        yield f"{page * free / 1e6:.0f} MB of unused space were freed."


def ledger_sums(connection: sqlite3.Connection, tolerance_ml: float) -> Iterator[str]:
    """What a bottle is said to hold follows from its ledger."""
    for bottle, left_ml, summed in list(integrity.ledger_sums(connection)):
        if not abs(left_ml - summed) <= tolerance_ml * max(1.0, abs(summed)):
            connection.execute(
                "UPDATE bottle SET left_ml = :left WHERE id = :bottle", {"left": summed, "bottle": bottle}
            )
            yield f"Bottle {bottle} holds {summed:.3f} ml, as its ledger comes to, not {left_ml:.3f}."


def orphans(connection: sqlite3.Connection) -> Iterator[str]:
    """Rows that name one which is not there: nothing shows them, and they cannot go out."""
    taken: dict[tuple[str, str], int] = {}
    for _ in range(ROUNDS):
        found = {(row[0], row[2], row[3]) for row in connection.execute("PRAGMA foreign_key_check")}
        if not found:
            break
        for table, named, which in sorted(found):
            # Take out of a table what its reference finds nothing for; how many.
            pairs = [
                (row[3], row[4] or _key(connection, named))
                for row in connection.execute(f'PRAGMA foreign_key_list("{table}")')
                if row[0] == which
            ]
            there = " AND ".join(f'other."{theirs}" = own."{own}"' for own, theirs in pairs)
            filled = " AND ".join(f'own."{own}" IS NOT NULL' for own, _ in pairs)
            known = f'EXISTS (SELECT 1 FROM "{named}" AS other WHERE {there})'
            query = f'DELETE FROM "{table}" AS own WHERE {filled} AND NOT {known}'
            taken[table, named] = taken.get((table, named), 0) + connection.execute(query).rowcount
    for (table, named), many in taken.items():
        yield f"{many} {'row' if many == 1 else 'rows'} of {table} named one of {named} that is not there: taken out."


def _key(connection: sqlite3.Connection, table: str) -> str:
    return str(next(row[1] for row in connection.execute(f'PRAGMA table_info("{table}")') if row[5]))
