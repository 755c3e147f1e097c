"""What the log answers, against entries that were written so."""

import pytest

from diachrom.store import log
from diachrom.store.connection import writing
from diachrom.work.log import answers


def written(on, *, name, baits=1, minutes=30.0, price=None, clear="", coats=(2, 2), waits=(), paint=(), faults=()):
    def put(store):
        layers = [{"name": f"{name}, back", "where": "back", "rows": [["coats", str(coats[0]), str(coats[1])]]}]
        told = {"layers": layers, "waits": list(waits), "paint": list(paint), "facts": {}}
        with writing(store):
            number = log.add(
                store,
                {
                    "at": "2026-11-01T12:00:00+00:00",
                    "name": name,
                    "baits": baits,
                    "minutes": minutes,
                    "clear": clear,
                    "told": told,
                },
            )
            log.change(store, number, {"price": price})
            for fault in faults:
                log.add_fault(store, entry=number, at="2026-11-09", fault=fault, note="")
        return number

    return on(put)


@pytest.fixture
def empty_log(on):
    """The demo's bench without what its log tells."""

    def clear(store):
        with writing(store):
            for table in ("log_fault", "log_photo", "log_entry"):
                store.execute(f"DELETE FROM {table}")

    on(clear)
    return on


def test_colours_that_took_most_coats_come_first_by_what_was_done(empty_log):
    on = empty_log
    written(on, name="Char", baits=1, coats=(3, 3))
    written(on, name="Char", baits=3, coats=(3, 7))
    written(on, name="Eel", coats=(9, 4))
    found = on(answers.answers).coats
    assert [(one.name, one.baits, one.coats, one.planned) for one in found] == [
        ("Char, back", 4, 6.0, 3.0),
        ("Eel, back", 1, 4.0, 9.0),
    ]


def test_a_fault_comes_with_what_has_it_more_often_than_the_rest(empty_log):
    on = empty_log
    for index in range(4):
        written(on, name="Dip", clear="dip, 1 coat", faults=["chipped"] if index < 3 else [])
        written(on, name="Brush", clear="brushed, 2 coats", faults=["chipped"] if index < 1 else [])
    rushed = [["Char, back", 60, 20]]
    for _ in range(2):
        written(on, name="Rushed", clear="brushed, 2 coats", waits=rushed, faults=["tacky"])
    found = {(one.fault, one.having): one for one in on(answers.answers).comes_with}
    dip = found["it chipped", "dip"]
    assert (dip.both, dip.of, dip.share) == (3, 4, 75.0)
    assert dip.without == pytest.approx(100 / 6)
    assert found["it stayed tacky", "a wait cut short"].share == 100
    assert ("it chipped", "brushed") not in found  # no more often than the rest


def test_a_bait_costs_its_paint_and_earns_what_is_left_by_the_hour(empty_log):
    on = empty_log
    paint = [[1, "Rav", 2.0, 0.5], [2, "Torv", 1.0, None]]
    written(on, name="Char", baits=2, minutes=120.0, price=31.0, paint=paint)
    (row,) = on(answers.answers).takes
    assert (row.minutes, row.cost, row.price) == (60.0, 0.25, 31.0)
    assert row.an_hour == pytest.approx(30.75)
    assert row.planned is None


def test_the_page_shows_them_full_and_empty(empty_log, client):
    page = client.get("/log/answers").text
    assert "No session has told its coats yet" in page
    written(empty_log, name="Char", price=20.0, paint=[[1, "Rav", 2.0, 0.5]])
    page = client.get("/log/answers").text
    assert "Char, back" in page
    assert "30 min" in page
    assert "an hour" in page


@pytest.mark.parametrize(
    "told",
    ["[]", "{}", '{"layers": [1], "paint": "x", "waits": [[1]]}', '{"layers": [{"rows": [["coats", "a", "b"]]}]}'],
)
def test_what_cannot_be_read_is_left_out(empty_log, client, told):
    number = written(empty_log, name="Char")

    def spoil(store):
        with writing(store):
            store.execute("UPDATE log_entry SET told = ? WHERE number = ?", [told, number])

    empty_log(spoil)
    assert client.get("/log/answers").status_code == 200
