"""The data folder against real files: migrations, refusals, numbering, what never changes."""

import json
import os
import re
import sqlite3
import subprocess
import sys
import textwrap
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing

import pytest

from diachrom.core.mix.draft import Draft, Part
from diachrom.demo.bench import fill
from diachrom.errors import Busy, DataExists, DataFolderNotWritable, NewerData, NotADatabase, StoreError
from diachrom.store import bottles, cups, drafts, migrate, paints, recipes, spray_out_cards
from diachrom.store import connection as connections
from diachrom.store.connection import connected, database, open_file, writing
from diachrom.store.schema import Script, migrations

AT = "2026-11-25T10:00:00+00:00"


def test_a_fresh_folder_is_created_and_a_second_migration_changes_nothing(tmp_path):
    folder = tmp_path / "deep" / "data"
    assert migrate.migrate(folder) == ["baseline.sql", *(script.name for script in migrations())]
    assert migrate.migrate(folder) == []
    with connected(folder) as connection:
        assert migrate.version(connection) == migrate.LATEST
        assert connection.execute("PRAGMA foreign_keys").fetchone()[0] == 1
        assert connection.execute("PRAGMA journal_mode").fetchone()[0] == "wal"


def made_of(connection):
    """What a database is made of, however it is written, and the rows that it begins with."""
    shape = {
        (row["type"], row["name"]): re.sub(r"--[^\n]*|\s+|main\.|\"", "", row["sql"] or "")
        for row in connection.execute("SELECT type, name, sql FROM sqlite_schema")
    }
    tables = [name for kind, name in shape if kind == "table" and not name.startswith("sqlite_")]
    return shape, {name: list(map(tuple, connection.execute(f"SELECT * FROM {name}"))) for name in tables}


def test_what_a_new_folder_holds_is_what_the_oldest_comes_to(tmp_path):
    migrate.migrate(tmp_path / "new")
    with closing(open_file(tmp_path / "old.sqlite3", create=True)) as old, connected(tmp_path / "new") as new:
        for version in range(1, migrate.LATEST + 1):
            migrate.take_steps(old, version)
        assert made_of(old) == made_of(new)


@pytest.mark.parametrize("old", range(1, migrate.LATEST))
def test_a_folder_made_by_an_older_version_is_brought_up_with_everything_in_it(tmp_path, old):
    with closing(open_file(database(tmp_path), create=True)) as made:
        migrate.take_steps(made, old)
    curve = json.dumps([0.1] * 36)
    with connected(tmp_path, any_version=True) as connection, writing(connection):
        connection.execute("INSERT INTO paint (id, line, name, kind) VALUES ('rav-x', 'Rav', 'X', 'transparent')")
        connection.execute(
            "INSERT INTO paint_profile (paint_id, version, absorption, scattering, uncertainty, source, at)"
            " VALUES ('rav-x', 1, :curve, :curve, 0.1, 'test', 'then')",
            {"curve": curve},
        )
        bottle = bottles.add(connection, paint_id="rav-x", size_ml=30, drop_ml=0.05, state="open")
        connection.execute(
            "INSERT INTO stock_entry (bottle_id, at, kind, ml)"
            " VALUES (:b, 'then', 'bought', 30), (:b, 'then', 'poured', -17.5)",
            {"b": bottle},
        )
        connection.execute("INSERT INTO recipe (number) VALUES (1)")
        connection.execute(
            "INSERT INTO recipe_version (recipe, version, name, ground, film_um, coats, clear_coat, at)"
            " VALUES (1, 1, 'Old', 'white', 8.0, 2, 1, 'then')"
        )
        connection.execute("INSERT INTO recipe_part VALUES (1, 1, 1, :bottle, 6, 0.05)", {"bottle": bottle})
        draft = {"parts": [{"bottle": bottle, "drops": 3, "drop_ml": 0.05}], "name": "Half", "ground": "black"}
        batch = connection.execute("INSERT INTO cup_batch (recipe) VALUES (NULL) RETURNING id").fetchone()[0]
        connection.execute(
            "INSERT INTO cup_step (seq, batch, at, did, draft) VALUES (1, :batch, 'then', 'x', :draft)",
            {"batch": batch, "draft": json.dumps(draft)},
        )
        connection.execute("INSERT INTO cup VALUES (1, 1, 1)")
        if old == 6:
            whole = drafts.to_json(Draft((Part(bottle, 6, 0.05),), coats=3))
            connection.execute(
                "INSERT INTO spray_out (id, at, recipe, version, draft) VALUES (4, 'then', 1, 1, ?)", [whole]
            )
            connection.execute("INSERT INTO spray_field VALUES (9, 4, 'black')")
            connection.execute(
                "INSERT INTO spray_reading (field, at, source, lab, counts) VALUES (9, 'then', 'read', '[1, 2, 3]', 0)"
            )
    assert migrate.migrate(tmp_path) == [script.name for script in migrate.steps(old, migrate.LATEST)]
    with connected(tmp_path) as connection:
        assert bottles.one(connection, bottle).left_ml == 12.5
        assert paints.profile(connection, "rav-x").absorption[0] == 0.1
        assert recipes.version(connection, 1).draft.parts == (Part(bottle, 6, 0.05),)
        standing = cups.now(connection).draft
        assert (standing.name, standing.ground, standing.drops) == ("Half", "black", 3)
        if old == 6:
            card = spray_out_cards.one(connection, 4)
            assert (card.recipe, card.counts, card.how.reduction) == (1, True, 0)
            (patch,) = card.patches
            (reading,) = patch.readings
            assert (patch.ground, patch.coats) == ("black", 3)
            assert (reading.lab, reading.counts, reading.predicted) == ((1, 2, 3), False, None)


def test_a_failing_migration_leaves_nothing_behind(tmp_path, monkeypatch):
    migrate.migrate(tmp_path)
    before = migrate.LATEST
    broken = [Script(99, "0099_broken.sql", "CREATE TABLE half (id INTEGER); CREATE TABLE paint (id);")]
    monkeypatch.setattr(migrate, "steps", lambda has, last: broken)
    monkeypatch.setattr(migrate, "LATEST", 99)
    with pytest.raises(sqlite3.OperationalError, match="already exists"):
        migrate.migrate(tmp_path)
    with connected(tmp_path) as connection:
        assert migrate.version(connection) == before
        assert not connection.execute("SELECT 1 FROM sqlite_schema WHERE name = 'half'").fetchall()
    # The copy from before the attempt is whole.
    with closing(sqlite3.connect(tmp_path / "backups" / f"before-0099-from-{before:04d}.sqlite3")) as copy:
        assert copy.execute("PRAGMA integrity_check").fetchone()[0] == "ok"


def test_data_newer_than_the_code_is_refused_and_left_as_it_is(bench):
    with closing(sqlite3.connect(database(bench))) as connection:
        connection.execute("PRAGMA user_version = 999")
    with pytest.raises(NewerData, match="data version 999"):
        migrate.migrate(bench)


@pytest.mark.parametrize("content", [b"not a database at all, only words", b"SQLite format 3\0" + b"\xff" * 200])
def test_a_file_that_is_no_database_is_refused_and_left_as_it_is(tmp_path, content):
    database(tmp_path).write_bytes(content)
    with pytest.raises(NotADatabase, match=r"not a Diachrom database"):
        migrate.migrate(tmp_path)
    assert database(tmp_path).read_bytes() == content


def test_another_programs_database_is_refused(tmp_path):
    with closing(sqlite3.connect(database(tmp_path))) as connection:
        connection.execute("CREATE TABLE letters (id INTEGER)")
    with pytest.raises(NotADatabase):
        migrate.migrate(tmp_path)


def test_a_folder_that_cannot_be_made_is_named(tmp_path):
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(DataFolderNotWritable, match=r"file/data cannot be written"):
        migrate.migrate(tmp_path / "file" / "data")


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write anywhere")
def test_a_read_only_folder_is_named(bench):
    bench.chmod(0o555)
    database(bench).chmod(0o444)
    with pytest.raises(DataFolderNotWritable, match="cannot be written"):
        migrate.migrate(bench)


def _save_many(bench):
    with connected(bench) as connection:
        connection.execute("PRAGMA max_page_count = 1")
        with writing(connection):
            recipes.new_recipe(connection)
            for _ in range(3000):
                cups.new_batch(connection)


def test_a_disk_that_takes_nothing_is_said_and_nothing_is_half_saved(bench):
    with connected(bench) as connection:
        before = connection.execute("SELECT count(*) FROM recipe").fetchone()[0]
    with pytest.raises(DataFolderNotWritable, match="the disk is full"):
        _save_many(bench)
    with connected(bench) as connection:
        assert connection.execute("SELECT count(*) FROM recipe").fetchone()[0] == before


def test_a_database_locked_for_too_long_is_said(bench, monkeypatch):
    monkeypatch.setattr(connections, "BUSY_MS", 50)
    with connected(bench) as holder, writing(holder), pytest.raises(Busy), connected(bench) as other, writing(other):
        pass


def test_a_folder_without_data_says_what_to_run(tmp_path):
    with pytest.raises(StoreError, match="diachrom migrate"), connected(tmp_path):
        pass


def test_the_demo_never_overwrites_data(bench):
    with pytest.raises(DataExists, match="diachrom serve"):
        fill(bench)


def test_a_saved_version_cannot_be_changed_even_by_hand(bench):
    with connected(bench) as connection:
        for statement in (
            "UPDATE recipe_version SET name = 'x'",
            "DELETE FROM recipe_version",
            "UPDATE recipe_part SET drops = 1",
            "DELETE FROM recipe_part",
        ):
            with pytest.raises(sqlite3.IntegrityError, match="a saved version never changes"), writing(connection):
                connection.execute(statement)


def test_stock_is_the_sum_of_the_ledger(bench):
    with connected(bench) as connection:
        bottle = bottles.every(connection)[0]
        with writing(connection):
            bottles.enter(connection, bottle=bottle.id, at=AT, kind="poured", ml=-1.5)
        assert bottles.one(connection, bottle.id).left_ml == pytest.approx(bottle.left_ml - 1.5)
        for one in bottles.every(connection):
            assert one.left_ml == pytest.approx(sum(entry.ml for entry in bottles.ledger(connection, one.id)))


@pytest.mark.parametrize("table", ["stock_entry", "paint_profile"])
def test_the_ledger_and_the_profiles_only_grow(bench, table):
    with connected(bench) as connection:
        for statement in (f"DELETE FROM {table}", f"UPDATE {table} SET at = 'then'"):
            with pytest.raises(sqlite3.IntegrityError, match=r"only grows|never changes"), writing(connection):
                connection.execute(statement)


def test_a_new_profile_is_the_next_version_and_the_one_that_counts(bench):
    with connected(bench) as connection:
        old = paints.profile(connection, "rav-nype")
        darker = type(old)(old.name, old.kind, old.absorption * 2, old.scattering)
        with writing(connection):
            assert paints.add_profile(connection, darker, paint_id="rav-nype", source="test", at=AT) == 2
        assert paints.profile(connection, "rav-nype").absorption[10] == pytest.approx(2 * old.absorption[10])


def test_ten_writers_at_once_lose_nothing_and_number_without_gaps_or_doubles(bench):
    with connected(bench) as connection:
        first = max(saved.recipe for saved in recipes.newest_versions(connection)) + 1

    def write(which):
        numbers = []
        for turn in range(4):
            with connected(bench) as connection, writing(connection):
                draft = Draft((Part(1, which + 1, 0.05),), name=f"writer {which} turn {turn}")
                number = recipes.new_recipe(connection)
                recipes.add_version(connection, draft, recipe=number, parent_version=None, at=AT)
                numbers.append((number, draft))
        return numbers

    with ThreadPoolExecutor(10) as pool:
        written = [pair for numbers in pool.map(write, range(10)) for pair in numbers]
    assert sorted(number for number, _ in written) == list(range(first, first + 40))
    with connected(bench) as connection:
        for number, draft in written:
            assert recipes.version(connection, number).draft == draft


def test_a_process_killed_in_the_middle_of_a_write_leaves_the_last_whole_cup(bench):
    script = textwrap.dedent(
        """
        import os, signal, sys
        from pathlib import Path
        from diachrom.store import cups
        from diachrom.store.connection import connected, writing
        with connected(Path(sys.argv[1])) as connection, writing(connection):
            standing = cups.now(connection)
            cups.append(connection, type(standing.draft)(name="half"),
                        did="half", at="now", batch=standing.batch)
            os.kill(os.getpid(), signal.SIGKILL)
        """
    )
    with connected(bench) as connection:
        before = cups.now(connection)
    killed = subprocess.run([sys.executable, "-c", script, str(bench)], check=False)
    assert killed.returncode == -9
    with connected(bench) as connection:
        assert cups.now(connection) == before
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
