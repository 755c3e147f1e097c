"""Backups: made before the first change of a day, thinned out, looked into, put back while others write; mending."""

import io
import re
import shutil
import sqlite3
import threading
import zipfile
from contextlib import closing
from datetime import date, timedelta

import httpx2
import pytest
from starlette.testclient import TestClient

from diachrom import clock
from diachrom.errors import DiachromError, InvalidInput, NotFound
from diachrom.store import backups, bottles, paints, recipes
from diachrom.store.connection import connected, database, open_file, writing
from diachrom.store.migrate import migrate, take_steps
from diachrom.web.app import create_app
from diachrom.web.server import running
from diachrom.work.files import backups as own
from diachrom.work.files import whole
from diachrom.work.files.checking import check_folder, mend_folder

AT = "2026-11-27T10:00:00+00:00"


def rows(path):
    with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as db:
        return {
            name: db.execute(f"SELECT * FROM {name}").fetchall()
            for (name,) in db.execute(
                "SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%'"
            )
        }


def but_counters(tables):
    """Those of changes go on, so that what was reckoned before is known to be of before."""
    return {name: own for name, own in tables.items() if name != "revision"}


def held(content):
    with zipfile.ZipFile(io.BytesIO(content)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def test_the_first_change_of_a_day_makes_one_and_no_other_does(client, bench):
    before = rows(database(bench))
    client.get("/mix")
    assert own.listed(bench) == []
    client.post("/mix/add", data={"bottle": "22"})
    client.post("/mix/add", data={"bottle": "23"})
    (one,) = own.listed(bench)
    assert one.backup.name == f"day-{clock.today(clock.now())}.sqlite3"
    assert one.backup.path.stat().st_mode & 0o077 == 0
    assert rows(one.backup.path) == before
    assert one.backup.name in client.get("/files/backups").text


def test_a_disk_that_is_full_keeps_nobody_from_working_leaves_no_stub_and_is_said(client, bench, monkeypatch):
    def full(connection, target, **_):
        target.write_bytes(b"cut off")
        raise sqlite3.OperationalError("database or disk is full")

    monkeypatch.setattr(backups, "backup", full)
    assert client.post("/mix/add", data={"bottle": "22"}).status_code == 200
    assert list((bench / "backups").iterdir()) == []
    assert "database or disk is full" in client.get("/files/backups").text
    monkeypatch.undo()
    client.app.state.daily.day = ""
    client.post("/mix/add", data={"bottle": "22"})
    assert len(own.listed(bench)) == 1


def test_seven_days_eight_weeks_and_twelve_months_are_kept():
    today = date(2026, 11, 27)
    days = [(today - timedelta(days=back)).isoformat() for back in range(900)]
    kept = backups.thinned(days, today.isoformat())
    assert set(days[:7]) <= kept
    weeks = {date.fromisoformat(day).isocalendar()[:2] for day in kept}
    assert {date.fromisoformat(day).isocalendar()[:2] for day in days[: 7 * 7]} <= weeks
    assert {day[:7] for day in days[:330]} <= {day[:7] for day in kept}
    assert len(kept) <= 7 + 8 + 12
    assert min(kept) >= "2025-12-01"
    assert "2027-01-01" in backups.thinned([*days, "2027-01-01"], today.isoformat())


def test_what_is_thrown_away_is_only_what_was_made_by_the_day(bench):
    folder = bench / "backups"
    folder.mkdir()
    for name in ("day-2020-01-01.sqlite3", "day-2020-01-02.sqlite3", "before-0018-from-0017.sqlite3", "mine.sqlite3"):
        (folder / name).write_bytes(b"x")
    for day in range(1, 21):
        (folder / f"day-2026-11-{day:02d}.sqlite3").write_bytes(b"x")
    gone = backups.thin_out(folder, "2026-11-27")
    assert "day-2026-11-03.sqlite3" in gone
    left = {path.name for path in folder.iterdir()}
    assert {"before-0018-from-0017.sqlite3", "mine.sqlite3", "day-2026-11-16.sqlite3"} <= left
    assert not left & set(gone)


def test_a_second_folder_has_each_days_too_and_a_stick_that_is_out_is_said(client, bench, tmp_path):
    stick = tmp_path / "stick"
    for wrong in ("stick", str(stick), str(bench / "backups")):
        with pytest.raises(InvalidInput):
            own.set_second(bench, wrong)
    stick.mkdir()
    own.set_second(bench, str(stick))
    client.post("/mix/add", data={"bottle": "22"})
    assert [one.elsewhere for one in own.listed(bench)].count(True) == 1
    shutil.rmtree(stick)
    (bench / "backups" / f"day-{clock.today(clock.now())}.sqlite3").unlink()
    client.app.state.daily.day = ""
    assert client.post("/mix/add", data={"bottle": "22"}).status_code == 200
    assert "is the stick in?" in client.get("/files/backups").text
    assert len(own.listed(bench)) == 1


def test_one_of_an_older_version_is_put_back_and_brought_up(bench):
    folder = bench / "backups"
    folder.mkdir()
    with closing(open_file(folder / "day-2026-11-20.sqlite3", create=True)) as older:
        take_steps(older, 12)
        with writing(older):
            older.execute("INSERT INTO paint (id, line, name, kind) VALUES ('of-then', 'Rav', 'Of then', 'opaque')")
    own.restore(bench, "day-2026-11-20.sqlite3")
    with connected(bench) as store:
        assert [one.name for one in paints.every_record(store)] == ["Of then"]
    assert [one.backup.kind for one in own.listed(bench)].count("before-restore") == 1


def test_what_would_be_lost_is_said_and_putting_back_is_equal_and_can_be_taken_back(client, bench):
    client.post("/mix/add", data={"bottle": "22"})
    (one,) = own.listed(bench)
    with connected(bench) as store, writing(store):
        bottles.enter(store, bottle=22, at=AT, kind="corrected", ml=-1.0, note="x")
        recipes.new_recipe(store)
    after = rows(database(bench))
    page = client.get(f"/files/backups/{one.backup.name}").text
    assert re.search(r"If you restore it now, you lose: 1 entry of the ledger\.", page)
    client.post(f"/files/backups/{one.backup.name}/restore")
    assert but_counters(rows(database(bench))) == but_counters(rows(one.backup.path))
    assert check_folder(bench) == []
    before = next(row.backup for row in own.listed(bench) if row.backup.kind == "before-restore")
    assert rows(before.path) == after
    own.restore(bench, before.name)
    assert but_counters(rows(database(bench))) == but_counters(after)


def test_a_database_that_is_open_is_filled_and_never_replaced(bench):
    """A system that lets nobody replace an open file would refuse it; who has it open goes on in it."""
    backups.take(bench, bench / "backups" / "day-2026-11-01.sqlite3")
    with connected(bench) as store:
        with writing(store):
            store.execute("UPDATE paint SET name = 'Of now' WHERE id = 'torv-sot'")
        there = database(bench).stat().st_ino
        own.restore(bench, "day-2026-11-01.sqlite3")
        assert database(bench).stat().st_ino == there
        assert store.execute("SELECT name FROM paint WHERE id = 'torv-sot'").fetchone()[0] == "Sot"


def test_after_a_backup_is_put_back_the_shelf_lists_what_is_there(client, bench):
    """Counters that rolled back would tell an index of before to be of now."""
    backups.take(bench, bench / "backups" / "day-2026-11-01.sqlite3")

    with connected(bench) as store, writing(store):
        store.execute("UPDATE paint SET name = 'Before' WHERE id = 'torv-sot'")
    assert "Before" in client.get("/shelf").text
    own.restore(bench, "day-2026-11-01.sqlite3")
    with connected(bench) as store, writing(store):
        store.execute("UPDATE paint SET name = 'After' WHERE id = 'torv-sot'")
    page = client.get("/shelf").text
    assert "After" in page
    assert "Before" not in page


def test_copies_on_a_stick_are_nobody_elses_to_read(client, bench, tmp_path_factory):
    stick = tmp_path_factory.mktemp("stick")
    own.set_second(bench, str(stick))
    client.post("/mix/add", data={"bottle": "22"})
    assert [oct(path.stat().st_mode & 0o777) for path in stick.rglob("*.sqlite3")] == ["0o600"]


def test_two_benches_keep_theirs_in_one_synced_folder_and_each_reads_the_others(client, bench, tmp_path_factory):
    synced, home = tmp_path_factory.mktemp("synced"), tmp_path_factory.mktemp("home")
    migrate(home)
    for folder in (bench, home):
        own.set_second(folder, str(synced))
    client.post("/mix/add", data={"bottle": "22"})
    with TestClient(create_app(home), base_url="http://127.0.0.1", follow_redirects=False) as other:
        other.post("/settings", data={"units": "imperial"})
        assert len({path.parent for path in synced.rglob("day-*.sqlite3")}) == 2
        (theirs,) = [one for one in own.listed(home) if one.of]
        assert theirs.of == backups.shared_by(bench)
        assert f"in the second folder, of {theirs.of}" in other.get("/files/backups").text
        assert "recipes" in other.get(f"/files/backups/{theirs.backup.name}").text
        assert "From here no other bench" in other.post(f"/files/backups/{theirs.backup.name}/open").text
    with running(home) as address, httpx2.Client(follow_redirects=True) as visitor:
        beside = visitor.post(f"{address}/files/backups/{theirs.backup.name}/open")
        assert "This is a backup, opened beside your bench" in beside.text
        recipes = str(beside.url.copy_with(path="/api/recipes", query=None))
        assert len(visitor.get(recipes).json()["recipes"]) == 15
        assert visitor.get(f"{address}/api/recipes").json()["recipes"] == []
    own.restore(home, theirs.backup.name)
    with connected(home) as here, connected(bench) as there:
        assert recipes_of(here) == recipes_of(there)
    for path in synced.rglob("*.sqlite3"):
        path.write_bytes(b"cut off by the sync")
    with pytest.raises(DiachromError):
        own.restore(home, theirs.backup.name)


def recipes_of(connection):
    return [(one.recipe, one.draft) for one in recipes.newest_versions(connection)]


def test_what_is_no_backup_of_ours_is_not_put_back(bench):
    folder = bench / "backups"
    folder.mkdir()
    (folder / "day-2026-01-01.sqlite3").write_bytes(b"no database")
    with closing(sqlite3.connect(folder / "day-2026-01-02.sqlite3")) as db:
        db.execute("CREATE TABLE x (y)")
    before = rows(database(bench))
    for name, error in (
        ("day-2026-01-01.sqlite3", DiachromError),
        ("day-2026-01-02.sqlite3", DiachromError),
        ("../diachrom.sqlite3", NotFound),
    ):
        with pytest.raises(error):
            own.restore(bench, name)
    assert rows(database(bench)) == before


def test_a_backup_is_put_back_while_others_read_and_write(bench):
    """What each of them sees is whole, and all of it from before or from after."""
    day = bench / "backups" / "day-2026-11-01.sqlite3"
    backups.take(bench, day)
    errors, done = [], threading.Event()

    def works(bottle):
        while not done.is_set():
            try:
                with connected(bench) as store:
                    with writing(store):
                        bottles.enter(store, bottle=bottle, at=AT, kind="corrected", ml=-0.01, note="x")
                    left = next(one.left_ml for one in bottles.every(store) if one.id == bottle)
                    summed = sum(entry.ml for entry in bottles.ledger(store, bottle))
                    if abs(left - summed) > 1e-6:
                        errors.append((bottle, left, summed))
            except Exception as error:
                errors.append(error)

    threads = [threading.Thread(target=works, args=(bottle,)) for bottle in (22, 23)]
    for one in threads:
        one.start()
    for _ in range(5):
        own.restore(bench, day.name)
    done.set()
    for one in threads:
        one.join()
    assert errors == []
    assert check_folder(bench) == []


def test_nobody_else_on_the_machine_can_read_a_folder(tmp_path):
    folder = tmp_path / "new"
    migrate(folder)
    assert (folder.stat().st_mode & 0o077, database(folder).stat().st_mode & 0o077) == (0, 0)
    database(folder).chmod(0o644)
    migrate(folder)
    assert database(folder).stat().st_mode & 0o077 == 0


def test_mending_puts_sums_and_orphans_right_and_keeps_what_was(bench):
    with closing(sqlite3.connect(database(bench), isolation_level=None)) as db:
        db.execute("PRAGMA foreign_keys = OFF")
        db.execute("UPDATE bottle SET left_ml = 99 WHERE id = 22")
        db.execute("INSERT INTO log_fault (entry, at, fault) VALUES (9999, '2026-11-01', 'run')")
    assert len(check_folder(bench)) == 2
    before, done = mend_folder(bench)
    assert [line.split(" ")[0] for line in done] == ["1", "Bottle"]
    assert check_folder(bench) == []
    assert ("run",) in [row[3:4] for row in rows(before)["log_fault"]]
    assert mend_folder(bench)[1] == []


def test_an_index_that_lost_its_rows_is_made_anew(bench):
    with closing(sqlite3.connect(database(bench), isolation_level=None)) as db:
        db.execute("PRAGMA writable_schema = ON")
        told = db.execute("SELECT sql FROM sqlite_schema WHERE name = 'log_fault_of'").fetchone()[0]
        changed = told.replace("log_fault (entry)", "log_fault (id)")
        db.execute("UPDATE sqlite_schema SET sql = :sql WHERE name = 'log_fault_of'", {"sql": changed})
    assert any("log_fault_of" in line for line in check_folder(bench))
    _, done = mend_folder(bench)
    assert any("Indexes were rebuilt" in line for line in done)
    assert check_folder(bench) == []


def test_a_folder_that_cannot_be_written_is_checked_and_goes_out(bench, monkeypatch):
    with connected(bench) as store:
        before = held(whole.out(store, at=AT, calendars={}))
    monkeypatch.setattr("diachrom.store.connection.os.access", lambda *_: False)
    assert check_folder(bench) == []
    with connected(bench) as store:
        assert held(whole.out(store, at=AT, calendars={})) == before
        with pytest.raises(DiachromError, match="cannot be written"):  # noqa: SIM117 - it is said where it is asked
            with connected(bench) as other, writing(other):
                bottles.enter(other, bottle=22, at=AT, kind="corrected", ml=-1.0, note="x")
