"""The page of two-part clear: for a plan's skin, with the sheet's figures kept, and bad ones said."""

import pytest

from diachrom.store import connection, settings
from diachrom.work.finish import clearing
from diachrom.work.kit.opened import opened
from diachrom.work.plan import plans


def asked(bench, **form):
    with opened(bench) as store:
        return clearing.asked(store, form)


def test_a_coat_is_for_the_skin_of_the_plan(bench):
    with opened(bench) as store:
        area = plans.now(store, 1).plan.blank.surface().area_mm2
        found = clearing.cleared(store, 1, clearing.asked(store, {"baits": "7", "film_um": "100", "stays_ml": "0,5"}))
    assert found.batch.volume_ml == pytest.approx(area * 100e-6 * 7 + 0.5)
    assert found.floats is None


def test_what_the_sheet_says_is_kept_and_the_number_of_baits_is_not(client, bench):
    sheet = {"parts_a": "2", "density_a": "1.15", "scale_g": "0.1", "baits": "9"}
    client.post("/finish/1", data=sheet)
    found = asked(bench)
    assert (found.resin.parts_a, found.resin.density_a, found.scale_g, found.baits) == (2, 1.15, 0.1, 1)
    page = client.get("/finish/1?baits=1&film_um=20&stays_ml=0.1").text
    assert "Too little to be weighed within 2 %" in page
    assert "for a coat on 1 bait" in page


def test_a_floating_bait_is_told_what_the_clear_does(client):
    page = client.get("/finish/1?bait_g=20&bait_ml=25").text
    assert "It still floats, with" in page
    assert "It sinks" in client.get("/finish/1?bait_g=30&bait_ml=25").text


@pytest.mark.parametrize(
    ("query", "words"),
    [
        ("parts_a=much", "is no number"),
        ("density_b=99", "density of B"),
        ("baits=0", "Baits: 1 to 500"),
        ("scale_g=-1", "A scale shows"),
        ("bait_g=0&bait_ml=3", "more than nothing"),
        ("temperature_c=900", "A room has"),
    ],
)
def test_bad_figures_are_said(client, query, words):
    answer = client.get(f"/finish/1?{query}", headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert words in answer.text


def test_a_setting_that_cannot_be_read_is_as_usual(bench, client):
    with opened(bench) as store, connection.writing(store):
        settings.put(store, {clearing.KEY: '{"parts_a": -7, "film_um": "x", "coats": 1e300}'})
    assert asked(bench).resin == clearing.Resin()
    assert client.get("/finish/1").status_code == 200
