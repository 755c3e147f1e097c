"""Folders and whole benches of data versions 1 to 21, brought up to the baseline; nothing else knows of them.

Once nobody has such a folder this package can be deleted as a whole, with what `migrate.steps` asks of it.
Migrations 4, 7, 17 and 18 were changed when folders made by them existed already: what such a folder has is told by its
tables, which are brought first to what the migration makes now.
"""

import sqlite3
from collections.abc import Mapping
from importlib.resources import files

from diachrom.store.schema import Script, read_scripts

# Columns that a migration called otherwise at first, in whole benches that were written then.
RENAMED = {("photo", "png"): "picture"}


def scripts() -> list[Script]:
    """Every migration to the baseline, in order."""
    mends = {8: mend, 18: mend_log, 19: mend_photo}
    return [
        Script(script.version, script.name, script.sql, mends.get(script.version))
        for script in read_scripts(files(__name__))
    ]


def mend(connection: sqlite3.Connection) -> None:
    """Inside `writing`, before migration 8. A table that is as it should be is left alone."""
    if "l" in _columns(connection, "target"):
        # One colour without a direction, in place of colours by view.
        aimed = connection.execute("SELECT target_id FROM aim").fetchone()[0]
        connection.execute("UPDATE aim SET target_id = NULL")  # nothing may name a row while its table is made anew
        seen = {"ground": "''", "clear_coat": "NULL", "views": "'[null]'", "labs": "json_array(json_array(l, a, b))"}
        _rebuild(connection, "target", 4, seen)
        connection.execute("UPDATE aim SET target_id = :aimed", {"aimed": aimed})
    if "BETWEEN 0 AND 20" in _made_by(connection, "spray_patch"):
        # Patches of up to fifty coats; their readings stand aside meanwhile.
        connection.execute("CREATE TEMP TABLE held_readings AS SELECT * FROM main.patch_reading")
        connection.execute("DELETE FROM main.patch_reading")
        _rebuild(connection, "spray_patch", 7)
        connection.execute("INSERT INTO main.patch_reading SELECT * FROM temp.held_readings")
        connection.execute("DROP TABLE temp.held_readings")
    if "AUTOINCREMENT" not in _made_by(connection, "trainer_round"):
        _rebuild(connection, "trainer_round", 7)


def mend_log(connection: sqlite3.Connection) -> None:
    """Inside `writing`, before migration 18: entries of the log are found by words of their own."""
    if "words" in _columns(connection, "log_entry"):
        return
    beside = ("log_fault", "log_photo")  # nothing may name a row while its table is made anew
    for table in beside:
        connection.execute(f"CREATE TEMP TABLE held_{table} AS SELECT * FROM main.{table}")
        connection.execute(f"DELETE FROM main.{table}")
    words = " || ' ' || ".join(("name", "customer", "wish", "clear", "note", "at", "'no. ' || number", "told"))
    _rebuild(connection, "log_entry", 17, {"words": f"lower({words})"})
    connection.execute("CREATE INDEX log_entry_plan ON log_entry (plan)")
    connection.execute("CREATE INDEX log_entry_found ON log_entry (at DESC, number DESC, words)")
    for table in beside:
        connection.execute(f"INSERT INTO main.{table} SELECT * FROM temp.held_{table}")
        connection.execute(f"DROP TABLE temp.held_{table}")


def mend_photo(connection: sqlite3.Connection) -> None:
    """Inside `writing`, before migration 19: a photo's picture need not be a PNG."""
    if "png" in _columns(connection, "photo"):
        connection.execute("ALTER TABLE photo RENAME COLUMN png TO picture")


def _columns(connection: sqlite3.Connection, table: str) -> list[str]:
    return [row[0] for row in connection.execute("SELECT name FROM pragma_table_info(:table)", {"table": table})]


def _made_by(connection: sqlite3.Connection, table: str) -> str:
    row = connection.execute("SELECT sql FROM sqlite_schema WHERE name = :table", {"table": table}).fetchone()
    return str(row[0])


def _rebuild(connection: sqlite3.Connection, table: str, version: int, values: Mapping[str, str] | None = None) -> None:
    """Make a table anew and put its rows back; `values` are the expressions of columns that were others before."""
    old = _columns(connection, table)
    connection.execute(f"CREATE TEMP TABLE held AS SELECT * FROM main.{table}")
    connection.execute(f"DROP TABLE main.{table}")
    # The statement that makes a table in the migration of this version.
    script = next(script.sql for script in scripts() if script.version == version)
    start = script.index(f"CREATE TABLE {table} (")
    as_meant = script[start : script.index(") STRICT;", start) + len(") STRICT")]
    connection.execute(as_meant)
    given = dict(values or {})
    columns = [name for name in _columns(connection, table) if name in old or name in given]
    taken = ", ".join(given.get(name, name) for name in columns)
    connection.execute(f"INSERT INTO main.{table} ({', '.join(columns)}) SELECT {taken} FROM temp.held")
    connection.execute("DROP TABLE temp.held")
