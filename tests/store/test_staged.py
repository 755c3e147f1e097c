"""A long write is made beside the bench: nobody waits for it, nobody sees half of it, and what was done meanwhile
stays."""

import threading

import pytest

from diachrom.store import bottles, paints, shelf_history, staged, uploads
from diachrom.store.connection import connected, writing
from diachrom.work.files import importing
from diachrom.work.files.checking import check_folder
from diachrom.work.files.import_task import ImportTask
from diachrom.work.shelf import keeping

AT = "2026-11-30T10:00:00+00:00"
TABLE = "line,name,kind,size_ml,left_ml,colour\n" + "\n".join(
    f"Rekke,Farge {at},transparent,30,{at % 30},#{at * 7919 % (1 << 24):06x}" for at in range(40)
)


@pytest.fixture
def task(bench):
    with connected(bench) as store, writing(store):
        number = uploads.keep_file(store, name="large.csv", content=TABLE.encode(), at=AT)
    return ImportTask(number, "large.csv", "transparent", "", AT)


def meanwhile(task, monkeypatch, what):
    """`what` is done each time when the copy is written and before it is brought over; how often that was."""
    times = []
    before = staged._Delta.bring_over

    def bring_over(self, *where):
        times.append(None)
        what(len(times))
        return before(self, *where)

    monkeypatch.setattr(staged._Delta, "bring_over", bring_over)
    return times


def pour(bench, bottle=22, ml=-0.5):
    with connected(bench) as store, writing(store):
        return bottles.enter(store, bottle=bottle, at=AT, kind="poured", ml=ml)


def test_what_was_poured_meanwhile_stays_and_both_are_undone_each_by_itself(bench, task, monkeypatch):
    with connected(bench) as store:
        before, had = bottles.one(store, 22).left_ml, len(bottles.every(store))
    times = meanwhile(task, monkeypatch, lambda time: pour(bench))
    task.work(bench)
    assert len(times) == 1
    assert check_folder(bench) == []
    with connected(bench) as store:
        assert bottles.one(store, 22).left_ml == pytest.approx(before - 0.5)
        assert len(bottles.every(store)) == had + 40
        new = next(one for one in bottles.every(store) if one.full_name == "Rekke Farge 7")
        assert [entry.ml for entry in bottles.ledger(store, new.id)] == [-23.0, 30.0]
        with writing(store):
            assert shelf_history.move(store, back=True, at=AT).did == "importing large.csv"
        assert len(bottles.every(store)) == had
        assert sum(entry.ml for entry in bottles.ledger(store, new.id)) == pytest.approx(0)
        assert bottles.one(store, 22).left_ml == pytest.approx(before - 0.5)
    assert check_folder(bench) == []


def test_drops_are_counted_while_it_is_written_and_nobody_sees_half_of_it(bench, task):
    seen, over = set(), threading.Event()

    def looks():
        while not over.is_set():
            pour(bench, ml=-0.001)
            with connected(bench) as store:
                seen.add(sum(one.line == "Rekke" for one in paints.every_record(store)))

    painter = threading.Thread(target=looks)
    painter.start()
    task.work(bench)
    over.set()
    painter.join(timeout=60)
    assert seen <= {0, 40}
    assert check_folder(bench) == []


def test_where_the_shelf_changed_meanwhile_it_is_written_on_the_shelf_as_it_then_is(bench, task, monkeypatch):
    def change(time):
        if time == 1:
            with connected(bench) as store:
                other = {"line": "Rekke", "name": "Farge 7", "kind": "reducer", "size_ml": "30"}
                keeping.add_paint(store, other, at=AT)

    times = meanwhile(task, monkeypatch, change)
    with pytest.raises(Exception, match="1 error; nothing was imported"):  # it is of another kind there now
        task.work(bench)
    assert len(times) == 1
    with connected(bench) as store:
        assert sum(one.line == "Rekke" for one in paints.every_record(store)) == 1


def test_where_it_is_overtaken_again_and_again_nothing_is_written(bench, task, monkeypatch):
    def change(time):
        with connected(bench) as store:
            keeping.add_paint(store, {"line": "Torv", "name": f"Odd {time}", "kind": "reducer", "size_ml": "30"}, at=AT)

    times = meanwhile(task, monkeypatch, change)
    with pytest.raises(staged.Overtaken):
        task.work(bench)
    assert len(times) == staged.TRIES
    with connected(bench) as store:
        assert not any(one.line == "Rekke" for one in paints.every_record(store))
        assert uploads.file(store, task.number).name == "large.csv"  # it waits for another try


def test_rows_that_are_changed_are_changed_and_a_sum_goes_on_from_what_was_poured_meanwhile(bench, monkeypatch):
    with connected(bench) as store:
        own = bottles.one(store, 22)
        record = paints.record(store, own.paint_id)
        heads = "bottle,line,name,kind,size_ml,left_ml,place"
        table = f"{heads}\n22,{record.line},{record.name},{own.kind},{own.size_ml},5,box"
        read = importing.read(store, "a.csv", table.encode())
    assert not read.errors
    monkeypatch.setattr(staged._Delta, "bring_over", _after(pour, bench))
    staged.write_beside(bench, lambda copy: importing.read(copy, "a.csv", table.encode()).write(copy, at=AT))
    with connected(bench) as store:
        assert (bottles.one(store, 22).place, bottles.one(store, 22).left_ml) == ("box", pytest.approx(4.5))
    assert check_folder(bench) == []


def _after(what, bench):
    before = staged._Delta.bring_over

    def bring_over(self, *where):
        what(bench)
        return before(self, *where)

    return bring_over
