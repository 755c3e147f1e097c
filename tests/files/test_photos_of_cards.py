"""Photos of spray-out cards go out with the JSON document and come in, to the byte; nothing else comes in as one."""

import base64
import io
import json

import numpy as np
import pytest
from PIL import Image
from shelf_document import bring, out

from diachrom.errors import BadFile
from diachrom.exchange.text import LARGEST_FILE
from diachrom.store import spray_out_cards, uploads
from diachrom.store.connection import connected, writing
from diachrom.store.migrate import migrate
from diachrom.work.files import importing
from diachrom.work.kit import photo_picks

AT = "2026-11-27T10:00:00+00:00"
RANDOM = np.random.default_rng(7)


def picture(side=200, form="JPEG", **more):
    into = io.BytesIO()
    Image.fromarray(RANDOM.integers(0, 255, (side, side, 3), dtype=np.uint8)).save(into, form, **more)
    return into.getvalue()


def photographed(store, card, content):
    number = photo_picks.keep(store, f"card {card}.jpg", content, at=AT)
    with writing(store):
        spray_out_cards.show_photo(store, card, number)
    return uploads.photo(store, number).picture


def shown(store, card):
    number = spray_out_cards.one(store, card).photo
    return number and uploads.photo(store, number).picture


def test_they_come_into_an_empty_folder_equal_and_not_twice(store, tmp_path):
    kept = photographed(store, 18, picture())
    whole = out(store)
    migrate(tmp_path / "other")
    with connected(tmp_path / "other") as other:
        bring(other, whole)
        assert shown(other, 18) == kept
        assert out(other) == whole
        assert bring(other, whole)["spray-out card 18"] == "is there already"
        assert other.execute("SELECT count(*) FROM photo").fetchone()[0] == 1


def test_the_newest_go_out_as_far_as_the_document_can_be_read_again(store):
    for card in range(1, 19):
        photographed(store, card, picture(700, quality=95))
    whole = out(store)
    assert LARGEST_FILE * 0.8 < len(whole) <= LARGEST_FILE
    cards = {one["number"]: one for one in json.loads(whole)["cards"]}
    shows = [number for number, one in cards.items() if "photo" in one]
    assert 0 < len(shows) < 18
    oldest_shown = min(cards[number]["at"] for number in shows)
    assert all(cards[number]["at"] <= oldest_shown for number in range(1, 19) if number not in shows)
    assert importing.read(store, "shelf.json", whole).fates


def test_a_photo_that_cannot_be_read_any_more_stays_out_and_the_rest_goes(store):
    photographed(store, 18, picture())
    with writing(store):
        store.execute("UPDATE photo SET picture = x'FFD8FF00'")
    assert all("photo" not in one for one in json.loads(out(store))["cards"])


EXIF = Image.Exif()
EXIF[0x010F] = "a maker"
BAD = {
    "no base64": ("????", "not written in base64"),
    "no picture": (b"moon", "no JPEG picture"),
    "cut off": (picture()[:3000], "no JPEG picture"),
    "a PNG": (picture(form="PNG"), "no JPEG picture"),
    "too many points": (picture(2000, quality=5), "larger than photos are kept"),
    "its maker": (picture(exif=EXIF), "holds more than its points"),
}


@pytest.mark.parametrize("bad", BAD)
def test_what_is_no_photo_as_one_is_kept_is_refused_by_its_card(store, bad):
    content, said = BAD[bad]
    whole = json.loads(out(store))
    jpeg = content if isinstance(content, str) else base64.b64encode(content).decode()
    card = next(one for one in whole["cards"] if one["number"] == 18)
    card["photo"] = {"name": "x", "jpeg": jpeg}
    with pytest.raises(BadFile, match=f"the photo of spray-out card 18 .*{said}"):
        importing.read(store, "shelf.json", json.dumps(whole).encode())
