"""Two photos of a bait's sides: taken in another light, from another place, turned; and what is found between them."""

import io

import numpy as np
import pytest
from PIL import Image

from diachrom.core.session.sides import compared, in_words
from diachrom.errors import InvalidInput
from diachrom.store import session_photos, uploads
from diachrom.store.connection import writing
from diachrom.work.bench import sides
from diachrom.work.plan import pictures, plans

AT = "2026-11-26T18:00:00+00:00"
GREY = 118  # 18 % as sRGB has it
WIDE, HIGH = 900, 500
LEFT_LIGHT, RIGHT_LIGHT = (1.0, 0.96, 0.88), (0.86, 0.93, 1.0)


def photo(on, side, light, *, turned=0.0, stained=None):
    """A photo of a side of the demo's first plan beside a grey patch: (PNG, grey, nose, tail)."""
    plan = on(plans.now, 1).plan
    bait = Image.open(io.BytesIO(on(pictures.image, plan, side=side, width=600))).convert("RGBA")
    if stained:
        own = np.asarray(bait).copy()
        x0, x1 = sorted(int(share * bait.width) for share in stained)
        own[:, x0:x1, :3] = (own[:, x0:x1, :3] * 0.45).astype(np.uint8)
        bait = Image.fromarray(own)
    scene = Image.new("RGB", (WIDE, HIGH), (150, 150, 150))
    place = (140, (HIGH - bait.height) // 2)
    scene.paste(bait, place, bait)
    scene.paste((GREY, GREY, GREY), (20, 20, 90, 90))
    grown = np.asarray(scene.rotate(turned, resample=Image.Resampling.BICUBIC, fillcolor=(150, 150, 150)))
    linear = (grown / 255.0) ** 2.2 * np.array(light)
    out = io.BytesIO()
    Image.fromarray((255 * np.clip(linear, 0, 1) ** (1 / 2.2)).astype(np.uint8)).save(out, "PNG")
    box = bait.getchannel("A").getbbox()

    def at(x, y):
        angle = np.radians(turned)
        dx, dy = x - WIDE / 2, y - HIGH / 2
        return WIDE / 2 + dx * np.cos(angle) + dy * np.sin(angle), HIGH / 2 - dx * np.sin(angle) + dy * np.cos(angle)

    ends = [at(place[0] + x, HIGH / 2) for x in (box[0] + 26, box[2] - 4)]
    nose, tail = ends if side == "left" else [at(place[0] + x, HIGH / 2) for x in (box[2] - 26, box[0] + 4)]
    return out.getvalue(), at(55, 55), nose, tail


def kept(on, hand, side, made):
    png, grey, nose, tail = made
    session = on(sides.keep, hand.number, f"{side}.png", png, side=side, bait=0, at=AT)
    number = int(session.state.photos[-1].value)
    on(sides.mark, hand.number, number, [grey, nose, tail])
    return number


def both(on, hand, left, right):
    kept(on, hand, "left", left)
    kept(on, hand, "right", right)
    return on(sides.both, hand.number)


def test_the_same_bait_in_two_lights_is_the_same(over_plan, on):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    left, right = photo(on, "left", LEFT_LIGHT), photo(on, "right", RIGHT_LIGHT, turned=4.0)
    found = both(on, hand, left, right)
    assert len(found.zones) >= 12
    assert np.median([one.delta_e for one in found.zones]) < 2.0
    assert found.problem == ""


def test_a_darker_place_is_found_where_it_is_and_in_words(over_plan, on):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    # On the right side the nose points right: what lies at 72 to 88 % of the picture lies behind the head.
    found = both(on, hand, photo(on, "left", LEFT_LIGHT), photo(on, "right", RIGHT_LIGHT, stained=(0.55, 0.68)))
    words = in_words(found.zones)
    worst = found.zones[0]
    assert worst.delta_e > 8
    assert "behind the gill" in worst.words or "in the middle" in worst.words
    assert "darker" in worst.tells
    assert words[0].endswith(f"dE {worst.delta_e:.1f}.")
    assert 0.25 < worst.place[0] < 0.7


def test_two_pictures_that_are_equal_are_told_to_be():
    picture = np.full((60, 200, 3), 0.2)
    inside = np.zeros((60, 200), dtype=bool)
    inside[20:40, 10:190] = True
    zones = compared(picture, picture, inside)
    assert in_words(zones) == ["Both sides are the same as far as two photos can tell: dE 0.0 at most."]
    assert {one.words.split(",")[0] for one in zones} == {"the back", "the shoulder", "the flank", "the belly"}


def test_places_that_cannot_be_are_refused_and_nothing_is_kept(over_plan, on, client):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    png, grey, nose, tail = photo(on, "left", LEFT_LIGHT)
    number = int(on(sides.keep, hand.number, "x.png", png, side="left", bait=0, at=AT).state.photos[-1].value)
    for points, words in (
        ([grey, nose, nose], "at the same place"),
        ([(5000, 5), nose, tail], "outside the photo"),
        ([grey, nose, (-9, 4)], "in the photo"),
        ([grey, nose], "Touch the grey patch"),
    ):
        with pytest.raises(InvalidInput, match=words):
            on(sides.mark, hand.number, number, points)
    assert on(session_photos.of, hand.number)[0].marks is None
    assert "No photo yet" in client.get(f"/bench/{hand.number}/sides").text


def test_photos_of_a_session_stay_when_others_are_brought(over_plan, on):
    hand = over_plan()
    hand.goes_to(lambda step: step.layer == 1)
    number = kept(on, hand, "left", photo(on, "left", LEFT_LIGHT))

    def many(store):
        with writing(store):
            for _ in range(uploads.PHOTOS_KEPT + 3):
                uploads.keep_photo(store, name="x", width=1, height=1, picture=b"x", at=AT)

    on(many)
    assert on(uploads.photo, number).id == number


def test_marks_that_are_no_place_are_refused_and_those_kept_before_are_asked_for_again(over_plan, on, client):
    hand = over_plan()
    png, grey, nose, tail = photo(on, "left", LEFT_LIGHT)
    kept(on, hand, "left", (png, grey, nose, tail))
    number = on(session_photos.of, hand.number)[0].photo
    answer = client.post(f"/bench/{hand.number}/sides/{number}", data={"grey": "nan,1", "nose": "1,1", "tail": "9,inf"})
    assert answer.status_code == 422

    def spoil(store):
        with writing(store):
            session_photos.mark(store, number, session_photos.Marks((float("nan"), 1.0), (1.0, 1.0), (9.0, 1.0)))

    on(spoil)
    assert client.get(f"/bench/{hand.number}/sides").status_code == 200
    data = {key: f"{x},{y}" for key, (x, y) in (("grey", grey), ("nose", nose), ("tail", tail))}
    assert client.post(f"/bench/{hand.number}/sides/{number}", data=data).status_code == 200
