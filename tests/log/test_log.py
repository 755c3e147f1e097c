"""The log: filled from the session, never typed twice; found by anything; faults come back in the checks."""

import base64
import io
import json
from dataclasses import replace
from shutil import copyfile

import pytest
from at_bench import Hand, over_plan_with, visits
from PIL import Image

from diachrom.errors import InvalidInput
from diachrom.exchange import photos
from diachrom.store import bottles, hand_factor, log, paints
from diachrom.store.connection import connected, database, writing
from diachrom.store.migrate import backup
from diachrom.work.log import again, entries, filling, year
from diachrom.work.plan import plans
from diachrom.work.shelf import stock

AT = "2026-11-28T18:00:00+00:00"


@pytest.fixture(scope="module")
def painted(copied, tmp_path_factory):
    """Two of the Autumn char were painted, with a coat more on the left side, a drop too many and a slip: the folder,
    the session, its entry."""
    folder = tmp_path_factory.mktemp("painted")
    copyfile(copied, database(folder))
    on = visits(folder)
    hand = over_plan_with(on)(baits=2)
    make = hand.goes_to(lambda step: step.kind == "make")
    for one in make.pours:
        for _ in range(one.drops + (one is make.pours[0])):
            hand.does("tap", step=make.key, bottle=one.bottle)
    left = hand.goes_to(lambda step: step.side == "left")
    hand.does("different", step=left.key, what="coats", value="3")
    hand.does("different", step=left.key, what="pressure", value="1.1")
    hand.does("slip", step=left.key, what="run", bait=1)
    hand.does("mend", step=left.key, value="", bait=1, note="made a scar of it")
    while hand.here is not None:
        hand.goes_on()
    (number,) = on(filling.end, hand.number, at=AT)
    with connected(folder) as connection:
        backup(connection, folder / "whole")
    return folder / "whole", hand.number, number


@pytest.fixture
def finished(painted, bench, on):
    """The same on a bench of its own: who painted them, and the entry."""
    whole, session, number = painted
    copyfile(whole, database(bench))
    return Hand(on, session), number


def test_an_entry_tells_what_was_planned_beside_what_was_done(finished, on, client):
    hand, number = finished
    own = on(entries.one, number).entry
    assert (own.session, own.plan, own.version, own.name, own.baits) == (hand.number, 1, 1, "Autumn char", 2)
    assert own.clear == "two-part, on a turner, 1 coat"
    rows = {(layer["name"], what): (meant, was) for layer in own.told["layers"] for what, meant, was in layer["rows"]}
    assert own.told["layers"][2]["rows"][:2] == [["coats", "2", "3"], ["pressure", "1.4 bar", "1.1 bar"]]
    assert rows["Autumn char, belly", "distance"] == ("80 mm", "80 mm")
    told = " / ".join(own.told["told"])
    assert "Other coats: 3" in told
    assert "A run on bait 2" in told
    assert "made a scar of it" in told
    (name, asked, fell), *_ = own.told["mixes"][0]["drops"]
    assert fell == asked + 1, name
    paint = {row[0]: row[2] for row in own.told["paint"]}
    poured = {}
    for step in hand.session.script.steps:
        for one in step.pours:
            poured[one.bottle] = (
                poured.get(one.bottle, 0) + hand.session.state.fallen(step.key, one.bottle) * one.drop_ml
            )
    assert paint == pytest.approx(poured, abs=1e-4)
    assert {one[0] for one in own.told["recipes"]} == {2, 10}
    assert set(own.told["colours"]) >= {"back", "flank", "belly"}
    assert own.told["waits"]
    assert "Recipe 10, version 2" in client.get(f"/log/{number}").text


def test_ended_again_it_is_the_same_entry_and_what_was_typed_stays(finished, on):
    hand, number = finished
    on(entries.change, number, {"customer": "The harbour", "weight_g": "21,5", "note": "Signed."})
    assert on(filling.end, hand.number, at="2026-11-29T10:00:00+00:00") == [number]
    own = on(entries.one, number).entry
    assert (own.customer, own.weight_g, own.note, own.at[:10]) == ("The harbour", 21.5, "Signed.", "2026-11-29")


@pytest.mark.parametrize(
    ("query", "there"),
    [
        ("autumn", True),
        ("november 2026", True),
        ("olive back", False),
        ("gull", True),
        ("run", True),
        ("char gull november", True),
        ("saithe", False),
        ("no. 61", True),
    ],
)
def test_it_is_found_by_anything(finished, on, query, there):
    if query == "olive back":  # by the colour that its back has
        colour = on(entries.one, finished[1]).entry.told["colours"]["back"]
        query, there = f"{colour} back", True
    assert (finished[1] in [one.entry.number for one in on(entries.found, query).rows]) is there


def test_it_is_found_by_a_bottle_and_by_a_fault_that_was_told_later(finished, on, client):
    number = finished[1]
    assert number in [one.entry.number for one in on(entries.found, bottle=18).rows]
    assert number not in [one.entry.number for one in on(entries.found, bottle=31).rows]
    assert number not in [one.entry.number for one in on(entries.found, "chipped").rows]
    client.post(f"/log/{number}/faults", data={"fault": "chipped", "note": "at the tail", "day": "2026-11-26"})
    assert number in [one.entry.number for one in on(entries.found, "chipped tail").rows]
    assert "it chipped" in client.get("/log?q=chipped").text


def test_a_fault_comes_back_as_a_check_where_the_same_is_planned_again(finished, on, client):
    number = finished[1]
    told = f"Entry {number} of the log: a colour bled"
    assert told not in client.get("/plan/1/checks").text
    on(entries.tell_fault, number, "bled", "red into the white", "", at=AT)
    page = client.get("/plan/1/checks").text
    assert "Trouble last time" in page
    assert told in page
    assert told not in client.get("/plan/2/checks").text
    fault = on(entries.one, number).faults[0].id
    client.post(f"/log/{number}/faults/back", data={"fault": fault})
    assert told not in client.get("/plan/1/checks").text


def test_a_bait_from_before_is_written_in(client, on):
    client.post(
        "/log/new",
        data={
            "name": "Old pike bait",
            "customer": "Uncle",
            "day": "2019-05-04",
            "baits": "3",
            "price": "40",
            "plan": "",
        },
    )
    own = on(entries.found, "pike").rows[0].entry
    assert (own.name, own.customer, own.baits, own.price, own.at[:10], own.plan) == (
        *("Old pike bait", "Uncle", 3, 40.0, "2019-05-04"),
        None,
    )
    assert "no picture" in client.get("/log?q=pike").text
    with pytest.raises(InvalidInput, match="has no plan"):
        on(again.again, own.number, baits=1, length_mm=None)


@pytest.mark.parametrize(
    ("path", "form", "words"),
    [
        ("/log/new", {"name": " "}, "Give the entry a name"),
        ("/log/new", {"name": "x", "baits": "0"}, "Baits"),
        ("/log/new", {"name": "x", "day": "2999-01-01"}, "still to come"),
        ("/log/new", {"name": "x", "day": "then"}, "is no day"),
        ("/log/new", {"name": "x", "plan": "999"}, "no plan"),
        ("/log/1", {"weight_g": "heavy"}, "weighs"),
        ("/log/1/faults", {"fault": "moon"}, "no fault called"),
        ("/log/1/faults/back", {"fault": "77"}, "not of this entry"),
        ("/log/1/again", {"baits": "many"}, "a whole number"),
        ("/log/1/again", {"baits": "900"}, "1 to 500 baits"),
        ("/log/1/again", {"length_mm": "9999"}, "Length"),
    ],
)
def test_what_cannot_be_is_said_and_nothing_is_written(finished, client, on, path, form, words):
    before = on(log.every), on(log.faults)
    answer = client.post(path, data=form, headers={"HX-Request": "true"})
    assert answer.status_code in (404, 422)
    assert words in answer.text
    assert (on(log.every), on(log.faults)) == before


def test_nothing_has_changed_where_nothing_has(finished, on, client):
    found = on(again.again, finished[1], baits=1, length_mm=None)
    assert [one for one in found.changed if one.delta_e > 0.05] == []


def test_a_paint_that_was_measured_again_is_told_by_what_it_does_to_the_bait(finished, on):
    def stronger(store):
        old = paints.profile(store, "rav-gull")
        with writing(store):
            paints.add_profile(
                store,
                replace(old, absorption=1.6 * old.absorption),
                paint_id="rav-gull",
                source="a card",
                at="2026-12-01T10:00:00+00:00",
            )

    on(stronger)
    found = on(again.again, finished[1], baits=1, length_mm=None)
    worst = found.changed[0]
    assert "Rav Gull was measured again since: a card" in worst.words
    assert worst.delta_e > 1


def test_what_lacks_is_told_with_what_stands_in(finished, on, client):
    on(stock.correct, 22, 0.05, at=AT)
    found = on(again.again, finished[1], baits=40, length_mm=None)
    lacking = [one for one in found.changed if " lacks " in one.words]
    assert lacking
    assert any("stands in for it" in one.mend for one in lacking)
    assert [one.delta_e for one in found.changed] == sorted((one.delta_e for one in found.changed), reverse=True)
    assert " lacks " in client.get(f"/log/{finished[1]}/again?baits=40").text


def test_a_hand_that_was_learned_since_is_told(finished, on):
    def learned(store):
        with writing(store):
            hand_factor.set_to(store, 1.5, at="2026-12-02T10:00:00+00:00")

    on(learned)
    found = on(again.again, finished[1], baits=1, length_mm=None)
    assert any("1.50 times as thick as planned, 1.00 then" in one.words and one.delta_e > 0.5 for one in found.changed)


def test_again_makes_an_order_and_another_size_a_plan_of_its_own(finished, on, client):
    number = finished[1]
    answer = client.post(
        f"/log/{number}/again", data={"baits": "4", "length_mm": "55", "way": "planned"}, follow_redirects=False
    )
    assert answer.headers["location"].startswith("/orders/")
    page = client.get(answer.headers["location"]).text
    assert "Autumn char, 55 mm" in page
    assert "min at the bench" in page  # its time is planned
    plan = on(plans.now, 13).plan
    assert plan.blank.length_mm == 55
    net = next(one for one in plan.layers if one.mask.kind == "net")
    was = next(one for one in on(plans.now, 1).plan.layers if one.mask.kind == "net")
    assert net.mask.size_mm == pytest.approx(was.mask.size_mm / 2)


def test_an_entry_with_what_cannot_be_read_is_shown_all_the_same(finished, on, client):
    def spoil(store):
        with writing(store):
            for told in ("null", "[]", '{"layers": 7, "paint": [[1]], "colours": [], "told": {}, "facts": 3}', "x"):
                store.execute(
                    "INSERT INTO log_entry (at, name, baits, told) VALUES ('then', 'odd', 1, :told)", {"told": told}
                )

    on(spoil)
    for number in range(62, 66):
        assert client.get(f"/log/{number}").status_code == 200
    assert client.get("/log?bottle=18").status_code == 200
    assert json.dumps(on(entries.one, finished[1]).entry.told)


def test_a_bottle_leads_to_the_baits_that_hold_it(finished, client, on):
    assert "/log?bottle=18" in client.get("/bottles/18").text
    assert "Baits that hold bottle No. 18" in client.get("/log?bottle=18").text
    assert on(bottles.by_id, [18])


def test_a_card_and_a_file_for_the_customer_hold_all_of_it_and_no_script(finished, client):
    number = finished[1]
    assert "No. " in client.get(f"/log/{number}/card").text
    answer = client.get(f"/log/{number}/page.html")
    assert answer.headers["content-disposition"].endswith(f'bait-{number}.html"')
    page = answer.text
    assert "data:image/png;base64," in page
    for word in ("<script", "http://", "https://", 'src="/'):
        assert word not in page
    assert "Autumn char" in page


def test_a_photo_for_the_customer_says_neither_place_nor_device(finished, client):
    photo = Image.new("RGB", (300, 200), (90, 80, 40))
    exif = photo.getexif()
    exif[0x010F], exif[0x8825] = "A maker of phones", {1: "N", 2: (62.0, 1.0, 2.0)}
    out = io.BytesIO()
    photo.save(out, "JPEG", exif=exif)
    number = finished[1]
    client.post(f"/log/{number}/photo", data={"side": "left"}, files={"photo": ("x.jpg", out.getvalue(), "image/jpeg")})
    page = client.get(f"/log/{number}/page.html").text
    told = base64.b64decode(page.split("base64,")[1].split('"')[0])
    assert b"A maker of phones" not in told
    assert not Image.open(io.BytesIO(told)).getexif()


def test_a_year_in_figures_adds_up(client, on):
    found = on(year.year, None)
    every = [one for one in on(log.every) if one.at.startswith(str(found.year))]
    assert found.baits == sum(one.baits for one in every) == sum(one.baits for one in found.months)
    assert found.hours == pytest.approx(sum(one.minutes for one in every) / 60)
    assert found.paint_ml == pytest.approx(sum(row[2] for one in every for row in one.told["paint"]))
    assert sum(count for _, count in found.by_fault) == sum(len(on(log.faults).get(one.number, ())) for one in every)
    assert {one.entries for one in found.by_clear}
    assert sum(one.entries for one in found.by_clear) == len(every)
    page = client.get("/log/year").text
    assert f"{found.year} in figures" in page
    assert client.get("/log/year?of=1066").status_code == 200


def test_of_predictions_those_that_came_true_are_counted(on):
    found = on(year.year, 2026).hits
    assert found.patches > 40
    assert 0 < found.hit <= found.patches


def test_a_photo_is_kept_within_four_megabytes_and_its_small_one_is_made_once(finished, client, on, monkeypatch):
    noise = io.BytesIO()
    grains = Image.merge("RGB", [Image.effect_noise((1800, 1500), 120) for _ in range(3)])
    grains.save(noise, "JPEG", quality=60)
    number = finished[1]
    sent = {"photo": ("x.jpg", noise.getvalue(), "image/jpeg")}
    assert (
        client.post(f"/log/{number}/photo", data={"side": "left"}, files=sent, follow_redirects=False).status_code
        == 303
    )
    side, photo = on(entries.one, number).photos[-1]
    assert side == "left"
    assert len(client.get(f"/photos/{photo}/whole").content) <= 2_000_000
    assert f"/photos/{photo}/small.jpg" in client.get("/log").text
    first = client.get(f"/photos/{photo}/small.jpg")
    assert first.headers["content-type"] == "image/jpeg"
    assert max(Image.open(io.BytesIO(first.content)).size) == 480
    monkeypatch.setattr(photos, "small", None)  # it is not made again
    assert client.get(f"/photos/{photo}/small.jpg").content == first.content
    assert client.get("/photos/99999/small.jpg").status_code == 404
