"""What the checks say on a plan's page: mends, what is accepted, what a bench does not want, the paint for the job."""

from dataclasses import replace

import pytest

from diachrom.core.mix.amount import STAYS_ML
from diachrom.errors import NotFound
from diachrom.store import connection, hand_factor
from diachrom.work.mix import overspray_history
from diachrom.work.plan import checking, plans
from diachrom.work.plan.job import job
from diachrom.work.shelf import shopping

AT = "2026-11-26T10:00:00+00:00"
NET_FIRST = "Spray the belly after the net"


def now(store, number):
    return plans.now(store, number).plan


def told(store, number):
    return {one.check.id for one in checking.checked(store, now(store, number)).open}


def laid(store, number, what, source):
    layer = replace(plans.layer_of(store, what, source), source=source)
    plans.change(store, number, lambda plan: plan.with_layer(layer), did="x", at=AT)


def test_a_press_mends_undo_takes_it_back_and_a_press_too_late_is_said(client, on):
    at_once = client.get("/plan/1/checks").text
    assert "trying fixes" in at_once
    page = client.get("/plan/1/checks?ways=1").text
    assert NET_FIRST in page
    assert "trying fixes" not in page
    before = on(now, 1)
    press = {"check": "net-after-the-belly", "layers": "3,1", "mend": "0"}
    seen_so = client.get("/plan/1/checks/mend.png", params=press).content
    answer = client.post("/plan/1/checks/mend", data=press)
    assert answer.headers["HX-Trigger"] == "plan-changed"
    assert f"{NET_FIRST}: done" in answer.text
    assert "net-after-the-belly" not in on(told, 1)
    assert seen_so == client.get("/plan/1/picture.png?width=420").content
    late = client.post("/plan/1/checks/mend", data=press)
    assert (late.status_code, "fixed already" in late.text) == (404, True)
    on(plans.undo, 1, at=AT)
    assert on(now, 1) == before


def test_a_mend_is_offered_once_it_was_tried(on):
    """On the plan with its mistakes: it takes away what was found, and brings nothing else."""
    plan = on(now, 9)
    raw = [(one.check.id, mend.words) for one in on(checking.checked, plan, of=9).open for mend in one.mends]
    assert any(words.startswith("A coat less") for _, words in raw)
    offered = on(lambda store: checking.with_ways(store, plan, checking.checked(store, plan, of=9), of=9))
    ways = [(one.finding, which, words) for one in offered for which, words in one.mends]
    assert len(ways) >= 3
    assert not any(words.startswith("A coat less") for _, _, words in ways)  # it mends nothing there

    def found(store, own):
        every = checking.checked(store, own, of=9).open
        return {(one.check.id, each.layers) for one in every for each in one.each}

    before = on(found, plan)
    for finding, which, words in ways:
        after = on(found, finding.mends[which].apply(plan))
        assert after < before, words
        assert not {(finding.check.id, each.layers) for each in finding.each} & after


def test_a_mend_changes_what_is_written_whatever_the_hand_makes_of_it(client, on, bench):
    with connection.connected(bench) as store, connection.writing(store):
        hand_factor.set_to(store, 1.25, at=AT)
    on(
        lambda store: plans.change(
            store, 9, lambda p: p.changed(4, lambda one: replace(one, film_um=40.0)), did="x", at=AT
        )
    )
    client.post("/plan/9/checks/mend", data={"check": "coat-that-runs", "layers": "4", "mend": "0"})
    layer = on(now, 9).layer(4)
    assert layer.coats * layer.film_um == pytest.approx(3 * 40.0)


def test_accepted_for_a_plan_with_its_note_and_not_heard_on_this_bench(client, on):
    answer = client.post("/plan/9/checks/accept", data={"check": "muddied", "note": "Meant <so>"})
    assert "Meant &lt;so&gt;" in answer.text
    assert "muddied" not in on(told, 9)
    client.post("/plan/9/checks/hear", data={"check": "muddied"})
    assert "muddied" in on(told, 9)
    client.post("/plan/9/checks/school", data={"check": "darker-than-meant"})
    assert on(told, 9) == {"muddied", "clear-over-wet-paint"}
    client.post("/plan/9/checks/school", data={"check": "darker-than-meant", "wanted": "true"})
    assert on(told, 9) == {"muddied", "darker-than-meant", "clear-over-wet-paint"}
    for path in ("accept", "school"):
        refused = client.post(f"/plan/9/checks/{path}", data={"check": "<b>"})
        assert (refused.status_code, "no check called" in refused.text) == (422, True)
    with pytest.raises(NotFound):
        on(checking.mended, 9, "muddied", "4", 99, when=AT)


def test_what_was_done_to_the_blank_and_the_room_is_kept_and_told(client, on):
    on(laid, 1, "clear", "two-part")
    form = {"of_prepared": "1", "prepared-sanded": "on", "eyes": "after", "baits": "12", "temperature_c": "9"}
    answer = client.post("/plan/1/work", data=form)
    assert {"not-degreased", "too-cold-for-the-clear"} <= on(told, 1)
    assert "Paint for 12 baits" in answer.text
    plan = on(now, 1)
    assert (plan.prepared, plan.eyes, plan.baits, plan.temperature_c) == (("sanded",), "after", 12, 9.0)
    for wrong in ({"baits": "none"}, {"humidity_percent": "120"}, {"cup_ml": "0"}):
        refused = client.post("/plan/1/work", data=wrong)
        assert (refused.status_code, next(iter(wrong.values())) in refused.text) == (422, True)
    assert on(now, 1) == plan


def _job(store, number):
    return job([checking.look_at(store, now(store, number))], overspray_history.learned(store))


def test_the_paint_for_the_job_adds_up_and_grows_with_the_baits(client, on):
    one, many = ((client.post("/plan/2/work", data={"baits": str(baits)}), on(_job, 2))[1] for baits in (1, 10))
    for found in (one, many):
        taken = sum(row.needs_ml for row in found.bottles)
        own = sum(part.ml for row in found.poured for part in row.parts if not part.name.endswith(", added"))
        assert taken == pytest.approx(own)
        assert all(sum(part.ml for part in row.parts) == pytest.approx(row.volume_ml) for row in found.poured)
        assert found.price == pytest.approx(sum(row.price for row in found.bottles if row.price is not None))
    for few, more in zip(one.poured, many.poured, strict=True):
        assert few.volume_ml < more.volume_ml < 10 * few.volume_ml  # what stays in the cup stays once


def test_a_mix_of_several_layers_is_poured_once_in_as_many_cups_as_it_fills_and_put_on_the_list(client, on):
    job_ = on(_job, 9)
    mottle = next(row for row in job_.poured if len(row.layers) > 1)
    assert [one.place for one in mottle.layers] == [1, 3]
    assert sum(one.ml for one in mottle.layers) == pytest.approx(mottle.volume_ml - mottle.over_ml + STAYS_ML)
    assert all(1 < one.covers_cm2 < 40 for one in mottle.layers)
    client.post("/plan/9/work", data={"baits": "40", "cup_ml": "5"})
    many = next(row for row in on(_job, 9).poured if len(row.layers) > 1)
    assert 5 * (many.cups - 1) < many.volume_ml <= 5 * many.cups
    answer = client.post("/plan/9/list")
    assert "1 recipe put on the shopping list. 2 layers straight from a bottle" in answer.text
    coming = on(lambda store: shopping.shopping_list(store, at=AT).coming)
    assert {one.saved.recipe: one.ml for one in coming}[many.recipe] == pytest.approx(many.volume_ml, abs=0.01)


def test_what_a_layer_is_thinned_with_is_not_taken_out_of_its_bottles(on):
    def thinned(store):
        plans.change(store, 9, lambda plan: plan.changed(2, lambda layer: replace(layer, reducer=1.0)), did="x", at=AT)

    on(thinned)
    row = next(row for row in on(_job, 9).poured if [one.place for one in row.layers] == [2])
    assert [part.ml for part in row.parts] == pytest.approx([row.volume_ml / 2] * 2)
    assert row.parts[1].name == "reducer, added"


def _emptied(store, number):
    for layer in now(store, number).layers:
        plans.change(store, number, lambda plan, at=layer.number: plan.without(at), did="x", at=AT)


def test_an_empty_plan_and_a_paint_that_is_not_made_any_more(client, on, bench):
    on(_emptied, 1)
    assert "find nothing" in client.get("/plan/1/checks").text
    on(laid, 1, "clear", "two-part")
    assert on(told, 1) == set()  # a scale of 0.01 g weighs it
    with connection.connected(bench) as store, connection.writing(store):
        store.execute("UPDATE paint SET discontinued = 1")
    assert "bottle-discontinued" in on(told, 2)


def test_a_plan_of_a_number_that_nothing_has_is_refused(client):
    for number in ("9" * 40, "-1"):
        assert client.get(f"/plan/blanks?plan={number}").status_code == 422
    assert client.get("/plan/blanks?plan=999").status_code == 404
