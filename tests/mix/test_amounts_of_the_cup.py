"""The cup in amounts: scaled on the bench, counted every way, thinned with what is on the shelf."""

import re

import pytest
from starlette.testclient import TestClient

from diachrom.core.mix.amount import Job
from diachrom.errors import EmptyCup, InvalidInput
from diachrom.store import bottles, cups
from diachrom.store.connection import writing
from diachrom.web.app import create_app
from diachrom.work.mix import amounts, cup, overspray_history, resting
from diachrom.work.pour import pouring

AT = "2026-11-25T10:00:00+00:00"


def test_the_cup_is_counted_in_every_way_and_the_ways_agree(store):
    seen = amounts.see(store, hand="thin")
    assert sum(one.share for one in seen.parts) == pytest.approx(1)
    assert sum(one.ml for one in seen.parts) == pytest.approx(seen.cup.volume_ml)
    assert min(one.parts for one in seen.parts) == pytest.approx(1)
    gull = seen.parts[0]
    assert (gull.name, gull.drops, gull.ml, gull.grams) == ("Rav Gull", 6, 0.27, pytest.approx(0.27 * 1.04))
    assert amounts.free_near(store)[0] == pytest.approx(seen.cup.volume_ml)
    near = amounts.free_near(store, 20.0)
    assert near[0] < 20.0 < near[-1]


def test_a_scaled_cup_keeps_its_ratio_unless_it_may_change_and_can_be_taken_back(store):
    before = cup.see(store).cup.volume_ml
    whole = amounts.scale(store, 2 * before)
    assert (whole.batch.ml, whole.changed) == (pytest.approx(2 * before), None)
    small = amounts.scale(store, before / 3)
    assert small.batch.ml == pytest.approx(before)  # its lowest terms
    assert small.batch.over_ml == pytest.approx(before * 2 / 3)
    assert small.changed.volume_ml <= before / 3
    assert small.changed.delta_e > 0.3
    amounts.put_scaled(store, before / 3, may_change=True, at=AT)
    assert cup.see(store).cup.volume_ml == pytest.approx(small.changed.volume_ml)
    assert cup.undo(store).startswith("scaling to")
    amounts.put_scaled(store, 1.9 * before, at=AT)
    assert cup.see(store).cup.volume_ml == pytest.approx(2 * before)
    assert cup.undo(store).startswith("scaling to")
    assert cup.see(store).cup.volume_ml == pytest.approx(before)
    for wrong in (-1.0, 0.0, 10_000.0, float("nan")):
        with pytest.raises(InvalidInput):
            amounts.scale(store, wrong)
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
        assert "Its ratio is kept" in page
        small = client.get("/amounts?value=0.3&unit=ml").text
        assert "the ratio changes" in small
        assert client.post("/amounts/scale", data={"volume_ml": "0.3", "change": "yes"}).status_code == 200
        for query, why in (
            ("value=much", "is no number"),
            ("value=-3", "more than 0 and at most"),
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


@pytest.mark.parametrize(
    ("unit", "amounts_", "drops"),
    [
        ("parts", (3, 0, 1, 1), None),
        ("percent", (50, 25, 25, 0), None),
        ("ml", (0.45, 0.048, 0.01, 0), (10, 1, 1, 0)),
        ("grams", (0.468, 0.06, 0.045, 0.16), (10, 1, 1, 4)),
    ],
)
def test_amounts_in_other_figures_become_whole_drops(store, unit, amounts_, drops):
    sizes = [part.drop_ml for part in cups.now(store).draft.parts]
    before = cup.see(store).cup.volume_ml
    amounts.put_counted(store, unit, amounts_, at=AT)
    found = [part.drops for part in cups.now(store).draft.parts]
    assert [count > 0 for count in found] == [amount > 0 for amount in amounts_]
    if drops is None:
        assert cup.see(store).cup.volume_ml == pytest.approx(before, abs=2 * max(sizes))
    else:
        assert found == list(drops)
    for wrong in (
        (unit, (0, 0, 0, 0)),
        (unit, (1, 2)),
        ("cups", amounts_),
        (unit, (-1, 1, 1, 1)),
        ("ml", (99, 1, 1, 1)),
    ):
        with pytest.raises(InvalidInput):
            amounts.put_counted(store, *wrong, at=AT)


def test_more_pressure_wants_less_reducer_and_thinner_paint_more_coats(store):
    usual = amounts.see(store, hand="thin")
    assert amounts.see(store, hand="thin", pressure_bar=2.2).wants.share < usual.wants.share
    needed = [coats for _, coats in usual.coats_needed(2)]
    assert needed[0] == 2
    assert needed[-1] is None or needed[-1] > 2
    cup.add_bottle(store, bottles.of_paint(store, "perlemor-gull")[0].id, at=AT)
    assert any("1.5 bar" in note for note in amounts.see(store, hand="thin").wants.notes)
    with pytest.raises(InvalidInput, match="Pressure"):
        amounts.see(store, hand="thin", pressure_bar=9.0)


def test_what_misses_is_learned_from_what_was_really_used_and_the_last_can_be_forgotten(store):
    job = Job(110, 28, 16)
    assert (overspray_history.learned(store).misses, overspray_history.learned(store).jobs) == (0.5, 0)
    for share in (0.4, 0.8, 0.6):
        overspray_history.sprayed(store, job, job.on_baits_ml / (1 - share) + job.stays_ml, at=AT)
    found = overspray_history.learned(store)
    assert (found.misses, found.low, found.high) == pytest.approx((0.6, 0.4, 0.8))
    assert "By your last 3 jobs 60 % misses it (40 to 80)." in found.words
    overspray_history.forget_last(store)
    assert overspray_history.learned(store).misses == pytest.approx(0.6)
    assert overspray_history.learned(store).jobs == 2
    with pytest.raises(InvalidInput, match="less than"):
        overspray_history.sprayed(store, job, 0.01, at=AT)
    assert overspray_history.learned(store).jobs == 2


def test_a_candy_rests_from_its_last_drop_on_and_may_be_skipped_which_its_story_tells(store):
    assert resting.rest(store) is None
    cup.start_new(store, at=AT)
    cup.add_bottle(store, bottles.of_paint(store, "lykt-rod")[0].id, at=AT)
    found = resting.rest(store)
    assert (found.minutes, found.left_s("2026-11-25T10:04:00+00:00")) == (10, 360)
    assert found.left_s("2026-11-25T10:20:00+00:00") == 0
    cup.add_bottle(store, bottles.of_paint(store, "tynn-medium")[0].id, at="2026-11-25T10:05:00+00:00")
    assert resting.rest(store).left_s("2026-11-25T10:06:00+00:00") == 540
    resting.skip(store, at="2026-11-25T10:06:30+00:00")
    assert resting.rest(store) is None
    assert pouring.see(store).told[-1].verdict.words == "rest skipped"
    cup.start_new(store, at=AT)
    with pytest.raises(EmptyCup):
        resting.skip(store, at=AT)


def test_a_bottle_that_drips_otherwise_than_when_it_was_counted_is_counted_anew(store):
    assert amounts.see(store, hand="thin").droppers is None
    part = cups.now(store).draft.parts[0]
    with writing(store):
        bottles.change(store, part.bottle, drop_ml=2 * part.drop_ml)
    found = amounts.see(store, hand="thin").droppers
    assert found.drops[0] == part.drops / 2
    assert found.delta_e < 0.5
    amounts.put_droppers(store, at=AT)
    assert (cups.now(store).draft.parts[0].drops, cups.now(store).draft.parts[0].drop_ml) == (3, 2 * part.drop_ml)
    assert amounts.see(store, hand="thin").droppers is None


def test_the_page_learns_reads_inches_and_an_area(bench):
    with TestClient(create_app(bench), base_url="http://127.0.0.1") as client:

        def needs(query):
            return re.findall(r'class="sentence">([^<]*ml[^<]*)<', client.get(f"/amounts?{query}").text)

        assert len(needs("length=400")) == 1
        assert needs("length=400") == needs("length=15.748+in")
        assert needs("length=400") != needs("length=110")
        assert "Pressure: 0.3 to 5 bar" in client.get("/amounts?pressure=100+psi").text
        assert "is no number in bar" in client.get("/amounts?pressure=much").text
        assert "The area is 0.1 to 10000" in client.get("/amounts?area=0").text
        assert client.get("/amounts?area=40&length=0").text.count('class="sentence"') == 1
        page = client.post("/amounts/used", data={"used_ml": "1.2"}, headers={"Sec-Fetch-Site": "same-origin"})
        assert "By your last job" in page.text
        page = client.post("/amounts/forget", headers={"Sec-Fetch-Site": "same-origin"})
        assert "By your last job" not in page.text
