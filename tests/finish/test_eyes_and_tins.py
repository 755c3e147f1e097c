"""Eyes by the socket of a plan; tins that were opened and until when they are good; before the clear and under it."""

from dataclasses import replace

import pytest

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.plan import Plan
from diachrom.work.finish import looks, stock

AT = "2026-11-26T18:00:00+00:00"


def proposed(on, shape, mm, **more):
    return on(stock.proposed, replace(Plan(blank=Blank(shape, mm)), **more))


def test_the_largest_eyes_that_the_socket_holds_are_proposed(on):
    assert proposed(on, "minnow", 110).best.size_mm == 5  # 4.95 mm across
    assert proposed(on, "minnow", 100).best.size_mm == 4
    assert proposed(on, "minnow", 70).best.size_mm == 3
    none = proposed(on, "minnow", 40)
    assert none.best is None
    assert "1.8 mm" in none.words


def test_of_one_size_the_kind_with_the_most_pairs_is_proposed(on):
    assert proposed(on, "minnow", 110).best.kind == "gold, domed"


@pytest.mark.parametrize("eyes", ["painted", "none", "factory"])
def test_where_no_eyes_are_set_none_are_proposed(on, eyes):
    assert proposed(on, "minnow", 110, eyes=eyes) is None
    assert proposed(on, "spoon-flat", 60) is None


def test_eyes_are_put_in_taken_out_and_bad_ones_said(client, on):
    client.post("/finish/eyes", data={"size_mm": "0.25 in", "kind": "red", "pairs": "6"})
    client.post("/finish/eyes", data={"size_mm": "6.35", "kind": "red", "pairs": "-2"})
    assert [(one.kind, one.pairs) for one in on(stock.eyes) if one.size_mm == pytest.approx(6.35)] == [("red", 4)]
    for form, words in (
        ({"size_mm": "x", "kind": "red", "pairs": "1"}, "Size of an eye"),
        ({"size_mm": "5", "kind": "", "pairs": "1"}, "their kind"),
        ({"size_mm": "5", "kind": "red", "pairs": "many"}, "no whole number"),
        ({"size_mm": "5", "kind": "red", "pairs": "0"}, "1 to 10000 pairs"),
        ({"size_mm": "5", "kind": "gold, domed", "pairs": "10000"}, "up to 10000 pairs"),
    ):
        answer = client.post("/finish/eyes", data=form, headers={"HX-Request": "true"})
        assert answer.status_code == 422
        assert words in answer.text


def test_a_tin_says_until_when_it_is_good_the_worst_first(on):
    found = on(stock.tins, at=AT)
    assert [one.tin.school for one in found] == ["dip", "two-part"]
    client_words = {one.tin.school: one for one in on(stock.tins, at="2031-01-01T00:00:00+00:00")}
    assert all(one.days_left < 0 and "past its date" in one.words for one in client_words.values())


def test_a_tin_is_opened_used_up_and_bad_ones_said(client, on):
    client.post("/finish/tins", data={"name": "Tall jar", "school": "dip", "opened_on": "2026-11-20"})
    own = next(one for one in on(stock.tins, at=AT) if one.tin.name == "Tall jar")
    assert (own.good_until.isoformat(), own.days_left) == ("2027-03-20", 114)
    assert "film over the mouth" in own.tin.sealed
    client.post("/finish/tins/gone", data={"tin": own.tin.id})
    assert "Tall jar" not in client.get("/finish").text
    for form in ({"name": ""}, {"name": "x", "school": "moon"}, {"name": "x", "school": "dip", "opened_on": "then"}):
        assert client.post("/finish/tins", data=form, headers={"HX-Request": "true"}).status_code == 422
    assert client.post("/finish/tins/gone", data={"tin": 999}).status_code == 404


def test_under_clear_colours_are_deeper_and_the_page_shows_both(client, on):
    assert "darker" in on(looks.deepened, 1).words
    before, after = (client.get(f"/finish/1/picture.png?cleared={one}").content for one in (0, 1))
    assert before != after
    page = client.get("/finish/1?powder=glitter&percent=3").text
    assert "of powder in it: flakes lie over" in page
    assert client.get("/finish/1?powder=moon").status_code == 422
