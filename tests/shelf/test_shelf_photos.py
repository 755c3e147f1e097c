"""A whole shelf in a photo: labels of 15 mm on round bottles, some turned aside; what is missing is told."""

import io
import json

import cv2
import numpy as np
import segno
from PIL import Image

from diachrom.exchange import codes
from diachrom.store import bottles, settings
from diachrom.store.connection import writing
from diachrom.work.shelf import shelf_photos
from diachrom.work.shelf.shelf_index import WATER, condition

AT = "2026-11-27T10:00:00+00:00"
PER_MM, WIDE_MM, HIGH_MM, CODE_MM, ROUND_MM = 6.4, 60, 70, 15, 32


def bottle(text, turn):
    """Grey points of a bottle whose label, in a plane 15 mm wide, is turned aside by an angle (radians)."""
    code = np.array([[255 * (not dark) for dark in row] for row in segno.make(text, error="m").matrix], np.uint8)
    code = np.pad(code, 2, constant_values=255)
    label = np.pad(cv2.resize(code, (300, 300), interpolation=cv2.INTER_NEAREST), 60, constant_values=245)
    radius, seen = ROUND_MM / 2, np.full((int(HIGH_MM * PER_MM), int(WIDE_MM * PER_MM)), 90.0, np.float32)
    x = (np.arange(seen.shape[1]) + 0.5) / PER_MM - WIDE_MM / 2
    on_it = np.abs(x) < radius - 0.3
    along = radius * (np.arcsin(np.clip(x / radius, -1, 1)) + turn) / CODE_MM * 300 + 210
    down = (np.arange(seen.shape[0]) / PER_MM - 25) / CODE_MM * 300 + 60
    across, below = np.meshgrid(along.astype(np.float32), down.astype(np.float32))
    body = cv2.remap(label, across, below, cv2.INTER_AREA, borderValue=60).astype(np.float32)
    seen[:, on_it] = (body * np.sqrt(1 - np.clip(x / radius, -1, 1) ** 2) ** 0.5)[:, on_it]
    return seen


def photographed(texts, *, columns=6, seed=1):
    """A JPEG of bottles in rows, somewhat blurred, unevenly lit."""
    dice = np.random.default_rng(seed)
    cells = [bottle(text, dice.uniform(-0.4, 0.4)) for text in texts]
    cells += [np.full_like(cells[0], 90)] * (-len(cells) % columns)
    seen = np.vstack([np.hstack(cells[at : at + columns]) for at in range(0, len(cells), columns)])
    seen = cv2.GaussianBlur(seen * np.linspace(0.5, 1.0, seen.shape[1]), (0, 0), 0.8) + dice.normal(0, 4, seen.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(seen, 0, 255).astype(np.uint8)).save(out, "JPEG", quality=88)
    return out.getvalue()


def test_labels_of_15_mm_are_read_round_their_bottles_and_none_wrongly():
    texts = [f"http://192.168.1.20:8181/bottles/{number}" for number in range(101, 131)]
    photo = photographed(texts)
    found = codes.seen("shelf.jpg", photo)
    read = [code.text for code in found if code.text]
    with Image.open(io.BytesIO(photo)) as image:
        flat = len(_flatly(np.asarray(image)))
    assert set(read) <= set(texts)
    assert len(read) >= 27
    assert flat < len(read)  # a reader that looks for planes alone
    assert all(0 <= part <= 1 for code in found for corner in code.corners for part in corner)


def _flatly(points):
    import zxingcpp

    wanted = zxingcpp.BarcodeFormats([zxingcpp.BarcodeFormat.QRCode])
    return zxingcpp.read_barcodes(points, formats=wanted)


def test_what_is_missing_of_the_places_in_the_photo_is_told_and_photos_add_up(store, client):
    shelf = [one for one in bottles.every(store) if one.paint_id != WATER and not condition(one) and one.recipe is None]
    here, missed, else_where, gone = shelf[:4], shelf[4], shelf[5], shelf[6]
    with writing(store):
        for one in bottles.every(store):
            bottles.change(store, one.id, place="drawer")
        for one in (*here, missed):
            bottles.change(store, one.id, place="rack")
        bottles.change(store, gone.id, retired=1)
    labels = [f"http://x.example/bottles/{one.id}" for one in here[:3]] + [f"bottles {gone.id}", "what is that"]
    assert "No label" not in client.get("/shelf/here").text
    for photo in (photographed(labels, columns=3), photographed([f"bottles {here[3].id}"], columns=1)):
        sent = {"photo": ("shelf.jpg", photo, "image/jpeg")}
        assert client.post("/shelf/here", files=sent, follow_redirects=False).status_code == 303
    told = shelf_photos.counted(store)
    assert {row.bottle.id for row in told.here} == {one.id for one in here}
    assert [row.bottle.id for row in told.missing] == [missed.id]
    assert else_where.id not in {row.bottle.id for row in told.missing}
    assert told.elsewhere > 0
    assert [one.id for one in told.retired] == [gone.id]
    assert told.strange == ["what is that"]
    page = client.get("/shelf/here").text
    assert missed.full_name in page
    assert "of 5 bottles are here" in page
    assert page.count('class="here-photo"') == 2
    assert client.post(f"/shelf/here/{told.photos[1].photo}/remove", follow_redirects=False).status_code == 303
    page = client.get("/shelf/here").text
    assert f">{here[3].full_name}<" in page.partition(">Here<")[0]
    assert page.count('class="here-photo"') == 1
    client.post("/shelf/here/begin")
    assert "here-photo" not in client.get("/shelf/here").text


def test_what_is_no_photo_is_refused_and_what_was_kept_wrongly_takes_no_page_down(store, client):
    assert client.post("/shelf/here", files={"photo": ("a.jpg", b"no photo", "image/jpeg")}).status_code == 422
    with writing(store):
        settings.put(
            store, {shelf_photos.KEY: '[{"photo": 99999, "labels": [{"text": "bottles 1"}]}, 5, {"photo": "x"}]'}
        )
    page = client.get("/shelf/here")
    assert page.status_code == 200
    assert "no longer kept" in page.text


def kept(photos):
    return {shelf_photos.KEY: json.dumps(photos)}


def test_what_is_here_though_empty_and_what_was_not_read_is_told(store, client):
    empty, other = (one for one in bottles.every(store) if one.paint_id != WATER and one.recipe is None and one.id < 3)
    corners = [[0.1, 0.1], [0.2, 0.1], [0.2, 0.2], [0.1, 0.2]]
    labels = [{"text": text, "corners": corners} for text in (f"bottles {empty.id}", "")]
    with writing(store):
        bottles.change(store, empty.id, place="rack", state="empty")
        bottles.change(store, other.id, place="rack")
        settings.put(store, kept([{"photo": 7, "labels": labels}]))
    page = client.get("/shelf/here").text
    assert "Here, though written down as empty" in page
    assert "1 label was seen and could not be read" in page
    assert f"{empty.full_name}, No. {empty.id}" in page


def test_more_photos_than_can_be_are_refused_before_they_are_read(store, client):
    with writing(store):
        settings.put(store, kept([{"photo": number} for number in range(shelf_photos.MOST)]))
    refused = client.post("/shelf/here", files={"photo": ("a.jpg", b"no photo", "image/jpeg")})
    assert refused.status_code == 422
    assert "At most 12 photos" in refused.text
