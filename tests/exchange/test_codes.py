"""Codes in photos as they are taken at a bench: tilted, turned, blurred, in half the light, several in one."""

import io

import cv2
import numpy as np
import pytest
import segno
from PIL import Image

from diachrom.errors import BadFile
from diachrom.exchange import codes

PHOTOS, SIDE = 40, 900


def printed(text, side=260):
    out = io.BytesIO()
    segno.make(text, error="m").save(out, kind="png", scale=10, border=4)
    with Image.open(io.BytesIO(out.getvalue())) as code:
        return np.asarray(code.convert("L").resize((side, side)))


def photo(seed, *, text):
    """A label on a bench: from aside, out of focus, unevenly lit, with noise."""
    dice = np.random.default_rng(seed)
    scene = np.full((SIDE, SIDE), 120.0)
    side = int(dice.uniform(110, 300))
    code = printed(text, side)
    middle, turn = dice.uniform(300, 600, 2), dice.uniform(0, 2 * np.pi)
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * side / 2
    turned = corners @ np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    turned[:, 0] *= dice.uniform(0.6, 1.0)  # from aside
    turned += middle + dice.uniform(-0.06, 0.06, (4, 2)) * side
    square = np.array([[0, 0], [side, 0], [side, side], [0, side]], dtype=np.float32)
    warp = cv2.getPerspectiveTransform(square, turned.astype(np.float32))
    scene = np.where(
        cv2.warpPerspective(np.full_like(code, 255), warp, (SIDE, SIDE)) > 127,
        cv2.warpPerspective(code, warp, (SIDE, SIDE)),
        scene,
    )
    light = 0.35 + 0.65 * np.linspace(*dice.permutation([0.3, 1.0]), SIDE)[:, None]
    blurred = cv2.GaussianBlur(scene * light, (0, 0), dice.uniform(0.6, 2.2))
    return np.clip(blurred + dice.normal(0, 5, blurred.shape), 0, 255).astype(np.uint8)


def file_of(seen):
    out = io.BytesIO()
    Image.fromarray(seen).save(out, "JPEG", quality=85)
    return out.getvalue()


@pytest.mark.sweep
def test_most_photos_of_a_label_are_read_and_none_wrongly():
    text = "http://192.168.1.20:8181/bottles/27"
    read = [codes.texts(photo(seed, text=text)) for seed in range(PHOTOS)]
    assert all(one in ([], [text]) for one in read)
    assert sum(map(bool, read)) >= 0.9 * PHOTOS
    before = sum(cv2.QRCodeDetector().detectAndDecode(photo(seed, text=text))[0] == text for seed in range(PHOTOS))
    assert before < sum(map(bool, read))


def test_several_codes_in_one_photo_are_all_read_and_nothing_is_said_of_none(client):
    shelf = np.full((700, 1000), 235, dtype=np.uint8)
    for at in range(6):
        row, column = divmod(at, 3)
        shelf[60 + 320 * row :, 60 + 310 * column :][:240, :240] = printed(f"http://10.0.0.7/bottles/{at + 1}", 240)
    found = codes.read("shelf.jpg", file_of(shelf))
    assert found == [f"http://10.0.0.7/bottles/{at}" for at in range(1, 7)]
    sent = {"photo": ("shelf.jpg", file_of(shelf), "image/jpeg")}
    there = client.post("/scan", files=sent, follow_redirects=False).headers["location"]
    page = client.get(there).text
    assert page.count('href="/bottles/') == 6
    assert "bottle 6" in page
    one = {"photo": ("one.png", file_of(printed("bottles 3", 400)), "image/png")}
    assert client.post("/scan", files=one, follow_redirects=False).headers["location"] == "/bottles/3"
    with pytest.raises(BadFile, match="no code can be read"):
        codes.read("grey.jpg", file_of(np.full((300, 300), 128, dtype=np.uint8)))
