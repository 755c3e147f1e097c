"""Schools of clear in good air and in bad, against the drying table; powders against figures worked out by hand."""

import math
import time
from html import unescape

import pytest

from diachrom.core.bait.plan import CLEARS
from diachrom.core.finish.powders import POWDERS, stirred
from diachrom.core.finish.schools import NEXT_COAT, SCHOOLS, air_words, cured
from diachrom.core.mix.drying import TABLE
from diachrom.core.session.script import CAUTIONS
from diachrom.errors import InvalidInput
from diachrom.store.connection import writing
from diachrom.store.settings import put
from diachrom.work.finish import air


def test_every_clear_of_a_plan_is_a_school_with_a_row_of_the_table_and_its_cautions():
    assert set(SCHOOLS) == {key for key in CLEARS if key}
    for school in SCHOOLS.values():
        assert school.key in TABLE
        assert set(school.cautions) <= set(CAUTIONS)
        assert len(school.steps) >= 3


def test_in_usual_air_nothing_is_said():
    assert all(air_words(one, 20, 50) == [] for one in SCHOOLS.values())


@pytest.mark.parametrize(
    ("school", "weather", "words"),
    [
        ("two-part", (12, 50), "12 °C is below its 18 °C: below that it may stay tacky"),
        ("two-part", (22, 85), "85 % humidity is above its 70 %"),
        ("two-part", (34, 50), "sets before it has levelled"),
        ("dip", (20, 20), "20 % humidity is below its 35 %: below that it cures slowly"),
        ("waterborne", (20, 90), "stays milky"),
    ],
)
def test_bad_air_is_said_by_what_it_does(school, weather, words):
    assert any(words in one for one in air_words(SCHOOLS[school], *weather))


def test_two_part_takes_twice_as_long_ten_degrees_colder():
    school = SCHOOLS["two-part"]
    usual, cold = (cured(school, TABLE["two-part"], air) for air in ((20, 50), (10, 50)))
    assert (usual.touch, usual.handle, usual.opens, usual.closes) == (360, 1440, 60, 360)
    assert cold.handle == 2 * usual.handle
    assert cold.closes == 2 * usual.closes
    assert any("2.0 times as long" in one for one in air_words(school, 10, 50))


def test_a_bait_is_touched_before_it_is_handled_and_handled_before_it_is_fished():
    for school in SCHOOLS.values():
        found = cured(school, TABLE[school.key], (18, 60), 1.3)
        assert 0 < found.touch <= found.handle < found.fish


def test_flakes_cover_what_poisson_says():
    # 1 g of clear on 5000 mm2 with 2.5 % of flakes of 1.4 g/ml, 50 um thick: 357 mm2 of them.
    found = stirred(POWDERS["glitter"], 2.5, batch_g=8.0, on_bait_g=1.0, area_mm2=5000, film_um=150)
    assert found.grams == pytest.approx(0.2)
    assert found.covers == pytest.approx(1 - math.exp(-357.14 / 5000), rel=1e-4)
    assert found.words == ()


@pytest.mark.parametrize(
    ("powder", "percent", "film_um", "words"),
    [
        ("glitter", 20, 150, "does not level"),
        ("glitter", 2, 60, "stand up"),
        ("glow", 20, 30, "stand out"),
    ],
)
def test_what_a_powder_does_to_a_film_is_said(powder, percent, film_um, words):
    found = stirred(POWDERS[powder], percent, batch_g=8.0, on_bait_g=1.0, area_mm2=5000, film_um=film_um)
    assert words in found.words[0]


def test_more_powder_than_clear_is_refused():
    with pytest.raises(InvalidInput, match="up to 60 %"):
        stirred(POWDERS["glow"], 90, batch_g=1, on_bait_g=1, area_mm2=1, film_um=100)


def told(client, school):
    return unescape(client.get(f"/finish?school={school}").text)


def test_the_page_tells_each_school_in_the_air_that_was_typed(client):
    client.post("/finish/air", data={"temperature_c": "14,5", "humidity_percent": "80", "school": "dip"})
    page = told(client, "two-part")
    assert "14.5 °C" in page
    assert "it may stay tacky" in page
    assert "draws water" in page
    for school in SCHOOLS:
        assert all(one in told(client, school) for one in SCHOOLS[school].steps if one != NEXT_COAT)
    bad = client.post("/finish/air", data={"temperature_c": "warm"}, headers={"HX-Request": "true"})
    assert bad.status_code == 422
    assert "'warm' is no number" in unescape(bad.text)
    assert client.get("/finish?school=moon").status_code == 422


def test_the_air_is_read_from_the_hygrometer_once_it_has_settled(client, on):
    unplugged = client.post("/finish/air", data={"read": "yes"}, headers={"HX-Request": "true"})
    assert "thermo-hygrometer is unplugged" in unplugged.text
    client.post("/devices/plug", data={"key": "air", "plugged": "true"})
    assert "still feels the hand" in client.get("/devices/air").text
    client.app.state.devices.hygrometers["air"]._plug.plugged_at -= 60
    client.post("/finish/air", data={"read": "yes"})
    temperature, humidity = on(air.now)
    assert 15 < temperature < 22
    assert 45 < humidity < 67


def test_air_that_cannot_be_read_is_as_usual(on, client):
    def spoil(store):
        with writing(store):
            put(store, {air.KEY: '{"temperature_c": "x", "humidity_percent": 1e9}'})

    on(spoil)
    assert on(air.now) == air.USUAL
    assert client.get("/finish").status_code == 200


def test_what_is_told_for_later_is_told_by_the_clocks_of_then(client, monkeypatch):
    """Laid on the evening before clocks go back: in 24 h it is an hour earlier on the wall."""
    monkeypatch.setenv("TZ", "Europe/Oslo")
    monkeypatch.setattr("diachrom.clock.now", lambda: "2026-10-24T18:00:00+00:00")  # 20:00 there
    time.tzset()
    try:
        assert "Sunday 19:00" in client.get("/finish?school=two-part").text
    finally:
        monkeypatch.undo()
        time.tzset()
