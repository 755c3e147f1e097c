"""The sheet of a card: printed, sprayed, photographed by the simulated camera, and read from the photo in one go."""

import io

import numpy as np
import pytest
from PIL import Image
from starlette.testclient import TestClient

from diachrom.core.cards.sheet import HEIGHT_MM, MARKS, WIDTH_MM, sheet
from diachrom.core.cards.shelf_sheet import shelf_sheet
from diachrom.core.light.difference import delta_e
from diachrom.core.light.lab import lab
from diachrom.core.light.lights import light
from diachrom.errors import BadFile, BadPhoto, InvalidInput
from diachrom.store import spray_out_cards as kept
from diachrom.web.app import create_app
from diachrom.work.cards import sheets, spray_out_cards
from diachrom.work.sim.simulated_truth import patches_of

AT = "2026-11-25T10:00:00+00:00"
BASE = "http://127.0.0.1:8000/"


@pytest.fixture
def shot(unplugged):
    return lambda store, number, way: sheets.take_photo(store, unplugged, number, way, BASE)


def readings(store, number):
    return sum(len(patch.readings) for patch in kept.one(store, number).patches)


FOUR_GROUNDS = sheet([(ground, coats) for ground in ("white", "black", "grey", "silver-foil") for coats in (1, 2, 3)])


@pytest.mark.parametrize(
    ("laid", "fields"), [(FOUR_GROUNDS, 16), *((shelf_sheet(pairs, (1, 4, 12)), 2 + 6 * pairs) for pairs in (1, 7, 24))]
)
def test_fields_marks_crosses_and_code_lie_apart_on_the_sheet(laid, fields):
    assert len({field.key for field in laid.fields}) == fields  # each ground bare, too
    places = [*(field.place for field in laid.fields), *MARKS, *laid.crosses, laid.qr]
    for at, one in enumerate(places):
        assert one.x >= 0
        assert one.y >= 0
        assert one.x + one.width <= WIDTH_MM
        assert one.y + one.height <= HEIGHT_MM
        for other in places[:at]:
            across = one.x < other.x + other.width and other.x < one.x + one.width
            assert not (across and one.y < other.y + other.height and other.y < one.y + one.height)


def test_more_than_a_sheet_holds_is_said():
    with pytest.raises(InvalidInput, match="two cards"):
        sheet([("white", coats) for coats in range(1, 8)])
    with pytest.raises(InvalidInput, match="1 to 24 paints, not 25"):
        shelf_sheet(25, (1, 4, 12))


@pytest.mark.parametrize("way", ["good", "turned"])
def test_a_photo_of_the_sheet_gives_every_patch_at_once_with_the_lights_cast_taken_out(store, shot, way):
    before = readings(store, 2)
    aside = sheets.read_photo(store, 2, "sheet.jpg", shot(store, 2, way), at=AT)
    card = kept.one(store, 2)
    assert readings(store, 2) == before + 9  # six patches and three bare grounds
    own = [(one.ground, one.coats) for one in card.patches]
    true = lab(np.stack(patches_of(store, card.draft, own, card=2)), under=light("D65"))
    apart = [
        float(delta_e(np.array(one.readings[-1].lab), point)) for one, point in zip(card.patches, true, strict=True)
    ]
    assert np.median(apart) < 1.5
    assert max(apart) < 4
    assert aside == {}
    assert card.photo is not None
    assert spray_out_cards.see(store, 2).beside is not None


def test_what_a_photo_cannot_tell_is_kept_but_set_aside(store, shot):
    aside = sheets.read_photo(store, 7, "sheet.jpg", shot(store, 7, "good"), at=AT)
    assert aside[sheets.MIRRORS] == ["silver foil 2"]
    foil = next(one for one in kept.one(store, 7).patches if one.ground == "silver-foil")
    assert [one.counts for one in foil.readings] == [True, False]


@pytest.mark.parametrize(
    ("way", "said"),
    [
        ("dark", "too dark"),
        ("burnt", "burnt out"),
        ("glossy", "too glossy"),
        ("glare", "a lamp shines on"),
        ("skewed", "too skewed"),
        ("torn", "lower right corner mark is missing"),
        ("without", "none of the sheet's four corner marks"),
    ],
)
def test_a_photo_that_cannot_be_measured_is_said_plainly_and_nothing_of_it_is_kept(store, shot, way, said):
    before, photo = readings(store, 2), kept.one(store, 2).photo
    with pytest.raises(BadPhoto, match=said):
        sheets.read_photo(store, 2, "sheet.jpg", shot(store, 2, way), at=AT)
    assert (readings(store, 2), kept.one(store, 2).photo) == (before, photo)


def test_a_photo_of_another_cards_sheet_a_grey_one_a_small_one_and_no_picture_are_told_from_it(store, shot):
    spray_out_cards.add_patch(store, 19, "white", 1)
    spray_out_cards.add_patch(store, 19, "black", 1)
    spray_out_cards.add_patch(store, 19, "grey", 1)
    with pytest.raises(BadPhoto, match="sheet of card 19, not of card 2"):
        sheets.read_photo(store, 2, "sheet.jpg", shot(store, 19, "good"), at=AT)
    printed = shot(store, 2, "good")
    spray_out_cards.add_patch(store, 2, "white", 3)
    with pytest.raises(BadPhoto, match="printed before patches were added"):
        sheets.read_photo(store, 2, "sheet.jpg", printed, at=AT)
    picture = Image.open(io.BytesIO(shot(store, 2, "good")))
    for changed, said in ((picture.convert("L"), "no colours"), (picture.resize((300, 380)), "too small|none of")):
        out = io.BytesIO()
        changed.save(out, "PNG")
        with pytest.raises(BadPhoto, match=said):
            sheets.read_photo(store, 2, "sheet.png", out.getvalue(), at=AT)
    with pytest.raises(BadFile):
        sheets.read_photo(store, 2, "sheet.jpg", b"not a picture", at=AT)


def test_the_sheet_is_printed_with_its_marks_and_code_and_its_photo_is_brought_to_the_page(bench):
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        page = client.get("/test-cards/7/sheet").text
        assert "stick silver foil into its dashed fields" in page
        assert page.count('shape-rendering="crispEdges"') == 4
        assert 'class="qr"' in page
        wanted = {"HX-Request": "true"}
        page = client.post("/test-cards/2/camera", data={"shot": "good"}, headers=wanted).text
        assert "Every patch was read from the photo" in page
        assert "/photos/" in page
        page = client.post("/test-cards/2/camera", data={"shot": "torn"}, headers=wanted)
        assert page.status_code == 422
        assert "Nothing of it was kept" in page.text
        assert client.post("/test-cards/2/camera", data={"shot": "sideways"}, headers=wanted).status_code == 404


def test_one_patch_is_picked_from_a_photo_with_a_grey_patch(bench, store):
    picture = Image.new("RGB", (400, 300), "#6b5f52")
    picture.paste("#8d7f70", (20, 20, 180, 280))
    picture.paste("#b0562c", (220, 20, 380, 280))
    out = io.BytesIO()
    picture.save(out, "PNG")
    with TestClient(
        create_app(bench), base_url="http://127.0.0.1", headers={"Sec-Fetch-Site": "same-origin"}
    ) as client:
        where = {"ground": "white", "coats": "2"}
        page = client.post("/test-cards/18/photo", data=where, files={"file": ("puff.png", out.getvalue())})
        assert "Pick 2 coats on white" in page.text
        places = {"x": "300", "y": "150", "grey_x": "100", "grey_y": "150", "field": "2:white"}
        assert client.post(page.url.path, data=places).url.path == "/test-cards/18"
        wrong = {"ground": "white", "coats": "7"}
        assert client.post("/test-cards/18/photo", data=wrong, files={"file": ("a.png", b"x")}).status_code == 404
        assert client.post(page.url.path, data={**places, "field": "nine:mud"}).status_code == 404
    card = kept.one(store, 18)
    read = next(one for one in card.patches if (one.ground, one.coats) == ("white", 2)).readings[-1]
    assert read.source == "the photo puff.png"
    assert read.lab[1] > 20
    assert read.predicted is not None
    assert card.photo is not None
