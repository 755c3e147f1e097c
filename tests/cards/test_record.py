"""The predictions' record: as they were when read, by kind and ground, the hand and the drops."""

import pytest
from starlette.testclient import TestClient

from diachrom.store import spray_out_cards as kept
from diachrom.web.app import create_app
from diachrom.work.cards import apply_learning, spray_out_cards
from diachrom.work.cards.learning import lesson
from diachrom.work.cards.record import record
from diachrom.work.shelf import droppers

AT = "2026-11-25T10:00:00+00:00"


def test_the_record_tells_how_far_off_and_that_the_hand_is_heavy(store):
    found = record(store)
    assert len(found.cards) == 24
    half, nine = found.within
    assert 0.5 < half < nine < 10
    assert next(one for one in found.cards if one.card.id == 20).then > 20
    times, scatter = found.thickness
    assert times == pytest.approx(1.15, abs=0.08)  # as the simulated hand really is
    assert scatter < 0.15
    assert {one.words for one in found.by_ground} == {"white", "grey", "black", "silver foil"}
    assert sum(one.cards for one in found.by_ground) == sum(len(one.patches) for one in found.cards)
    assert "shift" in {one.words for one in found.by_kind}
    assert found.drops == []


def test_after_learning_todays_figures_fall_and_those_of_then_stay(store):
    before = record(store)
    apply_learning.take(store, lesson(store), at=AT)
    after = record(store)
    assert [one.then for one in after.cards] == [one.then for one in before.cards]
    fits = [(one.now, other.now) for one, other in zip(before.cards, after.cards, strict=True) if one.now is not None]
    assert sum(now for _, now in fits) < 0.8 * sum(then for then, _ in fits)
    assert after.thickness[0] == pytest.approx(1.0, abs=0.05)
    assert after.drops
    assert all(one.learned_from_ml is not None for one in after.drops)
    assert after.learned_at == [AT]


def test_weighed_drops_stand_in_the_record_and_a_card_set_aside_does_not(store):
    for grams in (0.9, 0.92, 0.88):
        droppers.add(store, 22, drops=20, grams=grams, ml=None, at=AT)
    spray_out_cards.turn_card(store, 20)
    found = record(store)
    assert [one.bottle.id for one in found.drops] == [22]
    assert found.drops[0].weighed.drops == 60
    assert 20 not in {one.card.id for one in found.cards}


def test_the_page_plots_the_record_and_says_what_to_do_without_one(bench, tmp_path):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        page = client.get("/record").text
        assert "nine of ten within" in page
        assert "Coats come out 1.1" in page
        assert "on silver foil" in page


def test_without_a_card_the_page_says_what_to_do(store, bench):
    for card in kept.latest(store):
        spray_out_cards.turn_card(store, card.id)
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:
        assert "No card was read yet" in client.get("/record").text
