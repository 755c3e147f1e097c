"""Rounds at the bench: kept, judged once, told over time, from one's own shelf or from another."""

from random import Random

import pytest
from starlette.testclient import TestClient

from diachrom.errors import InvalidInput, NotFound
from diachrom.store import rounds
from diachrom.web.app import create_app
from diachrom.work.eye import training

AT = "2026-11-25T10:00:00+00:00"


def test_a_round_is_guessed_once_and_its_record_is_kept_by_skill(store):
    shelf = training.own_shelf(store)
    number = training.start(store, shelf, training.OWN, chance=Random(3), at=AT)
    assert rounds.open_round(store).id == number
    seen = training.see(store, shelf, number)
    assert seen.guess is None
    assert len(seen.bottles) == 3
    training.guess(store, shelf, number, [1, 1, 3])
    first = rounds.one(store, number)
    training.guess(store, shelf, number, list(first.drops))
    assert rounds.one(store, number) == first  # what was guessed stays
    done = training.see(store, shelf, number)
    assert done.judged.delta_e == pytest.approx(first.delta_e)
    assert rounds.open_round(store) is None
    told = {one.key: one for one in training.record(store)}
    assert [one.id for one in told[first.skill].rounds] == [number]
    assert all(one.delta_e is None for key, one in told.items() if key != first.skill)


def test_a_round_from_a_bottle_that_left_the_shelf_is_still_seen_and_unknown_ones_are_said(store):
    shelf = training.own_shelf(store)
    number = training.start(store, shelf, training.OWN, chance=Random(5), at=AT)
    assert len(training.see(store, {}, number).bottles) == 3
    again = training.start(store, shelf, training.OWN, chance=Random(6), at=AT)
    with pytest.raises(NotFound):
        training.see(store, shelf, number)  # never guessed: dropped
    assert rounds.open_round(store).id == again
    with pytest.raises(InvalidInput, match="no shelf 'attic'"):
        training.start(store, shelf, "attic", chance=Random(1), at=AT)
    with pytest.raises(NotFound):
        training.guess(store, shelf, 999, [1, 1, 1])


def test_the_page_makes_a_round_of_the_demo_shelf_and_tells_what_one_drop_would_have_done(bench):
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        assert "Begin a round" in client.get("/trainer").text
        page = client.post("/trainer", data={"shelf": "demo"})
        assert "That is my guess" in page.text
        number = page.text.split('action="/trainer/')[1].split('"')[0]
        assert client.post(f"/trainer/{number}", data={"first": "0", "second": "0", "third": "0"}).status_code == 422
        page = client.post(f"/trainer/{number}", data={"first": "1", "second": "2", "third": "2"})
        assert "What one drop would have done" in page.text
        assert "One drop more of" in page.text
        assert "Next round" in page.text
        assert "1 round" in client.get("/trainer").text
        assert client.get("/trainer/99").status_code == 404
