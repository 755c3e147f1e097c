"""What a batch really took: planned beside poured, and the ledger put right by weight or by eye."""

import pytest

from diachrom.store import bottles, log
from diachrom.work.log import filling, used


@pytest.fixture
def poured(over_plan, on):
    """A session to its end, with a drop too many of one bottle; its entry, and that pour."""
    hand = over_plan(baits=2)
    make = hand.goes_to(lambda step: step.kind == "make")
    first = make.pours[0]
    for one in make.pours:
        for _ in range(one.drops + (one is first)):
            hand.does("tap", step=make.key, bottle=one.bottle)
    while hand.here is not None:
        hand.goes_on()
    (number,) = on(filling.end, hand.number, at="2026-11-28T18:00:00+00:00")
    return number, first


def test_planned_stands_beside_poured(poured, on, client):
    number, first = poured
    rows = {one.bottle: one for one in on(used.used, number)}
    assert rows[first.bottle].poured_ml - rows[first.bottle].planned_ml == pytest.approx(first.drop_ml, abs=1e-3)
    others = [one for one in rows.values() if one.bottle != first.bottle]
    assert [one.poured_ml for one in others] == pytest.approx([one.planned_ml for one in others], abs=1e-3)
    page = client.get(f"/log/{number}").text
    assert "Put a bottle right" in page
    assert f"{rows[first.bottle].planned_ml:.2f} ml" in page


def test_what_was_really_used_leaves_the_bottle_and_costs_so(poured, on, client):
    number, first = poured
    before = on(bottles.one, first.bottle).left_ml
    row = next(one for one in on(log.entry, number).told["paint"] if one[0] == first.bottle)
    answer = client.post(f"/log/{number}/used", data={"bottle": first.bottle, "used_ml": f"{2 * row[2]:.4f}"})
    assert answer.status_code == 200
    after = next(one for one in on(log.entry, number).told["paint"] if one[0] == first.bottle)
    assert after[2] == pytest.approx(2 * row[2], abs=1e-3)
    assert after[3] is None or after[3] == pytest.approx(2 * row[3], abs=2e-3)
    assert on(bottles.one, first.bottle).left_ml == pytest.approx(before - row[2], abs=1e-3)


def test_by_eye_the_ledger_is_what_is_seen(poured, on, client):
    number, first = poured
    size = on(bottles.one, first.bottle).size_ml
    client.post(f"/log/{number}/used", data={"bottle": first.bottle, "eye": "quarter"})
    assert on(bottles.one, first.bottle).left_ml == pytest.approx(size / 4)


def test_by_the_scale_it_is_what_left_the_bottle_by_its_weight(poured, on):
    number, first = poured

    class Scale:
        def __enter__(self):
            return self

        def __exit__(self, *_):
            return None

        def weigh(self):
            return -1.2  # the bottle stood on it when it was set to zero

    class Devices:
        def scale(self, key):
            return Scale()

    ml = on(used.by_scale, Devices(), first.bottle)
    assert 0.8 < ml < 1.3
    on(used.put_right, number, first.bottle, used_ml=ml, at="2026-11-28T19:00:00+00:00")
    assert next(one for one in on(used.used, number) if one.bottle == first.bottle).poured_ml == pytest.approx(ml, 1e-3)


@pytest.mark.parametrize(
    ("form", "words"),
    [
        ({"bottle": "99999", "eye": "half"}, "not of this entry"),
        ({"eye": "brimming"}, "how full it is"),
        ({"used_ml": "lots"}, "no number"),
        ({"used_ml": "9000"}, "did not hold so much"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_changes(poured, on, client, form, words):
    number, first = poured
    before = [one.left_ml for one in on(bottles.every)]
    answer = client.post(f"/log/{number}/used", data={"bottle": first.bottle, **form})
    assert answer.status_code == 422
    assert words in answer.text
    assert [one.left_ml for one in on(bottles.every)] == before
