"""The cup in amounts: scaled on the bench, counted every way, thinned with what is on the shelf."""

import pytest
from starlette.testclient import TestClient

from diachrom.core.mixing.amount import Job
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.web.app import create_app
from diachrom.work import amounts, cup

AT = "2026-11-25T10:00:00+00:00"


def test_the_cup_is_counted_in_every_way_and_the_ways_agree(store):
    seen = amounts.see(store, hand="thin")
    assert sum(one.share for one in seen.parts) == pytest.approx(1)
    assert sum(one.ml for one in seen.parts) == pytest.approx(seen.cup.volume_ml)
    assert min(one.parts for one in seen.parts) == pytest.approx(1)
    gull = seen.parts[0]
    assert (gull.name, gull.drops, gull.ml, gull.grams) == ("Rav Gull", 6, 0.27, pytest.approx(0.27 * 1.04))
    assert seen.free_ml[0] == pytest.approx(seen.cup.volume_ml)


def test_a_scaled_cup_says_what_rounding_costs_and_can_be_made_and_taken_back(store):
    before = cup.see(store).cup.volume_ml
    assert amounts.scale(store, 2 * before).delta_e < 1e-6
    small = amounts.scale(store, before / 3)
    assert small.delta_e > 0.3
    assert "side by side" in small.words or small.delta_e > 1
    amounts.put_scaled(store, 2 * before, at=AT)
    assert cup.see(store).cup.volume_ml == pytest.approx(2 * before)
    assert cup.undo(store).startswith("scaling to")
    assert cup.see(store).cup.volume_ml == pytest.approx(before)
    with pytest.raises(InvalidInput):
        amounts.scale(store, -1.0)
    cup.start_new(store, at=AT)
    with pytest.raises(EmptyCup):
        amounts.scale(store, 1.0)


def test_a_dry_cup_is_told_which_bottle_thins_it_and_the_ladder_goes_slower_with_every_step(store):
    cup.set_drops(store, 37, 0, at=AT)
    seen = amounts.see(store, hand="thin")
    bottle, name, drops = seen.thinner
    assert name == "Tynn reducer"
    cup.give(store, bottle, drops, at=AT)
    assert amounts.see(store, hand="thin").wants.now == pytest.approx(seen.wants.share, abs=0.05)
    ends = [colours[2].lch[0] for _, colours in seen.ladder]
    assert ends == sorted(ends)
    assert amounts.needed(store, Job(110, 28, 16))[0] > 0.25


def test_the_page_says_what_cannot_be_meant_and_keeps_the_rest(bench, store):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        page = client.get("/amounts?value=2.5&unit=ml").text
        assert "2.5" in page
        assert "Rounding:" in page or "cost nothing here" in page
        for query, why in (
            ("value=much", "is no number"),
            ("value=-3", "can be scaled to"),
            ("value=nan", "is no number"),
            ("length=0", "length is 5 to 1000"),
            ("covers=0", "share that is covered"),
            ("baits=1e300", "number of baits"),
        ):
            answer = client.get(f"/amounts?{query}")
            assert (answer.status_code, why in answer.text) == (200, True), query
            assert "Every way it is counted" in answer.text
        cup.start_new(store, at=AT)
        assert "The cup is empty" in client.get("/amounts").text
