"""The finished bait's photo beside its picture: photos made of the picture under a warm lamp, turned, with noise."""

import io
from dataclasses import replace

import numpy as np
import pytest
from bait_photo import photo_of, thicker
from PIL import Image

from diachrom.core.bait.explained import explanations
from diachrom.core.bait.plan import WHATS
from diachrom.errors import InvalidInput
from diachrom.store import hand_factor, log, plans
from diachrom.work.log import entries, photo_beside, photo_causes

AT = "2026-11-28T18:00:00+00:00"


@pytest.fixture
def entry(on):
    """An entry of a plan of which there is only a photo to come."""
    return on(entries.new, {"name": "Char", "plan": "1", "baits": "1"}, at=AT)


def brought(on, entry, content, places, side="left"):
    on(entries.add_photo, entry, side, "bait.png", content, at=AT)
    photo = on(entries.one, entry).photos[-1][1]
    if places is not None:
        on(photo_beside.mark, entry, photo, photo_beside.Marks(*places))
    return photo


def plan_of(on, entry):
    own = on(log.entry, entry)
    return on(plans.version, own.plan, own.version).document


@pytest.mark.parametrize("side", ["left", "right"])
def test_a_photo_of_the_picture_is_its_picture_zone_by_zone(entry, on, side, client):
    plan = plan_of(on, entry)
    photo = brought(on, entry, *photo_of(on, plan, side=side), side=side)
    found = on(photo_beside.beside, entry, photo)
    assert not found.problem
    assert max(one.delta_e for one in found.zones) < 2
    assert on(photo_causes.explained, found) == []
    assert "as far as a photo can tell" in found.told[0]
    page = client.get(f"/log/{entry}/photos/{photo}").text
    assert found.told[0] in page
    for which in ("taken", "meant"):
        assert client.get(f"/log/{entry}/photos/{photo}/{which}.png").content[:4] == b"\x89PNG"


def sprayed(plan):
    return [one.number for one in plan.layers if one.on and WHATS[one.what].paint and one.what != "clear"]


BACKS = ((1, 2), (2, 3), (3, 1), (4, 2), (5, 3))  # plans of the demo, and the layers on their backs


@pytest.mark.parametrize(("number", "layer"), BACKS)
def test_with_more_film_on_the_back_it_is_said_so_and_comes_first(on, number, layer):
    entry = on(entries.new, {"name": "One", "plan": str(number), "baits": "1"}, at=AT)
    photo = brought(on, entry, *photo_of(on, thicker(plan_of(on, entry), {layer}, 1.3), seed=layer))
    found = on(photo_beside.beside, entry, photo)
    assert found.zones[0].delta_e > 2
    assert "back" in found.zones[0].words
    first = on(photo_causes.explained, found)[0]
    assert first.key == f"film {layer} +"
    assert 1.1 < float(first.words.split(" times")[0].rsplit(" ", 1)[1]) < 1.6


def test_what_it_teaches_is_less_than_a_card_and_nothing_before_somebody_presses(entry, on, client):
    plan = plan_of(on, entry)
    photo = brought(on, entry, *photo_of(on, thicker(plan, set(sprayed(plan)), 1.3)))
    found = on(photo_beside.beside, entry, photo)
    first = on(photo_causes.explained, found)[0]
    assert first.key == "hand +"
    assert 1.15 < float(first.words.split(" times")[0].rsplit(" ", 1)[1]) < 1.6
    assert first.words in client.get(f"/log/{entry}/photos/{photo}/causes").text
    assert on(hand_factor.now) == 1.0
    client.post(f"/log/{entry}/photos/{photo}/learn", data={"cause": "hand +"})
    assert 1.03 < on(hand_factor.now) < 1.2
    again = client.post(f"/log/{entry}/photos/{photo}/learn", data={"cause": "hand +"})
    assert "has taught your hand already" in again.text
    client.post(f"/log/{entry}/photos/{photo}/take-back")
    assert on(hand_factor.now) == pytest.approx(1.0)
    assert "taught nothing" in client.post(f"/log/{entry}/photos/{photo}/take-back").text
    answer = client.post(f"/log/{entry}/photos/{photo}/learn", data={"cause": "moon"})
    assert "choose one of the causes" in answer.text


def test_nose_tail_and_grey_are_found_and_a_finger_decides(entry, on, client):
    plan = plan_of(on, entry)
    content, (grey, nose, tail) = photo_of(on, plan)
    photo = brought(on, entry, content, None)
    found = on(photo_beside.beside, entry, photo).proposed
    for one, meant in ((found.grey, grey), (found.nose, nose), (found.tail, tail)):
        assert np.hypot(one[0] - meant[0], one[1] - meant[1]) < 14
    assert "check the three places" in client.get(f"/log/{entry}/photos/{photo}").text


def blank_photo(colour=(120, 120, 120)):
    out = io.BytesIO()
    Image.new("RGB", (900, 560), colour).save(out, "PNG")
    return out.getvalue()


def test_a_photo_of_something_else_of_another_bait_of_half_a_bait_is_told(entry, on, client):
    plan = plan_of(on, entry)
    content, places = photo_of(on, plan)
    nothing = brought(on, entry, blank_photo(), None)
    assert on(photo_beside.beside, entry, nothing).proposed is None
    on(photo_beside.mark, entry, nothing, photo_beside.Marks(*places))
    assert "shows no bait" in on(photo_beside.beside, entry, nothing).problem
    grey, nose, tail = places
    beyond = (tail[0] + 0.48 * (tail[0] - nose[0]), tail[1] + 0.48 * (tail[1] - nose[1]))
    middle = ((nose[0] + tail[0]) / 2, (nose[1] + tail[1]) / 2)
    half = brought(on, entry, content, [grey, middle, (min(beyond[0], 895.0), beyond[1])])
    assert "Only half of the bait" in on(photo_beside.beside, entry, half).problem
    wrong = brought(on, entry, *photo_of(on, replace(plan, layers=())))  # nobody has painted it
    found = on(photo_beside.beside, entry, wrong)
    assert "Nothing in it looks like this bait" in found.problem
    page = client.get(f"/log/{entry}/photos/{half}")
    assert page.status_code == 200
    assert "Only half of the bait" in page.text


@pytest.mark.parametrize("places", [{"grey": "1,1"}, {"grey": "1,1", "nose": "x", "tail": "2,2"}, {}])
def test_places_that_are_none_are_asked_for_again(entry, on, client, places):
    photo = brought(on, entry, blank_photo(), None)
    answer = client.post(f"/log/{entry}/photos/{photo}", data=places)
    assert "Touch the grey patch" in answer.text
    assert client.get(f"/log/{entry}/photos/{photo + 50}").status_code == 404


def test_an_entry_without_a_plan_says_so(on):
    bare = on(entries.new, {"name": "From before", "baits": "1"}, at=AT)
    on(entries.add_photo, bare, "left", "bait.png", blank_photo(), at=AT)
    photo = on(entries.one, bare).photos[-1][1]
    with pytest.raises(InvalidInput, match="no plan"):
        on(photo_beside.mark, bare, photo, photo_beside.Marks((9, 9), (50, 50), (300, 50)))


def test_the_cause_that_was_mixed_in_is_found_by_its_share():
    rng = np.random.default_rng(3)
    causes = {key: rng.normal(0, 2, (12, 3)) for key in "abcdef"}
    for key, does in causes.items():
        seen = 1.4 * does + rng.normal(0, 0.3, does.shape)
        best = explanations(seen, np.ones(12), causes)[0]
        assert best.key == key
        assert best.times == pytest.approx(1.4, abs=0.25)
    cast = np.tile([1.0, 4.0, -6.0], (12, 1))
    assert explanations(cast, np.ones(12), causes)[0].key == "light"
    assert explanations(np.zeros((12, 3)), np.ones(12), causes) == []
