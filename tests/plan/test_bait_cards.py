"""Cards to show, pictures that fill the frames of lists, and baits compared."""

import io
import re
from dataclasses import replace
from xml.etree import ElementTree

import pytest
from PIL import Image

from diachrom.core.bait.blank import Blank
from diachrom.core.bait.fitted import USUAL_EYE
from diachrom.core.bait.view import Frame
from diachrom.exchange import bait_cards
from diachrom.exchange.bait_cards import BaitCard, CardLayer, Drops
from diachrom.store import finish
from diachrom.store.connection import writing
from diachrom.work.plan import eyes, pictures, plans

SVG = "{http://www.w3.org/2000/svg}"


def test_a_card_is_as_large_as_it_prints_and_says_name_layers_and_drops(client):
    answer = client.get("/plan/1/card.png")
    assert 'filename="plan-1-card.png"' in answer.headers["content-disposition"]
    image = Image.open(io.BytesIO(answer.content))
    assert image.size == (2400, 1500)
    assert image.info["dpi"] == pytest.approx((300, 300), abs=0.1)
    root = ElementTree.fromstring(client.get("/plan/1/card.svg").content)
    said = [one.text for one in root.iter(f"{SVG}text")]
    assert {"Autumn char", "Autumn char, belly", "Clear coat"} <= set(said)
    # The belly's drops stand beside it: six, one, two and four.
    belly = said.index("Autumn char, belly")
    assert said[belly - 4 : belly] == ["4", "2", "1", "6"]
    assert len(list(root.iter(f"{SVG}image"))) == 1


def test_names_that_could_be_marks_or_are_too_long_stay_words(store):
    layers = [CardLayer("<b>&" + "very long " * 30, "60 µm", [Drops("#ff0000", 12)]) for _ in range(40)]
    card = BaitCard("Red & <white>", "wood", layers, more="and 32 more layers")
    picture = pictures.image(store, plans.now(store, 1).plan, side="list", width=300)
    root = ElementTree.fromstring(bait_cards.svg(card, picture))
    said = [one.text for one in root.iter(f"{SVG}text")]
    assert said[0] == "Red & <white>"
    assert "and 32 more layers" in said
    assert len([one for one in said if one.startswith("<b>&")]) == len(card.shown) == 8
    assert all(len(one) < 80 for one in said)
    assert Image.open(io.BytesIO(bait_cards.png(card, picture))).size == (2400, 1500)


def test_a_plan_without_a_name_or_a_layer_has_a_card(store, client):
    empty = plans.new(store, Blank(), at="2026-11-01T10:00:00")
    for kind in ("png", "svg"):
        assert client.get(f"/plan/{empty}/card.{kind}").status_code == 200
    assert client.get("/plan/1/card.gif").status_code == 422


def test_a_long_bait_is_seen_from_three_sides_in_a_list_and_a_short_one_from_one():
    long, short = Frame(-0.04, 1.04, -0.05, 0.05), Frame(-0.2, 1.04, -0.3, 0.25)
    for frames, count in (([long] * 3, 3), ([short] * 3, 1)):
        places, (rows, columns) = pictures.beside_each_other(frames, 420)
        assert len(places) == count
        assert (rows, columns) == (pytest.approx(175, abs=4), 420)
        ends = [0]
        for top, left, width in places:
            assert top >= ends[-1]  # none on another
            assert left >= 0
            assert left + width <= columns
            ends.append(top + int(frames[0].tall / frames[0].wide * width))
        assert ends[-1] <= rows


def test_the_picture_of_a_list_fills_its_frame(client):
    image = Image.open(io.BytesIO(client.get("/plan/4/picture.png?side=list&width=420").content))
    whole = image.getchannel("A").getbbox()
    assert whole[2] - whole[0] > 0.8 * image.width
    assert whole[3] - whole[1] > 0.6 * image.height


def test_a_plan_is_compared_with_itself_a_version_or_another(client):
    assert "data-compare" in client.get("/plan/1/compare?other=steps-3").text
    assert "data-compare" in client.get("/plan/1/compare?other=version-1").text
    beside = client.get("/plan/1/compare?other=plan-2&side=back").text
    assert "data-compare" not in beside  # baits of two shapes do not lie over each other
    assert "/plan/2/picture.png?side=back" in beside
    # What there is not is the first that there is; a plan that there is not is said.
    assert "steps=6" in client.get("/plan/1/compare?other=plan-99&side=moon").text
    assert client.get("/plan/99/compare").status_code == 404


def test_paper_has_a_ruler_and_pictures_at_their_true_size(client):
    page = client.get("/plan/3/print?true_size=1").text
    (wide,) = re.findall(r'class="ruler"\s+width="([\d.]+)mm"', page)
    assert 152 < float(wide) < 170  # 140 mm, what lies before its nose, and room for its last figure
    assert page.count("/plan/3/picture.svg?side=") == 3
    assert 'class="ruler"' not in client.get("/plan/3/print").text


def test_eyes_are_those_of_the_stock_that_fill_the_socket(store):
    plan = plans.now(store, 1).plan  # its sockets are 4.95 mm across
    with writing(store):
        finish.put_eyes(store, size_mm=5.2, kind="red, slit pupil", pairs=2)
    look = eyes.look(store, plan)
    assert look.slit
    red, green, blue = look.iris
    assert red > 120 > green + blue
    red_eyed = pictures.image(store, plan, width=300)
    assert eyes.look(store, replace(plan, eyes="none")) is None
    assert eyes.look(store, replace(plan, eyes="factory")) == USUAL_EYE
    others = [pictures.image(store, replace(plan, eyes=one), width=300) for one in ("none", "factory")]
    assert len({red_eyed, *others}) == 3
