"""How a paint runs down the cup's wall: what was seen is the same next month, and the drops that bring it there."""

import pytest

from diachrom.core.mix.flow import GRADES, STEP, Seen, share_for, to_add_ml
from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups
from diachrom.work.mix import cup, flow

AT = "2026-12-01T10:00:00+00:00"


def test_each_grade_is_thinner_than_the_last_and_what_was_seen_says_more_than_the_kind():
    usual = [share_for(grade, "opaque", []) for grade in GRADES]
    assert usual == sorted(usual)
    own = [share_for(grade, "opaque", [Seen(0.2, 4)]) for grade in GRADES]
    assert own[3] == 0.2
    assert own[4] == pytest.approx(0.2 + STEP)
    both = [Seen(0.2, 4), Seen(0.14, 3)]
    assert share_for(5, "opaque", both) == pytest.approx(0.26)
    assert share_for(4, "opaque", [*both, Seen(0.3, 4)]) == 0.3  # the latest counts
    assert all(0 <= share_for(grade, "glow", [Seen(0.89, 1)]) <= 0.9 for grade in GRADES)


def test_the_reducer_brings_it_exactly_there():
    ml = to_add_ml(0.1, 0.3, 1.0)
    assert (0.1 + ml) / (1 + ml) == pytest.approx(0.3)
    assert to_add_ml(0.4, 0.3, 1.0) == 0


def test_what_is_seen_at_the_cup_is_kept_for_the_paint_and_the_hand(store):
    now = flow.see(store, "thin")
    assert flow.tell(store, 4, "thin") == now.name
    later = flow.see(store, "thin")
    assert later.to[3].share == pytest.approx(now.now, abs=1e-3)
    assert later.to[3].drops == 0  # it is there
    assert later.to[4].drops > 0
    assert flow.see(store, "thick").seen == []
    before = cups.now(store).draft.drops
    cup.give(store, later.to[4].bottle.id, later.to[4].drops, at=AT)
    assert cups.now(store).draft.drops > before
    assert flow.see(store, "thin").now == pytest.approx(later.to[4].share, abs=0.03)
    for grade, hand in ((0, "thin"), (6, "thin"), (3, "heavy")):
        with pytest.raises(InvalidInput):
            flow.tell(store, grade, hand)
    cup.start_new(store, at=AT)
    assert flow.see(store, "thin") is None
    cup.add_bottle(store, next(one.id for one in bottles.every(store) if one.kind == "reducer"), at=AT)
    with pytest.raises(InvalidInput):
        flow.tell(store, 3, "thin")


def test_the_page_draws_the_five_and_keeps_the_one_that_is_pressed(client):
    page = client.get("/amounts").text
    assert page.count('class="btn-plain run-press"') == 5
    assert "seen at" not in page
    told = client.post("/amounts/runs", data={"grade": "4", "hand": "thin"}).text
    assert "seen at" in told
    assert client.post("/amounts/runs", data={"grade": "x"}).status_code == 422
