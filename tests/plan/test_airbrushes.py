"""Airbrushes: said once, taken by new layers, and a layer says only what differs."""

import pytest

from diachrom.errors import InvalidInput
from diachrom.work.kit import airbrushes
from diachrom.work.plan import plans

GIVEN = {"name": "wide", "nozzle_mm": "0.5", "pressure_bar": "2", "distance_mm": "120", "hand": "thick"}
AT = "2026-12-01T10:00:00+00:00"


def test_an_airbrush_is_said_once_and_new_layers_take_it(store):
    assert airbrushes.mine(store).nozzle_mm == 0.3
    airbrushes.save(store, 1, GIVEN)
    mine = airbrushes.mine(store)
    assert (mine.name, mine.nozzle_mm, mine.pressure_bar, mine.distance_mm, mine.hand) == ("wide", 0.5, 2, 120, "thick")
    layer = plans.layer_of(store, "paint", "torv-kritt")
    assert (layer.nozzle_mm, layer.pressure_bar, layer.distance_mm) == (0.5, 2, 120)
    assert mine.differs(layer) == []
    airbrushes.choose(store, 0)
    assert [words for words, _ in airbrushes.mine(store).differs(layer)] == ["Nozzle", "Pressure", "Distance"]
    airbrushes.remove(store, 1)
    assert len(airbrushes.every(store)[0]) == 1


def test_units_are_read_and_what_cannot_be_is_said(store):
    airbrushes.save(store, 0, GIVEN | {"pressure_bar": "30 psi", "distance_mm": "4 in"})
    mine = airbrushes.mine(store)
    assert mine.pressure_bar == pytest.approx(2.07, abs=0.01)
    assert mine.distance_mm == pytest.approx(101.6)
    for wrong in (
        {"nozzle_mm": "0"},
        {"nozzle_mm": ""},
        {"pressure_bar": "90"},
        {"distance_mm": "much"},
        {"hand": "heavy"},
    ):
        with pytest.raises(InvalidInput):
            airbrushes.save(store, 0, GIVEN | wrong)
    for way in (
        lambda: airbrushes.choose(store, 5),
        lambda: airbrushes.remove(store, 0),
        lambda: airbrushes.save(store, 4, GIVEN),
    ):
        with pytest.raises(InvalidInput):
            way()


def test_the_pages_say_it_where_it_is_used(client):
    page = client.post("/settings/airbrush", data=GIVEN | {"airbrush": "1"}).text
    assert "In the hand: 0.5 mm" in page
    assert client.post("/settings/airbrush", data=GIVEN | {"airbrush": "1", "nozzle_mm": "x"}).status_code == 422
    plan = client.get("/plan/9?layer=1").text
    assert "wide: 0.5 mm" in plan
    assert "here Nozzle 0.3 mm" in plan
