"""A long write beside the work at the bench: it is made in a copy of the database, and what it changed there is brought
over in one short transaction. Who reads sees nothing of it before, and all of it after.

What was done at the bench meanwhile stays. Where it touches what the long write stood on, that is made once more.
"""

import json
import sqlite3
from collections.abc import Callable, Sequence
from contextlib import closing
from pathlib import Path

from diachrom.errors import StoreError
from diachrom.store.connection import Connection, database, open_file, plain_errors, writing
from diachrom.store.in_place import aside
from diachrom.store.shelf_history import rows_of
from diachrom.words import say

TRIES = 3
STOOD_ON = ("profiles", "bottles", "cards")  # counters of what a long write reads: these may not move meanwhile
SUM = ("bottle", "left_ml")  # follows from the ledger, which may get entries from the bench meanwhile
LEDGER = "stock_entry"
WRITES = {sqlite3.SQLITE_INSERT: "insert", sqlite3.SQLITE_UPDATE: "update", sqlite3.SQLITE_DELETE: "delete"}
Touched = dict[str, set[str]]


class Overtaken(StoreError):
    def __init__(self) -> None:
        super().__init__(say("The shelf kept changing meanwhile. Nothing was imported; try again."))


def write_beside(folder: Path, work: Callable[[Connection], None], over: Callable[[], None] = lambda: None) -> None:
    """`work` is given a connection of a copy, inside `writing`; `over` is called when nothing can stop it any more.
    Raises what `work` raises, and StoreError; then nothing was written."""
    for _ in range(TRIES):
        with aside(folder) as place, plain_errors(folder), closing(open_file(database(folder))) as before:
            stage = database(place)
            before.execute("ATTACH :stage AS stage", {"stage": str(stage)})
            before.execute("BEGIN")
            before.execute("SELECT count(*) FROM main.revision").fetchone()  # from here on it sees this moment
            touched = _written(before, stage, work)
            delta = _Delta(before, touched)
            before.execute("COMMIT")
            over()
            if delta.bring_over(folder, stage):
                return
    raise Overtaken


def _written(before: Connection, stage: Path, work: Callable[[Connection], None]) -> Touched:
    """The copy, and which tables `work` changes in it, in which ways."""
    touched: Touched = {}

    def note(action: int, table: str | None, *_: object) -> int:
        if action in WRITES and table is not None and not table.startswith("sqlite_"):
            touched.setdefault(table, set()).add(WRITES[action])
        return sqlite3.SQLITE_OK

    with closing(open_file(stage, create=True)) as copy:
        before.backup(copy)
        copy.execute("PRAGMA synchronous = OFF")
        copy.snapshot = True
        with writing(copy):
            copy.set_authorizer(note)
            work(copy)
            copy.set_authorizer(None)
    touched.pop("revision", None)
    return touched


class _Delta:
    """What a copy has that its source had not, as tables of the copy: `new_X`, `was_X` and `now_X`, `gone_X`."""

    def __init__(self, before: Connection, touched: Touched) -> None:
        self._touched = touched
        self._columns: dict[str, list[str]] = {}
        self._keys: dict[str, list[str]] = {}
        self._ledger_ends = int(before.execute(f"SELECT coalesce(max(id), 0) FROM main.{LEDGER}").fetchone()[0])
        self._counters: dict[str, tuple[int, int]] = {
            name: (n, moved)
            for name, n, moved in before.execute(
                "SELECT name, was.n, now.n - was.n FROM main.revision AS was JOIN stage.revision AS now USING (name)"
            )
        }
        for table, ways in touched.items():
            told = before.execute(f"SELECT name, pk FROM pragma_table_info('{table}') ORDER BY cid").fetchall()
            self._columns[table] = [row["name"] for row in told]
            key = sorted((row["pk"], row["name"]) for row in told if row["pk"])
            self._keys[table] = [name for _, name in key] or ["rowid"]
            same = self._same(table, "was", "now")
            both = f"main.{table} AS was JOIN stage.{table} AS now ON {same}"
            differs = f"WHERE ({self._row(table, 'was')}) IS NOT ({self._row(table, 'now')})"
            made = {
                "new": f"SELECT * FROM stage.{table} AS now WHERE NOT EXISTS (SELECT 1 FROM main.{table} AS was"
                f" WHERE {same})",
                "gone": f"SELECT * FROM main.{table} AS was WHERE NOT EXISTS (SELECT 1 FROM stage.{table} AS now"
                f" WHERE {same})",
                "was": f"SELECT was.* FROM {both} {differs}",
                "now": f"SELECT now.* FROM {both} {differs}",
            }
            for words, query in made.items():
                way = {"new": "insert", "gone": "delete"}.get(words, "update")
                before.execute(f"CREATE TABLE stage.{words}_{table} AS {query} {'' if way in ways else 'LIMIT 0'}")

    def bring_over(self, folder: Path, stage: Path) -> bool:
        """Into what is there now; False where something was changed meanwhile that it stands on."""
        with plain_errors(folder), closing(open_file(database(folder))) as live:
            live.execute("ATTACH :stage AS stage", {"stage": str(stage)})
            live.execute("PRAGMA stage.mmap_size = 1000000000")
            # The copy was checked as it was written.
            live.execute("PRAGMA foreign_keys = OFF")
            live.execute("PRAGMA ignore_check_constraints = ON")
            live.execute("PRAGMA cache_size = -128000")  # kB: nothing is written out before all of it is
            live.execute("PRAGMA wal_autocheckpoint = 0")  # that takes its time, and nobody need wait for it
            try:
                with writing(live):
                    if not self._stands(live):
                        return False
                    self._put(live)
            except sqlite3.IntegrityError:  # the same number or name was given meanwhile
                return False
        return True

    def _stands(self, live: Connection) -> bool:
        counters = dict(live.execute("SELECT name, n FROM revision").fetchall())
        if any(counters[name] != self._counters[name][0] for name in STOOD_ON):
            return False
        for table in self._touched:
            own = [name for name in self._columns[table] if (table, name) != SUM]
            other = f"({self._row(table, 'there', own)}) IS NOT ({self._row(table, 'was', own)})"
            queries = [
                f"SELECT 1 FROM stage.{words}_{table} AS was LEFT JOIN main.{table} AS there"
                f" ON {self._same(table, 'was', 'there')} WHERE {other} LIMIT 1"
                for words in ("was", "gone")
            ]
            if any(live.execute(query).fetchone() is not None for query in queries):
                return False
        return True

    def _put(self, live: Connection) -> None:
        ends = int(live.execute(f"SELECT coalesce(max(id), 0) FROM {LEDGER}").fetchone()[0])
        further = ends - self._ledger_ends  # entries from the bench, meanwhile
        if further and LEDGER in self._touched:
            live.execute(f"UPDATE stage.new_{LEDGER} SET id = id + :further", {"further": further})
            # Steps that can be undone name the entries of the ledger that they made.
            if "shelf_change" in self._touched:
                rows = live.execute(f"SELECT id, row_id FROM stage.new_shelf_change WHERE noun = '{LEDGER}'").fetchall()
                for number, named in rows:
                    steps_moved = [str(int(one) + further) for one in rows_of(named)]
                    own = steps_moved[0] if len(steps_moved) == 1 else json.dumps(steps_moved)
                    live.execute("UPDATE stage.new_shelf_change SET row_id = ? WHERE id = ?", (own, number))
        marks = ", ".join("?" * len(self._touched))
        triggers = live.execute(
            f"SELECT name, sql FROM main.sqlite_schema WHERE type = 'trigger' AND tbl_name IN ({marks})",
            list(self._touched),
        ).fetchall()
        for name, _ in triggers:  # what follows from rows comes with them
            live.execute(f"DROP TRIGGER {name}")
        for table in self._touched:
            ways = self._touched[table]
            if "delete" in ways:
                live.execute(
                    f"DELETE FROM main.{table} AS there WHERE EXISTS (SELECT 1 FROM stage.gone_{table} AS was"
                    f" WHERE {self._same(table, 'was', 'there')})"
                )
            if "update" in ways:
                values = [
                    f"{name} = there.{name} + now.{name} - was.{name}"
                    if (table, name) == SUM
                    else f"{name} = now.{name}"
                    for name in self._columns[table]
                    if name not in self._keys[table]
                ]
                live.execute(
                    f"UPDATE main.{table} AS there SET {', '.join(values)} FROM stage.now_{table} AS now"
                    f" JOIN stage.was_{table} AS was ON {self._same(table, 'was', 'now')}"
                    f" WHERE {self._same(table, 'now', 'there')}"
                )
            names = ", ".join(self._columns[table])
            live.execute(f"INSERT INTO main.{table} ({names}) SELECT {names} FROM stage.new_{table}")
        for _, sql in triggers:
            live.execute(sql)
        for name, (_, moved) in self._counters.items():
            live.execute("UPDATE revision SET n = n + :moved WHERE name = :name", {"moved": moved, "name": name})

    def _same(self, table: str, one: str, other: str) -> str:
        return " AND ".join(f"{one}.{name} = {other}.{name}" for name in self._keys[table])

    def _row(self, table: str, name: str, columns: Sequence[str] = ()) -> str:
        return ", ".join(f"{name}.{column}" for column in columns or self._columns[table])
