"""Water is always there; a powder is bought, kept and counted by weight."""

import pytest

from diachrom.errors import InvalidInput
from diachrom.store import bottles, cups
from diachrom.work.mix import charging, cup
from diachrom.work.shelf import keeping, measures, shopping, water
from diachrom.work.shelf.on_shelf import seen

AT = "2026-12-01T10:00:00+00:00"


def test_water_is_found_where_no_bottle_of_it_stands_and_never_runs_out(client, store):
    assert "always there" in client.get("/mix/find?q=wat").text
    assert client.post("/mix/add", data={"bottle": "0"}).status_code == 200
    number = water.bottle(store, at=AT)
    assert number == water.bottle(store, at=AT)
    assert any(part.bottle == number for part in cups.now(store).draft.parts)
    for _ in range(3):
        cup.set_drops(store, number, 400, at=AT)
        charging.take_from_stock(store, at=AT)
        cup.start_new(store, at=AT)
        cup.add_bottle(store, number, at=AT)
    row = seen(store, [bottles.one(store, number)])[0]
    assert row.condition == ""
    assert all(one.bottle.id != number for one in shopping.shopping_list(store, at=AT).rows)
    page = client.get("/mix").text
    assert "More than is left" not in page
    assert "always there" in page


def test_medium_keeps_the_body_and_does_not_thin(store):
    cup.start_new(store, at=AT)
    by_kind = {one.kind: one for one in bottles.every(store)}
    cup.add_bottle(store, by_kind["opaque"].id, at=AT)
    cup.add_bottle(store, by_kind["medium"].id, at=AT)
    found = cup.see(store).cup
    assert found.dilution > 0.3
    assert found.thinned == 0
    cup.add_bottle(store, by_kind["reducer"].id, at=AT)
    assert 0.2 < cup.see(store).cup.thinned < 0.45


def test_a_powder_is_kept_in_grams_and_counted_in_a_measure_that_was_weighed(client, store, on):
    number = keeping.add_paint(
        store, {"name": "Glow sea", "kind": "glow", "size_ml": "50 g", "colour": "#e0f0e8"}, at=AT
    )
    page = client.get(f"/bottles/{number}").text
    assert "50" in page
    assert "a pinch weighs" in page
    assert client.post(f"/bottles/{number}/measure", data={"measure": "spoon", "grams": "0.35 g"}).status_code == 200
    bottle = bottles.one(store, number)
    assert bottle.drop_ml == pytest.approx(0.35 / 1.3, rel=1e-3)
    assert measures.weighed(store)["spoon"] == 0.35
    client.post(f"/bottles/{number}/left", data={"left_ml": "20 g"})
    assert on(bottles.one, number).left_ml == pytest.approx(20 / 1.3, rel=1e-3)
    client.post("/mix/add", data={"bottle": str(number)})
    assert "20 g" in client.get("/mix").text
    for measure, grams in (("zork", 0.1), ("pinch", 0.0), ("pinch", 4.9), ("pinch", float("nan"))):
        with pytest.raises(InvalidInput):
            measures.use(store, number, measure, grams, at=AT)
