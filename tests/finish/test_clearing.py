"""The page of two-part clear: for a plan's skin, with the sheet's figures kept, and bad ones said."""

from dataclasses import replace

import pytest

from diachrom.core.bait.plan import Layer, Plan
from diachrom.core.finish.schools import SCHOOLS
from diachrom.core.finish.two_part import Resin
from diachrom.core.mix.drying import TABLE
from diachrom.store import connection, settings
from diachrom.work.bench import scripts
from diachrom.work.finish import air, clearing
from diachrom.work.kit.opened import opened
from diachrom.work.plan import checking, plans, two_part

AT = "2026-11-27T10:00:00+00:00"


def asked(bench, **form):
    with opened(bench) as store:
        return two_part.asked(store, form)


def test_a_coat_is_for_the_skin_of_the_plan(bench):
    with opened(bench) as store:
        area = plans.now(store, 1).plan.blank.surface().area_mm2
        found = clearing.cleared(store, 1, two_part.asked(store, {"baits": "7", "film_um": "100", "stays_ml": "0,5"}))
    assert found.batch.volume_ml == pytest.approx(area * 100e-6 * 7 + 0.5)
    assert found.floats is None


def test_what_the_sheet_says_is_kept_and_the_number_of_baits_is_not(client, bench):
    sheet = {"parts_a": "2", "density_a": "1.15", "scale_g": "0.1", "baits": "9"}
    client.post("/finish/1", data=sheet)
    found = asked(bench)
    assert (found.resin.parts_a, found.resin.density_a, found.scale_g, found.baits) == (2, 1.15, 0.1, 1)
    page = client.get("/finish/1?baits=1&film_um=20&stays_ml=0.1").text
    assert "Too little to weigh within 2 %" in page
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
        ("bait_g=0&bait_ml=3", "more than zero"),
        ("temperature_c=900", "A room has"),
    ],
)
def test_bad_figures_are_said(client, query, words):
    answer = client.get(f"/finish/1?{query}", headers={"HX-Request": "true"})
    assert answer.status_code == 422
    assert words in answer.text


def test_a_setting_that_cannot_be_read_is_as_usual(bench, client):
    with opened(bench) as store, connection.writing(store):
        settings.put(store, {two_part.KEY: '{"parts_a": -7, "film_um": "x", "coats": 1e300}'})
    assert asked(bench).resin == Resin()
    assert client.get("/finish/1").status_code == 200


def glittered(store, *, film_um=150.0, name="two-part with glitter", baits=8):
    """A plan that is cleared in two parts, and its number."""
    plan = plans.now(store, 1).plan
    layers = tuple(one for one in plan.layers if one.what != "clear")
    plan = replace(plan, layers=layers, baits=baits)
    plan = plan.with_layer(Layer(0, "clear", "two-part", film_um=film_um, coats=1, wait_h=24.0, name=name))
    plans.change(store, 1, lambda _: plan, did="x", at=AT)
    return plan


def test_page_check_and_session_weigh_the_same_clear(bench, client):
    with opened(bench) as store:
        plan = glittered(store)
        wanted = two_part.asked(store, {}, plan)
        found = clearing.cleared(store, 1, wanted)
        assert (wanted.baits, wanted.film_um) == (8, 150.0)
        at_bench = two_part.coat_for(store, plan, baits=8)
        checked = checking.look_at(store, plan).seen[-1].made.amount
        assert checked.volume_ml == pytest.approx(found.batch.volume_ml, rel=0.01)  # by rough cells
        assert at_bench.batch.volume_ml == found.batch.volume_ml
        assert not [one for one in checking.checked(store, plan).open if one.check.id == "batch-too-small"]
        with connection.writing(store):
            settings.put(store, {two_part.KEY: '{"scale_g": 0.5}'})
        (small,) = [one for one in checking.checked(store, plan).open if one.check.id == "batch-too-small"]
        least = clearing.cleared(store, 1, two_part.asked(store, {}, plan)).batch.least_ml
        assert f"mix at least {least:.1f} ml" in small.each[0].words
        more = small.mends[0].apply(plan)
        assert not [one for one in checking.checked(store, more).open if one.check.id == "batch-too-small"]


def test_what_a_plan_asks_for_is_not_kept_for_the_others(client, bench):
    with opened(bench) as store:
        glittered(store, film_um=80.0)
    client.post("/finish/1", data={"film_um": "80", "scale_g": "0.1", "stays_ml": "2"})
    assert (asked(bench).film_um, asked(bench).scale_g, asked(bench).stays_ml) == (150.0, 0.1, 2.0)
    client.post("/finish/1", data={"film_um": "120"})
    assert asked(bench).film_um == 120.0


def test_a_plans_glitter_reaches_the_weighing(bench, client):
    with opened(bench) as store:
        plan = glittered(store)
        assert two_part.asked(store, {}, plan).powder == "glitter"
        own = two_part.coat_for(store, plan, baits=8)
        assert own.stirred[1].grams == pytest.approx(0.025 * (own.batch.a_g + own.batch.b_g))
        assert "g of powder in it" in client.get("/finish/1").text
        assert "g of powder in it" not in client.get("/finish/1?powder=").text
        script = scripts.of_plan(store, 1, baits=8, one_by_one=False, at=AT)
        weigh = next(one for one in script.steps if one.kind == "weigh")
        assert dict(weigh.figures)["Stirred in"].endswith("g of glitter, 0.4 mm")
        assert "powder" in weigh.cautions
        plain = glittered(store, name="")
        assert two_part.asked(store, {}, plain).powder == ""


def test_a_clear_says_of_its_next_coat_what_the_drying_table_says(bench, client):
    for key in ("dip", "moisture-brushed"):
        page = client.get(f"/finish?school={key}").text
        assert "The next coat after 1 to 6 h, or once it is dry through, keyed." in page
        assert "24 h before the next coat" not in page
    assert all(key in TABLE for key in SCHOOLS)
    with opened(bench) as store:
        meant = air.meant(store, "dip", (20.0, 35.0))
        assert f"{meant.cured.opens / 60:.2g} to {meant.cured.closes / 60:.2g} h" in " ".join(meant.steps)


def test_a_clear_that_cures_by_moisture_is_brushed_too(bench, client):
    with opened(bench) as store:
        plan = Plan().with_layer(Layer(0, "clear", "moisture-brushed", film_um=40.0, wait_h=24.0))
        plan = plan.named(name="By moisture", note="")
        number = plans.from_document(store, "x", plans.document(store, plan), at=AT)[0]
        script = scripts.of_plan(store, number, baits=1, one_by_one=False, at=AT)
    clear = next(one for one in script.steps if one.kind == "clear")
    assert clear.words.endswith(", by brush")
    assert "dip" in clear.cautions  # of isocyanates
    assert "brushed coats that cure by air moisture" in client.get(f"/plan/{number}?layer=1").text


def test_a_clear_thinner_than_can_be_brushed_takes_no_page_and_no_session_down(bench, client):
    with opened(bench) as store:
        plan = glittered(store, film_um=0.5)
        assert two_part.asked(store, {}, plan).film_um == 5.0
        assert any(one.kind == "weigh" for one in scripts.of_plan(store, 1, baits=2, one_by_one=False, at=AT).steps)
    assert client.get("/finish/1").status_code == 200
    assert client.get("/plan/1/checks").status_code == 200
