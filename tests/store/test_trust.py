"""What the store keeps to: one moment a reading, one count a press, nothing written to what is damaged or too old."""

import hashlib
import json
import re
import sqlite3
import threading
from contextlib import closing, suppress
from dataclasses import replace
from pathlib import Path

import pytest

from diachrom.core.film.paint import clear_paint
from diachrom.core.mix.draft import Draft, Part
from diachrom.errors import Damaged, NewerData, NotADatabase, OlderData, Repeated
from diachrom.store import (
    bottles,
    cups,
    log,
    migrate,
    older,
    orders,
    paints,
    recipes,
    rounds,
    schema,
    spray_out_cards,
    targets,
    uploads,
)
from diachrom.store import contrast_cards as cards
from diachrom.store.connection import connected, database, open_file, writing
from diachrom.store.paints import PaintRecord
from diachrom.store.schema import Script
from diachrom.work.files import checking, importing
from diachrom.work.match import targets as aiming
from diachrom.work.mix import charging, cup
from diachrom.work.pour import pouring
from diachrom.work.profiles import contrast_cards as carding
from diachrom.work.shelf import shelf_index

AT = "2026-11-25T10:00:00+00:00"
REFERENCE = Path(__file__).parents[1] / "reference"
LANDED = {
    "0001_first.sql": "a7c3c91c9ec90bf0",
    "0002_every_kind.sql": "0df5c4588e01d1f9",
    "0003_shelf.sql": "1ceb67bee59b3319",
    "0004_targets.sql": "f8e4b0fac16b546c",
    "0005_story.sql": "0d87e10cdbf1ed30",
    "0006_spray_outs.sql": "976b0c9cf65bc0d3",
    "0007_patches.sql": "42e044a229d38937",
    "0008_trust.sql": "a67a9196b45b95ef",
    "0009_truth.sql": "a759e5728dd76b98",
    "0010_house.sql": "9c8023b0d24d43bf",
    "0011_shelf_sheet.sql": "27fb7e1f4caa7c50",
    "0012_settings.sql": "ba48c58fb05d089a",
    "0013_plan.sql": "76d722deed82cced",
    "0014_orders.sql": "bf436fb3746fc447",
    "0015_bench.sql": "ef431a651ce05306",
    "0016_finish.sql": "cecccc2dbd80c573",
    "0017_log.sql": "d5197ed2261384dc",
    "0018_access.sql": "7d4971e1f317de48",
    "0019_taken_back.sql": "a8e1e4c09262b07b",
    "0020_door.sql": "0b897d39577f9463",
    "0021_profile_rows.sql": "b17b3d39bc80bac3",
    "0022_mended.sql": "b18a2607dbabd271",
    "0023_weighed.sql": "01e238ef18652e13",
    "0024_retired_recipes.sql": "89ca7101a15063cd",
    "0025_mist.sql": "33682fd2da182829",
    "0026_tools.sql": "d3c88b66df31e069",
    "0027_photo_marks.sql": "b7bdb90e4bc09d16",
    "0028_mended_tables.sql": "4afcfcae412ee8fd",
    "0029_keys_of_scripts.sql": "d552eafa77673380",
    "baseline.sql": "1b22f3475b480b3c",
}


def test_a_migration_that_has_landed_is_never_edited_again():
    """Folders were made by it: what it makes of new ones would not be theirs. Write another migration."""
    scripts = (*older.scripts(), schema.baseline(), *schema.migrations())
    now = {script.name: hashlib.sha256(script.sql.encode()).hexdigest()[:16] for script in scripts}
    assert {name: now.get(name) for name in LANDED} == LANDED
    assert [name for name in now if name not in LANDED] == [], "add its checksum when it lands"


def test_a_reading_is_of_one_moment_whoever_writes_meanwhile(bench):
    with connected(bench) as reading, connected(bench) as other:
        before = len(bottles.every(reading))
        with writing(other):
            bottles.add(other, paint_id="rav-gull", size_ml=30, drop_ml=0.05)
        assert len(bottles.every(reading)) == before
        with writing(reading):
            assert len(bottles.every(reading)) == before + 1
        assert len(bottles.every(reading)) == before + 1


def test_a_write_outside_a_transaction_is_refused_and_not_lost_without_a_word(bench):
    with connected(bench) as store, pytest.raises(sqlite3.OperationalError, match="readonly"):
        bottles.change(store, 22, place="sill")


def test_a_transaction_inside_another_is_part_of_it(bench):
    with connected(bench) as store:
        before = cups.now(store)
        with suppress(ZeroDivisionError), writing(store):
            cup.pour(store, before.draft.parts[0].bottle, 3, at=AT)
            raise ZeroDivisionError
        assert cups.now(store) == before
        assert not store.saved


def test_a_press_is_counted_once_however_often_it_is_sent(bench):
    with connected(bench) as store:
        bottle, before = 22, cups.now(store).draft.drops
        for _ in range(3):
            store.tap = "a press"
            try:
                cup.give(store, bottle, 1, at=AT)
            except Repeated:
                continue
        assert cups.now(store).draft.drops == before + 1
        assert store.saved
        store.tap = "a press that fails"
        with pytest.raises(ZeroDivisionError), writing(store):
            raise ZeroDivisionError
        store.tap = "a press that fails"
        cup.give(store, bottle, 1, at=AT)  # it was not counted then, so it is now
        assert cups.now(store).draft.drops == before + 2


def test_the_shelfs_index_is_of_one_moment_while_bottles_come(bench):
    """A bottle of a paint without its profile is never seen, though both are read one after the other."""
    done = threading.Event()

    def write():
        with connected(bench) as store:
            for at in range(60):
                with writing(store):
                    record = PaintRecord(f"t-{at}", "T", f"t{at}", "reducer")
                    paints.add(store, record)
                    paints.add_profile(store, clear_paint("T", "reducer"), paint_id=record.id, source="", at=AT)
                    bottles.add(store, paint_id=record.id, size_ml=30, drop_ml=0.05)
        done.set()

    writer = threading.Thread(target=write)
    writer.start()
    while not done.is_set():
        with connected(bench) as store:
            known = set(paints.newest(store))
            rows = shelf_index.index(store).rows
            assert {row.bottle.paint_id for row in rows} <= known
            assert len(rows) == len(bottles.every(store))
    writer.join()


def test_the_number_of_a_file_that_waited_is_never_used_again(bench):
    content = b"name,line,kind,size_ml\nNy,Torv,opaque,30\n"
    with connected(bench) as store:
        first = importing.keep(store, "a.csv", content, kind="ink", at=AT)
        with writing(store):
            uploads.forget_file(store, first)
        assert importing.keep(store, "b.csv", content, kind="ink", at=AT) > first


def test_a_pour_is_saved_and_charged_or_neither(bench, monkeypatch):
    with connected(bench) as store:
        before, recipe = len(bottles.ledger(store, 22)), recipes.count(store)
        monkeypatch.setattr(charging, "take_from_stock", lambda *_, **__: 1 / 0)
        with pytest.raises(ZeroDivisionError):
            pouring.finish(store, "Half saved", at=AT)
        assert (len(bottles.ledger(store, 22)), recipes.count(store)) == (before, recipe)
        assert cups.now(store).draft.name != "Half saved"


def test_two_changes_of_how_a_target_is_matched_both_hold(bench):
    with connected(bench) as one, connected(bench) as other:
        aiming.active_target(one)  # seen before the other leaves a bottle out
        aiming.leave_out(other, 22)
        aiming.set_up(one, lambda old: type(old)(**{**vars(old), "max_paints": 2}))
        _, settings = aiming.active_target(one)
        assert (settings.left_out, settings.max_paints) == ((22,), 2)


def _overwrite(path, at, content):
    with closing(sqlite3.connect(path)) as plain:
        plain.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    with path.open("r+b") as file:
        file.seek(at)
        file.write(content)


def test_a_damaged_database_is_announced_and_nothing_is_written_to_it(bench, tmp_path_factory):
    path = database(bench)
    _overwrite(path, 4096 * 100, b"\xff" * 4096 * 40)  # rows; the schema lies before them
    content = path.read_bytes()
    with pytest.raises(Damaged, match="is damaged"):
        migrate.migrate(bench)
    assert path.read_bytes() == content
    target = tmp_path_factory.mktemp("copy") / "copy.sqlite3"
    with pytest.raises(Damaged):
        migrate.copy_to(bench, target)
    assert not target.exists()
    found = checking.check_folder(bench)
    assert len([one for one in found if "damaged" in one or "malformed" in one]) > 1  # it went on after its first


def _read_all(folder):
    with connected(folder) as store:
        for table in ("paint", "paint_profile", "bottle", "stock_entry", "recipe_version", "cup_step"):
            store.execute(f"SELECT * FROM {table}").fetchall()


@pytest.mark.parametrize("by_link", [False, True])
def test_a_file_found_damaged_while_in_use_takes_nothing_more_until_it_is_whole(bench, tmp_path_factory, by_link):
    path = database(bench)
    if by_link:
        link = tmp_path_factory.mktemp("by") / "link"
        link.symlink_to(bench)
        bench = link
    whole = path.read_bytes()
    _overwrite(path, 4096 * 2, b"\xff" * 4096 * 200)
    with pytest.raises(Damaged):
        _read_all(bench)
    with pytest.raises(Damaged), connected(bench) as store:
        cup.give(store, 22, 1, at=AT)
    for left in path.parent.glob("*-wal"):
        left.unlink()
    path.write_bytes(whole)
    with connected(bench) as store:
        cup.give(store, 22, 1, at=AT)


@pytest.mark.parametrize("content", [b"", b"SQLite format 3\0"])
def test_an_empty_file_where_data_was_is_no_empty_shelf(tmp_path, content):
    database(tmp_path).write_bytes(content)
    with pytest.raises((Damaged, NotADatabase)):
        migrate.migrate(tmp_path)
    with pytest.raises((Damaged, NotADatabase)), connected(tmp_path):
        pass
    assert database(tmp_path).read_bytes() == content


def test_data_that_are_gone_but_for_their_last_writes_are_no_empty_shelf(tmp_path):
    database(tmp_path).with_name("diachrom.sqlite3-wal").write_bytes(b"x")
    with pytest.raises(Damaged, match="is gone"):
        migrate.migrate(tmp_path)


@pytest.mark.parametrize(("version", "error"), [(999, NewerData), (3, OlderData)])
def test_every_command_refuses_data_of_another_version(bench, version, error):
    with closing(sqlite3.connect(database(bench))) as plain:
        plain.execute(f"PRAGMA user_version = {version}")
    with pytest.raises(error), connected(bench):
        pass
    with connected(bench, any_version=True) as store:  # for a backup, and to be told what is wrong
        assert schema.version(store) == version
    assert any(f"of version {version}" in one for one in checking.check_folder(bench))


def _early(folder):
    """A folder as it was made before two migrations had their present form."""
    forms = {4: (REFERENCE / "0004_first.sql").read_text(), 7: (REFERENCE / "0007_first.sql").read_text()}
    with closing(open_file(database(folder), create=True)) as store:
        for script in older.scripts()[:7]:
            migrate._step(store, replace(script, sql=forms.get(script.version, script.sql)))
        with writing(store):
            store.execute(
                "INSERT INTO target (at, name, source, l, a, b) VALUES (:at, 'Olive', 'typed', 40, 2, 20)", {"at": AT}
            )
            store.execute("UPDATE aim SET target_id = 1")
            store.execute("INSERT INTO spray_out (id, at, draft) VALUES (4, :at, '{\"parts\": []}')", {"at": AT})
            store.execute("INSERT INTO spray_patch (id, spray_out, ground, coats) VALUES (9, 4, 'white', 20)")
            store.execute(
                "INSERT INTO patch_reading (patch, at, source, lab) VALUES (9, :at, 'read', '[1, 2, 3]')", {"at": AT}
            )


def test_folders_from_before_a_migration_was_changed_are_brought_to_what_it_makes(tmp_path):
    _early(tmp_path)
    migrate.migrate(tmp_path)
    with connected(tmp_path) as store:
        target = targets.one(store, 1)
        assert (target.labs, target.seen.views, targets.at_cup(store).id) == (((40, 2, 20),), (None,), 1)
        (patch,) = spray_out_cards.one(store, 4).patches
        assert (patch.coats, patch.readings[0].lab) == (20, (1, 2, 3))
        with writing(store):
            spray_out_cards.add_patch(store, 4, "white", 50)
            number = rounds.add(store, skill="hue", level=1, shelf="own", paints=["x"], sizes=[0.05], drops=[1], at=AT)
            assert rounds.open_round(store).id == number
            aiming.targets.add(store, name="x", source="", seen=target.seen, labs=[[1, 2, 3]], reflectance=None, at=AT)
    assert checking.check_folder(tmp_path) == []


def test_recipes_stand_by_their_number_and_not_by_a_clock_that_may_have_gone_back(bench):
    with connected(bench) as store:
        with writing(store):
            number = recipes.new_recipe(store)
            draft = Draft((Part(22, 3, 0.05),), name="Earlier, by the clock")
            recipes.add_version(store, draft, recipe=number, parent_version=None, at="2001-01-01T00:00:00+00:00")
        found = [one.recipe for one in recipes.newest_versions(store)]
        assert found == sorted(found, reverse=True)
        assert found[0] == number


def test_a_log_of_before_its_words_keeps_its_entries_and_finds_them(tmp_path):
    with closing(open_file(database(tmp_path), create=True)) as store:
        migrate.take_steps(store, 16)
        migrate._step(store, Script(17, "0017_log.sql", (REFERENCE / "0017_first.sql").read_text()))
    with closing(sqlite3.connect(database(tmp_path), isolation_level=None)) as db:
        db.execute("INSERT INTO log_entry (number, at, name, baits, note) VALUES (3, ?, 'Old char', 2, 'x')", [AT])
        db.execute("INSERT INTO log_fault (entry, at, fault, note) VALUES (3, '2026-11-26', 'run', 'at the tail')")
    assert migrate.migrate(tmp_path) == [name for name in LANDED if "0018" < name < "b"]
    new = tmp_path / "new"
    migrate.migrate(new)
    with connected(tmp_path) as store, connected(new) as fresh:
        assert [one.name for one in log.found(store, ["char", "no. 3"], most=9)[0]] == ["Old char"]
        assert log.faults(store, [3])[3][0].note == "at the tail"
        told = "SELECT name, sql FROM sqlite_schema WHERE tbl_name LIKE 'log_%' ORDER BY name"
        plain = [
            {row["name"]: re.sub(r"--[^\n]*|\s+|main\\.", "", row["sql"] or "") for row in one.execute(told)}
            for one in (store, fresh)
        ]
        assert plain[0].keys() == plain[1].keys()
        assert plain[0]["log_entry_found"] == plain[1]["log_entry_found"]
    assert checking.check_folder(tmp_path) == []


def test_orders_of_before_know_their_customers_and_what_their_drawer_counted_twice(tmp_path):
    with closing(open_file(database(tmp_path), create=True)) as store:
        migrate.take_steps(store, 21)
        with writing(store):
            store.execute("INSERT INTO plan (number, opened) VALUES (1, :at)", {"at": AT})
            store.execute(
                "INSERT INTO plan_version (plan, version, at, name, note, document)"
                " VALUES (1, 1, :at, 'Char', '', '{}')",
                {"at": AT},
            )
            for number, name in ((1, "Harbour shop"), (2, "Char"), (3, "For the bench")):
                store.execute("INSERT INTO bait_order (number, name, at) VALUES (?, ?, ?)", [number, name, AT])
            line = "INSERT INTO order_line (id, bait_order, plan, version, ordered, baits) VALUES (7, 1, 1, 1, 4, 2)"
            store.execute(line)
            for at, count, note in (
                (1, 2, "over from x"),
                (2, 2, "over from x"),
                (3, -1, "ordered"),
                (4, 5, "by hand"),
            ):
                store.execute(
                    "INSERT INTO bait_stock (plan, version, count, note, bait_order, at) VALUES (1, 1, ?, ?, 1, ?)",
                    [count, note, f"2026-11-0{at}T10:00:00+00:00"],
                )
    assert migrate.migrate(tmp_path) == [
        "0022_mended.sql",
        "0023_weighed.sql",
        "0024_retired_recipes.sql",
        "0025_mist.sql",
        "0026_tools.sql",
        "0027_photo_marks.sql",
        "0028_mended_tables.sql",
        "0029_keys_of_scripts.sql",
    ]
    with connected(tmp_path) as store:
        assert [one.customer for one in orders.every(store)] == ["Harbour shop", "", ""]
        moved = [(one.why, one.count, one.line) for one in orders.moved(store, 1)]
        assert moved == [("again", 2, None), ("over", 2, None), ("taken", -1, 7)]
        assert sum(one.count for one in orders.stock(store)) == 8
    checking.mend_folder(tmp_path)
    with connected(tmp_path) as store:
        assert sum(one.count for one in orders.stock(store)) == 6
    assert checking.check_folder(tmp_path) == []


def test_photos_of_before_they_were_jpegs_are_there_in_both_forms_of_their_folder(tmp_path):
    for form, version in (("first", 18), ("of before", 17)):
        folder = tmp_path / form
        folder.mkdir()
        with closing(open_file(database(folder), create=True)) as store:
            migrate.take_steps(store, version)
            if version == 18:  # as that migration was at first
                store.execute("ALTER TABLE photo RENAME COLUMN picture TO png")
            with writing(store):
                store.execute("INSERT INTO photo (at, name, width, height, png) VALUES (?, 'x', 1, 1, x'89')", [AT])
        migrate.migrate(folder)
        with connected(folder) as store:
            assert uploads.photo(store, 1).picture == b"\x89"
        assert checking.check_folder(folder) == []


def test_a_card_that_was_read_before_cards_had_steps_is_a_card_of_one_film(tmp_path):
    with closing(open_file(database(tmp_path), create=True)) as store:
        migrate.take_steps(store, 8)
        with writing(store):
            store.execute("INSERT INTO paint (id, line, name, kind) VALUES ('rav-nype', 'Rav', 'Nype', 'transparent')")
            store.execute(
                "INSERT INTO card (id, paint_id, at, film_um, coats, clear_coat) VALUES (3, 'rav-nype', :at, 8, 3, 1)",
                {"at": AT},
            )
            for field in ("white", "over_black"):
                store.execute(
                    "INSERT INTO card_reading (card_id, field, at, source, reflectance)"
                    " VALUES (3, :field, :at, 'reader:x', :values)",
                    {"field": field, "at": AT, "values": json.dumps([0.5] * 36)},
                )
    assert migrate.migrate(tmp_path) == [name for name in LANDED if "0009" < name < "b"]
    with connected(tmp_path) as store:
        card = cards.card(store, 3)
        assert (card.steps, card.film_um, card.white_paint) == ((3,), 8.0, None)
        assert [one.field for one in card.readings] == ["white", "over_black:3"]
        own = [one.key for one in carding.fields_of(card)]
        assert own == ["white", "black", "over_white:3", "over_black:3"]
